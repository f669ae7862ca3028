"""The stand protocol, exchange by exchange, and the stand's own safety."""

import numpy as np
import pytest

from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import VERSION, check_hello, decode, encode, is_number
from spindle_bench.stand.device import SimulatedStand


@pytest.fixture
def stand():
    device = SimulatedStand(seed=3, rate_hz=100)
    device.advance(0.0)
    return device


def ask(stand, seq, type_, now=0.0, client=1, **rest):
    (reply,) = stand.handle({"type": type_, "seq": seq, **rest}, client, now)
    return reply


def armed(stand, now=0.0):
    assert ask(stand, 1, "arm", now)["type"] == "ack"
    assert ask(stand, 2, "throttle", now, pct=50)["type"] == "ack"


def test_hello_states_version_channels_units_and_limits(stand):
    (hello,) = stand.handle({"type": "hello", "protocol": VERSION}, 1, 0.0)
    units = {channel["name"]: channel["unit"] for channel in hello["channels"]}
    assert units["thrust_gf"] == "gf"
    assert units["motor_temp_c"] == "°C"
    assert hello["heartbeat_ms"] == 300
    assert hello["limits"]["current_a"] == 80.0


def test_another_version_is_refused(stand):
    (reply,) = stand.handle({"type": "hello", "protocol": "stand/9"}, 1, 0.0)
    assert (reply["type"], reply["code"]) == ("refused", "version")


def test_silence_of_300_ms_cuts_the_throttle_and_says_why(stand):
    armed(stand)
    for step in range(1, 30):
        stand.advance(0.01 * step)
    assert stand.throttle_pct == 50
    events = [m for m in stand.advance(0.31) if m["type"] == "event"]
    assert events[0]["code"] == "link_lost"
    assert "310 ms" in events[0]["message"]
    assert (stand.throttle_pct, stand.armed) == (0.0, False)


def test_a_more_patient_stand_says_so_and_cuts_all_the_same():
    stand = SimulatedStand(seed=3, rate_hz=100, heartbeat_limit_s=1.0)
    stand.advance(0.0)
    assert stand.hello()["heartbeat_ms"] == 1000
    armed(stand)
    for step in range(1, 100):
        stand.advance(0.01 * step)
    assert stand.throttle_pct == 50
    stand.advance(1.01)
    assert stand.throttle_pct == 0


def test_after_its_own_stall_the_simulation_reads_before_it_judges(stand):
    armed(stand)
    stand.advance(0.40)
    assert stand.throttle_pct == 50
    ask(stand, 3, "heartbeat", 0.41)
    stand.advance(0.42)
    assert stand.throttle_pct == 50
    stand.advance(0.90)
    stand.advance(0.92)
    assert stand.throttle_pct == 0


def test_a_heartbeat_keeps_it_armed(stand):
    armed(stand)
    stand.advance(0.25)
    ask(stand, 3, "heartbeat", 0.25)
    stand.advance(0.5)
    assert stand.throttle_pct == 50


def test_a_stranger_cannot_keep_it_alive_or_raise_it_but_can_stop_it(stand):
    armed(stand)
    assert ask(stand, 1, "heartbeat", 0.1, client=2)["code"] == "not_owner"
    assert ask(stand, 2, "throttle", 0.1, client=2, pct=90)["code"] == "not_owner"
    assert ask(stand, 3, "arm", 0.1, client=2)["code"] == "not_owner"
    assert stand.throttle_pct == 50
    assert ask(stand, 4, "stop", 0.1, client=2)["type"] == "ack"
    assert stand.throttle_pct == 0
    assert stand.advance(0.11)[0]["code"] == "stopped"


def test_an_owner_that_disconnects_is_a_lost_link(stand):
    armed(stand)
    (event,) = stand.disconnected(1)
    assert event["code"] == "link_lost"
    assert stand.throttle_pct == 0


def test_stale_commands_are_refused(stand):
    armed(stand)
    assert ask(stand, 2, "throttle", pct=80)["code"] == "stale"
    assert ask(stand, None, "throttle", pct=80)["code"] == "stale"
    assert stand.throttle_pct == 50


