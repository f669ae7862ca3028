"""kV without a propeller and torque from a flywheel: worked numbers and recovered truth."""

import dataclasses

import numpy as np
import pytest
from runs import plateau_run

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.formats.bench_log import read_bench_log
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.flywheel import spin_up_time
from spindle_core.reduction.no_load import corrected_kv, declared_resistance
from spindle_core.reduction.spin_up import spin_up
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace


def test_corrected_kv_of_the_worked_example():
    speed, volts, amps = Measured(19_640.0), Measured(8.0), Measured(0.92)
    assert speed.value / volts.value == pytest.approx(2455.0)
    assert corrected_kv(speed, volts, amps, Measured(0.085)).value == pytest.approx(
        2479.2, abs=0.05
    )
    assert pytest.approx(-0.037, abs=0.0005) == 2455.0 / 2550.0 - 1.0
    assert pytest.approx(-0.028, abs=0.0005) == 2479.2 / 2550.0 - 1.0


def test_corrected_kv_propagates_all_three_channels():
    speed = Measured(19_640.0, {"within_run": 10.0})
    volts = Measured(8.0, {"calibration_voltage_v": 0.02})
    amps = Measured(0.92, {"within_run": 0.01})
    kv = corrected_kv(speed, volts, amps, declared_resistance(RunFacts(resistance_ohm=0.085)))
    rng = np.random.default_rng(3)
    n, v, i = (rng.normal(m, s, 200_000) for m, s in ((19_640, 10), (8.0, 0.02), (0.92, 0.01)))
    # A resistance without its u may be off by 10 %.
    r = 0.085 * rng.uniform(0.9, 1.1, 200_000)
    assert kv.u == pytest.approx(np.std(n / (v - i * r)), rel=0.02)
    assert kv.component("assumed_resistance") == pytest.approx(
        2479.2 * 0.92 * 0.0085 / 3**0.5 / (8.0 - 0.92 * 0.085), rel=1e-3
    )


def test_a_resistance_with_its_u_is_not_assumed():
    known = declared_resistance(RunFacts(resistance_ohm=0.085, resistance_u_ohm=0.001))
    kv = corrected_kv(Measured(19_640.0), Measured(8.0), Measured(0.92), known)
    assert not kv.assumed
    assert kv.u == pytest.approx(2479.2 * 0.92 * 0.001 / (8.0 - 0.92 * 0.085), rel=1e-3)
    assert declared_resistance(RunFacts()) is None


def no_load_run(volts=(8.0,), *, facts, kv=2480.0, r=0.085):
    """Full throttle at each voltage, one after the other."""
    pieces = {"throttle_pct": [], "voltage_v": [], "current_a": [], "speed_rpm": []}
    rng = np.random.default_rng(5)
    for v in volts:
        amps = 0.5 + 2.2e-5 * kv * v
        for level, seconds in ((0.0, 2.0), (100.0, 3.0)):
            count = round(seconds * 100)
            on = level > 0
            pieces["throttle_pct"].append(np.full(count, level))
            pieces["voltage_v"].append(v + rng.normal(scale=0.002, size=count))
            pieces["current_a"].append(on * amps + rng.normal(scale=0.005, size=count))
            pieces["speed_rpm"].append(
                on * kv * (v - amps * r) + on * rng.normal(scale=5, size=count)
            )
    channels = {name: np.concatenate(parts) for name, parts in pieces.items()}
    return Trace(np.arange(channels["voltage_v"].size) * 0.01, channels, "no_load", facts=facts)


def test_no_load_run_gives_both_kv_and_the_idle_current():
    result = reduce_trace(no_load_run(facts=RunFacts(resistance_ohm=0.085)))
    assert result.summary["kv_rpm_per_v"].value == pytest.approx(2480.0, rel=5e-4)
    raw = result.summary["kv_raw_rpm_per_v"]
    assert raw.value < 2479
    assert result.summary["no_load_current_a"].value == pytest.approx(0.936, abs=0.005)
    assert isinstance(result.summary["no_load_slope_a_per_rpm"], Absent)


def test_without_resistance_only_the_raw_kv_is_there():
    result = reduce_trace(no_load_run(facts=RunFacts()))
    assert result.summary["kv_rpm_per_v"].reason == "no_resistance"
    assert result.summary["kv_raw_rpm_per_v"].value > 2400


