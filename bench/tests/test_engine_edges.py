"""Where the engine could be fooled: slow ticks, clocks that jump, bad lines, full disks."""

import dataclasses
import itertools

import pytest

from spindle_bench.errors import RefusedError
from spindle_bench.limits import Limits
from spindle_bench.rehearsal import VirtualBench
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import Outcome, State

from .conftest import OPERATOR, cause, make_plan, only_end, running, until_cut

LONG = {"levels": (100.0,), "dwell_s": 30.0}


# ---- silence, however slowly the agent ticks ---------------------------------------------------


@pytest.mark.parametrize("tick_s", [0.013, 0.05, 0.12, 0.15, 0.25, 0.4])
def test_frozen_samples_cut_however_slowly_the_agent_ticks(bench, tick_s):
    running(bench, make_plan(**LONG), until_pct=60.0)
    cause(bench, "freeze", 60)
    assert until_cut(bench, agent_step_s=tick_s) <= 0.5
    bench.run_for(5.0, agent_step_s=tick_s)
    assert only_end(bench).code in ("no_samples", "link_lost")


def test_no_heartbeat_goes_out_while_the_stand_is_silent(bench):
    running(bench, make_plan(**LONG))
    cause(bench, "freeze", 60)
    began, sent = bench.now, len(bench.sent)
    bench.run_for(0.29)
    beats = [at for at, message in bench.sent[sent:] if message["type"] == "heartbeat"]
    assert [at for at in beats if at > began + 0.16] == []


def test_one_stall_of_the_agent_is_not_taken_for_a_silent_stand(bench):
    """What waited in the socket during a stall is read before it is called missing."""
    running(bench)
    bench.engine.tick(bench.now + 0.35)
    assert bench.engine.state is State.RUNNING
    bench.engine.tick(bench.now + 0.37)
    assert bench.engine.state is State.ABORTING


def test_stall_after_stall_is_judged(bench):
    running(bench)
    for number in range(1, 4):
        bench.engine.tick(bench.now + 0.2 * number)
    assert bench.engine.state is State.ABORTING


def test_samples_doubled_for_ever_are_no_new_samples(bench):
    """A clock that stands still: messages come, time does not."""
    running(bench, make_plan(**LONG))
    cause(bench, "clock_stuck", 60)
    assert until_cut(bench) <= 0.5
    bench.to_rest(5.0)
    assert only_end(bench).code == "no_samples"


# ---- the stand's clock -------------------------------------------------------------------------


def test_a_jump_forward_never_reaches_the_throttle(bench):
    running(bench, make_plan(levels=(20.0, 100.0), dwell_s=4.0), until_pct=20.0)
    cause(bench, "clock_forward", 60)
    until_cut(bench)
    highest = max(m["pct"] for _, m in bench.sent if m["type"] == "throttle")
    assert highest == 20.0
    bench.to_rest(5.0)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.FAULT, "clock")
    assert "ahead" in end.reason


def test_a_clock_set_back_ends_the_run(bench):
    running(bench, make_plan(levels=(30.0,), dwell_s=3.0))
    cause(bench, "clock_back", 60)
    assert until_cut(bench) <= 0.5
    bench.to_rest(5.0)
    assert only_end(bench).code == "clock"


class Drifting(VirtualBench):
    """The caller's clock against a stand whose clock runs at another rate."""

    rate = 1.0

    def run_for(self, seconds, *, step_s=0.01, until=None):
        end = self.now + seconds
        while self.now < end - 1e-9:
            self.now += step_s
            self.stand_now = getattr(self, "stand_now", 0.0) + step_s * self.rate
            inbox, self._inbox = self._inbox + self.stand.advance(self.stand_now), []
            for message in inbox:
                self.engine.received(message, self.now)
            self.engine.pages(self.now, ago_s=0.0)
            self.engine.tick(self.now)
            if until is not None and until():
                return

    def _send(self, message):
        self.sent.append((self.now, message))
        self._inbox += self.stand.handle(message, 1, getattr(self, "stand_now", 0.0))


