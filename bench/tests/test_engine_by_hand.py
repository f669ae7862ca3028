"""The engine to the letter, with a stand played by hand: what goes out, when, and what stays."""

import pytest

from spindle_bench.course import Course
from spindle_bench.engine import CLEAN_UP_S, READ_BACK_EVERY_S, READ_BACK_WITHIN_S
from spindle_bench.errors import BenchError, RefusedError
from spindle_bench.limits import Limits
from spindle_bench.overdue import ARMED_FOR_S, DOOR_SILENCE_S, Heard
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


# ---- before anything -----------------------------------------------------------------------------


def test_a_fresh_engine_has_counted_nothing():
    engine = ByHand().engine
    assert (engine.dropped_samples, engine.recording_problem, engine.end) == (0, "", None)
    assert engine.progress() == {"elapsed_s": None, "total_s": None, "label": ""}
    assert engine.message == "Ready."


def test_what_waits_for_the_screen_is_bounded():
    made = ByHand()
    for _ in range(45):
        made.now += 0.5
        made.samples(*({"thrust_gf": float(i)} for i in range(50)))
    assert len(made.engine.take_rows()) == 2000
    assert made.engine.take_rows() == []


# ---- arming --------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("answer", "said"),
    [({"message": "The tare drifts."}, "The tare drifts."), ({}, "Refused."), (None, "not answer")],
)
def test_an_arm_that_failed_leaves_the_stand_stopped_and_says_why(plan, answer, said):
    made = ByHand()
    made.engine.arm(plan, made.now, made.answers.append)
    made.reply()  # the rate
    before = len(made.sent)
    if answer is None:
        made.tick(0.05)
        made.tick(2.0)
        made.tick(0.02)
    else:
        made.reply("refused", **answer)
    assert said in made.answers[0].message
    assert made.answers[0].code == "stand_refused"
    assert "stop" in made.kinds(before)
    assert made.engine.state is State.IDLE
    assert said in made.engine.message


def test_after_a_stall_of_ours_no_answer_is_called_missing_at_once(plan):
    made = ByHand()
    made.engine.arm(plan, made.now, made.answers.append)
    made.tick(0.02)
    made.tick(1.6)  # late by far: what waits in the socket is read first
    assert made.answers == []
    made.tick(0.02)
    assert "did not answer" in made.answers[0].message


def test_who_armed_is_named_to_who_did_not(plan):
    made = ByHand()
    made.arm(plan)
    with pytest.raises(RefusedError, match=r"^Ilse armed this run"):
        made.engine.start(made.now, run_id=plan.run_id, operator_id=OPERATOR + 1)
    nameless = make_plan(**LONG)
    nameless.record["operator"] = ""
    made = ByHand()
    made.arm(nameless)
    with pytest.raises(RefusedError, match=r"^Somebody else armed this run"):
        made.engine.start(made.now, run_id=nameless.run_id, operator_id=OPERATOR + 1)


def test_a_stand_stopped_while_arming_is_made_safe_and_named(plan):
    made = ByHand()
    made.engine.arm(plan, made.now, made.answers.append)
    before = len(made.sent)
    made.engine.received({"type": "event", "code": "stopped", "by": "Tomas"}, made.now)
    assert made.answers[0].code == "stopped"
    assert made.engine.state is State.ABORTING
    assert made.kinds(before)[:2] == ["stop", "status"]
    made.zero()
    assert made.engine.state is not State.ABORTING  # no clean-up is waited for
    assert made.recorder.ends == []


@pytest.mark.parametrize("heartbeat_ms", [0, -5, "soon", None, 1001])
def test_a_stand_without_a_sensible_patience_is_not_armed(plan, heartbeat_ms):
    made = ByHand(heartbeat_ms=heartbeat_ms)
    made.engine.arm(plan, made.now, made.answers.append)
    assert made.answers[0].code == "heartbeat"
    assert made.kinds() == []


# ---- the heartbeat -------------------------------------------------------------------------------


def beats(made, since):
    return [at for at, message in made.sent[since:] if message["type"] == "heartbeat"]


def test_a_beat_goes_out_every_eighty_milliseconds_and_not_before(plan):
    made = ByHand()
    made.arm(plan)
    made.samples({})
    began, since = made.now, len(made.sent)
    for _ in range(30):
        made.tick(0.01)
        made.samples({})
    assert beats(made, since) == pytest.approx([began + 0.08, began + 0.16, began + 0.24])