def test_a_resistance_of_others_corrects_it_with_a_wide_u_and_is_said():
    own = RunFacts(resistance_ohm=0.085, resistance_u_ohm=0.03)
    others = dataclasses.replace(own, resistance_from="that of another sample of the model")
    [mine, theirs] = [reduce_trace(no_load_run(facts=facts)) for facts in (own, others)]
    kv = theirs.summary["kv_rpm_per_v"]
    assert kv.value == pytest.approx(mine.summary["kv_rpm_per_v"].value)
    # 0.94 A through 0.03 Ω of 8 V is 0.35 %.
    assert kv.component("assumed_resistance") == pytest.approx(0.0035 * kv.value, rel=0.03)
    assert mine.summary["kv_rpm_per_v"].component("assumed_resistance") == 0.0
    [said] = [w.message for w in theirs.warnings if w.code == "resistance_assumed"]
    assert "that of another sample of the model, 0.085 ± 0.030 Ω" in said
    assert "resistance_assumed" not in {w.code for w in mine.warnings}


def test_two_voltages_show_how_the_idle_current_grows_with_speed():
    result = reduce_trace(no_load_run((8.0, 16.0), facts=RunFacts(resistance_ohm=0.085)))
    slope = result.summary["no_load_slope_a_per_rpm"]
    assert slope.value == pytest.approx(2.2e-5, rel=0.02)


def test_below_full_throttle_there_is_no_kv():
    trace = dataclasses.replace(plateau_run(levels=(40, 60)), kind="no_load")
    result = reduce_trace(trace)
    assert result.summary["kv_raw_rpm_per_v"].reason == "no_full_throttle"
    assert result.points[0].figures["kv_raw_rpm_per_v"].reason == "duty_unknown"


def flywheel_run(*, stall_nm=0.06, free_rpm=26_000.0, noise_rpm=10.0, drag_nm=0.0, coast_s=0.0):
    """A wheel of 62 kg·mm² spun up by a straight torque line, then coasting on constant drag."""
    inertia = 62e-6
    dt, time, speed, throttle = 0.001, 0.0, 0.0, []
    times, speeds = [], []
    while time < 0.5:
        times.append(time), speeds.append(0.0), throttle.append(0.0)
        time += dt
    while speed < 0.97 * free_rpm and time < 30:
        net = stall_nm * (1.0 - speed / free_rpm) - drag_nm
        if net <= 1e-4:
            break
        speed += net / inertia * 30 / np.pi * dt
        times.append(time), speeds.append(speed), throttle.append(100.0)
        time += dt
    end = time + coast_s
    while time < end:
        speed = max(0.0, speed - drag_nm / inertia * 30 / np.pi * dt)
        times.append(time), speeds.append(speed), throttle.append(0.0)
        time += dt
    rng = np.random.default_rng(2)
    speeds = np.array(speeds)
    speeds = np.where(speeds > 0, speeds + rng.normal(scale=noise_rpm, size=speeds.size), 0.0)
    channels = {
        "throttle_pct": np.array(throttle),
        "speed_rpm": np.maximum(speeds, 0.0),
        "voltage_v": np.full(speeds.size, 13.0),
    }
    facts = RunFacts(inertia_kg_mm2=62.0)
    return Trace(np.array(times), channels, "flywheel", facts=facts)


def test_flywheel_recovers_a_straight_torque_line():
    result = reduce_trace(flywheel_run())
    for point in result.points[4:-4]:
        truth = 0.06 * (1.0 - point.value("speed_rpm") / 26_000.0)
        assert point.value("torque_nm") == pytest.approx(truth, abs=0.0006)
    assert result.summary["zero_torque_speed_rpm"].value == pytest.approx(26_000.0, rel=0.005)
    assert result.summary["kv_rpm_per_v"].value == pytest.approx(2000.0, rel=0.005)
    # The first usable bins carry the highest torque, 0.06·(1 − n/26,000), within 2 % of it.
    assert result.summary["peak_torque_nm"].value == pytest.approx(0.0588, abs=0.0012)
    assert "energy_mismatch" not in [w.code for w in result.warnings]


def test_spin_up_time_is_that_of_the_exponential():
    result = reduce_trace(flywheel_run())
    # Straight torque line: n(t) = n0·(1 − exp(−t/T)), T = J·ω0/τ0.
    constant = 62e-6 * 26_000.0 * np.pi / 30 / 0.06
    expected = constant * np.log((1 - 4_000 / 26_000) / (1 - 18_000 / 26_000))
    assert result.summary["spin_up_time_s"].value == pytest.approx(expected, rel=0.003)


