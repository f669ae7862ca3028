"""The stop door: tokens, pages, and a stop that is answered only by the stand's read-back."""

import base64
import json

import pytest

from spindle_bench.door.desk import GIVE_UP_S, Desk
from spindle_bench.door.token import LASTS_S, sign, verify
from spindle_bench.errors import RefusedError
from spindle_bench.stand.device import SimulatedStand

KEY, NOW = "a key", 1_800_000_000.0


class House:
    """A desk joined to a simulated stand; time moves only when told."""

    def __init__(self):
        self.stand = SimulatedStand(seed=3)
        self.now, self.stand_frozen, self.inbox = 0.0, False, []
        self.agent, self.page = [], []
        self.desk = Desk(KEY, self.to_stand, self.agent.append, lambda: NOW + self.now)
        self.stand.advance(0.0)
        self.stand.handle({"type": "arm", "seq": 1}, 1, 0.0)
        self.stand.handle({"type": "throttle", "seq": 2, "pct": 80}, 1, 0.0)
        self.desk.stand_connected(0.0)
        self.desk.opened(5, self.page.append)
        self.desk.said(5, {"type": "token", "token": sign("Ilse", key=KEY, now=NOW)}, 0.0)

    def to_stand(self, message):
        self.inbox.append(message)

    def run_for(self, seconds, *, answers=True, step_s=0.01, until=None):
        end = self.now + seconds
        while self.now < end - 1e-9:
            self.now += step_s
            if not self.stand_frozen:
                inbox, self.inbox = self.inbox, []
                for message in inbox:
                    for reply in self.stand.handle(message, 2, self.now):
                        self.desk.stand_said(reply, self.now)
            self.desk.tick(self.now)
            if answers and self.page and self.page[-1]["type"] == "ping":
                self.desk.said(5, {"type": "pong", "n": self.page[-1]["n"]}, self.now)
            if until is not None and until():
                return

    def told(self, kind):
        return [message for message in self.page if message["type"] == kind]


@pytest.fixture
def house():
    return House()


def test_a_token_is_let_in_until_it_is_old():
    token = sign("Tomas Rook", key=KEY, now=NOW)
    assert verify(token, key=KEY, now=NOW + LASTS_S - 1).name == "Tomas Rook"
    with pytest.raises(RefusedError) as caught:
        verify(token, key=KEY, now=NOW + LASTS_S + 1)
    assert caught.value.code == "token_old"


def forged(token):
    """The same signature over another name, until the end of time."""
    body = json.dumps({"name": "Ilse", "until": 9e12}).encode()
    return base64.urlsafe_b64encode(body).rstrip(b"=").decode() + "." + token.split(".")[1]


@pytest.mark.parametrize(
    "spoil",
    [
        forged,
        lambda t: t[:-2],
        lambda t: t + "A",
        lambda t: "",
        lambda t: None,
        lambda t: 7,
        lambda t: t.replace(".", ""),
        lambda t: "é" + t,
        lambda t: t * 40,
        lambda t: "..",
        lambda t: ".",
    ],
)
def test_no_other_token_is(spoil):
    token = sign("Tomas", key=KEY, now=NOW)
    with pytest.raises(RefusedError) as caught:
        verify(spoil(token), key=KEY, now=NOW)
    assert caught.value.code == "token"
    for wrong in ("", "another key"):
        with pytest.raises(RefusedError):
            verify(token, key=wrong, now=NOW)


def test_nothing_is_done_for_a_page_that_shows_no_token(house):
    strange = []
    house.desk.opened(6, strange.append)
    for message in ({"type": "stop", "id": 1}, {"type": "pong"}, {}):
        with pytest.raises(RefusedError):
            house.desk.said(6, message, 0.0)
    house.run_for(1.0)
    assert strange == []
    assert house.stand.throttle_pct == 80


def test_a_stop_is_at_the_stand_and_the_agent_at_once_and_answered_by_read_back(house):
    house.desk.said(5, {"type": "stop", "id": 41}, house.now)
    assert house.agent[-1] == {"do": "stop", "by": "Ilse"}
    assert house.inbox[-2]["type"] == "stop"
    assert house.told("stopped") == []
    house.run_for(0.05)
    assert house.stand.throttle_pct == 0
    assert [m["id"] for m in house.told("stopped")] == [41]
    assert house.stand.last_cut["by"] == "Ilse"


def test_a_frozen_stand_is_told_loudly_within_a_second_and_confirmed_when_it_thaws(house):
    house.run_for(1.0)
    house.stand_frozen = True
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    asked = house.now
    house.run_for(1.0, until=lambda: house.told("not_stopped"))
    assert house.now - asked <= 0.75
    assert "cut the supply by hand" in house.told("not_stopped")[0]["message"]
    house.run_for(3.0)
    assert len(house.told("not_stopped")) == 1
    assert house.told("stopped") == []
    house.stand_frozen = False
    house.run_for(0.2)
    assert [m["id"] for m in house.told("stopped")] == [1]


def test_a_stand_that_keeps_its_throttle_is_never_called_stopped(house):
    honest = house.stand.handle

    class Deaf:
        def handle(self, message, client, now):
            return [] if message["type"] == "stop" else honest(message, client, now)

    house.stand = Deaf()
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    house.run_for(GIVE_UP_S + 1)
    assert house.told("stopped") == []
    assert len(house.told("not_stopped")) == 1
    assert house.desk.stops == []


def test_an_answer_from_before_the_stop_does_not_count(house):
    """A status that was asked while the throttle was zero by chance, arriving late."""
    house.stand.handle({"type": "throttle", "seq": 3, "pct": 0}, 1, 0.0)
    stale = {"type": "status", "seq": 1, "armed": False, "throttle_pct": 0}
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    house.desk.stand_said({**stale, "seq": 0}, house.now)
    assert house.told("stopped") == []


