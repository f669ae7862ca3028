"""Equal-thrust readings, crossings and the three outcomes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.compare.curve import curve, curve_from_points
from spindle_core.compare.delta import Outcome, compare, crossings, thrust_ladder, with_repeat
from spindle_core.errors import QuantityError, ReadingError
from spindle_core.figures.measured import Absent, Measured, component, difference
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.reduction.result import Point

A = ([150, 400, 720, 1010, 1240], [24, 86, 196, 335, 492])
B = ([140, 380, 700, 1000, 1265], [21, 79, 187, 338, 521])


def power_over_thrust(points, **u):
    return curve(*points, x_name="thrust_gf", y_name="power_w", **u)


@pytest.mark.parametrize(
    ("at", "first", "second"), [(300, 58.46, 57.25), (600, 150.43, 148.82), (900, 276.54, 281.89)]
)
def test_equal_thrust_worked_example(at, first, second):
    """The worked values are of another interpolation; any good one agrees within 1.5 %."""
    assert power_over_thrust(A).read(at).value == pytest.approx(first, rel=0.015)
    assert power_over_thrust(B).read(at).value == pytest.approx(second, rel=0.015)


def gap_of(first, second):
    def gap(at):
        one, other = first.read(at), second.read(at)
        if isinstance(one, Absent) or isinstance(other, Absent):
            return None
        return difference(one, other)

    return gap


def test_crossing_worked_example():
    found = crossings(gap_of(power_over_thrust(A), power_over_thrust(B)), 400, 1240)
    assert [x.at for x in found] == [pytest.approx(752.62, rel=0.015)]


def line(at_1000, exponent, u=0.0):
    x = np.array([200.0, 400.0, 700.0, 1000.0, 1400.0])
    y = at_1000 * (x / 1000.0) ** exponent
    return power_over_thrust((x, y), u_y=u * y)


def test_a_crossing_of_curves_that_part_has_an_interval():
    """1.4 against 1.6: they differ by 0.2·ln(x/1000), so 1.96·√2·0.5 % is reached 7 % away."""
    (found,) = crossings(gap_of(line(300, 1.4, 0.005), line(300, 1.6, 0.005)), 200, 1400)
    assert found.at == pytest.approx(1000, rel=1e-3)
    assert found.resolved
    assert found.low < 960 < 1040 < found.high
    # Between two points only part of each one's scatter counts.
    assert np.log(1000 / found.low) == pytest.approx(1.96 * 2**0.5 * 0.005 / 0.2, rel=0.4)


def test_a_crossing_of_curves_that_nowhere_differ_has_no_interval():
    (found,) = crossings(gap_of(line(300, 1.5, 0.01), line(300.1, 1.505, 0.01)), 200, 1400)
    assert not found.resolved


def test_a_crossing_needs_both_sides_to_differ_and_with_opposite_signs():
    (found,) = crossings(gap_of(line(300, 1.4, 0.01), line(300, 1.6, 0.01)), 950, 1400)
    assert found.low is None
    assert found.high is not None
    assert not found.resolved


def test_outside_the_measured_range_is_not_reached():
    reading = power_over_thrust(A).read(1241)
    assert isinstance(reading, Absent)
    assert reading.reason == "not_reached"
    assert reading.note == "measured from 150 to 1240 gf"
    assert power_over_thrust(A).read(100).reason == "not_reached"


@given(st.lists(st.floats(1.1, 2.0), min_size=3, max_size=9), st.floats(0.5, 2.5))
def test_a_power_law_is_read_exactly_whatever_the_spacing(steps, exponent):
    x = 10.0 * np.cumprod(steps)
    law = curve(x, 3.0 * x**exponent, x_name="thrust_gf", y_name="power_w")
    for at in np.linspace(x[0], x[-1], 17):
        assert law.read(float(at)).value == pytest.approx(3.0 * at**exponent, rel=1e-6)
        # Nothing bends here; that it does not turn between the points either is assumed.
        assert law.read(float(at)).component("interpolation") < 2e-3 * 3.0 * at**exponent
    for node in x:
        assert law.read(float(node)).component("interpolation") < 1e-9 * 3.0 * node**exponent


def test_uncertainty_of_a_reading_counts_both_axes():
    straight = curve(
        [50, 100, 200],
        [25, 50, 100],
        x_name="thrust_gf",
        y_name="power_w",
        u_x=[2, 2, 2],
        u_y=[0.5, 0.5, 0.5],
    )
    # Slope 0.5 W/gf: u = √(0.5² + (0.5·2)²).
    assert straight.read(100).u == pytest.approx(np.hypot(0.5, 1.0))


def test_a_gain_both_axes_carry_goes_through_the_slope():
    """1 % on thrust moves a reading of T^1.5 at equal thrust by −1.5 %."""
    gain = component("calibration", "cell")
    points = [
        Point(
            {"thrust_gf": Measured(t, {gain: 0.01 * t}), "power_w": Measured(0.01 * t**1.5)},
            0,
            0,
            1,
            True,
        )
        for t in (200.0, 450.0, 800.0, 1300.0)
    ]
    reading = curve_from_points(points, "thrust_gf", "power_w").read(600.0)
    assert reading.components[gain] / reading.value == pytest.approx(-0.015, rel=1e-3)


def test_between_two_points_alone_the_bend_is_assumed_and_said():
    two = power_over_thrust(([300, 1000], [50, 300]))
    reading = two.read(550)
    assert reading.assumed
    assert reading.component("assumed_interpolation") > 0.02 * reading.value
    assert two.read(300).component("assumed_interpolation") == 0


def test_a_gap_of_more_than_fourfold_is_not_bridged():
    gappy = power_over_thrust(([40, 170, 400, 900], [8, 30, 85, 280]))
    assert gappy.read(100).reason == "gap_too_wide"
    assert "40 and 170 gf" in gappy.read(100).note
    assert isinstance(gappy.read(300), Measured)


def points_of(rows):
    return [
        Point(
            {
                "throttle_pct": Measured(t),
                "thrust_gf": Measured(x, {"within_run": 0.5}),
                "power_w": Measured(y, {"within_run": 0.3}),
            },
            0,
            0,
            1,
            True,
        )
        for t, x, y in rows
    ]


FOLDED = points_of([(60, 700, 300), (80, 1000, 527), (90, 1150, 700), (100, 1180, 592)])


def test_a_curve_that_folds_back_is_refused_where_it_is_ambiguous():
    """527 → 700 → 592 W at rising thrust: which of the two is the thrust at 650 W?"""
    over_power = curve_from_points(FOLDED, "power_w", "thrust_gf")
    assert over_power.read(650).reason == "folds_back"
    assert over_power.read(700).reason == "folds_back"
    assert over_power.read(595).reason == "folds_back"
    assert isinstance(over_power.read(560), Measured)
    assert over_power.read(560).value < 1150


def test_points_are_never_put_in_the_order_of_x():
    shuffled = [FOLDED[i] for i in (2, 0, 3, 1)]
    assert curve_from_points(shuffled, "power_w", "thrust_gf").read(650).reason == "folds_back"


def test_a_step_back_within_the_noise_is_one_point():
    rows = points_of([(60, 700, 300), (98, 1180, 600), (100, 1179.2, 604)])
    joined = curve_from_points(rows, "thrust_gf", "power_w")
    reading = joined.read(1179.6)
    assert reading.value == pytest.approx(602, abs=0.5)
    assert reading.component("between_points") == pytest.approx(4 / 12**0.5, rel=0.01)


def test_a_power_that_leaps_and_falls_is_not_read_finely():
    """Through 527, 700 and 592 W no steady motor goes: u says how little is known between."""
    assert curve_from_points(FOLDED, "thrust_gf", "power_w").read(1100).u > 15


def test_a_point_that_is_not_told_from_zero_is_no_point():
    rows = points_of([(10, 1.2, 3.0), (60, 700, 300), (100, 1180, 600)])
    assert curve_from_points(rows, "thrust_gf", "power_w").span == (700, 1180)


PLATEAUS = ((20, 40, 60, 80, 100), (30, 60, 100), (25, 50, 75, 100), (15, 45, 75, 90, 100))


@pytest.mark.parametrize("seed", range(6))
def test_a_motor_against_itself_at_unlike_plateaus(seed):
    """Noise-free: all that differs is where the plateaus lie, and u has to hold that."""
    rng = np.random.default_rng(seed)
    motor = Motor(rng.uniform(1200, 3000), rng.uniform(0.05, 0.2), rng.uniform(0.4, 1.4))
    prop = Propeller(5.1, rng.uniform(0.15, 0.22), rng.uniform(0.08, 0.16))
    curves = []
    for levels in PLATEAUS:
        solved = [solve(motor, prop, voltage_v=16.0, duty=level / 100) for level in levels]
        curves.append(
            power_over_thrust(([s.thrust_gf for s in solved], [s.power_w for s in solved]))
        )
    top = curves[0].span[1]
    for at in np.linspace(0.12 * top, top, 12):
        readings = [r for c in curves if isinstance(r := c.read(float(at)), Measured)]
        for one in readings:
            for other in readings:
                apart = difference(one, other)
                assert abs(apart.value) <= 2.0 * apart.u + 1e-9 * one.value


def test_equal_points_are_averaged():
    joined = curve([4, 10, 10], [2, 4, 6], x_name="thrust_gf", y_name="power_w", u_y=[0, 1, 1])
    assert joined.read(10).value == pytest.approx(5)
    # √2/2 of their scatter, and what the two differ by.
    assert joined.read(10).u == pytest.approx(np.hypot(2**0.5 / 2, 2 / 12**0.5))


def test_a_curve_needs_two_points():
    with pytest.raises(ReadingError):
        curve([5, 5], [1, 2], x_name="thrust_gf", y_name="power_w")
    lone = Point({"thrust_gf": Measured(5.0), "power_w": Absent("x")}, 0, 0, 1, True)
    assert isinstance(curve_from_points([lone], "thrust_gf", "power_w"), Absent)


def figure(value, run, *, repeat=0.005, calibration=0.02, stand="bench"):
    own = Measured(
        value,
        {
            component("within_run", run): 0.5,
            component("calibration", f"{stand}/thrust_gf"): calibration * value,
        },
    )
    return with_repeat(own, repeat, source=run)


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
    other = figure(1030, "a", repeat=0.0, stand="scale")
    assert compare(other, figure(1000, "b", repeat=0.0)).outcome is Outcome.UNRESOLVED
    same = figure(1030, "a", repeat=0.0)
    assert compare(same, figure(1000, "b", repeat=0.0)).outcome is Outcome.DIFFERENT


def test_no_relative_difference_to_nothing():
    with pytest.raises(QuantityError):
        compare(Measured(1.0), Measured(0.0))


def test_thrust_ladder_is_round_and_inside():
    assert thrust_ladder([1240, 980]) == [200, 400, 600, 800, 1000, 1200]
    assert thrust_ladder([430]) == [100, 200, 300, 400]
    assert thrust_ladder([]) == []


def test_a_falling_branch_is_read_as_finely_as_a_rising_one():
    """g/W falls with thrust: read over it, the branch runs from right to left."""
    x = np.array([900.0, 500.0, 300.0, 180.0, 100.0])
    law = curve(x, 7.0 * x**1.3, x_name="efficiency_g_per_w", y_name="power_w")
    bent = curve(x, 7.0 * x ** (1.3 + 0.05 * np.log(x)), x_name="e_g_per_w", y_name="power_w")
    assert law.read(240.0).value == pytest.approx(7.0 * 240.0**1.3, rel=1e-9)
    exact = 7.0 * 240.0 ** (1.3 + 0.05 * np.log(240.0))
    assert bent.read(240.0).value == pytest.approx(exact, rel=1e-4)
    assert bent.read(240.0).component("interpolation") > 0


@pytest.mark.parametrize("bad", [np.nan, np.inf])
def test_a_curve_of_what_is_not_finite_is_refused(bad):
    with pytest.raises(ReadingError, match="not finite"):
        curve([100, 200], [5.0, bad], x_name="thrust_gf", y_name="power_w")


def test_points_of_which_one_lacks_throttle_are_ordered_by_what_all_hold():
    rows = points_of([(60, 700, 300), (80, 1000, 527), (90, 1150, 700)])
    del rows[1].figures["throttle_pct"]
    assert curve_from_points(rows, "thrust_gf", "power_w").x.tolist() == [700, 1000, 1150]


def test_nothing_is_read_at_nothing():
    assert power_over_thrust(A).read(0.0).reason == "not_reached"
    assert power_over_thrust(A).read(-150.0).reason == "not_reached"


def test_an_x_that_is_not_known_exactly_goes_through_the_slope():
    """1 % on a hover thrust is 1.5 % on the power of a T^1.5; out of range it stays absent."""
    law = power_over_thrust(([100, 300, 900], [10.0, 10 * 3**1.5, 10 * 9**1.5]))
    reading = law.read_measured(Measured(200.0, {"mass@craft": 2.0}))
    assert reading.components["mass@craft"] / reading.value == pytest.approx(0.015, rel=1e-3)
    assert law.read_measured(Measured(50.0, {"m": 1.0})).reason == "not_reached"


def stepped(values):
    """A difference that is one after another of these at 0, 1, 2 …, each ± 1, straight between."""
    at = np.arange(len(values), dtype=float)
    return lambda x: Measured(float(np.interp(x, at, values)), {"u": 1.0})


@pytest.mark.parametrize(
    ("values", "found"),
    [
        # Differs on both sides, with opposite signs.
        ([9.0, 1.0, -1.0, -9.0], (0.0, 3.0)),
        # It only dips: what is measurable on either side has one sign.
        ([9.0, 1.0, -1.0, 1.0, 9.0], (0.0, None)),
        # Nothing is measurable on one side.
        ([9.0, 1.0, -1.0, -1.5], (0.0, None)),
        ([1.5, 1.0, -1.0, -9.0], (None, 3.0)),
    ],
)
@pytest.mark.parametrize("quick", [True, False])
def test_a_crossing_is_told_by_the_nearest_that_differs_and_by_its_sign(values, found, quick):
    gap, last = stepped(values), len(values) - 1.0
    value = (lambda x: gap(x).value) if quick else None
    first = crossings(gap, 0.0, last, value=value, steps=len(values) - 1)[0]
    assert first.at == pytest.approx(1.5)
    assert (first.low, first.high) == found
    assert first.resolved == (None not in found)


def test_where_no_sign_changes_no_u_is_asked_for():
    asked = []

    def gap(x):
        asked.append(x)
        return Measured(5.0, {"u": 1.0})

    assert crossings(gap, 1.0, 9.0, value=lambda x: 5.0) == []
    assert asked == []
