"""Every kind of run played in virtual time: it finds the truth, ends at zero, and can be cut."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from spindle_bench.errors import PlanError, RefusedError
from spindle_bench.limits import Limits
from spindle_bench.plan import CHECKLIST, RunPlan, check_checklist, checklist_of, plan_from_json
from spindle_bench.profiles import (
    PLAYS,
    Done,
    GiveUp,
    duration_s,
    follow,
    highest_throttle_pct,
    profile_from_json,
    segments,
)
from spindle_bench.profiles.hold import BOUND_SHARE
from spindle_bench.rehearsal import VirtualBench, rehearse
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.world import true_motor
from spindle_bench.states import Outcome, State
from spindle_core.formats.bench_log import BenchLog
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.kinds import KINDS

from .conftest import FACTS, OPERATOR, only_end

FOR_WHEEL = {"speed_rpm": 24_000.0, "current_a": 60.0}
WHEEL = {"inertia_kg_mm2": 62.0, "rated_speed_rpm": 24_000.0}
ASKED: dict[str, dict[str, Any]] = {
    "steps": {"levels_pct": [30, 60]},
    "ramp": {"sweep_pct_per_s": 10},
    "peak": {},
    "no_load": {},
    "hold": {"targets_gf": [300, 600], "dwell_s": 3},
    # At full duty this motor would trip the supply on a standing wheel.
    "flywheel": {**WHEEL, "duty_pct": 60, "spin_ups": 2, "spin_up_to_rpm": 12_000},
    "response": {"cycles": 4},
    "direction": {"level_pct": 20},
    "soak": {"level_pct": 55, "load_s": 40, "watch_s": 30},
}


def profile(kind, **changes):
    return profile_from_json({"kind": kind, **ASKED[kind], **changes})


def plan(kind, limits=None, **changes):
    limits = limits or Limits(**FOR_WHEEL if kind == "flywheel" else {})
    facts = dict(FACTS)
    if kind == "no_load":
        facts["load"] = "none"
    if kind == "flywheel":
        facts |= {"load": "flywheel", "inertia_kg_mm2": WHEEL["inertia_kg_mm2"]}
    return RunPlan(
        f"run-{kind}",
        profile(kind, **changes),
        limits,
        facts,
        {"title": kind, "operator": "Ilse", "operator_id": OPERATOR},
        100.0,
        dict.fromkeys(limits.off, "Ilse"),
    )


def played(kind, limits=None, *, seed=3, **changes):
    return rehearse(plan(kind, limits, **changes), SimulatedStand(seed=seed))


def reduced(bench, kind, **header):
    facts = {
        "kind": kind,
        "motor": "x",
        "sample": "A",
        "air_temp_c": "21",
        "air_pressure_hpa": "1000",
        "prop_diameter_in": "5.1",
        **{key: str(value) for key, value in header.items()},
    }
    rows = np.array(bench.recorder.rows, dtype=float)
    channels = {name: rows[:, i] for i, name in enumerate(bench.recorder.channels)}
    return reduce_trace(BenchLog(facts, np.array(bench.recorder.times_s), channels).trace())


def column(bench, name):
    return np.array(bench.recorder.rows, dtype=float)[:, bench.recorder.channels.index(name)]


def completed(bench):
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.COMPLETED, "completed"), end
    assert bench.engine.state in (State.SAFE, State.ZEROED)
    assert bench.stand.throttle_pct == 0.0
    return bench


TRUTH = true_motor("Ostrel Drift 2206 1900", "A", "2206", 1900).electrical


def test_every_kind_of_a_recording_is_played():
    assert set(PLAYS) == set(KINDS) - {"readings"}


def test_a_sweep_gives_the_curve_up_and_down():
    bench = completed(played("ramp"))
    found = reduced(bench, "ramp")
    assert len(found.points) > 30
    steps = reduced(completed(played("steps", levels_pct=[50, 100])), "steps")
    top = steps.summary["max_thrust_gf"].value
    assert found.summary["max_thrust_gf"].value == pytest.approx(top, rel=0.04)


def test_three_bursts_are_averaged():
    found = reduced(completed(played("peak")), "peak")
    assert found.summary["bursts"].value == 3
    thrust = found.summary["sustained_thrust_gf"]
    assert thrust.value == pytest.approx(1150, rel=0.05)
    assert found.summary["burst_thrust_gf"].value > thrust.value


def test_bursts_at_half_come_first_and_are_averaged_apart():
    bench = completed(played("peak", half_bursts=3, bursts=2))
    throttle = column(bench, "throttle_pct")
    half, full = np.flatnonzero(throttle == 50.0), np.flatnonzero(throttle == 100.0)
    assert half.max() < full.min()
    found = reduced(bench, "peak", half_bursts=3)
    assert found.summary["bursts"].value == 2
    assert found.summary["half_bursts"].value == 3
    truth = reduced(completed(played("steps", levels_pct=[50, 100])), "steps").points[0].figures
    for name in ("thrust_gf", "current_a", "speed_rpm"):
        told = found.summary[f"half_{name}"]
        assert told.value == pytest.approx(truth[name].value, rel=0.04), name
        assert told.u > 0
    # Without being asked for, nothing is read at half throttle.
    assert "half_thrust_gf" not in reduced(bench, "peak").summary


def test_a_bare_shaft_gives_kv_and_idle_current():
    found = reduced(
        completed(played("no_load")), "no_load", resistance_ohm=TRUTH.resistance_ohm + 0.004
    )
    kv = found.summary["kv_rpm_per_v"]
    assert abs(kv.value - TRUTH.kv_rpm_per_v) < 3 * kv.u
    idle = found.summary["no_load_current_a"]
    speed = found.summary["speed_rpm"].value
    truth = TRUTH.no_load_current_a + TRUTH.no_load_slope_a_per_rpm * speed
    assert idle.value == pytest.approx(truth, rel=0.05)


def test_hold_reaches_its_targets_and_leaves_the_throttle_alone():
    bench = completed(played("hold"))
    found = reduced(bench, "hold", target_thrust_gf="300 600")
    assert found.summary["targets_reached"].value == 2
    for target, point in zip((300, 600), found.points, strict=True):
        assert point.value("target_thrust_gf") == target
        assert point.value("power_w") > 0


def test_a_flywheel_gives_torque_over_speed():
    bench = completed(played("flywheel"))
    found = reduced(
        bench, "flywheel", inertia_kg_mm2=62.0, spin_up_from_rpm=4000, spin_up_to_rpm=12_000
    )
    torque = found.summary["peak_torque_nm"]
    # Kt·(I − I0) of the largest current, within what the cell and the winding's warmth allow.
    largest = np.nanmax(column(bench, "current_a")) / 0.6
    assert torque.value == pytest.approx(TRUTH.torque_constant_nm_per_a * largest, rel=0.25)
    assert found.summary["spin_up_time_s"].value < 3.0
    fastest = np.nanmax(column(bench, "speed_rpm"))
    assert 12_000 <= fastest < 14_000
    # Two spin-ups, and the wheel was slow between them.
    throttle = column(bench, "throttle_pct")
    assert np.count_nonzero(np.diff((throttle > 50).astype(int)) == 1) == 2


def test_response_cycles_are_jumps():
    bench = completed(played("response"))
    found = reduced(bench, "response")
    assert found.summary["cycles"].value == 4
    assert found.summary["accel_rpm_per_s"].value > 10_000


def test_a_soak_warms_and_watches():
    bench = completed(played("soak"))
    found = reduced(bench, "soak")
    assert found.summary["rise_k"].value > 3
    assert bench.recorder.times_s[-1] - bench.recorder.times_s[0] > 70


def test_a_soak_ends_its_load_at_the_temperature():
    bench = completed(played("soak", level_pct=80, load_s=300, until_c=45))
    hottest = np.nanmax(column(bench, "motor_temp_c"))
    assert 44.5 < hottest < 52
    throttle, times = column(bench, "throttle_pct"), np.array(bench.recorder.times_s)
    loaded = times[throttle > 79]
    assert loaded[-1] - loaded[0] < 200
    # The watch follows in full, whenever the load ended.
    assert times[-1] - loaded[-1] > 29


# ---- what may not happen -------------------------------------------------------------------------


@pytest.mark.parametrize("bound_a", [6.0, 9.0, 14.0])
@pytest.mark.parametrize("prop", [(5.1, 4.2, 3), (5.1, 6.5, 4)])
def test_hold_never_passes_its_bound_of_current(bound_a, prop):
    limits = Limits(current_a=bound_a)
    diameter, pitch, blades = prop
    made = plan("hold", limits, targets_gf=[150, 2500])
    made.facts.update(prop_diameter_in=diameter, prop_pitch_in=pitch, prop_blades=blades)
    bench = rehearse(made, SimulatedStand(seed=5))
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.GAVE_UP, "gave_up"), end
    assert "under the current limit" in end.reason
    current = column(bench, "current_a")
    # Noise of the meter apart, the loop stays below what it was given: no limit had to cut it.
    assert np.nanmax(current) < bound_a
    assert np.nanmax(np.convolve(current, np.ones(10) / 10, "valid")) < bound_a * (
        BOUND_SHARE + 0.03
    )
    assert bench.stand.throttle_pct == 0.0


def test_hold_gives_up_a_thrust_that_full_throttle_does_not_give():
    bench = played("hold", targets_gf=[400, 3000])
    end = only_end(bench)
    assert end.outcome is Outcome.GAVE_UP
    assert "3,000 gf was not reached within 15 s; at 100.0 % throttle" in end.reason
    assert bench.engine.state is State.SAFE
    assert reduced(bench, "hold", target_thrust_gf="400 3000").summary["targets_reached"].value == 1


def test_hold_does_not_fly_blind():
    follower = follow(profile("hold"), Limits())
    sample = {"thrust_gf": 150.0, "current_a": 2.0}
    time_s, found = 0.0, 0.0
    while time_s < 4.0:
        found = follower.next(time_s, sample)
        time_s += 0.01
    assert isinstance(found, float)
    before = found
    for missing in (None, math.nan):
        last = [
            follower.next(time_s + i * 0.01, {**sample, "thrust_gf": missing}) for i in range(40)
        ]
        time_s += 0.4
        gone = [item for item in last if isinstance(item, GiveUp)]
        if gone:
            break
    assert gone
    assert "blind" in gone[0].why
    assert before > 0


def test_hold_without_a_current_does_not_raise_the_throttle():
    follower = follow(profile("hold"), Limits(current_a=20.0))
    wanted = [follower.next(i * 0.01, {"thrust_gf": 50.0, "current_a": None}) for i in range(500)]
    assert max(item for item in wanted if isinstance(item, float)) == 0.0


def test_a_wheel_that_does_not_come_to_speed_is_given_up():
    bench = played("flywheel", duty_pct=30.0)
    end = only_end(bench)
    assert end.outcome is Outcome.GAVE_UP
    assert "did not reach" in end.reason
    silent = follow(profile("flywheel"), None)
    found = [silent.next(i * 0.1, {"speed_rpm": None}) for i in range(200)]
    assert any(isinstance(item, GiveUp) and "no speed was read" in item.why for item in found)


def test_a_wheel_is_never_spun_above_what_it_is_rated_for():
    with pytest.raises(PlanError, match="rated for 18,000"):
        profile("flywheel", rated_speed_rpm=18_000, spin_up_to_rpm=17_000)
    with pytest.raises(PlanError, match="goes up"):
        profile("flywheel", spin_up_from_rpm=12_500)
    for limits in (Limits(), Limits(speed_rpm=30_000)):
        data = plan("flywheel", limits).as_json()
        with pytest.raises(PlanError, match="speed limit"):
            plan_from_json(data)
    assert plan_from_json(plan("flywheel").as_json()).profile.kind == "flywheel"


def test_a_wheel_wants_its_guard_and_a_bare_shaft_no_propeller():
    assert checklist_of([], kind="steps") == list(CHECKLIST)
    assert "wheel_guard" in checklist_of([], kind="flywheel")
    assert "shaft_bare" in checklist_of([], kind="no_load")
    made = plan("flywheel")
    off = [f"off_{name}" for name in made.limits_off]
    with pytest.raises(RefusedError, match="wheel guard"):
        check_checklist(made, [*CHECKLIST, *off])
    check_checklist(made, [*CHECKLIST, "wheel_guard", *off])


@pytest.mark.parametrize("kind", sorted(PLAYS))
def test_every_kind_is_cut_by_its_limit_on_the_sample(kind):
    bench = played(kind, Limits(current_a=0.4, speed_rpm=24_000 if kind == "flywheel" else None))
    end = only_end(bench)
    if kind == "hold":
        # The loop stays below the bound by itself, which is what it is for.
        assert end.outcome is Outcome.GAVE_UP, end
    else:
        assert (end.outcome, end.code) == (Outcome.LIMIT, "limit_current_a"), end
    assert bench.stand.throttle_pct == 0.0


@pytest.mark.parametrize("kind", sorted(PLAYS))
@pytest.mark.parametrize("how", ["stop", "link", "page"])
def test_every_kind_is_cut_by_hand_and_by_silence(kind, how):
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(1.0)
    bench.arm(plan(kind))
    bench.start()
    bench.run_for(20.0, until=lambda: bench.stand.throttle_pct > 10.0)
    assert bench.stand.throttle_pct > 10.0
    if how == "stop":
        bench.engine.stop(bench.now, by="Ilse")
    elif how == "link":
        bench.link_up = False
    else:
        bench.page_open = False
    bench.run_for(3.0, until=lambda: bench.stand.throttle_pct == 0.0)
    assert bench.stand.throttle_pct == 0.0
    bench.run_for(4.0)
    assert bench.engine.state not in (State.RUNNING, State.ARMED)
    assert only_end(bench).outcome in (Outcome.STOPPED, Outcome.FAULT)


@pytest.mark.parametrize("kind", sorted(PLAYS))
@pytest.mark.parametrize("lost", ["current_a", "speed_rpm"])
def test_a_lost_sensor_ends_every_kind(kind, lost):
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(1.0)
    bench.arm(plan(kind))
    bench.start()
    bench.run_for(20.0, until=lambda: bench.stand.throttle_pct > 10.0)
    at = bench.engine.channels.index(lost)
    received = bench.engine.received

    def without(message, now):
        if message["type"] == "samples":
            blind = [[None if i == at else v for i, v in enumerate(row)] for row in message["rows"]]
            message = {**message, "rows": blind}
        received(message, now)

    # A wheel that coasts draws nothing; its next spin-up is the one that must not begin.
    for _ in range(9000):
        bench.now += 0.01
        for message in bench.stand.advance(bench.now):
            without(message, bench.now)
        inbox, bench._inbox = bench._inbox, []
        for message in inbox:
            without(message, bench.now)
        bench.engine.pages(bench.now, ago_s=0.0)
        bench.engine.tick(bench.now)
        if bench.engine.state is not State.RUNNING:
            break
    assert bench.engine.state is not State.RUNNING
    assert bench.stand.throttle_pct == 0.0


# ---- properties ----------------------------------------------------------------------------------

KIND = st.sampled_from(sorted(PLAYS))


@st.composite
def asked(draw):
    kind = draw(KIND)
    data: dict[str, Any] = {"kind": kind}
    for parameter in KINDS[kind].parameters:
        high = min(parameter.high, 40.0) if parameter.name.endswith("_s") else parameter.high
        number = st.floats(parameter.low, high, allow_nan=False)
        if parameter.many:
            data[parameter.name] = draw(st.lists(number, min_size=1, max_size=5))
        elif parameter.optional:
            data[parameter.name] = draw(st.none() | number)
        else:
            data[parameter.name] = draw(number)
    return data


@settings(max_examples=150, deadline=None)
@given(asked(), st.floats(0, 3000), st.floats(0, 100), st.floats(0, 40_000), st.booleans())
def test_whatever_is_asked_stays_within_0_to_100_and_ends_at_0(data, thrust, amps, rpm, blind):
    try:
        made = profile_from_json(data)
    except PlanError:
        return
    assert profile_from_json(made.as_json()) == made
    assert all(0 <= s.start_pct <= 100 and 0 <= s.end_pct <= 100 for s in segments(made))
    assert highest_throttle_pct(made) <= 100
    follower = follow(made, Limits(current_a=50.0))
    sample = {"thrust_gf": None if blind else thrust, "current_a": amps, "speed_rpm": rpm}
    longest, time_s, last = duration_s(made), 0.0, 0.0
    step_s = max(0.02, longest / 3000)
    while True:
        found = follower.next(time_s, {**sample, "motor_temp_c": 30.0})
        if not isinstance(found, float):
            break
        assert 0.0 <= found <= 100.0
        assert follower.label
        last, time_s = found, time_s + step_s
        assert time_s <= longest * 1.01 + 0.5 + 2 * step_s, "longer than planned"
    assert isinstance(found, GiveUp) or last <= 100 * step_s * 8
    assert isinstance(found, Done | GiveUp)


@pytest.mark.parametrize(
    ("kind", "wrong"),
    [
        ("ramp", {"to_pct": 20, "from_pct": 30}),
        ("ramp", {"sweep_pct_per_s": 0}),
        ("ramp", {"sweep_pct_per_s": "4"}),
        ("ramp", {"colour": 3}),
        ("peak", {"bursts": True}),
        ("response", {"low_pct": 60}),
        ("hold", {"targets_gf": []}),
        ("hold", {"targets_gf": 300}),
        ("hold", {"targets_gf": [math.nan]}),
        ("soak", {"level_pct": None}),
        ("soak", {"until_c": 500}),
        ("flywheel", {"inertia_kg_mm2": None}),
        ("no_load", {"burst_s": math.inf}),
    ],
)
def test_impossible_parameters_name_their_field(kind, wrong):
    with pytest.raises(PlanError) as caught:
        profile(kind, **wrong)
    assert caught.value.field
