"""A throttle in somebody's hand: what is asked of it, and what it cannot be talked into."""

import math

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.reduction.plateau import find_plateaus
from spindle_core.run.by_hand import HandFollower, Phase, nearing
from spindle_core.run.trace import Trace

RATE_HZ = 50.0


class Hand:
    """Moves a lever and lets a motor follow; the follower sees what a stand would print."""

    def __init__(self, levels=(30.0, 60.0), *, dwell_s=2.0, rest_s=1.0, reads=("throttle_pct",)):
        self.follower = HandFollower(levels, dwell_s, rest_s)
        self.reads, self.time_s, self.pct = reads, 100.0, 0.0
        self.rng = np.random.default_rng(7)
        self.log: list[tuple[float, dict[str, float | None]]] = []

    def sample(self, pct):
        speed = 240.0 * pct
        everything = {
            "throttle_pct": pct,
            "speed_rpm": speed + self.rng.normal(0, 8.0),
            "current_a": 0.0022 * pct**2 + self.rng.normal(0, 0.01),
            "thrust_gf": 0.11 * pct**2 + self.rng.normal(0, 0.5),
        }
        return {name: everything[name] for name in self.reads}

    def at(self, pct, seconds, *, rate_hz=RATE_HZ, **changed):
        for _ in range(round(seconds * rate_hz)):
            self.time_s += 1.0 / rate_hz
            sample = {**self.sample(pct), **changed}
            self.log.append((self.time_s, sample))
            self.follower.see(self.time_s, sample)
        self.pct = pct
        return self.follower

    def move(self, pct, *, seconds=0.8, rate_hz=RATE_HZ):
        begin, count = self.pct, max(1, round(seconds * rate_hz))
        for n in range(1, count + 1):
            self.at(begin + (pct - begin) * n / count, 1.0 / rate_hz, rate_hz=rate_hz)
        return self.follower

    def whole(self, levels, **options):
        self.at(0.0, 2.0, **options)
        for level in levels:
            self.move(level, **options)
            self.at(level, 4.0, **options)
        self.move(0.0, **options)
        return self.at(0.0, 3.5, **options)


@pytest.mark.parametrize("reads", [("throttle_pct", "speed_rpm"), ("speed_rpm",), ("current_a",)])
@pytest.mark.parametrize("rate_hz", [2.0, 10.0, 200.0])
def test_a_hand_that_does_as_it_is_asked_comes_through(reads, rate_hz):
    hand = Hand((30.0, 60.0, 100.0), reads=reads)
    follower = hand.whole((30.0, 60.0, 100.0), rate_hz=rate_hz)
    assert follower.done
    assert follower.prompt().says.startswith("Done")
    assert follower.guide == reads[0]


@pytest.mark.parametrize("reads", [("throttle_pct",), ("speed_rpm",), ("current_a",)])
def test_what_was_held_is_found_as_a_plateau_afterwards(reads):
    hand = Hand((30.0, 60.0, 100.0), reads=reads)
    hand.whole((30.0, 60.0, 100.0))
    times = np.array([t for t, _ in hand.log])
    channels = {n: np.array([s[n] for _, s in hand.log], dtype=float) for n in reads}
    found = find_plateaus(Trace(times - times[0], channels))
    assert found is not None
    assert len(found.plateaus) == 3


def test_the_words_lead_from_rest_to_rest():
    hand = Hand((40.0,))
    says = [hand.follower.prompt().says]
    for act in (
        lambda: hand.at(0.0, 0.4),
        lambda: hand.at(0.0, 1.5),
        lambda: hand.move(40.0),
        lambda: hand.at(40.0, 1.0),
        lambda: hand.at(40.0, 2.0),
        lambda: hand.move(0.0),
        lambda: hand.at(0.0, 0.6),
        lambda: hand.at(0.0, 2.0),
    ):
        act()
        says.append(hand.follower.prompt().says)
    assert says == [
        "Nothing is read that would tell where the hand is.",
        "Throttle at zero: the zero before.",
        "Move to 40 % and hold.",
        "Move to 40 % and hold.",
        "Hold 40 %.",
        "Throttle to zero, slowly.",
        "Throttle to zero, slowly.",
        "Leave it at zero: the zero after.",
        "Done: every position was held. Unplug before you reach in.",
    ]


