"""The registry of kinds: what it says of a kind is what a run of that kind gives."""

import dataclasses

import numpy as np
import pytest
from motor_runs import no_load_run
from runs import plateau_run, sweep_run

from spindle_core.figures.measured import Measured
from spindle_core.figures.quantities import CHANNELS, QUANTITIES
from spindle_core.reduction import KINDS, reduce_trace
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace


def of_kind(run, kind, **facts):
    return dataclasses.replace(run, kind=kind, facts=dataclasses.replace(run.facts, **facts))


def stepped(levels, dwell_s=1.0, rate_hz=200.0, tau_s=0.06, kv=2000.0):
    """Speed that follows the throttle with one delay: for flywheel, response and soak."""
    time = np.arange(0.0, dwell_s * len(levels), 1.0 / rate_hz)
    throttle = np.asarray(levels, float)[np.minimum((time / dwell_s).astype(int), len(levels) - 1)]
    speed = np.zeros_like(time)
    for i in range(1, time.size):
        wanted = kv * 0.16 * throttle[i]
        speed[i] = speed[i - 1] + (wanted - speed[i - 1]) / (tau_s * rate_hz)
    return time, throttle, speed


def flywheel_run():
    time, throttle, speed = stepped([0, 0, 0, 100, 100, 100, 0, 0, 0, 0, 0, 0], tau_s=0.5)
    run = no_load_run(rate_hz=20.0)
    channels = {
        "throttle_pct": throttle,
        "speed_rpm": speed,
        "voltage_v": np.full(time.size, 16.0),
        "current_a": 0.2 + throttle * 0.1,
    }
    trace = Trace(time, channels, "flywheel", facts=run.facts)
    return of_kind(trace, "flywheel", inertia_kg_mm2=60.0)


def response_run():
    time, throttle, speed = stepped([0, 0, 0, *[15, 55] * 5, 15, 0, 0, 0])
    channels = {"throttle_pct": throttle, "speed_rpm": speed}
    return Trace(time, channels, "response")


def soak_run():
    time = np.arange(0.0, 200.0, 0.5)
    on = (time > 5) & (time < 90)
    heat = np.where(time < 90, 1 - np.exp(-np.clip(time - 5, 0, None) / 40.0), 0.0)
    top = 1 - np.exp(-85 / 40.0)
    cooling = top * np.exp(-np.clip(time - 90, 0, None) / 60.0)
    channels = {
        "throttle_pct": np.where(on, 100.0, 0.0),
        "motor_temp_c": 21.0 + 50.0 * np.where(time < 90, heat, cooling),
        "ambient_temp_c": np.full(time.size, 21.0),
        "current_a": np.where(on, 20.0, 0.0),
        "voltage_v": np.full(time.size, 16.0),
    }
    return Trace(time, channels, "soak")


def readings_run():
    channels = {
        "throttle_pct": np.array([40.0, 70.0, 100.0]),
        "thrust_gf": np.array([200.0, 620.0, 1120.0]),
        "voltage_v": np.array([16.0, 15.9, 15.7]),
        "current_a": np.array([4.0, 13.0, 28.0]),
    }
    return Trace(np.array([0.0, 1.0, 2.0]), channels, "readings")


