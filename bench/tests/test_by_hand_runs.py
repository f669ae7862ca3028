"""A run whose throttle is in somebody's hand: recorded and warned of, and never called safe."""

import re
from dataclasses import replace

import pytest

from spindle_bench import rehearsal
from spindle_bench.agent.frames import Delivered, FrameMaker
from spindle_bench.by_hand import LONGEST_S, SILENCE_S
from spindle_bench.errors import BenchError, PlanError, RefusedError
from spindle_bench.limits import LimitMonitor, Limits
from spindle_bench.plan import check_checklist, checklist_of, plan_from_json
from spindle_bench.profiles import profile_from_json
from spindle_bench.rehearsal import MemoryRecorder, rehearse
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import Outcome, State

from .by_hand import ByHand
from .conftest import cause, make_plan, only_end

COMMANDS = {"arm", "throttle", "heartbeat"}


class Filling(MemoryRecorder):
    """A disk that takes so many rows."""

    def __init__(self, most):
        super().__init__()
        self.most = most

    def begin(self, plan, channels):
        if not self.most:
            raise OSError(28, "No space left on device")
        super().begin(plan, channels)

    def add(self, times_s, rows):
        if len(self.rows) + len(rows) > self.most:
            raise OSError(28, "No space left on device")
        super().add(times_s, rows)


def plan_of(run_id="hand-1", **options):
    return replace(make_plan(run_id, **options), by_hand=True)


def move(bench, pct, seconds=0.6):
    begin = bench.stand.hand_pct
    for n in range(1, 7):
        bench.engine.move_hand(begin + (pct - begin) * n / 6)
        bench.run_for(seconds / 6)


def watching(bench, plan=None):
    bench.arm(plan or plan_of())
    assert bench.engine.state is State.WATCHING


def followed(bench, *levels, hold_s=4.0):
    """Do what is asked: rest, each position, rest."""
    bench.run_for(4.0)
    for level in levels:
        move(bench, level)
        bench.run_for(hold_s)
    move(bench, 0.0)
    bench.run_for(8.0)


def test_positions_are_asked_recorded_and_brought_to_an_end(bench):
    watching(bench)
    followed(bench, 30.0, 60.0)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.COMPLETED, "completed")
    assert bench.engine.state is State.WATCHED
    assert "in your hand" in bench.engine.message
    column = bench.recorder.channels.index("throttle_pct")
    assert {30.0, 60.0} <= {row[column] for row in bench.recorder.rows}
    assert [round(row.x) for row in bench.engine.picture.rows()] == [30, 60]


def test_nothing_is_ever_commanded(bench):
    watching(bench)
    followed(bench, 30.0, 60.0)
    assert not COMMANDS & {message["type"] for _, message in bench.sent}


def test_still_is_not_safe_while_a_hand_has_the_throttle(bench):
    watching(bench)
    followed(bench, 30.0, 60.0)
    bench.run_for(5.0)
    assert bench.stand.physics.speed_rpm < 60
    assert bench.engine.state is State.WATCHED
    # From there both ways are open.
    bench.recorder = bench.engine.recorder = MemoryRecorder()
    bench.arm(make_plan("next"))
    assert bench.engine.state is State.ARMED


def test_the_frame_says_what_is_asked(bench):
    watching(bench)
    bench.run_for(0.3)
    maker = FrameMaker()
    frame = maker.frame(bench.engine, Delivered())
    assert frame["by_hand"]["says"] == "Throttle at zero: the zero before."
    assert frame["by_hand"]["alarm"] == ""
    bench.run_for(4.0)
    move(bench, 30.0)
    bench.run_for(1.2)
    frame = maker.frame(bench.engine, Delivered())
    assert frame["by_hand"]["phase"] == "hold"
    assert (frame["by_hand"]["at"], frame["by_hand"]["of"]) == (0, 2)
    assert 0 < frame["by_hand"]["held_s"] <= frame["by_hand"]["hold_s"]
    assert frame["progress"]["total_s"] is None
    assert frame["progress"]["elapsed_s"] > 4
    followed(bench, 30.0, 60.0)
    assert maker.frame(bench.engine, Delivered())["by_hand"] is None