@pytest.mark.parametrize(
    ("rate", "code"),
    [
        (1.0, "completed"),
        (1.008, "completed"),
        (0.992, "completed"),
        (1.12, "clock"),
        (0.85, "clock"),
        (0.97, "overtime"),
    ],
)
def test_a_clock_of_another_rate(rate, code):
    bench = Drifting(SimulatedStand(seed=4))
    bench.rate = rate
    bench.run_for(1.0)
    bench.arm(make_plan(levels=(30.0,), dwell_s=40.0))
    bench.start()
    bench.to_rest(70.0)
    assert only_end(bench).code == code


def test_a_run_never_outlasts_its_planned_time(bench, monkeypatch):
    """Even where every watch of the clock were blind."""
    monkeypatch.setattr("spindle_bench.watches.CLOCK_APART_S", 1e9)
    monkeypatch.setattr("spindle_bench.incoming.LATE_WITHIN_S", 1e9)
    plan = make_plan(levels=(30.0,), dwell_s=3.0)
    running(bench, plan)
    honest = bench.stand.advance

    def slow(now):
        out = honest(now)
        for message in out:
            if message["type"] == "samples":
                base = message["t_s"][0]
                slow.at = getattr(slow, "at", base) + 0.0001
                message["t_s"] = [slow.at + 1e-6 * i for i in range(len(message["t_s"]))]
        return out

    monkeypatch.setattr(type(bench.stand), "advance", lambda self, now: slow(now))
    bench.run_for(20.0, until=lambda: bench.stand.throttle_pct == 0.0)
    total = bench.engine.progress()["total_s"]
    begun = next(at for at, m in bench.sent if m["type"] == "throttle") - 2.5
    assert bench.now - begun <= 1.01 * total + 0.6
    bench.run_for(3.0)
    assert only_end(bench).code == "overtime"


# ---- what a stand says -------------------------------------------------------------------------


@pytest.mark.parametrize(
    "heartbeat_ms", [60_000, 1001, None, "300", -1, True, float("inf"), 10**400]
)
def test_a_stand_that_would_wait_too_long_is_not_armed(heartbeat_ms):
    bench = VirtualBench(SimulatedStand(seed=4))
    bench.run_for(0.2)
    bench.engine.connected({**bench.stand.hello(), "heartbeat_ms": heartbeat_ms}, bench.now)
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan())
    assert caught.value.code == "heartbeat"
    assert not bench.stand.armed


@pytest.mark.parametrize("kind", ["nan", "short_row"])
def test_lines_that_are_not_believed_end_the_run_with_their_reason(bench, kind):
    running(bench, make_plan(**LONG))
    cause(bench, kind, 60)
    assert until_cut(bench) <= 0.5
    bench.to_rest(5.0)
    end = only_end(bench)
    assert end.code in ("bad_lines", "no_samples")
    assert bench.engine.bad_lines.count >= 5
    assert "cells" in bench.engine.bad_lines.last or "nan" in bench.engine.bad_lines.last


def test_one_bad_line_is_counted_and_the_run_goes_on(bench):
    running(bench, make_plan(**LONG))
    bench.engine.received({"type": "samples", "t_s": [1.0], "rows": [[1.0]]}, bench.now)
    bench.engine.malformed("Not a JSON line", bench.now)
    bench.run_for(1.0)
    assert bench.engine.state is State.RUNNING
    assert bench.engine.bad_lines.count == 2


