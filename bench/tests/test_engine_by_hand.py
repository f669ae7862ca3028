"""The engine to the letter, with a stand played by hand: what goes out, when, and what stays."""

import pytest

from spindle_bench.engine import CLEAN_UP_S, READ_BACK_EVERY_S, READ_BACK_WITHIN_S
from spindle_bench.errors import RefusedError
from spindle_bench.limits import Limits
from spindle_bench.overdue import ARMED_FOR_S, DOOR_SILENCE_S, Heard
from spindle_bench.states import State

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
    assert engine.progress() == {
        "elapsed_s": None,
        "total_s": None,
        "label": "",
        "steps": [],
        "step": 0,
        "next": None,
    }
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


def test_each_run_is_held_to_its_own_plan():
    """What listens is one; the plan of the run before says nothing of this one."""
    long, short = (make_plan(levels=(30.0,), dwell_s=dwell) for dwell in (30.0, 3.0))
    listening = heard(sample=120.0, page=120.0, door=120.0, begun=100.0)
    for plan, code in ((long, None), (short, "overtime"), (long, None), (short, "overtime")):
        found = listening.overdue(plan, 120.0, 0.3)
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