def test_a_limit_is_an_alarm_and_the_end_says_when_it_was_cut(bench):
    watching(bench, plan_of(levels=(30.0, 90.0), limits=Limits(current_a=10.0)))
    bench.run_for(4.0)
    move(bench, 30.0)
    bench.run_for(3.0)
    move(bench, 90.0)
    bench.run_for(1.0)
    engine = bench.engine
    assert engine.state is State.WATCHING
    assert "above the limit of 10 A" in engine.hand.alarm.message
    assert engine.hand.as_json()["says"] == "Throttle to zero."
    assert bench.stand.applied_pct == 90.0  # nothing here can cut it
    assert [m["type"] for _, m in bench.sent].count("stop") == 1  # a stand that can, shall
    before = len(bench.recorder.rows)
    bench.run_for(1.0)
    assert len(bench.recorder.rows) > before
    move(bench, 0.0)
    bench.run_for(6.0)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.LIMIT, "limit_current_a")
    assert "not seen" not in end.reason
    assert end.reason.endswith(" s after it.")
    after_s = float(end.reason.split("To be cut by hand: cut ")[1].split(" s")[0])
    assert 2.0 < after_s < 6.0
    assert engine.state is State.WATCHED


def test_a_hand_that_only_dips_has_not_cut(bench):
    watching(bench, plan_of(limits=Limits(current_a=2.0)))
    bench.run_for(4.0)
    move(bench, 60.0)
    bench.run_for(1.0)
    alarm_s = bench.engine.hand.alarm.time_s
    # Seen at rest for less than it takes to be sure, and up again.
    bench.engine.move_hand(0.0)
    bench.run_for(8.0, until=lambda: bench.engine.hand.follower.at_rest)
    bench.run_for(0.2)
    move(bench, 60.0)
    assert bench.engine.state is State.WATCHING
    bench.engine.move_hand(0.0)
    bench.run_for(0.1)
    bench.run_for(8.0, until=lambda: bench.engine.state is State.WATCHED)
    said = float(only_end(bench).reason.split("cut ")[-1].split(" s")[0])
    at_rest_s = bench.engine.last_time_s - 0.5 - alarm_s
    assert said == pytest.approx(at_rest_s, abs=0.15)


def test_an_alarm_stays_one_when_somebody_ends_the_record(bench):
    watching(bench, plan_of(limits=Limits(current_a=2.0)))
    bench.run_for(4.0)
    move(bench, 60.0)
    bench.run_for(1.0)
    bench.engine.stop(bench.now, by="Tomas")
    end = only_end(bench)
    assert (end.outcome, end.code, end.by) == (Outcome.LIMIT, "limit_current_a", "Tomas")
    assert end.reason.endswith("seen at zero before the record ended. Stopped by Tomas.")


def test_somebody_is_warned_before_the_limit(bench):
    watching(bench, plan_of(levels=(50.0,), limits=Limits(current_a=12.0)))
    bench.run_for(4.0)
    seen = []
    for pct in range(0, 100, 2):
        bench.engine.move_hand(float(pct))
        bench.run_for(0.1)
        near = {one["name"]: one["how"] for one in bench.engine.hand.as_json()["near"]}
        seen.append(near.get("current_a", ""))
        if bench.engine.hand.alarm:
            break
    assert "near" in seen
    assert seen.index("near") < len(seen) - 1 - 3


def test_the_stop_key_ends_the_record_and_tries_the_stand(bench):
    watching(bench)
    bench.run_for(4.0)
    move(bench, 30.0)
    bench.engine.stop(bench.now, by="Ilse")
    assert only_end(bench).by == "Ilse"
    assert bench.engine.state is State.WATCHED
    assert bench.sent[-1][1]["type"] == "stop"
    assert bench.stand.applied_pct == 30.0


def test_a_lost_link_ends_the_record_without_calling_anything_safe(bench):
    watching(bench)
    bench.run_for(4.0)
    bench.engine.disconnected(bench.now)
    assert only_end(bench).code == "link_lost"
    assert bench.engine.state is State.WATCHED
    assert "in your hand" in bench.engine.message


