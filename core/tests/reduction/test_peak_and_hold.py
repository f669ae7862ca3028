"""Bursts to full throttle and throttle trimmed to target thrusts, against known truth."""

import dataclasses

import numpy as np
import pytest
from runs import plateau_run

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.bursts import largest_mean, strongest, window_samples
from spindle_core.reduction.hold import point_at
from spindle_core.reduction.result import Point
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace


def burst_run(peaks=(1000.0, 1000.0, 1000.0), *, rate_hz=500.0, held_s=2.0, noise=0.0, seed=1):
    """Bursts whose thrust jumps to ``peak`` + 200·exp(−t/0.3 s); current 40 A + 10·exp(−t/0.1)."""
    step = 1.0 / rate_hz
    rng = np.random.default_rng(seed)
    rest = np.zeros(round(2.0 * rate_hz))
    after = np.arange(round(held_s * rate_hz)) * step
    thrust, throttle, current = [rest], [rest], [rest]
    for peak in peaks:
        thrust += [peak + 200.0 * np.exp(-after / 0.3), rest]
        throttle += [np.full(after.size, 100.0), rest]
        current += [40.0 + 10.0 * np.exp(-after / 0.1), rest]
    channels = {
        "throttle_pct": np.concatenate(throttle),
        "thrust_gf": np.concatenate(thrust) + 5.0,
        "current_a": np.concatenate(current),
    }
    time = np.arange(channels["throttle_pct"].size) * step
    channels["voltage_v"] = 16.0 - 0.02 * channels["current_a"]
    channels["thrust_gf"] = channels["thrust_gf"] + rng.normal(scale=noise, size=time.size)
    return Trace(time, channels, "peak")


def test_burst_is_the_strongest_fifty_milliseconds_and_sustained_what_follows():
    result = reduce_trace(burst_run())
    # Mean of 1000 + 200·exp(−t/0.3) over 0–0.05 s, and over 0.5–1.5 s.
    burst = 1000.0 + 200.0 * (0.3 / 0.05) * (1.0 - np.exp(-0.05 / 0.3))
    sustained = 1000.0 + 200.0 * 0.3 * (np.exp(-0.5 / 0.3) - np.exp(-1.5 / 0.3))
    assert result.summary["burst_thrust_gf"].value == pytest.approx(burst, abs=1.0)
    assert result.summary["sustained_thrust_gf"].value == pytest.approx(sustained, abs=0.5)
    amps = 40.0 + 10.0 * (0.1 / 0.05) * (1.0 - np.exp(-0.05 / 0.1))
    assert result.summary["burst_current_a"].value == pytest.approx(amps, abs=0.1)
    assert result.summary["bursts"].value == 3.0
    assert result.points[0].value("burst_current_at_s") == pytest.approx(2.025, abs=0.003)


def test_mean_over_bursts_has_u_of_their_spread():
    result = reduce_trace(burst_run((1182.0, 1169.0, 1175.0)))
    figure = result.summary["burst_thrust_gf"]
    assert figure.n == 1  # bursts of one run are no runs
    assert figure.component("within_run") == pytest.approx(3.8, abs=0.05)
    assert figure.value == pytest.approx(1175.3 + 184.3, abs=1.0)


def test_a_short_burst_has_no_sustained_figure():
    result = reduce_trace(burst_run(held_s=1.0))
    assert result.summary["sustained_thrust_gf"].reason == "burst_too_short"
    assert result.summary["burst_thrust_gf"].value > 1180


def test_slow_sampling_is_flagged():
    result = reduce_trace(burst_run(rate_hz=10.0))
    assert "sampling_slow" in [w.code for w in result.warnings]


def test_a_spike_is_no_burst():
    trace = burst_run(noise=1.0)
    thrust = trace.channels["thrust_gf"].copy()
    thrust[1300] += 3000.0
    result = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "thrust_gf": thrust})
    )
    assert result.summary["burst_thrust_gf"].value < 1200.0
    assert result.outliers[0].time_s == pytest.approx(2.6)


def test_never_at_full_throttle_is_an_error():
    with pytest.raises(ReductionError) as caught:
        reduce_trace(dataclasses.replace(plateau_run(levels=(20, 60)), kind="peak"))
    assert caught.value.code == "no_burst"


def test_burst_window_rounds_up_and_skips_missing_stretches():
    assert window_samples(0.001) == 50
    assert window_samples(0.004) == 13
    assert window_samples(0.1) == 1
    samples = np.array([1.0, np.nan, np.nan, 9.0, 2.0, 2.0])
    # Windows with more than half missing do not count, so 9.0 is seen beside 2.0 only.
    assert largest_mean(samples, 2) == (5.5, 4)
    found = strongest(samples, 2, 0.025)
    assert (found.seen, found.at) == (5.5, 4)
    assert isinstance(strongest(np.ones(3), 5, 0.01), Absent)


BURSTS = {
    "level": lambda t: 1000.0 + 0.0 * t,
    "rising": lambda t: 1000.0 * (1.0 - np.exp(-t / 0.06)),
    "sagging": lambda t: 1000.0 * (1.0 - np.exp(-t / 0.06)) - 15.0 * t,
    "rushing": lambda t: 900.0 + 200.0 * np.exp(-t / 0.12) - 1000.0 * np.exp(-t / 0.02),
    "ringing": lambda t: 1000.0 * (1.0 - np.exp(-t / 0.06) * np.cos(12.0 * t)),
}