def test_a_position_counts_only_whole():
    hand = Hand((40.0,))
    hand.at(0.0, 2.0)
    hand.move(40.0)
    hand.at(40.0, 1.5)
    assert hand.follower.phase is Phase.HOLD
    hand.move(55.0, seconds=0.2)
    hand.move(40.0, seconds=0.2)
    hand.at(40.0, 1.0)
    # It was left in between: the time before does not count.
    assert hand.follower.at == 0
    assert hand.follower.prompt().held_s < 1.2
    assert hand.at(40.0, 1.5).at == 1


def test_where_the_lever_is_read_only_what_was_asked_counts():
    hand = Hand((40.0,))
    hand.at(0.0, 2.0)
    hand.move(52.0)
    follower = hand.at(52.0, 5.0)
    assert (follower.phase, follower.at) == (Phase.MOVE, 0)
    assert follower.prompt().says == "That is 52 %; back to 40 %."
    hand.move(31.0)
    assert hand.at(31.0, 2.0).prompt().says == "That is 31 %; further to 40 %."
    hand.move(42.5)
    follower = hand.at(42.5, 1.0)
    assert follower.phase is Phase.HOLD
    assert follower.held_pct == 42.5


def test_where_it_is_not_read_the_last_position_is_no_new_one():
    hand = Hand((40.0, 60.0), reads=("speed_rpm",))
    hand.at(0.0, 2.0)
    hand.move(40.0)
    follower = hand.at(40.0, 8.0)
    assert follower.at == 1
    assert follower.prompt().says == "That is the last position still; move to 60 % and hold."
    # Nobody reads the lever: what is asked is what is believed, and it is not called read.
    hand.move(63.0)
    assert hand.at(63.0, 1.0).held_pct == 60.0


def test_the_same_position_twice_is_held_twice_without_moving():
    hand = Hand((40.0, 40.0), reads=("speed_rpm",))
    hand.at(0.0, 2.0)
    hand.move(40.0)
    assert hand.at(40.0, 6.5).phase is Phase.BACK


def test_nothing_counts_that_begins_under_throttle():
    hand = Hand((40.0,))
    follower = hand.at(40.0, 10.0)
    assert (follower.phase, follower.at) == (Phase.REST_FIRST, 0)
    assert follower.prompt().says == "Throttle to zero."
    assert follower.prompt().held_s == 0.0


def test_a_rotor_that_turns_is_not_at_rest_whatever_the_lever_says():
    hand = Hand((40.0,), reads=("throttle_pct", "speed_rpm"))
    follower = hand.at(0.0, 5.0, speed_rpm=900.0)
    assert follower.phase is Phase.REST_FIRST
    assert not follower.at_rest
    assert hand.at(0.0, 2.0, speed_rpm=0.0).phase is Phase.MOVE


def test_the_rest_after_is_whole_too():
    hand = Hand((40.0,))
    hand.at(0.0, 2.0)
    hand.move(40.0)
    hand.at(40.0, 3.0)
    hand.move(0.0)
    hand.at(0.0, 0.7)
    hand.move(20.0, seconds=0.2)
    hand.at(20.0, 3.0)
    assert hand.follower.phase is Phase.BACK
    hand.move(0.0)
    assert hand.at(0.0, 2.5).done


def test_a_wild_reading_breaks_nothing_and_a_gap_does():
    hand = Hand((40.0,), dwell_s=3.0)
    hand.at(0.0, 2.0)
    hand.move(40.0)
    hand.at(40.0, 2.0)
    hand.at(40.0, 1 / RATE_HZ, throttle_pct=400.0)
    assert hand.at(40.0, 0.5).phase is Phase.HOLD
    hand.time_s += 4.0  # nobody knows what the hand did meanwhile
    follower = hand.at(40.0, 0.3)
    assert follower.at == 0
    assert follower.prompt().held_s == 0.0