@pytest.mark.parametrize("kind", ["freeze", "clock_forward", "clock_back"])
def test_a_stand_that_misbehaves_ends_the_record(bench, kind):
    watching(bench)
    bench.run_for(2.0)
    cause(bench, kind, 20.0)
    bench.run_for(SILENCE_S + 2.0)
    assert only_end(bench).outcome is Outcome.FAULT
    assert bench.engine.state is State.WATCHED


def test_a_page_that_is_gone_ends_nothing(bench):
    """Nobody is shown the warnings then; but the record is all there is to lose."""
    watching(bench)
    bench.page_open = False
    bench.run_for(6.0)
    assert bench.engine.state is State.WATCHING


def test_a_record_that_nobody_ends_ends(bench):
    watching(bench, plan_of(rate_hz=10.0))
    bench.run_for(LONGEST_S + 1.0, step_s=0.1)
    end = only_end(bench)
    assert end.outcome is Outcome.GAVE_UP
    assert "30 minutes" in end.reason


def test_a_disk_that_is_full_ends_it_and_the_data_before_is_kept(bench):
    bench.recorder = bench.engine.recorder = Filling(most=300)
    watching(bench)
    bench.run_for(5.0)
    end = only_end(bench)
    assert end.code == "recording"
    assert 250 < len(bench.recorder.rows) <= 300
    assert bench.engine.state is State.WATCHED


def test_a_recording_that_cannot_begin_is_refused(bench):
    bench.recorder = bench.engine.recorder = Filling(most=0)
    with pytest.raises(RefusedError, match="cannot be recorded"):
        bench.arm(plan_of())
    assert bench.engine.state is State.IDLE


def test_a_stand_that_is_driven_is_not_armed_while_the_hand_is_up(bench):
    watching(bench)
    bench.run_for(4.0)
    move(bench, 20.0)
    bench.engine.stop(bench.now)
    with pytest.raises(RefusedError, match="while armed or turning"):
        bench.arm(make_plan("next"))
    bench.engine.move_hand(0.0)
    bench.run_for(8.0)
    bench.arm(make_plan("after"))


def test_the_simulated_hand_is_moved_only_while_it_is_recorded(bench):
    with pytest.raises(RefusedError, match="while its run is recorded"):
        bench.engine.move_hand(10.0)
    bench.engine.hello = {**bench.engine.hello, "capabilities": ["mount"]}
    with pytest.raises(RefusedError, match="no simulated transmitter"):
        bench.engine.move_hand(0.0)


def test_the_simulated_hand_stays_where_it_is_until_who_moved_it_leaves(bench):
    stand = bench.stand
    stand.handle({"type": "hand", "seq": 1, "pct": 50}, "mover", bench.now)
    stand.disconnected("somebody who only asked how it is")
    assert stand.applied_pct == 50.0
    stand.disconnected("mover")
    assert stand.applied_pct == 0.0


def test_an_armed_stand_takes_no_hand(bench):
    bench.arm(make_plan())
    [reply] = bench.stand.handle({"type": "hand", "seq": 1, "pct": 50}, "x", bench.now)
    assert (reply["type"], reply["code"]) == ("refused", "armed")
    assert bench.stand.applied_pct == 0.0


# ---- a stand that only reads ---------------------------------------------------------------------


def test_a_stand_that_only_reads_is_never_armed():
    made = ByHand(drives=False, heartbeat_ms=None)
    answers = []
    made.engine.arm(make_plan(), made.now, answers.append)
    assert answers[0].code == "only_reads"
    assert not made.sent


def test_a_stand_that_only_reads_is_watched_without_a_heartbeat():
    made = ByHand(drives=False, heartbeat_ms=None)
    answers = []
    made.engine.arm(plan_of(), made.now, answers.append)
    made.reply()  # rate
    made.reply()  # tare
    assert answers == [None]
    assert made.engine.state is State.WATCHING
    for _ in range(200):
        made.tick()
        made.samples({})
    assert not COMMANDS & set(made.kinds())


