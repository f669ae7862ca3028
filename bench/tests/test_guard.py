"""The predictive guard: it stops before, not after; without an answer the run ends safely."""

from dataclasses import replace

import pytest

from spindle_bench.curve import curve_as_json, read_curve
from spindle_bench.guard import GUARDED, GuardWatch, judge, rises
from spindle_bench.limits import LimitMonitor, Limits
from spindle_bench.plan import plan_from_json
from spindle_bench.profiles import PLAYS
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import Outcome, State
from spindle_core.planning.guard import ExpectedStep

from .conftest import make_plan, only_end
from .test_kinds import column, plan, profile

LADDER = (20.0, 40.0, 60.0, 80.0, 100.0)


def guarded(made, curve=()):
    return replace(made, guarded=True, curve=tuple(curve))


def play(made, *, guard_up=True, seed=4):
    bench = VirtualBench(SimulatedStand(seed=seed), guard_up=guard_up)
    bench.run_for(0.5)
    bench.arm(made)
    bench.start()
    bench.to_rest(400.0)
    assert bench.stand.throttle_pct == 0.0
    assert bench.engine.state in (State.SAFE, State.ZEROED)
    return bench


def highest(bench):
    return max((m["pct"] for _, m in bench.sent if m["type"] == "throttle"), default=0.0)


def test_it_lets_a_run_through_that_has_room():
    bench = play(guarded(make_plan(levels=LADDER)))
    assert only_end(bench).outcome is Outcome.COMPLETED
    assert highest(bench) == 100.0


@pytest.mark.parametrize("limit_a", [6.0, 12.0, 20.0, 28.0])
def test_it_stops_before_a_limit_and_not_after_it(limit_a):
    made = guarded(make_plan(levels=LADDER, limits=Limits(current_a=limit_a)))
    bench = play(made)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.GAVE_UP, "guard"), end
    assert "current would reach" in end.reason
    assert f"the limit is {limit_a:g} A" in end.reason
    assert max(column(bench, "current_a")) < limit_a
    # The same run without the guard is cut by the limit itself.
    unguarded = play(replace(made, guarded=False))
    assert only_end(unguarded).code == "limit_current_a"
    assert highest(bench) < highest(unguarded)


def test_the_recording_goes_on_after_its_end():
    bench = play(guarded(make_plan(levels=LADDER, limits=Limits(current_a=12.0))))
    last = max(t for t, m in bench.sent if m["type"] == "throttle")
    assert bench.recorder.times_s[-1] - last > 2.0


def test_a_guard_that_does_not_answer_ends_the_run_before_anything_turns():
    bench = play(guarded(make_plan()), guard_up=False)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.FAULT, "guard_silent")
    assert highest(bench) == 0.0


def test_a_guard_that_falls_silent_ends_the_run_at_the_next_rise():
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(0.5)
    bench.arm(guarded(make_plan(levels=LADDER)))
    bench.start()
    bench.run_for(20.0, until=lambda: bench.stand.throttle_pct >= 40.0)
    bench.guard_up = False
    bench.to_rest(60.0)
    assert only_end(bench).code == "guard_silent"
    assert highest(bench) == 40.0


def test_an_answer_that_comes_too_late_or_for_another_run_is_worth_nothing():
    bench = VirtualBench(SimulatedStand(seed=4))
    waiting = []
    bench.engine.ask_guard = waiting.append
    bench.run_for(0.5)
    made = guarded(make_plan(levels=(30.0, 60.0)))
    bench.arm(made)
    bench.start()
    bench.run_for(20.0, until=lambda: bool(waiting))
    bench.engine.guard_says(judge(waiting[0]), run_id="another")
    bench.to_rest(60.0)
    assert only_end(bench).code == "guard_silent"
    bench.engine.guard_says(judge(waiting[0]), run_id=made.run_id)
    assert bench.engine.state in (State.SAFE, State.ZEROED)


def test_the_answer_to_the_step_before_does_not_let_the_next_one_through():
    bench = VirtualBench(SimulatedStand(seed=4))
    waiting = []
    bench.engine.ask_guard = waiting.append
    bench.run_for(0.5)
    made = guarded(make_plan(levels=(30.0, 60.0)))
    bench.arm(made)
    bench.start()
    bench.run_for(1.0)
    bench.engine.guard_says(judge(waiting[0]), run_id=made.run_id)
    bench.run_for(20.0, until=lambda: len(waiting) == 2)
    bench.engine.guard_says(judge(waiting[0]), run_id=made.run_id)
    bench.to_rest(60.0)
    assert only_end(bench).code == "guard_silent"
    assert highest(bench) == 30.0


def test_a_sweep_ends_below_the_limit():
    made = guarded(plan("ramp", Limits(current_a=15.0), sweep_pct_per_s=5))
    bench = play(made)
    assert only_end(bench).code == "guard"
    assert max(column(bench, "current_a")) < 15.0
    # And not long before it: the last part of the sweep that was taken is near.
    assert max(column(bench, "current_a")) > 0.7 * 15.0


def test_what_was_expected_ends_a_burst_before_it_begins():
    heavy = [ExpectedStep(100.0, {"current_a": (47.0, 2.0)})]
    made = guarded(plan("peak", Limits(current_a=40.0)), heavy)
    bench = play(made)
    assert only_end(bench).code == "guard"
    assert highest(bench) == 0.0
    assert "47.0 ± 2.1 A" in only_end(bench).reason