@pytest.mark.parametrize(
    "message",
    [
        {"type": "samples"},
        {"type": "samples", "t_s": 3, "rows": []},
        {"type": "status"},
        {"type": "samples", "t_s": [float("nan")], "rows": [[0.0] * 9]},
        {"type": "event"},
        {"type": "ack", "seq": []},
        {"type": "refused", "seq": "x"},
        {"type": "strange"},
        {"type": "samples", "t_s": [9e9], "rows": [["12"] + [0.0] * 8]},
        {"type": "samples", "t_s": [9e9], "rows": [[10**400] + [0.0] * 8]},
        {"type": "samples", "t_s": [10**400], "rows": [[0.0] * 9]},
        {"type": "event", "code": 10**400, "by": 10**400},
        {"type": "status", "seq": 10**400, "speed_rpm": 10**400},
    ],
)
def test_no_message_of_a_stand_breaks_the_engine(bench, message):
    bench.engine.received(message, bench.now)
    bench.run_for(0.2)
    assert bench.engine.state is State.IDLE


def test_doubled_and_late_samples_are_left_out_of_the_record(bench):
    running(bench, make_plan(levels=(30.0,), dwell_s=3.0))
    cause(bench, "doubled", 1.0)
    bench.to_rest(20.0)
    assert only_end(bench).outcome is Outcome.COMPLETED
    times = bench.recorder.times_s
    assert all(later > earlier for earlier, later in itertools.pairwise(times))
    assert bench.engine.dropped_samples > 50


@pytest.mark.parametrize(
    ("fault", "code", "limits"),
    [
        ("reversed_thrust", "limit_thrust_gf", Limits()),
        ("lost_voltage", "lost_voltage_v", Limits(voltage_floor_v=13.0)),
        ("lost_throttle", "lost_throttle_pct", Limits()),
        ("lost_voltage", "lost_power_w", Limits(power_w=1500.0)),
    ],
)
def test_a_limit_that_cannot_be_judged_is_a_breach(bench, fault, code, limits):
    running(bench, make_plan(limits=limits, **LONG))
    cause(bench, fault, 60)
    assert until_cut(bench) <= 0.6
    bench.to_rest(8.0)
    assert only_end(bench).code == code


def test_the_engine_itself_arms_no_limit_that_nobody_chose_to_be_off(bench):
    plan = dataclasses.replace(make_plan(), limits_off={})
    with pytest.raises(RefusedError) as caught:
        bench.arm(plan)
    assert (caught.value.code, caught.value.field) == ("limit_missing", "voltage_floor_v")
    assert not bench.stand.armed


def test_air_below_zero_is_air(bench):
    bench.arm(make_plan(ambient_c=-5.0))
    assert bench.engine.state is State.ARMED
    assert bench.stand.physics.mounted.ambient_c == -5.0


@pytest.mark.parametrize(
    "facts",
    [
        {"ambient_c": "cold"},
        {"ambient_c": float("inf")},
        {"prop_blades": None},
        {"kv_rpm_per_v": [1900]},
        {"ambient_c": 900},
        {"trip_a": True},
    ],
)
def test_facts_that_make_no_sense_are_refused_and_the_link_stands(bench, facts):
    began = bench.now
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan(**facts))
    assert caught.value.code == "stand_refused"
    assert bench.now - began < 0.5
    bench.arm(make_plan("run-2"))
    assert bench.engine.state is State.ARMED


def test_a_link_lost_while_arming_is_answered_at_once(bench):
    answers = []
    bench.link_up = False
    bench.engine.arm(make_plan(), bench.now, answers.append)
    bench.engine.disconnected(bench.now)
    assert [error.code for error in answers] == ["stand_refused"]
    assert bench.engine.state is State.IDLE


# ---- stopping ----------------------------------------------------------------------------------


@pytest.mark.parametrize("steps", range(4))
def test_stop_while_arming_leaves_it_disarmed(bench, steps):
    """Whatever part of mount, tare and arm has gone out."""
    answers = []
    bench.engine.arm(make_plan(), bench.now, answers.append)
    for _ in range(steps):
        inbox, bench._inbox = bench._inbox, []
        for message in inbox:
            bench.engine.received(message, bench.now)
    bench.engine.stop(bench.now, by="Tomas")
    bench.run_for(3.0)
    assert bench.engine.state is State.SAFE
    assert not bench.stand.armed
    assert len(answers) == 1
    if answers[0] is not None:
        assert answers[0].code == "stopped"


