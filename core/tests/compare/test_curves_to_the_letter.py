"""Readings between points, against the sums written out by hand."""

import math

import numpy as np
import pytest

from spindle_core.compare.curve import Curve, curve
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction.hold import ASSUMED_BEND


def line(x, y, **u) -> Curve:
    return curve(x, y, x_name="thrust_gf", y_name="power_w", **u)


def lagrange(xs, ys, at):
    total = 0.0
    for i, xi in enumerate(xs):
        weight = 1.0
        for j, xj in enumerate(xs):
            if j != i:
                weight *= (at - xj) / (xi - xj)
        total += weight * ys[i]
    return total


def turn_of(logs, at, half_width=0.15):
    """What a third derivative of so much may make of a parabola's reading (k = 1)."""
    return half_width / 6.0 / math.sqrt(3.0) * math.prod(at - one for one in logs)


def test_two_points_carry_the_bend_that_is_assumed():
    figure = line([100.0, 300.0], [10.0, 50.0]).read(200.0)
    at, low, high = math.log(200.0), math.log(100.0), math.log(300.0)
    value = math.exp(lagrange([low, high], [math.log(10.0), math.log(50.0)], at))
    assert figure.value == pytest.approx(value, rel=1e-12)
    room = (at - low) * (high - at)
    expected = 0.5 * ASSUMED_BEND * room / math.sqrt(3.0) * value
    assert figure.component("assumed_interpolation") == pytest.approx(expected, rel=1e-9)


def test_three_points_carry_a_quarter_of_the_bend_they_show():
    x, y = [100.0, 200.0, 350.0], [10.0, 26.0, 61.0]
    figure = line(x, y).read(150.0)
    lx, ly, at = np.log(x), np.log(y), math.log(150.0)
    parabola, chord = lagrange(lx, ly, at), lagrange(lx[:2], ly[:2], at)
    assert figure.value == pytest.approx(math.exp(parabola), rel=1e-12)
    unseen = turn_of(lx, at)
    expected = math.hypot(0.25 * (parabola - chord), unseen) * figure.value
    assert figure.component("interpolation") == pytest.approx(expected, rel=1e-9)


def test_four_points_blend_two_parabolas_and_say_how_far_they_lie_apart():
    x, y = [100.0, 180.0, 300.0, 520.0], [10.0, 23.0, 52.0, 109.0]
    at = math.log(250.0)
    figure = line(x, y).read(250.0)
    lx, ly = np.log(x), np.log(y)
    left, right = lagrange(lx[:3], ly[:3], at), lagrange(lx[1:], ly[1:], at)
    chord = lagrange(lx[1:3], ly[1:3], at)
    share = (at - lx[1]) / (lx[2] - lx[1])
    assert figure.value == pytest.approx(math.exp((1 - share) * left + share * right), rel=1e-12)
    bends = abs(left - chord), abs(right - chord)
    unseen = (1 - share) * turn_of(lx[:3], at) + share * turn_of(lx[1:], at)
    parts = 0.08 * 0.5 * sum(bends), 0.25 * 0.5 * abs(left - right), unseen
    expected = math.hypot(*parts) * figure.value
    assert figure.component("interpolation") == pytest.approx(expected, rel=1e-9)


def test_a_node_too_near_to_show_a_bend_is_passed_over():
    # 206 lies 3 % beyond 200: the parabola through both would follow their noise.
    x, y = [100.0, 200.0, 206.0, 350.0], [10.0, 26.0, 29.0, 61.0]
    figure = line(x, y).read(150.0)
    keep = [0, 1, 3]
    expected = lagrange(np.log(x)[keep], np.log(y)[keep], math.log(150.0))
    assert figure.value == pytest.approx(math.exp(expected), rel=1e-12)


@pytest.mark.parametrize("order", [1, -1])
def test_a_node_beyond_half_the_interval_is_far_enough(order):
    def read(x, y):
        return line(x[::order], y[::order]).read(150.0)

    # The interval spans ln 2; 290 lies ln 1.45 beyond it, more than half of that.
    x, y = [100.0, 200.0, 290.0, 350.0], [10.0, 26.0, 44.0, 61.0]
    figure = read(x, y)
    expected = lagrange(np.log(x)[:3], np.log(y)[:3], math.log(150.0))
    assert figure.value == pytest.approx(math.exp(expected), rel=1e-12)
    # 270 lies less than half of it beyond: the next is taken.
    x[2] = 270.0
    figure = read(x, y)
    keep = [0, 1, 3]
    expected = lagrange(np.log(x)[keep], np.log(y)[keep], math.log(150.0))
    assert figure.value == pytest.approx(math.exp(expected), rel=1e-12)


@pytest.mark.parametrize("order", [1, -1])
def test_a_wide_gap_is_refused_rising_and_falling(order):
    x, y = [100.0, 450.0, 600.0][::order], [10.0, 80.0, 120.0][::order]
    found = line(x, y).read(200.0)
    assert isinstance(found, Absent)
    assert found.note == "nothing was measured between 100 and 450 gf"
    assert isinstance(line(x, y).read(500.0), Measured)