@pytest.mark.parametrize(("rate_hz", "silent_for"), [(100.0, 0.15), (5.0, 0.30)])
def test_no_beat_once_the_stand_is_silent_for_longer_than_it_may_be(rate_hz, silent_for):
    made = ByHand(heartbeat_ms=900)
    made.arm(make_plan(**LONG, rate_hz=rate_hz))
    made.samples({})
    heard, since = made.now, len(made.sent)
    for _ in range(60):
        made.tick(0.01)
    last = max(beats(made, since))
    assert heard + silent_for - 0.09 < last <= heard + silent_for + 1e-9


# ---- patience ------------------------------------------------------------------------------------


@pytest.mark.parametrize(("heartbeat_ms", "patience_s"), [(100, 0.3), (300, 0.3), (700, 0.7)])
def test_samples_may_stay_away_as_long_as_the_stand_itself_would_wait(heartbeat_ms, patience_s):
    made = ByHand(heartbeat_ms=heartbeat_ms)
    made.spinning(make_plan(**LONG), operator_id=OPERATOR)
    heard = made.now
    while made.engine.state is State.RUNNING:
        made.tick(0.01)
        assert made.now < heard + 2.0
    assert made.now - heard == pytest.approx(patience_s + 0.01, abs=0.0101)
    assert f"{patience_s * 1000:.0f} ms" in made.engine.message


def heard(**changed):
    found = Heard(sample=100.0, page=100.0, door=100.0, armed=100.0)
    for name, value in changed.items():
        setattr(found, name, value)
    return found


@pytest.mark.parametrize(
    ("changed", "now", "code"),
    [
        ({}, 100.3, None),
        ({}, 100.301, "no_samples"),
        ({"sample": 102.0}, 102.0, None),
        ({"sample": 102.01, "door": 101.01}, 102.01, "no_page"),
        ({"sample": 102.01, "door": 101.009}, 102.01, "no_door"),
        ({"sample": 190.0, "page": 190.0, "door": 190.0}, 190.0, None),
        ({"sample": 190.01, "page": 190.01, "door": 190.01}, 190.01, "armed_too_long"),
    ],
)
def test_what_is_waited_for_ends_beyond_its_time_and_not_at_it(changed, now, code):
    assert (DOOR_SILENCE_S, ARMED_FOR_S) == (1.0, 90.0)
    found = heard(**changed).overdue(make_plan(page_grace_s=2.0), now, 0.3)
    assert (found.code if found else None) == code


def test_a_run_may_outlast_its_plan_by_a_hundredth_and_half_a_second():
    plan = make_plan(levels=(30.0,), dwell_s=3.0)
    planned = 2 * 2.5 + 3.0 + 2 * 30.0 / 60.0
    end = 100.0 + planned * 1.01 + 0.5
    for now, code in ((end - 1e-6, None), (end + 1e-6, "overtime")):
        found = heard(sample=now, page=now, begun=100.0).overdue(plan, now, 0.3)
        assert (found.code if found else None) == code


# ---- a cut ---------------------------------------------------------------------------------------


def test_the_read_back_is_asked_again_every_fifty_milliseconds(cut):
    assert (READ_BACK_EVERY_S, READ_BACK_WITHIN_S, CLEAN_UP_S) == (0.05, 1.0, 3.0)
    since = len(cut.sent)
    cut.tick(0.049)
    assert cut.kinds(since) == []
    cut.tick(0.001)
    assert cut.kinds(since) == ["stop", "status"]
    cut.tick(0.0501)
    assert cut.kinds(since) == ["stop", "status"] * 2


def test_a_stand_that_never_confirms_is_a_fault_after_a_second_and_not_before(cut):
    began = cut.now
    while cut.engine.state is State.ABORTING:
        cut.tick(0.01)
        assert cut.now < began + 3.0
    assert cut.now - began == pytest.approx(1.01, abs=1e-6)
    assert cut.engine.state is State.FAULTED
    assert "cut its supply by hand" in cut.engine.message


def test_a_second_stop_does_not_lengthen_the_wait_and_keeps_the_first_reason(cut):
    began, since = cut.now, len(cut.sent)
    for _ in range(20):
        cut.tick(0.04)
        cut.engine.stop(cut.now, by="Tomas")
    assert cut.kinds(since).count("stop") >= 20
    while cut.engine.state is State.ABORTING:
        cut.tick(0.01)
    assert cut.now - began < 1.05
    assert [end.by for end in cut.recorder.ends] == ["Ilse"]


