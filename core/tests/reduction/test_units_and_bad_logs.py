"""Logs in the wrong unit are refused with a sentence; nothing of a file ends in a traceback."""

import dataclasses
import json

import numpy as np
import pytest
from motor_runs import loaded_run, no_load_run
from runs import plateau_run, sweep_run

from spindle_core.cli import main
from spindle_core.errors import CoreError, LogFormatError, ReductionError
from spindle_core.formats.bench_log import read_bench_log, write_bench_log
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.identification import identify
from spindle_core.reduction import KINDS, reduce_trace
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace


def scaled(trace, **factors):
    channels = {**trace.channels}
    for name, factor in factors.items():
        channels[name] = channels[name] * factor
    return dataclasses.replace(trace, channels=channels)


def refused(trace):
    with pytest.raises(ReductionError) as caught:
        reduce_trace(trace)
    assert caught.value.code == "unit_looks_wrong"
    return caught.value.message


@pytest.mark.parametrize("make", [plateau_run, sweep_run])
def test_a_throttle_from_0_to_1_is_refused_and_told(make):
    said = refused(scaled(make(), throttle_pct=0.01))
    assert "runs to 1" in said
    assert "multiply it by 100" in said


@pytest.mark.parametrize("factor", [2.5, 2.55, 20.47, -1.0])
def test_a_throttle_on_another_scale_is_refused(factor):
    said = refused(scaled(plateau_run(), throttle_pct=factor))
    assert "another scale than 0 to 100 %" in said


def test_a_throttle_a_little_over_its_end_is_rounding():
    trace = plateau_run()
    over = np.where(trace.channels["throttle_pct"] == 100.0, 100.4, trace.channels["throttle_pct"])
    points = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "throttle_pct": over})
    ).points
    assert points[-1].value("thrust_gf") == pytest.approx(1200, abs=2)


def test_microseconds_are_still_read():
    trace = plateau_run()
    pulse = 1000.0 + 10.0 * trace.channels["throttle_pct"]
    result = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "throttle_pct": pulse})
    )
    assert "throttle_us" in {w.code for w in result.warnings}


@pytest.mark.parametrize("make", [plateau_run, sweep_run, lambda: loaded_run("heavy")])
@pytest.mark.parametrize(
    ("factor", "unit"), [(0.001, "kilograms"), (0.00980665, "newtons"), (1 / 453.592, "pounds")]
)
def test_thrust_in_another_unit_is_refused_and_what_fits_is_named(make, factor, unit):
    said = refused(scaled(make(), thrust_gf=factor))
    assert unit in said
    assert "gf a watt" in said


def test_a_reversed_load_cell_is_refused():
    """Not a largest thrust of −24 gf at −11.8 gf/W."""
    said = refused(scaled(plateau_run(), thrust_gf=-1.0))
    assert "turn its sign" in said


def test_thrust_in_milligrams_is_refused():
    assert "smaller than a gram" in refused(scaled(plateau_run(), thrust_gf=40.0))


def test_a_dead_load_cell_is_no_unit():
    """Nothing but noise: the current of the run still counts."""
    trace = plateau_run()
    dead = np.random.default_rng(1).normal(14.0, 0.3, trace.size)
    result = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "thrust_gf": dead})
    )
    assert result.summary["max_current_a"].value == pytest.approx(30.0, abs=0.1)


@pytest.mark.parametrize(("name", "factor"), [("voltage_v", 1000.0), ("current_a", 1000.0)])
def test_thousandths_are_refused(name, factor):
    said = refused(scaled(plateau_run(levels=(60, 80, 100), rest_s=1.2), **{name: factor}))
    assert said.startswith(name)


def test_a_few_impossible_samples_are_no_unit():
    trace = plateau_run()
    volts = trace.channels["voltage_v"].copy()
    volts[::50] = 400.0
    result = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "voltage_v": volts})
    )
    assert "impossible_samples" in {w.code for w in result.warnings}


def test_a_bare_shaft_has_no_thrust_to_judge():
    run = no_load_run()
    nothing = np.zeros(run.size)
    reduce_trace(dataclasses.replace(run, channels={**run.channels, "thrust_gf": nothing}))