RUNS = {
    "steps": lambda: plateau_run(rate_hz=50.0),
    "ramp": lambda: sweep_run(rate_hz=100.0, up_s=12.0),
    "peak": lambda: of_kind(plateau_run(rate_hz=50.0), "peak"),
    "hold": lambda: of_kind(plateau_run(rate_hz=50.0), "hold", target_thrust_gf=(300.0,)),
    "no_load": lambda: no_load_run(rate_hz=50.0),
    "flywheel": flywheel_run,
    "response": response_run,
    "soak": soak_run,
    "readings": readings_run,
    "direction": lambda: of_kind(plateau_run(levels=(10,), rate_hz=50.0), "direction"),
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_figure_of_every_kind_has_its_words_and_unit(kind):
    found = reduce_trace(RUNS[kind]())
    names = set(found.summary) | {name for point in found.points for name in point.figures}
    assert names - set(QUANTITIES) == set()
    for name in names:
        ending = {"pct": "%", "gf": "gf", "rpm": "rpm", "a": "A", "v": "V", "c": "°C", "k": "K"}
        unit = ending.get(name.rsplit("_", 1)[-1])
        if unit is not None and "_per_" not in name:
            assert QUANTITIES[name].unit == unit, name


@pytest.mark.parametrize("kind", KINDS)
def test_a_run_of_its_kind_gives_its_headline(kind):
    found = reduce_trace(RUNS[kind]())
    first = KINDS[kind].headline[0]
    assert isinstance(found.summary[first], Measured), found.summary[first]
    for name in KINDS[kind].headline:
        assert name in found.summary, name


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_what_a_kind_asks_for_is_possible_and_said_in_words(kind):
    assert kind.label
    assert kind.commands
    assert all(name in CHANNELS for name in kind.first_look)
    names = [parameter.name for parameter in kind.parameters]
    assert len(set(names)) == len(names)
    for parameter in kind.parameters:
        assert parameter.low < parameter.high
        usual = parameter.default
        values = usual if isinstance(usual, tuple) else () if usual is None else (usual,)
        assert all(parameter.low <= value <= parameter.high for value in values)
        assert parameter.many == isinstance(usual, tuple) or usual is None


def test_no_two_quantities_share_a_name_and_every_head_carries_its_unit():
    assert QUANTITIES["thrust_gf"].head == "Thrust (gf)"
    assert QUANTITIES["top_end_ratio"].head == "Top-end ratio"
    labels = [(quantity.label, quantity.unit) for quantity in QUANTITIES.values()]
    assert len(set(labels)) == len(labels)


# ---- bursts at half throttle ---------------------------------------------------------------------


def bursts_at(levels, held_s=2.0, *, half=3.0, drop=(), pass_slowly=False):
    """Bursts one after the other with rests of 3 s, at 50 Hz; thrust 12 gf a per cent."""
    knots, at = [(0.0, 0.0), (3.0, 0.0)], 3.0
    for level in levels:
        up = 2.0 if pass_slowly else 0.25
        knots += [(at + up, level), (at + up + held_s, level), (at + up + held_s + 0.25, 0.0)]
        at += up + held_s + 3.25
        knots.append((at, 0.0))
    time_s = np.arange(0.0, at, 0.02)
    throttle = np.interp(time_s, *zip(*knots, strict=True))
    rng = np.random.default_rng(2)
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": 12.0 * throttle + rng.normal(size=time_s.size),
        "current_a": 0.3 * throttle + rng.normal(scale=0.02, size=time_s.size),
        "voltage_v": 16.0 - 0.004 * throttle,
    }
    kept = {name: values for name, values in channels.items() if name not in drop}
    facts = RunFacts(half_bursts=half)
    return reduce_trace(Trace(time_s, kept, kind="peak", facts=facts)).summary


def test_half_and_full_are_averaged_apart():
    found = bursts_at([50, 50, 100, 100])
    assert (found["half_bursts"].value, found["bursts"].value) == (2, 2)
    assert found["half_thrust_gf"].value == pytest.approx(600, abs=1)
    assert found["half_current_a"].value == pytest.approx(15, abs=0.05)
    assert found["half_efficiency_g_per_w"].value == pytest.approx(600 / (15 * 15.8), rel=0.01)
    assert found["sustained_thrust_gf"].value == pytest.approx(1200, abs=1)


@pytest.mark.parametrize("half", [None, 0.0])
def test_nobody_asked_for_half_and_nothing_of_it_is_told(half):
    found = bursts_at([50, 100], half=half)
    assert not [name for name in found if name.startswith("half_")]


def test_what_only_passes_half_throttle_is_no_burst():
    # Two seconds up to full: 2 per cent about the half take 40 ms.
    found = bursts_at([100], pass_slowly=True)
    assert found["half_thrust_gf"].reason == "no_half"


@pytest.mark.parametrize("level", [48.5, 51.5])
def test_near_half_is_not_half(level):
    assert bursts_at([level, 100])["half_thrust_gf"].reason == "no_half"


def test_a_short_half_burst_says_how_long_it_was():
    found = bursts_at([50, 100], held_s=1.0)["half_thrust_gf"]
    assert found.reason == "burst_too_short"
    assert found.note.startswith("half throttle was held for 1.0")


def test_a_missing_channel_is_absent_at_half_too():
    found = bursts_at([50, 100], drop=("current_a",))
    assert isinstance(found["half_thrust_gf"], Measured)
    assert not isinstance(found["half_current_a"], Measured)
    assert not isinstance(found["half_efficiency_g_per_w"], Measured)