def test_a_floor_of_voltage_is_foreseen():
    made = make_plan(levels=LADDER, limits=Limits(voltage_floor_v=14.6), supply_resistance_ohm=0.06)
    bench = play(guarded(made))
    end = only_end(bench)
    assert end.code == "guard", end
    assert "would fall to" in end.reason
    assert "the floor is 14.6 V" in end.reason


def test_power_counts_where_no_meter_gives_it():
    bench = play(guarded(make_plan(levels=LADDER, limits=Limits(power_w=200.0))))
    end = only_end(bench)
    assert end.code == "guard"
    assert "power would reach" in end.reason


def test_bad_readings_leave_the_guard_what_it_can_judge():
    made = guarded(make_plan(levels=LADDER, limits=Limits(current_a=12.0)))
    bench = VirtualBench(SimulatedStand(seed=4))
    asked = []

    def ask(question):
        asked.append(question)
        bench.engine.guard_says(judge(question), run_id=made.run_id)

    bench.engine.ask_guard = ask
    bench.run_for(0.5)
    bench.arm(made)
    bench.start()
    bench.to_rest(60.0)
    assert asked[0].seen == ()
    assert [round(step.throttle_pct) for step in asked[-1].seen] == [20, 40, 60][: len(asked) - 1]
    assert asked[-1].case_c == pytest.approx(25, abs=15)


@pytest.mark.parametrize("kind", sorted(GUARDED))
def test_every_rise_is_asked_in_time(kind):
    found = rises(profile(kind))
    assert found
    before_s = 0.0
    for rise in found:
        assert before_s <= rise.ask_s <= rise.at_s
        assert rise.at_s - rise.ask_s <= 1.0
        assert rise.lasts_s > 0
        before_s = rise.at_s


def test_kinds_that_bound_themselves_are_not_guarded():
    assert set(PLAYS) - set(GUARDED) == {"hold", "flywheel"}
    assert rises(profile("hold")) == []


def test_rises_of_a_ladder_and_of_what_comes_down_again():
    made = make_plan(levels=(50.0, 20.0, 80.0, 80.0)).profile
    assert [rise.to_pct for rise in rises(made)] == [50.0, 80.0]
    # A plateau that follows at the same throttle belongs to the rise before it.
    assert rises(made)[-1].lasts_s == pytest.approx(1.0 + 2.0 + 2.0)


def test_a_sweep_is_judged_in_parts_of_five_per_cent():
    found = rises(profile("ramp", from_pct=0, to_pct=100, sweep_pct_per_s=4))
    assert [rise.to_pct for rise in found[:3]] == [5.0, 10.0, 15.0]
    assert found[-1].to_pct == 100.0


@pytest.mark.parametrize(
    ("kind", "changes"),
    [("no_load", {}), ("ramp", {"sweep_pct_per_s": 50}), ("response", {"dwell_s": 0.3})],
)
def test_a_fast_rise_leaves_time_for_an_answer(kind, changes):
    found = rises(profile(kind, **changes))
    for rise in found[1:]:
        assert rise.at_s - rise.ask_s >= 0.19
    assert found[-1].to_pct == max(rise.to_pct for rise in found)


def test_plan_and_curve_survive_their_way():
    curve = (ExpectedStep(40.0, {"current_a": (8.0, 0.5)}),)
    made = guarded(make_plan(), curve)
    again = plan_from_json(made.as_json())
    assert again.guarded
    assert again.curve == curve
    assert plan_from_json({**made.as_json(), "guarded": "yes"}).guarded is False
    assert read_curve(curve_as_json(curve)) == curve
    assert read_curve([{"throttle_pct": "x", "figures": []}, {"figures": []}, {}]) == ()


def test_what_comes_next_is_shown_while_it_is_foreseen():
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(0.5)
    bench.arm(guarded(make_plan(levels=LADDER)))
    assert bench.engine.progress()["next"] is None
    bench.start()
    bench.run_for(30.0, until=lambda: bench.stand.throttle_pct >= 40.0)
    bench.run_for(2.0, until=lambda: bench.engine.progress()["next"] is not None)
    shown = bench.engine.progress()["next"]
    assert shown["throttle_pct"] == 60.0
    assert {"current_a", "thrust_gf"} <= {one["name"] for one in shown["figures"]}
    bench.to_rest(60.0)
    assert bench.engine.progress()["next"] is None


def test_an_old_answer_does_not_undo_the_one_that_is_due():
    found = rises(make_plan(levels=(30.0, 60.0)).profile)
    asked = []
    watch = GuardWatch(found, (), LimitMonitor(Limits()), asked.append)
    assert watch.at(0.0) is None
    first = judge(asked[0])
    watch.answered(first)
    assert watch.at(found[0].at_s) is None
    assert watch.at(found[1].ask_s) is None
    watch.answered(judge(asked[1]))
    watch.answered(first)
    assert watch.at(found[1].at_s) is None
    assert watch.at(found[1].at_s + 9.0) is None


@pytest.mark.parametrize("rate_hz", [10.0, 20.0, 1000.0])
def test_it_foresees_on_a_slow_and_on_a_fast_stand(rate_hz):
    made = make_plan(levels=LADDER, limits=Limits(current_a=12.0), rate_hz=rate_hz)
    bench = play(guarded(made))
    assert only_end(bench).code == "guard"
    assert max(column(bench, "current_a")) < 12.0
    assert highest(bench) == 60.0