def test_safe_is_not_said_while_the_rotor_turns(bench):
    running(bench, make_plan(**LONG), until_pct=100.0)
    bench.run_for(1.0)
    bench.engine.stop(bench.now)
    said = []

    def look():
        said.append((bench.engine.state, bench.stand.physics.speed_rpm))
        return bench.engine.state is State.SAFE

    bench.run_for(6.0, until=look)
    assert bench.engine.state is State.SAFE
    coasting = [rpm for state, rpm in said if state is State.COASTING]
    assert max(coasting) > 10_000
    assert bench.stand.physics.speed_rpm < 100


def test_where_no_speed_is_known_it_is_never_called_safe(bench):
    running(bench, make_plan(**LONG), until_pct=60.0)
    cause(bench, "lost_rpm", 60)
    bench.run_for(15.0)
    assert only_end(bench).code == "lost_rpm"
    assert bench.engine.state is State.ZEROED
    assert "speed unknown" in bench.engine.message
    # A look at it is the reviewer's; the bench may be armed again.
    bench.arm(make_plan("run-2"))
    assert bench.engine.state is State.ARMED


def test_a_stand_without_a_speed_signal_ends_zeroed(bench):
    hello = bench.stand.hello()
    honest = bench.stand.advance
    names = [channel["name"] for channel in hello["channels"]]
    lost = names.index("speed_rpm")

    class Blind:
        def advance(self, now):
            out = honest(now)
            for message in out:
                for row in message.get("rows", []):
                    del row[lost]
            return out

        def __getattr__(self, name):
            return getattr(stand, name)

    stand, bench.stand = bench.stand, Blind()
    hello["channels"] = [c for c in hello["channels"] if c["name"] != "speed_rpm"]
    bench.engine.connected(hello, bench.now)
    bench.run_for(0.5)
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan())
    assert caught.value.code == "no_channel"
    bench.arm(make_plan(limits=Limits(lost_rpm_s=None)))
    bench.start()
    bench.to_rest(20.0)
    assert only_end(bench).outcome is Outcome.COMPLETED
    assert bench.engine.state is State.ZEROED


def test_the_end_says_who_stopped_also_when_the_stand_heard_it_first(bench):
    running(bench, make_plan(**LONG))
    bench.stand.handle({"type": "stop", "seq": 1, "by": "Tomas Rook"}, 9, bench.now)
    bench.run_for(0.1)
    bench.engine.stop(bench.now, by="Tomas Rook")
    bench.to_rest(5.0)
    end = only_end(bench)
    assert (end.outcome, end.by) == (Outcome.STOPPED, "Tomas Rook")
    assert "Tomas Rook" in end.reason


def test_start_belongs_to_the_run_and_to_the_person_who_armed_it(bench):
    bench.arm(make_plan("run-1"))
    with pytest.raises(RefusedError) as caught:
        bench.engine.start(bench.now, run_id="run-1", operator_id=OPERATOR + 1)
    assert caught.value.code == "other_person"
    with pytest.raises(RefusedError) as caught:
        bench.engine.start(bench.now, run_id="run-0", operator_id=OPERATOR)
    assert caught.value.code == "other_run"
    assert bench.engine.state is State.ARMED
    assert bench.recorder.begun == 0
    bench.start()
    with pytest.raises(RefusedError):
        bench.start()
    assert bench.recorder.begun == 1


# ---- pages -------------------------------------------------------------------------------------


@pytest.mark.parametrize("grace_s", [2.0, 6.0])
def test_a_run_ends_when_the_last_page_is_gone(bench, grace_s):
    running(bench, make_plan(page_grace_s=grace_s, **LONG))
    bench.page_open = False
    took = until_cut(bench, 20.0)
    assert grace_s - 0.1 <= took <= grace_s + 0.1
    bench.to_rest(5.0)
    assert only_end(bench).code == "no_page"


