"""Slopes at both ends of the stick are those of the whole range, wherever the points stand."""

import numpy as np
import pytest

from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction.throttle_feel import low_throttle_slope, top_end_slopes

from ..made_motors import Made

EVEN = (10, 20, 30, 40, 50, 60, 70, 80, 90, 95, 100)
PLACES = [
    EVEN,
    (20, 40, 60, 80, 100),
    (15, 50, 65, 94, 100),
    (8, 17, 55, 79, 92, 100),
    (5, 18, 62, 80, 95, 96, 97, 98, 99, 100),
]


def slopes(plateaus, figures):
    x = np.array(plateaus, dtype=float)
    return (low_throttle_slope(x, figures), *top_end_slopes(x, figures))


@pytest.mark.parametrize("plateaus", PLACES)
def test_two_u_hold_the_slope_of_the_range(plateaus):
    rng = np.random.default_rng(23)
    outside = {"low": [], "top": [], "middle": []}
    for _ in range(150):
        motor = Made(rng)
        at = {level: motor.at(level)["thrust_gf"] for level in (20, 50, 80, 90, 100)}
        true = at[20] / 20, (at[100] - at[90]) / 10, (at[80] - at[50]) / 30
        found = slopes(plateaus, [Measured(motor.at(level)["thrust_gf"]) for level in plateaus])
        for name, figure, truth in zip(("low", "top", "middle"), found, true, strict=True):
            if not isinstance(figure, Absent):
                # A straight line through a bent curve: half a per cent is its own affair.
                off = abs(figure.value - truth) - 0.005 * truth
                outside[name].append(off > 2.0 * figure.u)
    for name, rows in outside.items():
        assert np.mean(rows or [0.0]) <= 0.09, name
    assert len(outside["low"]) == 150


def test_points_all_over_the_range_carry_nothing_for_it():
    figures = [Measured(0.1 * level**1.6) for level in EVEN]
    low, top, middle = slopes(EVEN, figures)
    assert (top.u, middle.u) == (pytest.approx(0, abs=1e-9), pytest.approx(0, abs=1e-9))
    assert low.component("span") == pytest.approx(0, abs=1e-9)


def test_points_to_one_side_say_less_the_further_off_they_are():
    figures = [Measured(0.1 * level**1.6) for level in (15, 50, 65, 100)]
    near = [Measured(0.1 * level**1.6) for level in (18, 50, 77, 100)]
    far_low, _, far_middle = slopes((15, 50, 65, 100), figures)
    near_low, _, near_middle = slopes((18, 50, 77, 100), near)
    assert far_low.relative_u > 2.0 * near_low.relative_u > 0.02
    assert far_middle.relative_u > 2.0 * near_middle.relative_u > 0.005