@pytest.mark.parametrize("shape", BURSTS)
@pytest.mark.parametrize("rate_hz", [50.0, 200.0, 1000.0])
def test_a_burst_is_not_the_largest_of_many_noisy_means(shape, rate_hz):
    """σ 10 on a true 1,000 gf reads as 1,015 at 50 Hz when the largest mean is taken."""
    time = np.arange(round(2.0 * rate_hz)) / rate_hz
    window = window_samples(1.0 / rate_hz)
    truth, _ = largest_mean(BURSTS[shape](time), window)
    rng = np.random.default_rng(4)
    found = [
        strongest(BURSTS[shape](time) + rng.normal(0.0, 10.0, time.size), window, 1.0 / rate_hz)
        for _ in range(60)
    ]
    inside = np.mean([abs(one.value - truth) <= 1.96 * one.u for one in found])
    assert inside >= 0.85
    seen = np.mean([one.seen for one in found]) - truth
    # What rings is no sum of decays: there the fit is off, and u says so.
    room = 7.0 if shape == "ringing" else 0.75 * seen + 2.0
    assert abs(np.mean([one.value for one in found]) - truth) < room


def test_air_that_wanders_is_no_burst():
    """Noise of φ 0.9 at 200 Hz: the largest of its means is 19 gf too large."""
    rng = np.random.default_rng(9)
    inside, off = [], []
    for _ in range(60):
        noise = np.empty(400)
        now = rng.normal()
        for i in range(400):
            now = 0.9 * now + np.sqrt(1 - 0.81) * rng.normal()
            noise[i] = now
        found = strongest(1000.0 + 10.0 * noise, 10, 0.005)
        inside.append(abs(found.value - 1000.0) <= 1.96 * found.u)
        off.append(found.value - 1000.0)
    assert np.mean(inside) >= 0.85
    assert abs(np.mean(off)) < 4.0


def plateaus(rows):
    """Plateau points from (thrust gf, W, A, throttle %) rows."""
    return [
        Point(
            {
                "thrust_gf": Measured(t),
                "power_w": Measured(w),
                "current_a": Measured(a),
                "throttle_pct": Measured(p),
            },
            0.0,
            0.5,
            2.0,
            True,
        )
        for t, w, a, p in rows
    ]


def test_hold_brings_power_to_the_exact_thrust_on_a_power_law():
    rows = [(t, 0.01 * t**1.5, 0.0006 * t**1.5, 2.0 * t**0.5) for t in (195.0, 410.0, 597.0)]
    for target in (200.0, 400.0, 600.0):
        point = point_at(plateaus(rows), target)
        assert point.marks == {"reached": True}
        assert point.value("power_w") == pytest.approx(0.01 * target**1.5, rel=1e-9)
        assert point.value("throttle_pct") == pytest.approx(2.0 * target**0.5, rel=1e-9)
        assert point.value("efficiency_g_per_w") == pytest.approx(target / (0.01 * target**1.5))


def test_a_target_further_than_five_percent_is_not_reached():
    point = point_at(plateaus([(500.0, 100.0, 6.0, 50.0), (900.0, 250.0, 15.0, 80.0)]), 700.0)
    assert point.marks == {"reached": False}
    assert point.figures["power_w"].reason == "not_reached"


def test_a_single_plateau_uses_usual_powers_and_says_how_unsure():
    point = point_at(plateaus([(490.0, 100.0, 6.0, 50.0)]), 500.0)
    assert point.value("power_w") == pytest.approx(100.0 * (500 / 490) ** 1.5)
    assert point.figures["power_w"].component("exponent") > 0


def test_hold_run_end_to_end():
    trace = plateau_run(levels=(25, 50, 75))
    trace = dataclasses.replace(
        trace, kind="hold", facts=RunFacts(target_thrust_gf=(300.0, 600.0, 750.0))
    )
    result = reduce_trace(trace)
    assert [point.marks["reached"] for point in result.points] == [True, True, False]
    assert result.points[1].value("current_a") == pytest.approx(15.0, abs=0.1)
    assert result.points[1].value("throttle_pct") == pytest.approx(50.0, abs=0.1)
    assert "not_reached" in [w.code for w in result.warnings]


def test_the_rush_of_a_burst_is_no_outlier_and_its_rise_no_lost_speed():
    """Current overshoots for a tenth of a second while the rotor spins up from rest."""
    step = 0.005
    time = np.arange(0.0, 8.0, step)
    on = (time >= 2.0) & (time < 5.0)
    since = np.clip(time - 2.0, 0.0, None)
    risen = 1.0 - np.exp(-since / 0.06)
    rng = np.random.default_rng(4)
    current = on * (30.0 + 25.0 * np.exp(-since / 0.05)) + rng.normal(0.0, 0.02, time.size)
    current[700] = 300.0
    channels = {
        "throttle_pct": 100.0 * on,
        "current_a": current,
        "speed_rpm": on * 24_000.0 * risen + rng.normal(0.0, 5.0, time.size).clip(0.0),
        "voltage_v": 16.0 - 0.01 * current,
    }
    result = reduce_trace(Trace(time, channels, "peak"))
    assert [w.code for w in result.warnings if w.code == "lost_rpm"] == []
    assert [(o.channel, o.value) for o in result.outliers if o.channel == "current_a"] == [
        ("current_a", 300.0)
    ]
    rush = 30.0 + 25.0 * np.exp(-np.arange(10) * step / 0.05).mean()
    assert result.summary["burst_current_a"].value == pytest.approx(rush, rel=0.01)
    assert result.summary["sustained_current_a"].value == pytest.approx(30.0, abs=0.02)
