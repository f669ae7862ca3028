"""Uncertainty: propagation against Monte Carlo, and shared components."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.measured import (
    Absent,
    Measured,
    Origin,
    difference,
    mean_of_repeats,
    product,
    propagate,
    ratio,
    sample_standard_deviation,
)


def test_repeats_worked_example():
    mean = mean_of_repeats([1182, 1169, 1175])
    assert mean.value == pytest.approx(1175.3, abs=0.05)
    assert sample_standard_deviation([1182, 1169, 1175]) == pytest.approx(6.5, abs=0.05)
    assert mean.u == pytest.approx(3.8, abs=0.05)
    assert mean.n == 3


def test_ratio_agrees_with_monte_carlo():
    thrust, power = Measured(1175.0, {"a": 8.0}), Measured(860.0, {"b": 6.0})
    rng = np.random.default_rng(7)
    drawn = rng.normal(1175, 8, 400_000) / rng.normal(860, 6, 400_000)
    result = ratio(thrust, power)
    assert result.value == pytest.approx(drawn.mean(), rel=1e-4)
    assert result.u == pytest.approx(drawn.std(), rel=0.01)


def test_numeric_partials_agree_with_exact_ones():
    a, b = Measured(12.0, {"a": 0.3}), Measured(4.0, {"b": 0.1})
    exact = product(a, b)
    numeric = propagate(lambda x, y: x * y, (a, b))
    assert numeric.u == pytest.approx(exact.u, rel=1e-9)
    assert numeric.u == pytest.approx(math.hypot(4 * 0.3, 12 * 0.1))


def test_shared_calibration_cancels_in_a_difference():
    a = Measured(1000.0, {"calibration": 10.0, "run_a": 3.0})
    b = Measured(990.0, {"calibration": 9.9, "run_b": 4.0})
    delta = difference(a, b)
    assert delta.component("calibration") == pytest.approx(0.1)
    assert delta.u == pytest.approx(math.hypot(0.1, 3.0, 4.0))


def test_the_weakest_origin_wins():
    claimed = Measured(1950, {}, origin=Origin.CLAIMED)
    assert difference(claimed, Measured(1900.0)).origin is Origin.CLAIMED


def test_division_by_zero_is_absent_not_zero():
    assert ratio(Measured(5.0), Measured(0.0)) == Absent("division_by_zero", "the divisor is 0")


@pytest.mark.parametrize("value", [math.nan, math.inf])
def test_a_figure_is_finite(value):
    with pytest.raises(QuantityError):
        Measured(value)


def test_one_value_has_no_spread():
    with pytest.raises(QuantityError):
        mean_of_repeats([5.0])


@given(
    st.floats(1, 1e4), st.floats(0.01, 10), st.floats(1, 1e4), st.floats(0.01, 10),
)  # fmt: skip
def test_independent_uncertainties_add_in_quadrature(a, ua, b, ub):
    delta = difference(Measured(a, {"a": ua}), Measured(b, {"b": ub}))
    assert delta.u == pytest.approx(math.hypot(ua, ub))
    assert delta.u >= max(ua, ub)
