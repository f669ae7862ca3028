"""Values with u at their edges: what is refused, what is infinite, what cancels."""

import math

import pytest

from spindle_core.compare.factor_table import factor_table
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, propagate, ratio
from spindle_core.figures.repeats import coverage_factor, pooled_spread, spread_of_repeats


@pytest.mark.parametrize("part", [math.inf, -math.inf, math.nan])
def test_a_part_of_u_that_is_no_number_is_refused_with_its_name(part):
    with pytest.raises(QuantityError, match="'tare'"):
        Measured(1.0, {"tare": part})


@pytest.mark.parametrize(("value", "expected"), [(4.0, 0.5), (-4.0, 0.5), (0.0, math.inf)])
def test_u_relative_to_the_value(value, expected):
    assert Measured(value, {"a": 2.0}).relative_u == expected
    assert Measured(1.0).relative_u == 0.0


def test_a_gain_that_both_share_cancels_in_their_ratio():
    gain = {"calibration@stand 1/thrust_gf": 0.01}
    a = Measured(500.0, {k: 500.0 * v for k, v in gain.items()})
    b = Measured(200.0, {k: 200.0 * v for k, v in gain.items()})
    assert ratio(a, b).u == pytest.approx(0.0, abs=1e-12)
    other = Measured(200.0, {"calibration@stand 2/thrust_gf": 2.0})
    assert ratio(a, other).u == pytest.approx(2.5 * math.hypot(0.01, 0.01))


@pytest.mark.parametrize("value", [0.0, 1e-9, 3.0, 1e9])
def test_a_slope_is_found_whatever_the_size_and_without_an_uncertainty(value):
    found = propagate(lambda x: 3.0 * x, [Measured(value, {"a": 0.5})])
    assert found.components["a"] == pytest.approx(1.5, rel=1e-4)
    assert propagate(lambda x: x * x, [Measured(value)]).u == 0.0


def test_like_runs_are_held_against_what_one_run_scatters_by():
    """The declared scatter is relative, and may be far below one in its unit."""
    alike = spread_of_repeats([1.000, 1.004, 0.997], repeatability=0.005)
    assert alike.p_value == pytest.approx(0.61, abs=0.02)
    assert alike.exceeds is False
    apart = spread_of_repeats([1.00, 1.08, 0.95], repeatability=0.005)
    assert apart.exceeds is True
    assert spread_of_repeats([1.0, 1.1], repeatability=0.0).p_value is None


def test_a_mean_of_one_is_a_mean_like_any_other():
    pooled = pooled_spread([[0.99, 1.01], [1.98, 2.02]])
    assert pooled.freedom == 2
    with pytest.raises(QuantityError, match="mean other than 0"):
        pooled_spread([[-1.0, 1.0]])


def cells():
    motors = {"a": 1.0, "b": 1.2, "c": 0.9}
    props = {"p": 100.0, "q": 150.0, "r": 80.0}
    bumps = iter((1.01, 0.99, 1.02, 0.98, 1.0, 1.01, 0.99, 1.0))
    return {
        (m, p): Measured(motors[m] * props[p] * next(bumps))
        for m in motors
        for p in props
        if (m, p) != ("c", "r")
    }


def test_a_predicted_cell_carries_the_fits_doubt_and_that_of_one_cell():
    table = factor_table(cells())
    cell = table.predicted["c", "r"]
    assert cell.value == pytest.approx(72.0, rel=0.03)
    one = table.interaction_pct / 100.0
    widened = coverage_factor(0.95, table.freedom) / 1.959964
    assert 1.0 * widened < cell.relative_u / one < 2.2 * widened
    assert 0.005 < one < 0.03


def test_effects_are_relative_to_the_mean_motor_and_the_mean_propeller():
    table = factor_table(cells())
    for effects in (table.motor_effect_pct, table.propeller_effect_pct):
        logs = [math.log1p(figure.value / 100.0) for figure in effects.values()]
        assert math.fsum(logs) == pytest.approx(0.0, abs=1e-9)
    assert table.motor_effect_pct["b"].value == pytest.approx(
        100 * (1.2 / (1.0 * 1.2 * 0.9) ** (1 / 3) - 1), abs=1.5
    )
