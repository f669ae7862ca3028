"""The order of a day: swaps, loads, cold starts and drift."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.planning.day import Day, Drift, Job, cool_down_minutes, order_of_day
from spindle_core.planning.next_run import MOTOR_SWAP_MINUTES, RUN_MINUTES

HEAVY, LIGHT, MIDDLE = 7, 3, 5
TWO = [Job(0, HEAVY, 2, 480.0, 90.0), Job(0, LIGHT, 2, 250.0, 40.0), Job(1, MIDDLE, 1, 350.0, 60.0)]


def ran(day: Day):
    return [(step.motor, step.propeller, step.number) for step in day.steps if step.kind == "run"]


def test_a_motor_stays_mounted_and_the_light_propeller_comes_first():
    day = order_of_day(TWO, drift=Drift.NONE)
    assert ran(day) == [(0, LIGHT, 1), (0, LIGHT, 2), (0, HEAVY, 1), (0, HEAVY, 2), (1, MIDDLE, 1)]
    assert (day.motor_swaps, day.propeller_swaps, day.runs) == (2, 1, 5)
    assert day.propellers == (LIGHT, HEAVY, MIDDLE)


def test_what_is_on_the_stand_comes_first_and_is_not_mounted_again():
    day = order_of_day(TWO, drift=Drift.NONE, mounted=(1, MIDDLE))
    assert day.steps[0].kind == "run"
    assert ran(day)[0] == (1, MIDDLE, 1)
    # Another propeller of it is a swap, not a mounting.
    assert order_of_day(TWO, drift=Drift.NONE, mounted=(1, 99)).steps[0].kind == "swap"
    # A motor that has nothing to do is no reason to begin with it.
    assert order_of_day(TWO, drift=Drift.NONE, mounted=(8, 1)).steps[0].kind == "mount"


def test_every_start_is_cold():
    day = order_of_day(TWO, drift=Drift.NONE)
    last: dict[int, tuple[float, float]] = {}
    for step in day.steps:
        if step.kind != "run":
            continue
        if step.motor in last:
            ended, wanted = last[step.motor]
            assert step.starts_min - ended >= wanted - 0.06
        rise = {LIGHT: 40.0, HEAVY: 90.0, MIDDLE: 60.0}[step.propeller]
        last[step.motor] = (step.starts_min + step.minutes, cool_down_minutes(rise))
    assert day.cooling_minutes > 0


def test_a_swap_counts_as_cooling():
    one = order_of_day([Job(0, 1, 1, 10.0, 30.0), Job(0, 2, 1, 20.0, 30.0)], drift=Drift.NONE)
    # 15 K of the case take 140 s · ln 3 = 2.6 min, of which the swap takes two.
    [cool] = [step for step in one.steps if step.kind == "cool"]
    assert cool.minutes == pytest.approx(140 * math.log(3) / 60 - 2.0, abs=0.01)


def test_a_reference_run_comes_first_and_last():
    day = order_of_day(TWO, reference=(9, 1))
    runs = [step for step in day.steps if step.kind == "run"]
    assert [step.reference for step in runs] == [True, *[False] * 5, True]
    assert {(step.motor, step.propeller) for step in runs if step.reference} == {(9, 1)}
    assert order_of_day([], reference=(9, 1)).runs == 0
    assert order_of_day(TWO, reference=None).runs == 5


def test_going_round_spreads_the_repeats_of_a_motor_over_the_day():
    day = order_of_day(TWO, drift=Drift.INTERLEAVED, reference=(9, 1))
    assert [number for *_, number in ran(day)] == [1, 1, 1, 2, 2]
    assert day.motor_swaps > order_of_day(TWO, drift=Drift.NONE).motor_swaps


def test_what_nobody_predicts_comes_last_and_cools_for_long():
    day = order_of_day([Job(0, 1, 1), Job(0, 2, 1, 100.0, 20.0)], drift=Drift.NONE)
    assert [propeller for _, propeller, _ in ran(day)] == [2, 1]
    assert cool_down_minutes(None) > cool_down_minutes(20.0)
    assert cool_down_minutes(math.nan) == cool_down_minutes(None)
    assert cool_down_minutes(2.0) == 0.0


def test_minutes_add_up():
    day = order_of_day([Job(0, 1, 1, 10.0, 0.0)], drift=Drift.NONE)
    assert day.minutes == pytest.approx(MOTOR_SWAP_MINUTES + RUN_MINUTES)
    assert order_of_day([]).minutes == 0.0


def test_impossible_days_are_refused():
    with pytest.raises(QuantityError, match="at least one"):
        order_of_day([Job(0, 1, 0)])
    with pytest.raises(QuantityError, match="at most"):
        order_of_day([Job(0, 1, 401)])


@given(
    st.lists(
        st.builds(
            Job,
            st.integers(0, 4),
            st.integers(0, 4),
            st.integers(1, 4),
            st.none() | st.floats(0, 2000),
            st.none() | st.floats(0, 200),
        ),
        max_size=12,
        unique_by=lambda job: (job.motor, job.propeller),
    ),
    st.sampled_from(list(Drift)),
)
def test_every_run_is_there_once_and_the_clock_never_goes_back(jobs, drift):
    day = order_of_day(jobs, drift=drift, reference=(0, 0))
    wanted = sorted((j.motor, j.propeller, n) for j in jobs for n in range(1, j.runs + 1))
    made = [
        (s.motor, s.propeller, s.number) for s in day.steps if s.kind == "run" and not s.reference
    ]
    assert sorted(made) == wanted
    clock = 0.0
    for step in day.steps:
        assert step.starts_min == pytest.approx(clock)
        assert step.minutes > 0
        clock += step.minutes
    assert day.minutes == pytest.approx(clock)