def test_a_silent_door_is_a_page_that_is_gone(bench, monkeypatch):
    running(bench, make_plan(**LONG))
    monkeypatch.setattr(type(bench.engine), "pages", lambda self, now, *, ago_s: None)
    assert until_cut(bench, 20.0) <= 2.1
    bench.to_rest(5.0)
    assert only_end(bench).code == "no_door"


def test_an_armed_bench_without_a_page_disarms(bench):
    bench.arm(make_plan())
    bench.page_open = False
    bench.run_for(2.2)
    assert not bench.stand.armed


def test_without_a_page_nothing_is_armed(bench):
    bench.page_open = False
    bench.run_for(3.0)
    with pytest.raises(RefusedError) as caught:
        bench.arm(make_plan())
    assert caught.value.code == "no_page"


@pytest.mark.parametrize("ago_s", [None, -3.0, 1e9])
def test_what_a_door_says_cannot_make_a_page_younger(bench, ago_s):
    running(bench, make_plan(**LONG))
    bench.page_open = False
    began = bench.now
    while bench.stand.throttle_pct > 0 and bench.now < began + 5:
        bench.engine.pages(bench.now, ago_s=ago_s)
        bench.run_for(0.05)
    assert bench.now - began <= 2.2


# ---- recording ---------------------------------------------------------------------------------


def fill_disk(bench, monkeypatch):
    def full(*ignored):
        monkeypatch.stopped = bench.stand.throttle_pct
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(type(bench.recorder), "add", full)
    return full


def test_a_full_disk_stops_the_run_and_keeps_its_true_reason(bench, monkeypatch):
    running(bench, make_plan(**LONG))
    fill_disk(bench, monkeypatch)
    assert until_cut(bench) <= 0.1
    bench.to_rest(5.0)
    end = only_end(bench)
    assert (end.outcome, end.code) == (Outcome.FAULT, "recording")
    assert "No space left on device" in end.reason
    assert bench.engine.state is State.SAFE


def test_a_full_disk_at_the_instant_of_a_cut_does_not_hide_the_limit(bench, monkeypatch):
    running(bench, make_plan(limits=Limits(current_a=2.0), levels=(60.0,)), until_pct=5.0)
    bench.run_for(5.0, until=lambda: bench.engine.state is State.ABORTING)
    fill_disk(bench, monkeypatch)
    bench.to_rest(5.0)
    assert only_end(bench).code == "limit_current_a"


def test_after_a_fault_no_reconnect_commands_a_throttle(bench, monkeypatch):
    running(bench, make_plan(**LONG))
    monkeypatch.setattr(type(bench.recorder), "end", fill_disk(bench, monkeypatch))
    bench.engine.disconnected(bench.now)
    assert bench.engine.state is State.FAULTED
    sent = len(bench.sent)
    bench.engine.connected(bench.stand.hello(), bench.now)
    bench.run_for(5.0)
    assert bench.engine.state is State.FAULTED
    assert [m for _, m in bench.sent[sent:] if m["type"] in ("throttle", "heartbeat", "arm")] == []


def test_a_run_that_cannot_be_begun_is_disarmed(bench, monkeypatch):
    bench.arm(make_plan())
    monkeypatch.setattr(type(bench.recorder), "begin", fill_disk(bench, monkeypatch))
    with pytest.raises(RefusedError) as caught:
        bench.start()
    assert caught.value.code == "recording"
    bench.run_for(2.0)
    assert not bench.stand.armed


def test_a_defect_of_ours_stops_first(bench):
    running(bench, make_plan(**LONG))
    bench.engine.failed(ZeroDivisionError("oops"), bench.now)
    assert bench.stand.throttle_pct == 0.0
    bench.to_rest(5.0)
    assert only_end(bench).code == "defect"
