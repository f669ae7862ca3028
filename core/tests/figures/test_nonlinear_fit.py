"""What a fit is sure of, against slopes that are known, and where the data tell little."""

import numpy as np
import pytest

from spindle_core.figures.nonlinear_fit import fit

AT = np.linspace(0.0, 3.0, 60)
LOW, HIGH = np.full(3, -20.0), np.full(3, 20.0)


def two_fading(values):
    """Two exponentials whose rates are a thousandth apart; shape (60,)."""
    first, second, rate = values
    return first * np.exp(-rate * AT) + second * np.exp(-1.001 * rate * AT)


def slopes(values):
    first, second, rate = values
    one, other = np.exp(-rate * AT), np.exp(-1.001 * rate * AT)
    along = -AT * (first * one + 1.001 * second * other)
    return np.column_stack((one, other, along))


def inverse_of(jacobian):
    """By QR, which does not square what is nearly nothing."""
    upper = np.linalg.inv(np.linalg.qr(jacobian)[1])
    return upper @ upper.T


@pytest.mark.parametrize("rounding", [0.0, 1e-16, 1e-15])
def test_u_is_that_of_the_true_slopes_though_two_parameters_are_nearly_one(rounding):
    """And does not hang on what is rounded: slopes from one side gave a tenth of it."""
    truth = np.array([2.0, 1.0, 0.8])
    measured = two_fading(truth) + 1e-3 * np.sin(40.0 * AT)

    def residuals(values):
        noise = rounding * np.sin(1e6 * (values.sum() + AT))
        return two_fading(values) + noise - measured

    found = fit(residuals, truth + 0.01, low=LOW, high=HIGH)
    wanted = inverse_of(slopes(found.values))
    assert np.sqrt(np.diag(found.inverse)) == pytest.approx(np.sqrt(np.diag(wanted)), rel=0.05)
    assert np.sqrt(wanted[0, 0]) > 3000 * np.sqrt(wanted[2, 2])


def test_what_the_data_do_not_tell_has_a_u_beyond_all_use():
    """Only the sum of the first two shows; the third does nothing at all."""

    def residuals(values):
        return (values[0] + values[1]) * AT - 2.0 * AT

    found = fit(residuals, np.array([0.5, 0.5, 1.0]), low=LOW, high=HIGH)
    assert (np.sqrt(np.diag(found.inverse)) > 1e6).all()


def test_where_nothing_does_anything_u_is_large_and_a_number():
    found = fit(lambda values: np.ones(5), np.zeros(2), low=LOW[:2], high=HIGH[:2])
    assert np.isfinite(found.inverse).all()
    assert (np.diag(found.inverse) > 1e12).all()


def test_a_minimum_on_a_bound_has_its_slope_from_within():
    asked = []

    def residuals(values):
        asked.append(values.copy())
        return np.exp(values[0] * AT) - np.exp(5.0 * AT)

    found = fit(residuals, np.array([1.0]), low=np.array([0.0]), high=np.array([2.0]))
    assert found.values[0] == pytest.approx(2.0, abs=1e-3)
    assert max(values[0] for values in asked) <= 2.0
    true = np.sum((AT * np.exp(found.values[0] * AT)) ** 2)
    assert found.inverse[0, 0] == pytest.approx(1.0 / true, rel=1e-3)
