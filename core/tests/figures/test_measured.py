"""Uncertainty: propagation against Monte Carlo, and shared components."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    Absent,
    Measured,
    Origin,
    component,
    difference,
    kind_of,
    last_digit,
    mean_of_figures,
    mean_of_repeats,
    owned_by,
    product,
    propagate,
    ratio,
    sample_standard_deviation,
    scatter_of,
    source_of,
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
    a = Measured(1000.0, {"calibration@cell": 10.0, "within_run@a": 3.0})
    b = Measured(990.0, {"calibration@cell": 9.9, "within_run@b": 4.0})
    delta = difference(a, b)
    assert delta.component("calibration") == pytest.approx(0.1)
    assert delta.u == pytest.approx(math.hypot(0.1, 3.0, 4.0))


def test_one_kind_of_two_sources_does_not_cancel():
    """1000 ± 5 against 990 ± 5: two runs scatter apart, and so do two load cells."""
    for key in ("within_run", "within_run@{}", "calibration@{}/thrust_gf"):
        a, b = (Measured(v, {key.format(n): 5.0}) for v, n in ((1000.0, "a"), (990.0, "b")))
        assert difference(a, b).u == pytest.approx(5.0 * math.sqrt(2.0)), key
    same = [Measured(v, {"calibration@a/thrust_gf": 5.0}) for v in (1000.0, 990.0)]
    assert difference(*same).u == 0.0


def test_meters_of_two_stands_keep_their_gains():
    """3 % on amps each: 100 and 105 A of two stands are not told apart."""
    a, b = (
        Measured(v, {f"calibration@{n}/current_a": 0.03 * v}) for v, n in ((105, "x"), (100, "y"))
    )
    assert difference(a, b).u == pytest.approx(math.hypot(3.15, 3.0))
    assert not abs(difference(a, b).value) > 1.96 * difference(a, b).u


def test_kinds_and_sources_of_a_key():
    key = component("calibration", "stand 3/thrust_gf")
    assert (kind_of(key), source_of(key)) == ("calibration", "stand 3/thrust_gf")
    assert (kind_of("tare"), source_of("tare")) == ("tare", "")
    figure = Measured(5.0, {"tare@a/before": 3.0, "tare@a/after": -4.0, "assumed_drift@a": 1.0})
    assert figure.component("tare") == 5.0
    assert figure.component("before") == 0.0
    assert figure.assumed
    assert not Measured(5.0, {"tare": 1.0}).assumed


def test_scatter_is_u_without_what_moves_a_whole_channel():
    whole = {
        "calibration@s": 9.0,
        "assumed_calibration@s": 9.0,
        "gravity@s": 9.0,
        "assumed_offset@s": 9.0,
    }
    assert Measured(1.0, {**whole, "within_run@a": 3.0, "tare@a": 4.0}).scatter == 5.0


def test_a_scaled_figure_keeps_sign_and_rest():
    twice = Measured(3.0, {"a@b": -0.5}, n=2, samples=7).scaled(-2.0)
    assert (twice.value, dict(twice.components)) == (-6.0, {"a@b": 1.0})
    assert (twice.n, twice.samples) == (2, 7)


def test_readings_that_agree_scatter_by_what_rounding_hides():
    """Three times 1182 gf: s is at least 1/√12 of a gram."""
    assert mean_of_repeats([1182.0] * 3).u == pytest.approx(1 / math.sqrt(12) / math.sqrt(3))
    assert mean_of_repeats([58.4] * 3).u == pytest.approx(0.1 / math.sqrt(12) / math.sqrt(3))
    assert scatter_of([1182.0] * 3, resolution=5.0) == pytest.approx(5 / math.sqrt(12))
    # A spread that shows is no smaller for it.
    assert scatter_of([1182.0, 1169.0, 1175.0]) == pytest.approx(6.5064, abs=1e-3)


@pytest.mark.parametrize(
    ("values", "step"),
    [
        ((58.4, 61.2, 70.0), 0.1),
        ((1180.0, 420.0), 1.0),
        ((0.125, 3.0), 0.001),
        ((2.5,), 0.1),
        ((-7.25, 1.5), 0.01),
        ((0.0,), 1.0),
        ((1e-9,), 1.0),
    ],
)
def test_last_digit(values, step):
    assert last_digit(values) == pytest.approx(step)


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


@given(st.floats(1, 1e4), st.floats(0.01, 10), st.floats(1, 1e4), st.floats(0.01, 10))
def test_independent_uncertainties_add_in_quadrature(a, ua, b, ub):
    delta = difference(Measured(a, {"a": ua}), Measured(b, {"b": ub}))
    assert delta.u == pytest.approx(math.hypot(ua, ub))
    assert delta.u >= max(ua, ub)


def test_a_product_is_a_product():
    found = product(Measured(12.0, {"a": 0.3}), Measured(4.0, {"b": 0.1}))
    assert found.value == 48.0
    assert dict(found.components) == {"a": pytest.approx(1.2), "b": pytest.approx(1.2)}


def test_what_names_no_source_is_shared_with_its_owner_alone():
    bare = Measured(30.0, {"gauge": 0.3, "scale@weighing 1": 0.1})
    mine, again, other = (owned_by(bare, name) for name in ("motor 1", "motor 1", "motor 2"))
    assert mine.components == {"gauge@motor 1": 0.3, "scale@weighing 1": 0.1}
    # Of nobody it is nobody's twice; of one motor it is one and the same.
    assert difference(bare, bare).u == pytest.approx(math.hypot(0.3, 0.3))
    assert difference(mine, again).u == 0.0
    assert difference(mine, other).u == pytest.approx(math.hypot(0.3, 0.3))
    # In a mean of what shares it, it does not shrink.
    assert mean_of_figures([mine, again]).u == pytest.approx(math.hypot(0.3, 0.1))
    twice = owned_by(Measured(1.0, {"gauge": 0.3, "gauge@motor 1": 0.4}), "motor 1")
    assert twice.components == {"gauge@motor 1": 0.5}
    with pytest.raises(QuantityError):
        owned_by(bare, "")