def test_the_window_of_the_spin_up_time_is_the_logs():
    asked = flywheel_run()

    def within(**window):
        facts = dataclasses.replace(asked.facts, **window)
        return reduce_trace(dataclasses.replace(asked, facts=facts)).summary["spin_up_time_s"]

    constant = 62e-6 * 26_000.0 * np.pi / 30 / 0.06
    expected = constant * np.log((1 - 8_000 / 26_000) / (1 - 12_000 / 26_000))
    found = within(spin_up_from_rpm=8_000.0, spin_up_to_rpm=12_000.0)
    assert found.value == pytest.approx(expected, rel=0.003)
    # Half a window is completed by the usual one; one that is empty is refused with its names.
    half = within(spin_up_to_rpm=9_000.0)
    assert half.value < within().value
    with pytest.raises(ReductionError, match="spin_up_from_rpm") as refusal:
        within(spin_up_from_rpm=18_000.0)
    assert refusal.value.code == "empty_window"


def test_a_log_carries_its_window():
    text = (
        "# format: bench-log/1\n# kind: flywheel\n# inertia_kg_mm2: 62\n"
        "# spin_up_from_rpm: 5000\n# spin_up_to_rpm: 9000\n"
    )
    facts = read_bench_log((text + "time_s,speed_rpm\n0,1\n1,2\n").encode()).trace().facts
    assert (facts.spin_up_from_rpm, facts.spin_up_to_rpm) == (5000.0, 9000.0)


def test_coast_down_drag_is_added():
    with_drag = reduce_trace(flywheel_run(drag_nm=0.003, coast_s=6.0))
    assert "drag_added" in [w.code for w in with_drag.warnings]
    middle = next(p for p in with_drag.points if p.value("speed_rpm") == 10_000.0)
    assert middle.value("torque_nm") == pytest.approx(0.06 * (1 - 10 / 26), abs=0.0006)


def test_a_braked_coast_is_not_drag():
    trace = flywheel_run(coast_s=2.0, drag_nm=0.0)
    speed = trace.channels["speed_rpm"].copy()
    off = np.flatnonzero((trace.channels["throttle_pct"] == 0) & (trace.time_s > 1))
    speed[off] = np.maximum(
        0, speed[off[0] - 1] - 9_000 * (trace.time_s[off] - trace.time_s[off[0]])
    )
    result = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "speed_rpm": speed})
    )
    assert "coast_braked" in [w.code for w in result.warnings]


def test_mean_torque_and_energy_of_the_worked_example():
    # 62 kg·mm² from 4,000 to 18,000 rpm in 2.1 s at constant torque.
    time = np.arange(0, 2.1 + 1e-9, 0.001)
    speed = 4_000.0 + 14_000.0 * time / 2.1
    curve = spin_up(time, speed, inertia_kg_m2=62e-6)
    assert curve.torque_nm.mean() == pytest.approx(0.04328, abs=5e-6)
    omega = np.array([4_000.0, 18_000.0]) * np.pi / 30
    assert 0.5 * 62e-6 * (omega[1] ** 2 - omega[0] ** 2) == pytest.approx(104.7, abs=0.05)
    assert curve.energy_ratio == pytest.approx(1.0, abs=0.005)


def test_stated_torque_u_covers_the_noise():
    misses = 0
    for seed in range(40):
        rng = np.random.default_rng(seed)
        time = np.arange(0, 2.0, 0.002)
        speed = 2_000.0 + 9_000.0 * time + rng.normal(scale=30.0, size=time.size)
        curve = spin_up(time, speed, inertia_kg_m2=62e-6)
        i = int(np.argmin(np.abs(curve.speed_rpm - 11_000)))
        truth = 62e-6 * 9_000 * np.pi / 30
        misses += abs(curve.torque_nm[i] - truth) > 1.96 * curve.u_nm[i]
    assert misses <= 6


def test_not_reached_and_missing_inertia_are_said():
    time = np.arange(0, 1, 0.01)
    figure = spin_up_time(time, 6_000 + 9_000 * time, from_rpm=5_000, to_rpm=20_000)
    assert figure.reason == "not_reached"
    trace = dataclasses.replace(flywheel_run(), facts=RunFacts())
    with pytest.raises(ReductionError) as caught:
        reduce_trace(trace)
    assert caught.value.code == "no_inertia"