def test_a_clock_that_jumps_back_begins_anew():
    hand = Hand((40.0,), dwell_s=3.0)
    hand.at(0.0, 2.0)
    hand.move(40.0)
    hand.at(40.0, 2.5)
    hand.time_s -= 2.0
    follower = hand.at(40.0, 1.0)
    assert follower.at == 0
    assert 0 <= follower.prompt().held_s <= 1.0


@pytest.mark.parametrize("broken", [None, math.nan, math.inf])
def test_what_is_no_number_is_no_reading(broken):
    hand = Hand((40.0,))
    follower = hand.at(0.0, 3.0, throttle_pct=broken)
    assert follower.guide == ""
    assert not follower.at_rest
    assert follower.phase is Phase.REST_FIRST
    # Later there is one: it is taken from then on.
    assert hand.at(0.0, 2.0).phase is Phase.MOVE


def test_a_guide_that_falls_silent_is_not_swapped_in_midrun():
    hand = Hand((40.0,), reads=("throttle_pct", "speed_rpm"))
    hand.at(0.0, 2.0)
    hand.move(40.0)
    follower = hand.at(40.0, 6.0, throttle_pct=None)
    assert follower.guide == "throttle_pct"
    assert follower.at == 0


def test_what_was_at_rest_when_it_was_last_read_is_not_at_rest_for_ever():
    hand = Hand((40.0,), reads=("throttle_pct",))
    assert hand.at(0.0, 1.5).at_rest
    assert hand.at(0.0, 2.0, throttle_pct=None).at_rest
    assert not hand.at(0.0, 1.0, throttle_pct=None).at_rest
    assert hand.at(0.0, 0.1).at_rest


def test_a_pack_that_sags_is_still_held():
    hand = Hand((90.0,), reads=("speed_rpm",), dwell_s=4.0)
    hand.at(0.0, 2.0)
    hand.move(90.0)
    for n in range(100):  # 1.5 % down over five seconds
        hand.at(90.0 * (1 - 0.00015 * n), 0.05, rate_hz=20.0)
    assert hand.follower.at == 1


def test_a_slow_creep_is_no_position():
    hand = Hand((90.0,), reads=("speed_rpm",), dwell_s=4.0)
    hand.at(0.0, 2.0)
    hand.move(40.0)
    hand.move(90.0, seconds=12.0)
    assert hand.follower.at == 0


@pytest.mark.parametrize(
    ("levels", "dwell_s", "rest_s"),
    [
        ((), 2.0, 1.0),
        ((0.0,), 2.0, 1.0),
        ((101.0,), 2.0, 1.0),
        ((40.0,), 0.0, 1.0),
        ((40.0,), 2.0, math.nan),
        ((math.nan,), 2.0, 1.0),
    ],
)
def test_what_cannot_be_asked_is_refused(levels, dwell_s, rest_s):
    with pytest.raises(QuantityError):
        HandFollower(levels, dwell_s, rest_s)


@pytest.mark.parametrize(
    ("value", "slope", "below", "expected"),
    [
        (33.9, 0.0, False, ""),
        (34.0, 0.0, False, "near"),
        (40.0, 0.0, False, "near"),
        (40.01, 0.0, False, "beyond"),
        (25.0, 16.0, False, "near"),  # at 41 A in a second
        (25.0, 14.0, False, ""),
        (25.0, math.nan, False, ""),
        (39.0, -50.0, False, "near"),  # still near, however fast it falls
        (41.2, 0.0, True, "near"),
        (41.21, 0.0, True, ""),
        (39.9, 0.0, True, "beyond"),
        (50.0, -11.0, True, "near"),
        (50.0, 11.0, True, ""),
    ],
)
def test_a_hand_is_warned_before_the_limit(value, slope, below, expected):
    assert nearing(value, 40.0, slope_per_s=slope, below=below) == expected