@pytest.mark.parametrize(
    ("type_", "rest", "code"),
    [
        ("throttle", {"pct": 101}, "bad_value"),
        ("throttle", {"pct": True}, "bad_value"),
        ("throttle", {"pct": None}, "bad_value"),
        ("rate", {"rate_hz": 50}, "armed"),
        ("mount", {"facts": {}}, "armed"),
        ("tare", {}, "turning"),
        ("fault", {"kind": "fire"}, "bad_value"),
        ("sing", {}, "unknown_type"),
    ],
)
def test_what_an_armed_stand_refuses(stand, type_, rest, code):
    armed(stand)
    reply = ask(stand, 3, type_, 0.1, **rest)
    assert (reply["type"], reply["code"]) == ("refused", code)
    assert stand.throttle_pct == 50


def test_throttle_needs_arming(stand):
    assert ask(stand, 1, "throttle", pct=10)["code"] == "not_armed"


def test_samples_have_the_rate_and_the_command_in_them(stand):
    armed(stand)
    samples = stand.advance(0.2)[0]
    assert len(samples["t_s"]) == 20
    assert samples["rows"][-1][0] == 50
    assert samples["t_s"][1] - samples["t_s"][0] == pytest.approx(0.01)


def test_tare_takes_the_zero_out(stand):
    stand.advance(1.0)
    assert stand.advance(1.01)[0]["rows"][0][1] == pytest.approx(14, abs=2)
    ask(stand, 1, "tare", 1.01)
    later = stand.advance(2.0)[0]["rows"]
    assert sum(row[1] for row in later) / len(later) == pytest.approx(0, abs=0.3)


def test_status_reads_back(stand):
    armed(stand)
    status = ask(stand, 1, "status", client=5)
    assert (status["armed"], status["throttle_pct"], status["owner"]) == (True, 50, False)


def test_requested_faults_show_in_the_samples(stand):
    armed(stand)
    stand.advance(0.25)
    ask(stand, 3, "fault", 0.25, kind="lost_temperature", seconds=0.05)
    rows = stand.advance(0.4)[0]["rows"]
    assert rows[0][6] is None
    assert rows[-1][6] is not None


def test_mounting_unknown_facts_is_refused(stand):
    reply = ask(stand, 1, "mount", facts={"motor": "x"})
    assert (reply["type"], reply["code"]) == ("refused", "plan")


def test_the_same_seed_gives_the_same_samples():
    first, second = SimulatedStand(seed=9), SimulatedStand(seed=9)
    for device in (first, second):
        device.advance(0.0)
    assert first.advance(0.5) == second.advance(0.5)


@pytest.mark.parametrize("line", [b"{", b"[]", b'{"kind": 1}', b'{"type": 3}'])
def test_lines_that_are_no_messages(line):
    with pytest.raises(ProtocolError):
        decode(line)


def test_messages_round_trip():
    message = {"type": "throttle", "seq": 4, "pct": 12.5}
    assert decode(encode(message)) == message


def test_a_stand_that_stood_still_cuts_although_its_owner_was_not_silent(stand):
    """What waited in its socket is read first; it watched nothing meanwhile all the same."""
    ask(stand, 1, "arm", 0.2)
    ask(stand, 2, "throttle", 0.21, pct=60)
    stand.advance(0.25)
    before = stand.time_s
    ask(stand, 3, "heartbeat", 1.25)
    events = [m for m in stand.advance(1.25) if m["type"] == "event"]
    assert [event["code"] for event in events] == ["stand_stalled"]
    assert (stand.armed, stand.throttle_pct) == (False, 0.0)
    # Its own time stood still with it: the throttle was up for none of that second.
    assert stand.time_s - before <= 0.11
    assert stand.last_cut["t_s"] == pytest.approx(before)


def test_a_stand_that_declares_more_patience_may_stand_still_for_as_long():
    patient = SimulatedStand(seed=3, heartbeat_limit_s=1.0)
    patient.advance(0.0)
    ask(patient, 1, "arm", 0.2)
    patient.advance(0.25)
    ask(patient, 2, "heartbeat", 1.1)
    patient.advance(1.15)
    assert patient.armed
    ask(patient, 3, "heartbeat", 2.3)
    patient.advance(2.3)
    assert not patient.armed


