"""The engine at rest, without a link and when something breaks, with a stand played by hand."""

import pytest

from spindle_bench.course import Course
from spindle_bench.errors import BenchError, RefusedError
from spindle_bench.profiles import StepsProfile
from spindle_bench.states import Outcome, State

from .by_hand import ByHand
from .conftest import OPERATOR, make_plan

LONG = {"levels": (30.0,), "dwell_s": 40.0}


@pytest.fixture
def plan():
    return make_plan(**LONG)


@pytest.fixture
def hand(plan):
    made = ByHand()
    made.spinning(plan, operator_id=OPERATOR)
    return made


@pytest.fixture
def cut():
    """A run that was just stopped by somebody; nothing is confirmed yet."""
    made = ByHand()
    made.spinning(make_plan(**LONG), operator_id=OPERATOR)
    made.engine.stop(made.now, by="Ilse")
    assert made.engine.state is State.ABORTING
    return made


# ---- at rest -------------------------------------------------------------------------------------


def test_safe_is_said_at_once_where_the_rotor_is_known_to_be_still():
    made = ByHand()
    made.arm(make_plan(**LONG))
    for _ in range(30):
        made.tick(0.02)
        made.samples({})
    made.engine.stop(made.now, by="Ilse")
    made.zero()
    assert made.engine.state is State.SAFE
    assert made.engine.message == "Stopped by Ilse."


def test_where_no_samples_come_the_speed_is_asked_for(cut):
    cut.zero()
    assert cut.engine.state in (State.COASTING, State.ZEROED)
    since = len(cut.sent)
    for _ in range(31):
        cut.tick(0.01)
    assert "status" in cut.kinds(since)
    for _ in range(5):
        cut.zero(speed_rpm=0.0)
        for _ in range(10):
            cut.tick(0.01)
    assert cut.engine.state is State.SAFE


def test_a_read_back_without_a_speed_and_none_at_all_tell_nothing(cut):
    cut.zero()
    for _ in range(60):
        cut.tick(0.01)
    for speed in (None, True, "0"):
        cut.zero(speed_rpm=speed)
        for _ in range(10):
            cut.tick(0.01)
    for _ in range(200):
        cut.tick(0.02)  # answers that never come run out
    assert cut.engine.state is State.ZEROED


# ---- the link ------------------------------------------------------------------------------------


def test_a_stand_that_comes_back_does_not_hide_how_the_run_ended(cut):
    cut.zero()
    said = cut.engine.message
    cut.engine.disconnected(cut.now)
    cut.connect()
    assert cut.engine.message != "Ready."
    assert cut.engine.message == "Throttle zero, speed unknown: look before you reach in."
    assert said


def test_a_bench_at_rest_says_what_it_waits_for():
    made = ByHand()
    made.engine.disconnected(made.now)
    assert made.engine.message == "Waiting for the stand."
    made.connect()
    assert made.engine.message == "Ready."


def test_after_a_run_that_is_safe_a_lost_link_changes_nothing():
    made = ByHand()
    made.arm(make_plan(**LONG))
    for _ in range(30):
        made.tick(0.02)
        made.samples({})
    made.engine.stop(made.now, by="Ilse")
    made.zero()
    made.engine.disconnected(made.now)
    assert (made.engine.state, made.engine.message) == (State.SAFE, "Stopped by Ilse.")
    made.connect()
    assert made.engine.message == "Stopped by Ilse."


def test_nothing_is_sent_to_a_stand_that_is_not_there(hand):
    hand.engine.disconnected(hand.now)
    assert hand.engine.state is State.FAULTED
    since = len(hand.sent)
    hand.engine.stop(hand.now, by="Ilse")
    hand.engine.failed(ValueError("x"), hand.now)
    hand.tick(0.1)
    assert hand.kinds(since) == []
    with pytest.raises(RefusedError, match="not connected"):
        hand.engine.reset(hand.now)


def faulted():
    made = ByHand()
    made.spinning(make_plan(**LONG), operator_id=OPERATOR)
    made.engine.disconnected(made.now)
    made.connect()
    return made


@pytest.mark.parametrize(
    "reply", [{"armed": True, "throttle_pct": 0}, {"armed": False, "throttle_pct": 3}]
)
def test_reset_believes_only_a_read_back_of_zero(reply):
    made = faulted()
    made.engine.reset(made.now)
    assert made.kinds()[-2:] == ["stop", "status"]
    made.zero(**reply)
    assert made.engine.state is State.FAULTED
    made.engine.reset(made.now)
    made.zero()
    assert made.engine.state is State.IDLE


def test_a_reset_that_is_never_answered_resets_nothing():
    made = faulted()
    made.engine.reset(made.now)
    for _ in range(200):
        made.tick(0.02)
    assert made.engine.state is State.FAULTED


def test_a_late_answer_to_a_reset_changes_no_other_state():
    made = faulted()
    made.engine.reset(made.now)
    first = made.last("status")["seq"]
    made.engine.reset(made.now)
    made.zero()
    made.arm(make_plan(**LONG))
    body = {"type": "status", "seq": first, "armed": False, "throttle_pct": 0}
    made.engine.received(body, made.now)
    assert made.engine.state is State.ARMED


# ---- what breaks ---------------------------------------------------------------------------------

LONG_WORDS = "no " * 200


def test_a_defect_in_a_run_stops_it_waits_for_no_clean_up_and_is_short_enough_to_keep(hand):
    since = len(hand.sent)
    hand.engine.failed(ValueError(LONG_WORDS), hand.now)
    assert hand.kinds(since)[0] == "stop"
    hand.zero()
    assert hand.engine.state is not State.ABORTING
    end = hand.recorder.ends[0]
    assert (end.code, len(end.reason)) == ("defect", 300)
    assert end.reason.startswith("The bench agent failed (ValueError: no no")