@pytest.mark.parametrize("every_s", [1.0, 2.0])
def test_a_device_that_prints_slowly_is_waited_for_and_a_silent_one_is_not(every_s):
    made = ByHand(drives=False, heartbeat_ms=None, rate_hz=1.0 / every_s)
    made.engine.arm(plan_of(rate_hz=1.0 / every_s), made.now, lambda error: None)
    made.reply()
    made.reply()
    for _ in range(8):
        for _ in range(round(every_s / 0.05)):
            made.tick(0.05)
        made.samples({})
    # One line is left out at a second; then it says nothing any more.
    for _ in range(38):
        made.tick(0.05)
    assert made.engine.state is State.WATCHING
    for _ in range(round((SILENCE_S - 1.8) / 0.05)):
        made.tick(0.05)
    assert made.engine.state is State.WATCHED
    assert only_end(made).code == "no_samples"


def test_a_stop_while_it_is_tared_leaves_the_bench_usable():
    """Nobody could confirm zero there: a fault would never be left again."""
    made = ByHand(drives=False, heartbeat_ms=None)
    answers = []
    made.engine.arm(plan_of(), made.now, answers.append)
    made.engine.stop(made.now, by="Ilse")
    assert answers[0].code == "stopped"
    for _ in range(100):
        made.tick()
        made.samples({})
    assert made.engine.state is State.IDLE
    assert made.recorder.begun == 0
    made.engine.arm(plan_of("hand-2"), made.now, answers.append)
    made.reply()
    made.reply()
    assert made.engine.state is State.WATCHING


def test_positions_that_cannot_be_asked_for_are_refused_and_nothing_is_recorded(bench):
    plan = plan_of()
    broken = replace(plan, profile=replace(plan.profile, rest_s=2.0))
    object.__setattr__(broken.profile, "rest_s", 0.0)
    with pytest.raises(RefusedError, match="cannot be recorded"):
        bench.arm(broken)
    assert bench.recorder.begun == 0
    bench.arm(plan_of("next"))
    assert bench.engine.state is State.WATCHING


def test_a_stop_at_the_stand_while_it_is_watched_is_no_fault():
    made = ByHand(drives=False, heartbeat_ms=None)
    made.engine.arm(plan_of(), made.now, lambda error: None)
    made.reply()
    made.reply()
    made.engine.received({"type": "event", "code": "stopped", "message": "?"}, made.now)
    made.engine.received({"type": "refused", "seq": 999, "message": "cannot"}, made.now)
    assert made.engine.state is State.WATCHING


# ---- what is judged without a command ------------------------------------------------------------


def test_a_throttle_nobody_reads_is_taken_for_above_zero():
    monitor = LimitMonitor(Limits(current_a=10.0, lost_sensor_s=0.5))
    row = {"current_a": None, "speed_rpm": 0.0}
    assert monitor.check(0.0, row, by_hand=True) is None
    breach = monitor.check(0.7, row, by_hand=True)
    assert breach is not None
    assert breach.code == "lost_current_a"
    # At a throttle that is read as zero a reading may be missing.
    monitor = LimitMonitor(Limits(current_a=10.0, lost_sensor_s=0.5))
    for at in (0.0, 0.7, 5.0):
        assert monitor.check(at, {**row, "throttle_pct": 0.0}, by_hand=True) is None


def test_a_hand_is_no_stand_that_runs_ahead():
    monitor = LimitMonitor(Limits(lost_rpm_s=None))
    row = {"current_a": 1.0, "motor_temp_c": 20.0, "thrust_gf": 1.0, "throttle_pct": 60.0}
    for at in (0.0, 1.0, 2.0):
        assert monitor.check(at, row, by_hand=True) is None
    assert monitor.check(0.0, row) is None
    assert monitor.check(1.0, row).code == "throttle_mismatch"


# ---- plan and checklist --------------------------------------------------------------------------


def test_the_plan_says_whose_hand_it_is():
    plan = plan_of()
    assert plan_from_json(plan.as_json()).by_hand
    assert not plan_from_json(make_plan().as_json()).by_hand
    assert not plan_from_json({**make_plan().as_json(), "by_hand": "no"}).by_hand


