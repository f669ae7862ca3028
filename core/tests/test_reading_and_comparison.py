"""Equal-thrust readings, crossings and the three outcomes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.comparison import (
    Outcome,
    compare,
    crossings,
    thrust_ladder,
    with_bench_scatter,
)
from spindle_core.errors import QuantityError, ReadingError
from spindle_core.measured import Absent, Measured
from spindle_core.reading import curve, curve_from_points
from spindle_core.reduction.result import Point

A = ([0, 150, 400, 720, 1010, 1240], [0, 24, 86, 196, 335, 492])
B = ([0, 140, 380, 700, 1000, 1265], [0, 21, 79, 187, 338, 521])


def power_over_thrust(points):
    return curve(*points, x_name="thrust_gf", y_name="power_w")


@pytest.mark.parametrize(
    ("at", "first", "second"),
    [(300, 58.46, 57.25), (600, 150.43, 148.82), (900, 276.54, 281.89)],
)
def test_equal_thrust_worked_example(at, first, second):
    assert power_over_thrust(A).read(at).value == pytest.approx(first, abs=0.005)
    assert power_over_thrust(B).read(at).value == pytest.approx(second, abs=0.005)


def test_crossing_worked_example():
    found = crossings(power_over_thrust(A), power_over_thrust(B))
    inside = [x for x in found if x > 400]
    assert inside == [pytest.approx(752.62, abs=0.005)]


def test_outside_the_measured_range_is_not_reached():
    reading = power_over_thrust(A).read(1241)
    assert isinstance(reading, Absent)
    assert reading.reason == "not_reached"
    assert reading.note == "measured from 0 to 1240 gf"


@given(st.lists(st.floats(1, 100), min_size=3, max_size=12))
def test_readings_are_monotone_between_monotone_points(steps):
    x = np.arange(len(steps), dtype=float)
    y = np.cumsum(steps)
    _, sampled = curve(x, y, x_name="thrust_gf", y_name="power_w").sampled(200)
    assert np.all(np.diff(sampled) >= -1e-9)


def test_uncertainty_of_a_reading_counts_both_axes():
    straight = curve(
        [0, 100, 200], [0, 50, 100], x_name="thrust_gf", y_name="power_w",
        u_x=[2, 2, 2], u_y=[0.5, 0.5, 0.5],
    )  # fmt: skip
    # Slope 0.5 W/gf: u = √(0.5² + (0.5·2)²).
    assert straight.read(100).u == pytest.approx(np.hypot(0.5, 1.0))


def test_repeated_throttles_are_averaged():
    joined = curve([0, 10, 10], [0, 4, 6], x_name="thrust_gf", y_name="power_w", u_y=[0, 1, 1])
    assert joined.read(10).value == pytest.approx(5)
    assert joined.u_y[1] == pytest.approx(np.sqrt(2) / 2)


def test_a_curve_needs_two_points():
    with pytest.raises(ReadingError):
        curve([5, 5], [1, 2], x_name="thrust_gf", y_name="power_w")
    lone = Point({"thrust_gf": Measured(5.0), "power_w": Absent("x")}, 0, 0, 1, True)
    assert isinstance(curve_from_points([lone], "thrust_gf", "power_w", origin=True), Absent)


def figure(value, run, *, repeat=0.005, calibration=0.02):
    return with_bench_scatter(
        Measured(value, {"within_run": 0.5}), run=run, stand="bench",
        repeatability=repeat, calibration=calibration,
    )  # fmt: skip


def test_a_clear_difference():
    delta = compare(figure(1100, "a"), figure(1000, "b"))
    assert delta.outcome is Outcome.DIFFERENT
    assert delta.delta_pct == pytest.approx(10.0)
    # Repeatability 0.5 % each; the 2 % calibration is shared and nearly cancels.
    expected = np.hypot(np.hypot(5.5, 5.0), np.hypot(0.5, 0.5))
    assert delta.delta.u == pytest.approx(np.hypot(expected, 2.0), rel=1e-3)


def test_small_and_sure_is_equivalent():
    assert compare(figure(1004, "a"), figure(1000, "b")).outcome is Outcome.EQUIVALENT


def test_small_but_unsure_is_unresolved():
    noisy = {"repeat": 0.02}
    delta = compare(figure(1015, "a", **noisy), figure(1000, "b", **noisy))
    assert delta.outcome is Outcome.UNRESOLVED


def test_another_stand_keeps_its_calibration():
    other = with_bench_scatter(
        Measured(1030, {}), run="a", stand="scale", repeatability=0.0, calibration=0.02
    )
    delta = compare(other, figure(1000, "b", repeat=0.0))
    assert delta.outcome is Outcome.UNRESOLVED


def test_no_relative_difference_to_nothing():
    with pytest.raises(QuantityError):
        compare(Measured(1.0), Measured(0.0))


def test_thrust_ladder_is_round_and_inside():
    assert thrust_ladder([1240, 980]) == [200, 400, 600, 800, 1000, 1200]
    assert thrust_ladder([430]) == [100, 200, 300, 400]
    assert thrust_ladder([]) == []
