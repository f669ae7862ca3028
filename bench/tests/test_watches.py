"""The small watches by themselves: clock, stall, stillness, lines and samples not believed."""

import os
import threading
from time import monotonic, sleep

import pytest
from e2e.canary import Canary

from spindle_bench.incoming import BAD_LINES, BadLines, newer_than
from spindle_bench.stillness import STALE_S, STILL_FOR_S, Stillness
from spindle_bench.watches import ClockWatch, StallWatch


def followed(watch, *, offset=100.0, seconds=12.0, rate=1.0):
    """A clock that is followed for a while; returns the time."""
    now = 0.0
    while now < seconds:
        now = round(now + 0.02, 6)
        assert watch.see(offset + rate * now, now) is None
        assert watch.judge(now) is None
    return now


def test_messages_read_late_are_no_slow_clock():
    """What waited 0.7 s in the socket comes first, then what is fresh; one judgement after both."""
    watch = ClockWatch()
    now = followed(watch) + 0.7
    for late in (0.7, 0.5, 0.3, 0.1, 0.0):
        assert watch.see(100.0 + now - late, now) is None
    assert watch.judge(now) is None


def test_what_was_read_late_after_a_stall_is_left_out():
    watch = ClockWatch()
    now = followed(watch) + 0.6
    watch.see(100.0 + now - 0.6, now)
    watch.skip()
    assert watch.judge(now) is None
    assert watch.see(100.0 + now + 0.02, now + 0.02) is None
    assert watch.judge(now + 0.02) is None


@pytest.mark.parametrize(("jump_s", "far"), [(0.4, False), (0.75, True), (5.0, True)])
def test_a_jump_forward_is_seen_with_the_message_that_shows_it(jump_s, far):
    watch = ClockWatch()
    now = followed(watch) + 0.02
    ahead = watch.see(100.0 + now + jump_s, now)
    assert (ahead is not None) is far


@pytest.mark.parametrize(("back_s", "far"), [(0.4, False), (0.75, True)])
def test_a_jump_backward_is_judged_when_the_socket_is_drained(back_s, far):
    watch = ClockWatch()
    now = followed(watch) + 0.02
    assert watch.see(100.0 + now - back_s, now) is None
    assert (watch.judge(now) is not None) is far


@pytest.mark.parametrize(("after_s", "far"), [(5.0, True), (11.0, False)])
@pytest.mark.parametrize("step_s", [-0.4, 0.4])
def test_two_small_jumps_are_one_within_the_window_and_none_beyond_it(step_s, after_s, far):
    watch = ClockWatch()
    now = followed(watch)
    until, offset = now + after_s, 100.0 + step_s
    while now < until:
        now += 0.02
        assert watch.see(offset + now, now) is None
        assert watch.judge(now) is None
    now += 0.02
    seen = watch.see(offset + step_s + now, now), watch.judge(now)
    assert any(one is not None for one in seen) is far


@pytest.mark.parametrize("rate", [0.99, 1.01])
def test_a_clock_whose_rate_is_a_hundredth_off_is_followed_for_an_hour(rate):
    watch = ClockWatch()
    followed(watch, rate=rate, seconds=3600.0)


@pytest.mark.parametrize(
    ("rate", "far"), [(0.95, False), (0.93, True), (1.05, False), (1.07, True)]
)
def test_a_rate_that_takes_the_clock_half_a_second_away_within_the_window_is_seen(rate, far):
    watch, now, seen = ClockWatch(), 1000.0, []
    while now < 1012.0 and not seen:
        now = round(now + 0.02, 6)
        one = watch.see(100.0 + rate * now, now)
        other = watch.judge(now)
        seen = [far_s for far_s in (one, other) if far_s is not None]
    assert bool(seen) is far
    assert all(far_s > 0.5 for far_s in seen)


def test_a_clock_without_a_sample_is_not_judged():
    watch = ClockWatch()
    followed(watch)
    assert watch.judge(1000.0) is None
    watch.forget()
    assert watch.see(0.0, 1000.0) is None
    assert watch.judge(1000.0) is None
    # After a silence longer than the window there is nothing left to hold it against.
    watch = ClockWatch()
    followed(watch, offset=-1000.0)
    assert watch.see(-1050.0 + 30.0, 30.0) is None
    assert watch.judge(30.0) is None


def test_a_stall_excuses_once():
    watch = StallWatch()
    ticks = (0.0, 0.02, 0.2, 0.4, 0.6, 0.62, 0.8)
    assert [watch.tick(at) for at in ticks] == [False, False, True, False, True, False, True]


def test_still_is_slow_for_a_moment_and_not_one_reading():
    still = Stillness()
    still.see(9000.0, 0.0)
    still.see(10.0, 0.1)
    assert not still.still(0.1)
    still.see(300.0, 0.2)
    still.see(5.0, 0.3)
    assert not still.still(0.3 + STILL_FOR_S - 0.05)
    still.see(5.0, 0.3 + STILL_FOR_S)
    assert still.still(0.3 + STILL_FOR_S)