# Time stamps


def test_whole_seconds_are_spread_and_said():
    trace = plateau_run()
    coarse = dataclasses.replace(trace, time_s=np.floor(trace.time_s))
    result = reduce_trace(coarse)
    assert result.warnings[0].code == "time_coarse"
    assert result.summary["max_thrust_gf"].value == pytest.approx(1200.0, abs=3.0)


def test_whole_seconds_show_no_response():
    run = loaded_run("heavy", kind="response", levels=(15, 55, 15, 55, 15), dwell_s=2.0)
    coarse = dataclasses.replace(run, time_s=np.floor(run.time_s))
    with pytest.raises(ReductionError) as caught:
        reduce_trace(coarse)
    assert caught.value.code == "time_coarse"
    assert "1 s apart" in caught.value.message


def test_one_time_stamp_for_all_is_refused():
    trace = plateau_run()
    with pytest.raises(ReductionError, match="share 1 time stamps"):
        reduce_trace(dataclasses.replace(trace, time_s=np.full(trace.size, 5.0)))


# Gravity and undeclared meters


def test_local_gravity_turns_grams_into_grams_force():
    """A cell calibrated with weights at 9.78 m/s² reads 1,200 g for 1,196.7 gf."""
    stand = Stand(calibration={"thrust_gf": 0.0}, gravity_m_per_s2=9.78, name="equator")
    here = reduce_trace(plateau_run(stand=stand)).summary["max_thrust_gf"]
    there = reduce_trace(plateau_run()).summary["max_thrust_gf"]
    assert here.value / there.value == pytest.approx(9.78 / 9.80665)
    assert here.component("gravity") == 0.0
    unknown = dataclasses.replace(stand, gravity_m_per_s2=None)
    doubt = reduce_trace(plateau_run(stand=unknown)).summary["max_thrust_gf"]
    assert doubt.component("gravity") == pytest.approx(0.0015 * doubt.value)


def test_what_nobody_declared_is_assumed_and_said():
    """kV 1,461.19 ± 0.06 is a lie with digits: volts are assumed good to 1 %."""
    run = no_load_run(stand=Stand(), resistance_ohm=0.085)
    result = reduce_trace(run)
    kv = result.summary["kv_rpm_per_v"]
    assert kv.assumed
    assert kv.component("assumed_calibration") == pytest.approx(
        kv.value * np.hypot(0.01, 0.001) / np.sqrt(3), rel=0.02
    )
    said = next(w.message for w in result.warnings if w.code == "accuracy_assumed")
    assert "voltage ±1 % (watt meter)" in said
    assert "speed ±0.1 % (optical tachometer)" in said


def test_a_named_instrument_is_assumed_by_its_kind():
    stand = Stand(instruments={"current_a": "esc_telemetry"}, name="quick")
    figure = reduce_trace(plateau_run(stand=stand)).summary["max_current_a"]
    assert figure.component("assumed_calibration") == pytest.approx(
        0.05 / np.sqrt(3) * figure.value
    )
    with pytest.raises(CoreError, match="no kind of instrument"):
        Stand(instruments={"current_a": "guess"})


def test_a_declared_exact_meter_is_not_assumed():
    result = reduce_trace(plateau_run())
    assert not result.summary["max_current_a"].assumed
    assert "accuracy_assumed" not in {w.code for w in result.warnings}


def test_a_thermometer_is_off_by_kelvins_not_by_percents():
    trace = plateau_run(stand=Stand(name="bench"))
    warm = np.full(trace.size, 40.0) + np.random.default_rng(1).normal(0, 0.1, trace.size)
    point = reduce_trace(
        dataclasses.replace(trace, channels={**trace.channels, "motor_temp_c": warm})
    ).points[0]
    assert point.figures["motor_temp_c"].component("assumed_offset") == pytest.approx(2 / 3**0.5)


# Nothing of a file ends in a traceback