def test_a_short_stall_of_the_simulation_is_excused(stand):
    ask(stand, 1, "arm", 0.2)
    stand.advance(0.25)
    ask(stand, 2, "heartbeat", 0.5)
    stand.advance(0.62)
    assert stand.armed
    stand.advance(0.63)
    assert stand.armed


def test_a_stop_where_there_is_nothing_to_cut_keeps_the_last_cut(stand):
    ask(stand, 1, "arm", 0.2)
    ask(stand, 2, "stop", 0.3, by="Ilse")
    ask(stand, 3, "stop", 0.4, by="Tomas")
    assert stand.last_cut["by"] == "Ilse"


def test_at_rest_is_only_what_nobody_holds_and_nothing_turns(stand):
    assert stand.at_rest
    stand.handle({"type": "hand", "seq": 1, "pct": 30}, 1, 0.0)
    assert not stand.at_rest
    stand.advance(0.5)
    stand.handle({"type": "hand", "seq": 2, "pct": 0}, 1, 0.5)
    assert stand.physics.speed_rpm > 1000
    assert not stand.at_rest  # it coasts
    stand.advance(6.0)
    assert stand.at_rest
    ask(stand, 3, "arm", 6.0)
    assert not stand.at_rest
    ask(stand, 4, "disarm", 6.1)
    assert stand.at_rest


def test_a_long_rest_in_long_steps_cools_as_in_short_ones(stand):
    """Steps at rest are longer, and heat goes the same way."""
    other = SimulatedStand(seed=3, rate_hz=100)
    for one in (stand, other):
        one.physics.warm_to(80.0)
    stand.physics.advance(40.0, 0.0)
    other.physics.omega = 1e-9  # so that it counts as turning
    for _ in range(4000):
        other.physics.omega = max(other.physics.omega, 1e-9)
        other.physics.advance(0.01, 0.0)
    assert stand.physics.case_c == pytest.approx(other.physics.case_c, abs=0.02)
    assert stand.physics.winding_c == pytest.approx(other.physics.winding_c, abs=0.02)


@pytest.mark.parametrize(
    ("before_s", "before_pct", "then_s", "then_pct", "turning_rpm"),
    [
        pytest.param(1.0, 0.0, 0.06, 50.0, 1000.0, id="out of a rest"),
        # Nothing turns yet and nothing is commanded any more, but something is on its way.
        pytest.param(0.004, 100.0, 0.02, 0.0, 10.0, id="a pulse shorter than the ESC's delay"),
    ],
)
def test_where_something_moves_the_steps_are_short_at_once(
    stand, before_s, before_pct, then_s, then_pct, turning_rpm
):
    other = SimulatedStand(seed=3, rate_hz=100)
    for one in (stand, other):
        one.physics.advance(before_s, before_pct)
    stand.physics.advance(then_s, then_pct)
    for _ in range(round(then_s / 0.002)):
        other.physics.advance(0.002, then_pct)
    assert other.physics.speed_rpm > turning_rpm
    assert stand.physics.speed_rpm == pytest.approx(other.physics.speed_rpm, rel=1e-9)


@pytest.mark.parametrize("most", [10**400, -(10**400), 0, True, "40", float("nan")])
def test_a_hello_whose_limit_is_no_number_above_0_is_refused(most):
    hello = {**SimulatedStand(seed=1).hello(), "limits": {"current_a": most}}
    with pytest.raises(ProtocolError, match="no number above 0"):
        check_hello(hello)


@pytest.mark.parametrize(
    ("value", "is_one"),
    [
        (0, True),
        (-3, True),
        (2.5, True),
        (2**1023, True),
        (2**1024, False),
        (-(10**400), False),
        (float("inf"), False),
        (float("nan"), False),
        (True, False),
        ("1", False),
        (None, False),
        (np.float64(1.5), True),
        (np.float64("nan"), False),
    ],
)
def test_what_is_a_number(value, is_one):
    assert is_number(value) is is_one
