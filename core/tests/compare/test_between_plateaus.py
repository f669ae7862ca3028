"""A reading between plateaus is as far from the truth as its u says, wherever they stand."""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from spindle_core.compare.curve import curve
from spindle_core.compare.of_models import of_sample
from spindle_core.figures.measured import Measured, mean_of_figures
from spindle_core.figures.repeats import mean_of_like

from ..made_motors import Made

FEW, USUAL, MANY = (30, 60, 100), (20, 40, 60, 80, 100), tuple(range(10, 101, 10))
UNEVEN = (15, 25, 70, 85, 100)


@lru_cache
def runs(plateaus):
    """Noiseless plateaus of made-up motors, and what each does at four duties between them."""
    rng = np.random.default_rng(7)
    motors = [Made(rng) for _ in range(90)]
    between = [rng.uniform(plateaus[0], 100.0, 4) for _ in motors]
    return [
        ([motor.at(level) for level in plateaus], [motor.at(level) for level in levels])
        for motor, levels in zip(motors, between, strict=True)
    ]


def readings(plateaus, x_name, y_name):
    """Error and stated u of readings between plateaus, both relative; shape (n, 2)."""
    found = []
    for points, truths in runs(plateaus):
        read = curve(
            [point[x_name] for point in points],
            [point[y_name] for point in points],
            x_name=x_name,
            y_name=y_name,
        )
        for truth in truths:
            figure = read.read(truth[x_name])
            if isinstance(figure, Measured):
                found.append((figure.value / truth[y_name] - 1.0, figure.u / figure.value))
    return np.array(found)


PAIRS = [
    ("throttle_pct", "thrust_gf"),
    ("throttle_pct", "current_a"),
    ("throttle_pct", "power_w"),
    ("thrust_gf", "power_w"),
    ("thrust_gf", "current_a"),
    ("thrust_gf", "throttle_pct"),
    ("thrust_gf", "efficiency_g_per_w"),
    ("speed_rpm", "power_w"),
    ("shaft_power_w", "motor_efficiency_pct"),
]


@pytest.mark.parametrize("plateaus", [(55, 100), FEW, USUAL, UNEVEN, MANY])
@pytest.mark.parametrize(("x_name", "y_name"), PAIRS)
def test_two_u_hold_the_truth(plateaus, x_name, y_name):
    off, u = readings(plateaus, x_name, y_name).T
    assert len(off) > 40
    assert np.mean(np.abs(off) > 2.0 * u) <= 0.09


@pytest.mark.parametrize(("x_name", "y_name"), PAIRS)
def test_more_plateaus_are_told_as_knowing_more(x_name, y_name):
    few, usual, many = (
        np.median(readings(plateaus, x_name, y_name)[:, 1]) for plateaus in (FEW, USUAL, MANY)
    )
    assert few > 4.0 * usual > 12.0 * many
    assert usual < 0.002


def test_at_a_plateau_nothing_is_assumed():
    motor = Made(np.random.default_rng(3))
    points = [motor.at(level) for level in FEW]
    read = curve(FEW, [p["current_a"] for p in points], x_name="throttle_pct", y_name="current_a")
    for level, point in zip(FEW, points, strict=True):
        figure = read.read(level)
        assert figure.u < 1e-9
        assert figure.value == pytest.approx(point["current_a"])


def test_what_a_parabola_cannot_have_is_in_u_where_it_happens_to_be_straight():
    """Three points on one power of x show no bend; that there is none between them is not shown."""
    xs = np.array([30.0, 60.0, 100.0])
    over_throttle, over_thrust = (
        curve(xs, xs**1.7, x_name=name, y_name="current_a").read(85.0)
        for name in ("throttle_pct", "thrust_gf")
    )
    room = math.prod(math.log(85.0 / x) for x in xs) / 6.0
    for figure, half_width in ((over_throttle, 1.3), (over_thrust, 0.15)):
        assert figure.u / figure.value == pytest.approx(half_width * abs(room) / math.sqrt(3.0))


def test_repeats_at_the_same_plateaus_know_no_more_of_what_lies_between():
    """Nine repeats scatter a third as much; what stands between their plateaus they all miss."""
    rng = np.random.default_rng(11)
    outside = []
    for points, truths in runs(FEW):
        currents = np.array([point["current_a"] for point in points])
        repeats = [
            curve(
                FEW,
                currents * rng.normal(1.0, 0.003, 3),
                x_name="throttle_pct",
                y_name="current_a",
                u_y=0.003 * currents,
            )
            for _ in range(9)
        ]
        for truth in truths:
            mean = of_sample([line.read(truth["throttle_pct"]) for line in repeats], source="x")
            outside.append(abs(mean.value - truth["current_a"]) > 2.0 * mean.u)
    assert np.mean(outside) <= 0.09


def test_what_scatters_still_shrinks_with_the_number_of_repeats():
    figure = Measured(20.0, {"within_run@": 0.3, "interpolation@": 0.1, "calibration@stand/a": 0.2})
    mean = mean_of_figures([figure] * 9)
    assert mean.component("within_run") == pytest.approx(0.1)
    assert mean.component("interpolation") == pytest.approx(0.1)
    assert mean.component("calibration") == pytest.approx(0.2)
    # Repeats whose scatter is larger than they say bring what is beyond; what they all miss between
    # their plateaus does not scatter, and is no excuse for it.
    apart = [replace(figure, value=value) for value in (19.0, 20.0, 21.0)]
    own, seen = 0.3 / math.sqrt(3.0), 1.0 / math.sqrt(3.0)
    beyond = of_sample(apart, source="x").component("repeat")
    assert beyond == pytest.approx(math.sqrt(seen**2 - own**2))
    taken = [replace(one, components={"assumed_resistance@": 0.4}) for one in apart]
    assert mean_of_figures(taken).u == pytest.approx(0.4)
    assert mean_of_like(taken, "repeat").component("assumed_resistance") == pytest.approx(0.4)
    # Three that happen to agree are as sure as each of them allows, and no surer.
    assert mean_of_like([figure] * 3, "repeat").component("repeat") == pytest.approx(own)
    like = mean_of_like(apart, "repeat")
    assert like.component("interpolation") == pytest.approx(0.1)
    assert like.component("repeat") == pytest.approx(seen)