def test_a_reading_that_is_old_tells_nothing():
    still = Stillness()
    still.see(0.0, 0.0)
    still.see(0.0, 1.0)
    assert still.still(1.0 + STALE_S)
    assert not still.still(1.01 + STALE_S)
    assert not still.known(1.01 + STALE_S)


def test_a_lost_signal_is_believed_again_once_it_turns():
    still = Stillness(trusted=False)
    still.see(0.0, 0.0)
    still.see(0.0, 1.0)
    assert not still.known(1.0)
    still.see(4000.0, 1.1)
    assert still.known(1.1)
    still.see(None, 1.2)
    assert not still.known(1.2)


def test_bad_lines_are_too_many_only_close_together():
    lines = BadLines()
    assert not any(lines.add("x", 1.0 * at) for at in range(40))
    assert [lines.add("y", 50.0) for _ in range(BAD_LINES)] == [False] * (BAD_LINES - 1) + [True]
    assert (lines.count, lines.last) == (40 + BAD_LINES, "y")
    lines.forget()
    assert not lines.add("z", 50.1)


def test_only_what_is_newer_is_taken():
    rows = [[0.0], [1.0], [2.0], [3.0]]
    fresh = newer_than(1.0, [0.9, 1.0, 1.1, 1.1], rows)
    assert (fresh.times_s, fresh.rows, fresh.dropped, fresh.back_s) == ([1.1], [[2.0]], 3, None)
    back = newer_than(200.0, [99.0, 200.1], rows[:2])
    assert (back.times_s, back.back_s) == ([200.1], 101.0)
    assert newer_than(None, [5.0], [[1.0]]).times_s == [5.0]


# By their numbers


def test_a_tick_is_late_beyond_a_tenth_of_a_second_and_not_at_it():
    watch = StallWatch()
    assert not watch.tick(1.0)  # the first tick has nothing before it
    assert not watch.tick(1.0 + 0.1 - 1e-9)
    assert watch.tick(1.2 + 1e-6)


def test_a_clock_that_runs_one_percent_fast_or_slow_is_a_clock():
    for rate in (0.9905, 1.0095):
        assert followed(ClockWatch(), seconds=120.0, rate=rate) >= 120.0


@pytest.mark.parametrize(("rate", "which"), [(1.08, "ahead"), (0.92, "behind")])
def test_a_clock_that_runs_much_too_fast_or_slow_is_none(rate, which):
    watch, now, found = ClockWatch(), 0.0, None
    while found is None and now < 20.0:
        now = round(now + 0.02, 6)
        ahead = watch.see(100.0 + rate * now, now)
        behind = watch.judge(now)
        found = "ahead" if ahead is not None else "behind" if behind is not None else None
    assert found == which


def test_how_far_it_is_off_is_told():
    watch = ClockWatch()
    now = followed(watch) + 0.02
    assert watch.see(100.0 + now + 2.0, now) == pytest.approx(2.0, abs=0.1)
    watch = ClockWatch()
    now = followed(watch) + 0.02
    watch.see(100.0 + now - 2.0, now)
    assert watch.judge(now) == pytest.approx(2.0, abs=0.15)


def test_a_clock_is_held_against_the_last_ten_seconds_and_not_against_last_week():
    """A slow drift that comes to seconds over minutes is a rate, taken off piece by piece."""
    watch = ClockWatch()
    now = followed(watch, seconds=300.0, rate=1.004)
    assert watch.see(100.0 + 1.004 * now + 0.4, now + 0.02) is None


def test_of_what_was_read_at_once_the_freshest_tells():
    watch = ClockWatch()
    now = followed(watch) + 0.8
    # Read in one go, out of order of age: the freshest is in the middle.
    for late in (0.75, 0.0, 0.6):
        assert watch.see(100.0 + now - late, now) is None
    assert watch.judge(now) is None


def test_still_needs_to_be_below_its_speed_and_not_at_it():
    from spindle_bench.stillness import STILL_BELOW_RPM

    at, below = Stillness(), Stillness()
    for now in (0.0, STILL_FOR_S):
        at.see(STILL_BELOW_RPM, now)
        below.see(STILL_BELOW_RPM - 0.1, now)
    assert not at.still(STILL_FOR_S)
    assert below.still(STILL_FOR_S)


def test_before_anything_is_read_nothing_is_known():
    still = Stillness()
    assert not still.known(0.0)
    assert not still.still(0.0)
    assert not still.still(-1e8)


def test_a_canary_sits_on_every_processor():
    """One that the host takes away is seen, whichever it was."""
    everywhere = {frozenset({one}) for one in os.sched_getaffinity(0)}
    with Canary() as canary:
        end = monotonic() + 10
        seen: set[frozenset[int]] = set()
        while not seen >= everywhere and monotonic() < end:
            sleep(0.01)
            tasks = [thread.native_id for thread in threading.enumerate()]
            seen = {frozenset(os.sched_getaffinity(task)) for task in tasks}
        assert seen >= everywhere
    # Nobody else is held to one of them.
    assert {frozenset({one}) for one in os.sched_getaffinity(0)} == everywhere
    assert canary.worst_s >= 0.0