def test_a_hand_makes_no_bursts():
    data = {**plan_of().as_json(), "profile": profile_from_json({"kind": "peak"}).as_json()}
    with pytest.raises(PlanError, match="choose steps"):
        plan_from_json(data)


@pytest.mark.parametrize(("rate_hz", "good"), [(0.5, True), (5.0, True), (0.4, False)])
def test_a_device_may_print_slowly(rate_hz, good):
    data = {**plan_of().as_json(), "rate_hz": rate_hz}
    if good:
        assert plan_from_json(data).rate_hz == rate_hz
        with pytest.raises(PlanError):
            plan_from_json({**data, "by_hand": False})
    else:
        with pytest.raises(PlanError):
            plan_from_json(data)


def test_what_is_chosen_is_confirmed():
    assert "hand_cuts" in checklist_of([], by_hand=True)
    assert "guard_off" not in checklist_of([], by_hand=True, guard_off=True)
    assert checklist_of([], guard_off=True)[-1] == "guard_off"
    assert not {"guard_off", "hand_cuts"} & set(checklist_of([]))


def test_that_only_a_hand_cuts_is_confirmed_before_each_run():
    plan = replace(plan_of(), asked=())
    with pytest.raises(RefusedError, match="hand cuts"):
        check_checklist(plan, ["prop_plane_clear"])
    check_checklist(plan, ["prop_plane_clear", "hand_cuts"])


def test_a_guard_that_is_off_is_somebodys_choice():
    plan = replace(make_plan(), guard_off_by="Ilse")
    assert plan_from_json(plan.as_json()).guard_off_by == "Ilse"
    whole = checklist_of(list(plan.limits_off))
    with pytest.raises(RefusedError, match="guard off"):
        check_checklist(plan, whole)
    check_checklist(plan, [*whole, "guard_off"])


def test_a_rehearsed_hand_does_what_is_asked_a_little_off(bench):
    run = rehearse(plan_of(levels=(25.0, 50.0, 75.0)), SimulatedStand(seed=3), seed=8)
    assert only_end(run).outcome is Outcome.COMPLETED
    column = run.recorder.channels.index("throttle_pct")
    shown = [pct for _, pct in _held(run, column)]
    assert len(shown) == 3
    assert all(0 < abs(a - b) <= 1.5 for a, b in zip(shown, (25, 50, 75), strict=True))
    again = rehearse(plan_of(levels=(25.0, 50.0, 75.0)), SimulatedStand(seed=3), seed=8)
    assert again.recorder.rows == run.recorder.rows


def test_a_rehearsed_hand_cuts_when_the_alarm_asks_for_it():
    plan = plan_of(levels=(30.0, 90.0), limits=Limits(current_a=10.0))
    run = rehearse(plan, SimulatedStand(seed=3), seed=1)
    end = only_end(run)
    assert end.outcome is Outcome.LIMIT
    # At once, and not when the position was held: a reaction, and the way down.
    after = re.search(r"To be cut by hand: cut (\S+) s after it", end.reason)
    assert after is not None
    assert float(after[1]) < 4.0
    assert 30.0 < max(row[0] for row in _commanded(run)) < 90.0
    assert run.stand.hand_pct == 0.0


def test_a_hand_that_comes_to_no_end_is_said(monkeypatch):
    monkeypatch.setattr(rehearsal, "LONGEST_BY_HAND_S", 3.0)
    with pytest.raises(BenchError, match="no end"):
        rehearse(plan_of(), SimulatedStand(seed=3))


def _commanded(run):
    column = run.recorder.channels.index("throttle_pct")
    return [(row[column],) for row in run.recorder.rows]


def _held(run, column):
    """Stretches of one throttle above zero that lasted two seconds: how long [s], and where [%]."""
    times, values = run.recorder.times_s, [row[column] for row in run.recorder.rows]
    begin, found = 0, []
    for i in range(1, len(values) + 1):
        if i == len(values) or values[i] != values[begin]:
            if values[begin] > 0 and times[i - 1] - times[begin] > 2:
                found.append((times[i - 1] - times[begin], values[begin]))
            begin = i
    return found