@pytest.mark.parametrize("order", [1, -1])
def test_a_curve_reads_the_same_whichever_way_it_was_run(order):
    x, y = [100.0, 180.0, 300.0, 520.0][::order], [10.0, 23.0, 52.0, 109.0][::order]
    figure = line(x, y, u_x=[1.0] * 4, u_y=[0.2] * 4).read(250.0)
    assert figure.value == pytest.approx(39.2, rel=0.02)
    assert figure.u == pytest.approx(
        line(x[::-1], y[::-1], u_x=[1.0] * 4, u_y=[0.2] * 4).read(250.0).u
    )


def test_a_drawn_curve_has_eighty_points_from_end_to_end():
    x, y = line([100.0, 180.0, 300.0], [10.0, 23.0, 52.0]).sampled()
    assert (x.size, y.size) == (80, 80)
    assert (x[0], x[-1]) == pytest.approx((100.0, 300.0))
    assert not np.isnan(y).any()


def test_a_step_back_within_three_u_is_noise_and_beyond_it_a_fold():
    x = [100.0, 200.0, 199.0, 300.0]
    y = [10.0, 26.0, 25.9, 50.0]
    # The two u of 0.36 make 0.51 for the step of 1: it is within three of them.
    near = line(x, y, u_x=[0.36] * 4).read(199.5)
    assert isinstance(near, Measured)
    fold = line(x, y, u_x=[0.1] * 4).read(199.5)
    assert isinstance(fold, Absent)


def test_on_a_short_interval_a_twentieth_is_far_enough_to_show_a_bend():
    # The interval spans ln 1.05; 225 lies ln 1.071 beyond it.
    x, y = [200.0, 210.0, 225.0, 350.0], [26.0, 28.2, 31.4, 61.0]
    figure = line(x, y).read(205.0)
    expected = lagrange(np.log(x)[:3], np.log(y)[:3], math.log(205.0))
    assert figure.value == pytest.approx(math.exp(expected), rel=1e-12)
    # 219 lies ln 1.043 beyond it: the next is taken.
    x[2] = 219.0
    keep = [0, 1, 3]
    expected = lagrange(np.log(x)[keep], np.log(y)[keep], math.log(205.0))
    assert line(x, y).read(205.0).value == pytest.approx(math.exp(expected), rel=1e-12)


def test_at_a_node_a_curve_that_falls_through_it_is_read_and_one_that_turns_there_is_not():
    falling = line([300.0, 200.0, 100.0], [50.0, 26.0, 10.0])
    assert falling.read(200.0).value == pytest.approx(26.0)
    turning = line([100.0, 200.0, 100.5], [10.0, 26.0, 11.0])
    assert isinstance(turning.read(200.0), Absent)


@pytest.mark.parametrize("wanted", [130.0, 260.0, 430.0, 610.0])
def test_what_a_node_is_off_in_thrust_comes_through_with_the_slope_of_its_own_side(wanted):
    """The inner nodes have two parabolas: a node takes that of the side it is on."""
    x, y = [100.0, 180.0, 310.0, 500.0, 700.0], [11.0, 24.0, 55.0, 118.0, 196.0]
    logs, values = np.log(x), np.log(y)

    def slope(own, at):
        low, high = (lagrange(logs[own], values[own], at + d) for d in (-1e-6, 1e-6))
        return (high - low) / 2e-6

    place = line(x, y)._place(wanted)
    first = place.first
    for i, _ in place.weights:
        left = list(range(max(0, first - 1), first + 2))
        right = list(range(first, min(len(x), first + 3)))
        both = len(left) == len(right) == 3
        own = (left if i <= first else right) if both else (left if len(left) == 3 else right)
        found = place._slope_at_node(line(x, y), i)
        assert found == pytest.approx(slope(own, logs[i]), rel=1e-6), (wanted, i)


@pytest.mark.parametrize("over", [1.0 - 5e-13, 1.0 + 5e-13])
def test_a_rounding_beyond_an_end_is_that_end(over):
    """A level that was found over another axis may be a rounding above the last point."""
    x, y = [100.0, 180.0, 310.0], [11.0, 24.0, 55.0]
    for end, value in ((100.0, 11.0), (310.0, 55.0)):
        read = line(x, y).read(end * over)
        assert read.value == pytest.approx(value, rel=1e-9)
        assert isinstance(line(x, y).slope(end * over), float)
    assert isinstance(line(x, y).read(310.0 * (1 + 1e-9)), Absent)


def test_figures_of_one_run_are_read_at_one_place_each_by_its_own_values():
    """The place is found once for all at the same x; what is read there is each one's."""
    x = [100.0, 180.0, 310.0, 500.0]
    power, current = [11.0, 24.0, 55.0, 118.0], [0.7, 1.6, 3.9, 8.8]
    both = [line(x, y) for y in (power, current)]
    assert both[0]._place(250.0) is both[1]._place(250.0)
    shuffled = [line(x, y) for y in (current, power)]
    for one, other in zip(both, reversed(shuffled), strict=True):
        assert one.read(250.0) == other.read(250.0)
    assert both[0].read(250.0).value / both[1].read(250.0).value == pytest.approx(14.6, rel=0.03)
    assert both[0].read_with_slope(250.0) == (both[0].read(250.0), both[0].slope(250.0))