def test_a_defect_at_rest_is_said_and_one_in_a_cut_does_not_hide_its_reason(cut):
    idle = ByHand()
    idle.engine.failed(ValueError("seven"), idle.now)
    assert "ValueError: seven" in idle.engine.message
    assert idle.engine.state is State.IDLE
    assert idle.kinds() == ["stop"]
    said = cut.engine.message
    cut.engine.failed(ValueError("seven"), cut.now)
    assert cut.engine.message == said


def test_a_refusal_in_mid_run_ends_it_with_its_words(hand):
    hand.engine.received({"type": "refused", "message": LONG_WORDS}, hand.now)
    hand.zero()
    assert hand.engine.state is not State.ABORTING
    assert hand.recorder.ends[0].code == "refused"
    assert len(hand.recorder.ends[0].reason) == 300


def test_too_many_bad_lines_end_a_run_and_nothing_else(hand):
    idle = ByHand()
    for _ in range(30):
        idle.engine.malformed("not JSON", idle.now)
    assert (idle.engine.state, idle.engine.bad_lines.count) == (State.IDLE, 30)
    for _ in range(30):
        hand.engine.malformed(LONG_WORDS, hand.now)
    hand.zero()
    assert hand.engine.state is not State.ABORTING  # no clean-up on a link that cannot be read
    assert [(end.code, len(end.reason)) for end in hand.recorder.ends] == [("bad_lines", 300)]


@pytest.mark.parametrize(("jump_s", "way"), [(2.0, "ahead of"), (-2.0, "behind")])
def test_a_clock_that_jumps_is_told_with_its_way_and_ends_without_clean_up(hand, jump_s, way):
    hand.tick()
    hand.samples({"speed_rpm": 6000.0}, at=hand.now + jump_s)
    hand.tick()
    assert hand.engine.state is State.ABORTING
    hand.tick(0.06)
    hand.zero()
    assert hand.engine.state is not State.ABORTING
    end = hand.recorder.ends[0]
    assert (end.outcome, end.code) == (Outcome.FAULT, "clock")
    assert f"2.0 s {way} ours" in end.reason


def test_a_clock_that_falls_behind_without_going_back_is_told_as_behind(hand):
    """The stand's time goes on, ever more slowly."""
    lag = 0.0
    while hand.engine.state is State.RUNNING:
        lag += 0.012
        hand.tick()
        hand.samples({"throttle_pct": 30.0, "speed_rpm": 6000.0}, at=hand.now - lag)
        assert lag < 3.0
    assert "behind ours" in hand.engine.message


def test_a_clock_that_was_set_once_is_judged_anew_from_there():
    made = ByHand()
    for _ in range(40):
        made.tick()
        made.samples({})
    for _ in range(40):
        made.tick()
        made.samples({}, at=made.now + 60.0)  # set forward at rest: nobody is harmed
    made.arm(make_plan(**LONG))
    for _ in range(40):
        made.tick()
        made.samples({}, at=made.now + 60.0)
    assert made.engine.state is State.ARMED


def test_a_recording_that_fails_ends_the_run_in_words_that_can_be_kept(hand):
    ends = []

    class Full:
        def add(self, times, rows):
            raise BenchError(LONG_WORDS)

        def end(self, end):
            ends.append(end)

    hand.engine.recorder = Full()
    hand.follow()
    hand.zero()
    assert [(end.code, len(end.reason)) for end in ends] == [("recording", 300)]


@pytest.mark.parametrize(
    ("event", "by", "reason"),
    [
        ({"code": "stopped", "by": "Tomas"}, "Tomas", "Stopped by Tomas."),
        ({"code": "stopped"}, "", "Stopped at the stand."),
        ({"code": "heartbeat", "message": "silent"}, "", "silent"),
        ({"code": "c" * 90, "message": LONG_WORDS}, "", LONG_WORDS[:300]),
    ],
)
def test_what_the_stand_says_of_a_cut_is_kept(hand, event, by, reason):
    hand.engine.received({"type": "event", **event}, hand.now)
    hand.zero()
    end = hand.recorder.ends[0]
    assert (end.by, end.reason) == (by, reason)
    assert end.code == event["code"][:40]
    assert hand.engine.state is not State.ABORTING


# ---- the profile ---------------------------------------------------------------------------------


def test_the_throttle_follows_the_stands_time_to_a_tenth_of_a_percent():
    course = Course(StepsProfile((50.0,), dwell_s=2.0, ramp_pct_per_s=20.0, rest_s=2.0))
    wanted = [course.wanted_pct(100.0 + at) for at in (0.0, 1.999, 2.0, 3.24, 4.5, 6.5, 7.75)]
    assert wanted == [0.0, 0.0, 0.0, 24.8, 50.0, 50.0, 25.0]
    assert course.wanted_pct(110.999) == 0.0
    assert course.wanted_pct(111.0) is None
    assert course.total_s == pytest.approx(11.0)


def test_a_course_that_is_first_asked_late_begins_there():
    course = Course(StepsProfile((50.0,), dwell_s=2.0, rest_s=2.0))
    assert course.wanted_pct(5000.0) == 0.0
    assert course.wanted_pct(5001.9) == 0.0
    assert course.begun_s == 5000.0


def test_progress_is_told_to_the_millisecond(hand):
    told = hand.engine.progress()
    assert told["total_s"] == pytest.approx(46.0)
    assert told["elapsed_s"] == round(told["elapsed_s"], 3)
    assert 3.5 < told["elapsed_s"] < 4.5
    assert told["label"] == "1 of 1: 30 %"
    assert told["steps"] == ["zero before", "to 30 %", "1 of 1: 30 %", "down", "zero after"]
    assert told["step"] == 2