@pytest.mark.parametrize(
    "said",
    [
        {"armed": False, "throttle_pct": 5},
        {"armed": True, "throttle_pct": 0},
        {"armed": False},
        {"throttle_pct": 0},
        {"armed": False, "throttle_pct": False},
        {"armed": False, "throttle_pct": "0"},
        {"armed": 0, "throttle_pct": 0},
    ],
)
def test_half_an_answer_is_no_zero(house, said):
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    asked = house.inbox[-1]
    house.desk.stand_said({"type": "status", "seq": asked["seq"], **said}, house.now)
    assert house.told("stopped") == []


def test_a_read_back_answers_only_the_stops_before_it(house):
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    first = house.inbox[-1]
    house.desk.said(5, {"type": "stop", "id": 2}, house.now)
    zero = {"type": "status", "armed": False, "throttle_pct": 0}
    house.desk.stand_said({**zero, "seq": first["seq"]}, house.now)
    assert [m["id"] for m in house.told("stopped")] == [1]
    house.desk.stand_said({**zero, "seq": house.inbox[-1]["seq"]}, house.now)
    assert [m["id"] for m in house.told("stopped")] == [1, 2]


def test_a_wall_clock_set_forward_shows_a_page_out_and_stops_nothing(house):
    """The page comes back with a fresh pass; the run's own times do not read that clock."""
    house.desk.wall = lambda: NOW + 13 * 3600
    with pytest.raises(RefusedError):
        house.desk.said(5, {"type": "pong"}, house.now)
    assert house.stand.throttle_pct == 80


def test_while_the_link_to_the_stand_is_down_a_stop_waits_and_goes_out_first(house):
    house.desk.stand_lost()
    house.stand_frozen = True
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    house.inbox.clear()  # what is sent without a link is dropped
    house.run_for(0.5)
    house.inbox.clear()
    house.desk.stand_connected(house.now)
    assert house.inbox[0]["type"] == "stop"


def test_two_pages_that_stop_at_once_both_hear_it(house):
    other = []
    house.desk.opened(6, other.append)
    house.desk.said(6, {"type": "token", "token": sign("Reader", key=KEY, now=NOW)}, 0.0)
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    house.desk.said(6, {"type": "stop", "id": 1}, house.now)
    house.run_for(0.1)
    assert house.told("stopped")
    assert [m for m in other if m["type"] == "stopped"]


def test_a_page_that_leaves_after_its_stop_is_stopped_all_the_same(house):
    house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    house.desk.closed(5)
    house.run_for(0.3, answers=False)
    assert house.stand.throttle_pct == 0


def test_pings_come_twice_a_second_and_the_agent_hears_of_the_answers(house):
    house.run_for(5.0)
    assert 10 <= len(house.told("ping")) <= 12
    said = [m for m in house.agent if m["do"] == "pages"]
    assert max(m["ago_s"] for m in said) <= 0.51
    assert said[-1]["open"] == 1


def test_a_page_that_does_not_answer_grows_old(house):
    house.run_for(1.0)
    house.run_for(3.0, answers=False)
    assert house.agent[-1]["ago_s"] > 2.4


def test_the_ping_carries_what_the_stand_says_and_none_when_it_is_silent(house):
    house.run_for(1.5)
    shown = house.told("ping")[-1]["stand"]
    assert (shown["armed"], shown["throttle_pct"]) == (True, 80.0)
    house.stand_frozen = True
    house.run_for(2.0)
    assert house.told("ping")[-1]["stand"] is None


@pytest.mark.parametrize(
    "strange", [10**400, float("nan"), float("inf"), "12", True, [], {"a": 1}, None, "x" * 9_000]
)
@pytest.mark.parametrize("field", ["speed_rpm", "throttle_pct", "armed", "owner", "t_s"])
def test_a_page_is_told_numbers_and_nothing_else(house, field, strange):
    handle = house.stand.handle

    class Strange:
        def handle(self, message, client, now):
            answers = handle(message, client, now)
            return [{**one, field: strange} if one["type"] == "status" else one for one in answers]

    house.stand = Strange()
    house.run_for(1.5)
    shown = house.told("ping")[-1]["stand"]
    house.desk.said(5, {"type": "stop", "id": strange}, house.now)
    house.run_for(2.0)
    told = [*house.told("stopped"), *house.told("not_stopped")]
    assert len(told) == 1
    assert told[0]["type"] == ("not_stopped" if field in ("throttle_pct", "armed") else "stopped")
    # A page that numbers its stops strangely is answered without its number.
    assert told[0]["id"] == (strange if strange == 10**400 else 0)
    assert shown["armed"] is True
    for said in (shown, told[0]):
        for name in ("speed_rpm", "throttle_pct"):
            value = said.get(name)
            assert value is None or (type(value) in (int, float) and abs(value) < 1e9)
    json.dumps(house.page, allow_nan=False)


def test_an_open_page_is_shown_out_when_its_token_is_old(house):
    house.now = LASTS_S + 1
    with pytest.raises(RefusedError) as caught:
        house.desk.said(5, {"type": "stop", "id": 1}, house.now)
    assert caught.value.code == "token_old"


def test_a_renewed_token_keeps_it_open(house):
    house.now = LASTS_S - 10
    token = sign("Ilse", key=KEY, now=NOW + house.now)
    house.desk.said(5, {"type": "token", "token": token}, house.now)
    house.now = LASTS_S + 10
    house.desk.said(5, {"type": "pong"}, house.now)
