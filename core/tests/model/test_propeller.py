"""Estimated coefficients against the worked numbers."""

import pytest

from spindle_core.errors import QuantityError
from spindle_core.model.propeller import estimate_coefficients


def test_worked_example():
    estimate = estimate_coefficients(5.1, 4.2, blades=3)
    assert estimate.cp == pytest.approx(0.119, abs=5e-4)
    assert estimate.ct == pytest.approx(0.189, abs=5e-4)
    assert estimate.relative_half_width == 0.30


@pytest.mark.parametrize("wrong", [(0, 4, 3), (5, 0, 3), (5, 4, 0)])
def test_impossible_propellers(wrong):
    with pytest.raises(QuantityError):
        estimate_coefficients(wrong[0], wrong[1], blades=wrong[2])
