"""What a run takes from a pack, and how the pack stands after it."""

import math

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.model.pack_now import Charge, charge_taken, pack_now


def taken(amps: float = 10.0, seconds: float = 36.0, *, holes: slice | None = None):
    time_s = np.linspace(0.0, seconds, 361)
    current_a = np.full(time_s.size, amps)
    if holes is not None:
        current_a[holes] = math.nan
    return charge_taken(time_s, current_a)


def test_ten_amperes_for_36_seconds_are_100_mah():
    found = taken()
    assert found.value == pytest.approx(100.0)
    assert found.u == pytest.approx(2.0)
    assert found.origin is Origin.ESTIMATED


def test_uneven_steps_and_a_ramp_are_summed_by_their_time():
    time_s = np.array([0.0, 1.0, 1.5, 10.0])
    found = charge_taken(time_s, 2.0 * time_s)
    assert found.value == pytest.approx(100.0 / 3.6)


def test_what_flows_back_counts_against_it():
    time_s = np.array([0.0, 36.0, 36.0, 72.0])
    assert charge_taken(time_s, np.array([10.0, 10.0, -10.0, -10.0])).value == pytest.approx(0.0)


@pytest.mark.parametrize("holes", [slice(100, 200), slice(None, 100), slice(261, None)])
def test_missing_samples_are_in_u_wherever_they_are(holes):
    found = taken(holes=holes)
    assert found.value <= taken().value + 1e-9
    # 10 s of 36 with up to 10 A that nobody saw: 27.8 mAh, as a half width.
    assert found.component("gap") == pytest.approx(10.0 / 3.6 * 10 / math.sqrt(3), rel=0.03)
    assert abs(found.value - 100.0) < 2 * found.u


@pytest.mark.parametrize("current", [[], [1.0], [math.nan] * 5, [math.nan, 3.0, math.nan]])
def test_no_current_is_absent_and_not_zero(current):
    found = charge_taken(np.arange(len(current), dtype=float), np.array(current))
    assert isinstance(found, Absent)


@pytest.mark.parametrize("time_s", [[0.0, 2.0, 1.0], [0.0, math.nan, 1.0]])
def test_a_clock_that_jumps_back_is_refused(time_s):
    with pytest.raises(QuantityError, match="rises"):
        charge_taken(np.array(time_s), np.ones(3))


def test_lengths_that_differ_are_refused():
    with pytest.raises(QuantityError, match="length"):
        charge_taken(np.arange(3.0), np.ones(2))


def test_a_full_pack_is_full_until_it_ran():
    fresh = pack_now(Charge.FULL, [], capacity_mah=1300.0)
    assert (fresh.state, fresh.used_mah.value, fresh.may_run) == (Charge.FULL, 0.0, True)
    assert fresh.left_mah.value == pytest.approx(1040.0)
    # What is printed on it is taken for true within a tenth either way.
    assert fresh.left_mah.u == pytest.approx(104.0 / math.sqrt(3))
    assert fresh.left_mah.assumed
    used = pack_now(Charge.FULL, [taken(), taken()], capacity_mah=1300.0)
    assert used.state is Charge.PART_USED
    assert used.used_mah.value == pytest.approx(200.0)
    # One meter errs alike in both runs.
    assert used.used_mah.u == pytest.approx(4.0)
    assert used.left_mah.value == pytest.approx(840.0)
    assert "15 %" in used.words


def test_gaps_of_two_runs_are_of_their_own():
    one = taken(holes=slice(100, 200))
    both = pack_now(Charge.FULL, [one, one], capacity_mah=1300.0).used_mah
    gaps = math.sqrt(2) * one.component("gap")
    assert both.u == pytest.approx(math.hypot(gaps, 2 * one.component("assumed_calibration")))


def test_what_is_used_to_its_share_may_not_run():
    runs = [taken(amps=25.0, seconds=36.0)] * 4
    found = pack_now(Charge.FULL, runs, capacity_mah=1250.0)
    assert found.left_mah.value == pytest.approx(0.0)
    assert not found.may_run
    assert "charge it first" in found.words


def test_the_last_tenth_within_u_is_no_room():
    found = pack_now(Charge.PART_USED, [taken()], capacity_mah=1000.0, used_before_mah=699.0)
    assert found.left_mah.value == pytest.approx(1.0)
    assert not found.may_run


@pytest.mark.parametrize("state", [Charge.CHARGING, Charge.RESTING])
def test_on_the_charger_or_at_rest_it_waits(state):
    found = pack_now(state, [], capacity_mah=1300.0)
    assert found.state is state
    assert not found.may_run


@pytest.mark.parametrize("state", [Charge.CHARGING, Charge.RESTING, Charge.PART_USED])
def test_a_run_takes_it_off_the_charger_and_leaves_unknown_what_was_not_said(state):
    found = pack_now(state, [taken()], capacity_mah=1300.0)
    assert found.state is Charge.PART_USED
    assert isinstance(found.used_mah, Absent)
    assert isinstance(found.left_mah, Absent)
    assert found.may_run


def test_what_was_used_before_is_added_but_not_on_the_charger():
    rested = pack_now(Charge.RESTING, [taken()], capacity_mah=1300.0, used_before_mah=200.0)
    assert rested.used_mah.value == pytest.approx(300.0)
    charged = pack_now(Charge.CHARGING, [taken()], capacity_mah=1300.0, used_before_mah=200.0)
    assert isinstance(charged.used_mah, Absent)


def test_a_run_without_current_makes_the_rest_unknown():
    gone = Absent("no_current", "no current was recorded")
    found = pack_now(Charge.FULL, [taken(), gone], capacity_mah=1300.0)
    assert isinstance(found.used_mah, Absent)
    assert "no current" in found.used_mah.note
    assert found.state is Charge.PART_USED


def test_a_pack_of_which_nobody_said_anything_stays_unknown():
    found = pack_now(Charge.UNKNOWN, [taken()], capacity_mah=1300.0)
    assert found.state is Charge.UNKNOWN
    assert isinstance(found.used_mah, Absent)
    assert found.may_run


def test_without_capacity_what_is_left_is_absent_but_what_was_used_is_not():
    found = pack_now(Charge.FULL, [taken()], capacity_mah=None)
    assert isinstance(found.used_mah, Measured)
    assert isinstance(found.left_mah, Absent)


@pytest.mark.parametrize("wrong", [{"capacity_mah": 0.0}, {"used_before_mah": -1.0}])
def test_figures_that_cannot_be_are_refused(wrong):
    with pytest.raises(QuantityError):
        pack_now(Charge.PART_USED, [], **{"capacity_mah": 1300.0, **wrong})
