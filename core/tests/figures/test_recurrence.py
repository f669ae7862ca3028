"""What each step makes of the one before it, against a loop that does one after another."""

import numpy as np
import pytest

from spindle_core.figures.recurrence import carried_on


def one_by_one(first, kept, added):
    found = [np.asarray(first, dtype=float)]
    for matrix, more in zip(kept, added, strict=True):
        found.append(matrix @ found[-1] + more)
    return np.array(found)


@pytest.mark.parametrize("size", [1, 2, 3])
@pytest.mark.parametrize("steps", [0, 1, 2, 57])
@pytest.mark.parametrize("largest", [0.3, 1.0, 1.8])
def test_it_is_what_a_loop_comes_to(size, steps, largest):
    """With what fades, what stays and what grows, to either side of 0."""
    rng = np.random.default_rng(100 * size + steps)
    kept = rng.uniform(-largest, largest, (steps, size, size))
    added = rng.normal(0.0, 5.0, (steps, size))
    first = rng.normal(0.0, 5.0, size)
    found = carried_on(first, kept, added)
    assert found.shape == (steps + 1, size)
    wanted = one_by_one(first, kept, added)
    assert found == pytest.approx(wanted, rel=1e-9, abs=1e-9 * np.abs(wanted).max())


def test_nothing_comes_of_nothing_and_what_is_forgotten_is_forgotten():
    nothing = carried_on(np.zeros(2), np.ones((4, 2, 2)), np.zeros((4, 2)))
    assert (nothing == 0.0).all()
    added = np.array([[1.0], [2.0], [4.0]])
    assert carried_on(np.array([9.0]), np.zeros((3, 1, 1)), added)[:, 0].tolist() == [9, 1, 2, 4]


def test_what_is_given_is_not_written_into():
    given = (np.array([1.0, 2.0]), np.full((3, 2, 2), 0.25), np.ones((3, 2)))
    before = [one.copy() for one in given]
    carried_on(*given)
    for one, was in zip(given, before, strict=True):
        assert (one == was).all()


def test_what_is_no_number_is_none_from_there_on_and_not_before():
    added = np.ones((6, 1))
    added[2] = np.nan
    found = carried_on(np.array([1.0]), np.full((6, 1, 1), 0.5), added)[:, 0]
    assert np.isfinite(found[:3]).all()
    assert np.isnan(found[3:]).all()