def test_once_confirmed_the_stand_is_not_asked_again(cut):
    cut.zero()
    assert cut.engine.state is not State.ABORTING
    since = len(cut.sent)
    cut.samples({})
    cut.tick(0.06)
    assert "stop" not in cut.kinds(since)


@pytest.mark.parametrize(
    "reply",
    [
        {"armed": True, "throttle_pct": 0},
        {"armed": False, "throttle_pct": 0.4},
        {"armed": None, "throttle_pct": 0},
        {"armed": False, "throttle_pct": None},
    ],
)
def test_a_read_back_that_does_not_say_zero_confirms_nothing(cut, reply):
    cut.zero(**reply)
    assert cut.engine.state is State.ABORTING
    cut.zero()
    assert cut.engine.state is State.ABORTING  # that question was answered; it is asked anew
    cut.tick(0.06)
    cut.zero()
    assert cut.engine.state is not State.ABORTING


def test_a_stop_waits_for_no_clean_up(cut):
    cut.zero(speed_rpm=0)
    assert cut.engine.state in (State.COASTING, State.ZEROED)
    assert [end.code for end in cut.recorder.ends] == ["stopped"]


def limited():
    made = ByHand()
    made.spinning(make_plan(**LONG, limits=Limits(thrust_gf=1000.0)), operator_id=OPERATOR)
    made.follow(thrust_gf=1001.0)
    assert made.engine.state is State.ABORTING
    return made


def test_after_a_limit_three_seconds_more_are_recorded():
    made = limited()
    began = made.now
    made.zero()
    assert made.engine.state is State.ABORTING
    rows = len(made.recorder.rows)
    while made.engine.state is State.ABORTING:
        made.follow()
        assert made.now < began + 5.0
    assert made.now - began == pytest.approx(3.0, abs=0.021)
    assert len(made.recorder.rows) - rows >= 149
    assert [end.code for end in made.recorder.ends] == ["limit_thrust_gf"]
    # What comes after the end is not recorded, and nothing complains of it.
    after = len(made.recorder.rows)
    made.follow()
    assert (len(made.recorder.rows), made.engine.recording_problem) == (after, "")


def test_samples_that_stop_in_the_clean_up_end_it():
    made = limited()
    made.zero()
    heard_at = made.now
    while made.engine.state is State.ABORTING:
        made.tick(0.01)
        assert made.now < heard_at + 2.0
    assert made.now - heard_at == pytest.approx(0.31, abs=0.0101)
    assert [end.code for end in made.recorder.ends] == ["limit_thrust_gf"]


def test_a_stop_in_the_clean_up_ends_it_and_the_limit_stays_the_reason():
    made = limited()
    made.zero()
    made.engine.stop(made.now, by="Ilse")
    made.tick(0.06)
    made.zero()
    assert made.engine.state is not State.ABORTING
    assert [end.code for end in made.recorder.ends] == ["limit_thrust_gf"]


def test_of_a_limit_the_whole_message_is_recorded_in_two_pieces_none_of_them_empty():
    made = ByHand()
    made.spinning(make_plan(**LONG, limits=Limits(thrust_gf=1000.0)), operator_id=OPERATOR)
    pieces = []

    class Counting:
        def add(self, times, rows):
            pieces.append(len(times))

    made.engine.recorder = Counting()
    pct = made.last("throttle")["pct"]
    calm = {"throttle_pct": pct, "speed_rpm": 6000.0}
    made.tick(0.04)
    made.samples(calm, {**calm, "thrust_gf": 1001.0}, calm)
    made.tick(0.01)
    made.samples({**calm})
    assert pieces == [2, 1, 1]
    made.now += 0.01
    made.engine.received({"type": "samples", "t_s": [], "rows": []}, made.now)
    assert pieces == [2, 1, 1]


def test_a_speed_that_was_lost_is_not_believed_to_be_zero_afterwards():
    made = ByHand()
    made.spinning(make_plan(**LONG), operator_id=OPERATOR)
    while made.engine.state is State.RUNNING:
        made.follow(speed_rpm=0.0)
    assert made.engine._ending.code == "lost_rpm"
    made.zero()
    while made.engine.state is State.ABORTING:
        made.follow(speed_rpm=0.0)
    for _ in range(30):
        made.follow(speed_rpm=0.0)
    assert made.engine.state is State.ZEROED
    made.follow(speed_rpm=500.0)  # it turns, so the signal is there again
    made.follow(speed_rpm=500.0)
    assert made.engine.state is State.COASTING


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