@pytest.mark.parametrize("cell", ["7" * 5_000_000, "x" * 200_000, '"' + "1" * 200_000])
def test_a_field_of_megabytes_is_refused_in_a_line(cell, tmp_path, capsys):
    path = tmp_path / "huge.csv"
    path.write_text(f"time_s,thrust_gf\n0,1\n1,{cell}\n2,3\n")
    assert main(["reduce", str(path)]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1
    assert len(said) < 400
    assert "huge.csv" in said
    with pytest.raises(LogFormatError):
        read_bench_log(path.read_bytes())


def test_what_nobody_foresaw_is_one_line_too(tmp_path, capsys, monkeypatch):
    trace = plateau_run(rate_hz=20.0)
    path = tmp_path / "run.csv"
    path.write_bytes(write_bench_log({}, trace.time_s, trace.channels))

    def stumble(_):
        raise ZeroDivisionError("seven")

    monkeypatch.setitem(KINDS, "steps", dataclasses.replace(KINDS["steps"], reduce=stumble))
    assert main(["reduce", str(path)]) == 2
    assert "unforeseen (ZeroDivisionError: seven)" in capsys.readouterr().err
    monkeypatch.setenv("SPINDLE_TRACEBACK", "1")
    with pytest.raises(ZeroDivisionError):
        main(["reduce", str(path)])


BASES = (
    lambda: plateau_run(rate_hz=20.0),
    lambda: sweep_run(rate_hz=20.0, up_s=6.0),
    lambda: sweep_run(rate_hz=20.0, up_s=6.0, down=True),
    lambda: loaded_run("heavy", rate_hz=20.0, torque=True),
    lambda: no_load_run(rate_hz=20.0),
)


SPOIL = (
    lambda rng, v: v * np.nan,
    lambda rng, v: np.where(np.arange(v.size) > v.size // 3, np.nan, v),
    lambda rng, v: np.full_like(v, v[v.size // 2]),
    lambda rng, v: -v,
    lambda rng, v: v * 10.0 ** rng.integers(-4, 5),
    lambda rng, v: v * 0.0,
    lambda rng, v: np.where(rng.random(v.size) < 0.01, 1e6 * rng.normal(size=v.size), v),
    lambda rng, v: np.where(np.arange(v.size) % 2, v, np.nan),
    lambda rng, v: rng.permutation(v),
)
"""What goes wrong with a column."""

SPOIL_TIME = (
    np.floor,
    lambda t: np.full_like(t, 5.0),
    lambda t: 1000.0 * t,
    lambda t: 0.001 * t,
    lambda t: t,
)


def spoilt(rng, base):
    """A log with a column or two, its time stamps or its length spoilt."""
    time, channels = base.time_s, {k: v.copy() for k, v in base.channels.items()}
    channels["motor_temp_c"] = np.linspace(20.0, 60.0, time.size)
    channels["ambient_temp_c"] = np.full(time.size, 21.0)
    for name in rng.choice(list(channels), size=rng.integers(1, 3), replace=False):
        if rng.random() < 0.2:
            del channels[name]
        else:
            channels[name] = SPOIL[rng.integers(len(SPOIL))](rng, channels[name])
    if rng.random() < 0.3:
        time = SPOIL_TIME[rng.integers(len(SPOIL_TIME))](time)
    if rng.random() < 0.2:
        kept = int(rng.integers(1, 60))
        time, channels = time[:kept], {k: v[:kept] for k, v in channels.items()}
    return time, channels


@pytest.mark.parametrize("kind", KINDS)
def test_spoilt_logs_are_reduced_or_refused_but_never_crash(kind):
    rng = np.random.default_rng(sum(map(ord, kind)))
    refusals = []
    for number in range(15):
        base = BASES[number % len(BASES)]()
        time, channels = spoilt(rng, base)
        facts = dataclasses.replace(
            base.facts,
            inertia_kg_mm2=60.0,
            resistance_ohm=0.08,
            no_load_current_a=0.5,
            esc_linear=True,
            target_thrust_gf=(200.0, 500.0),
        )
        try:
            trace = Trace(time, channels, kind, facts=facts)
            json.dumps(reduction_to_json(reduce_trace(trace)), allow_nan=False)
            identify([trace])
        except CoreError as refusal:
            refusals.append(refusal.message)
    assert all(refusals)
