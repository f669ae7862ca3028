"""Comparisons at their edges: what decides, by one step more or less, between two outcomes."""

from __future__ import annotations

import math
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from spindle_core.compare.curve import Curve, curve, curve_from_points
from spindle_core.compare.delta import crossings, thrust_ladder
from spindle_core.compare.equal_conditions import _repeatability
from spindle_core.compare.factor_table import FactorTable, factor_table
from spindle_core.compare.groups import equivalence_p
from spindle_core.compare.like_with_like import Conditions, factors
from spindle_core.compare.mean_curves import crossings_of
from spindle_core.compare.measured_run import MeasuredRun
from spindle_core.compare.nominal import _models
from spindle_core.compare.repeats_table import repeats_table
from spindle_core.compare.subjects import alone, comparison_rows
from spindle_core.compare.table import ComparedRun, drawn_curves, read_at
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, component, propagate, ratio
from spindle_core.figures.repeats import last_digit
from spindle_core.intake.claim_evidence import against
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.reduction.result import Point, Reduction
from spindle_core.run.facts import RunFacts
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace


def point(**figures: float | Absent) -> Point:
    return Point(
        {
            name: value if isinstance(value, Absent) else Measured(value, {"within_run": 0.01})
            for name, value in figures.items()
        },
        0,
        1,
        2,
        True,
    )


def measured_run(
    name: str, *, summary: dict[str, Any] | None = None, stand: Stand | None = None, **facts: Any
) -> MeasuredRun:
    trace = Trace(np.arange(3.0), {}, facts=RunFacts(**facts), stand=stand or Stand(name="s"))
    reduction = Reduction("steps", (), summary or {}, (), ())
    return MeasuredRun(name, trace, reduction)


# Curves


@pytest.mark.parametrize(("steps", "folds"), [(2.9, False), (3.1, True)])
def test_a_step_back_beyond_three_of_its_own_u_is_a_fold(steps, folds):
    u = 1.0
    back = steps * math.sqrt(2.0) * u
    x = [1000.0, 2000.0, 2000.0 - back, 3000.0]
    found = curve(x, [10.0, 20.0, 21.0, 30.0], x_name="thrust_gf", y_name="power_w", u_x=[u] * 4)
    assert isinstance(found, Curve)
    assert len(found.nodes) == (4 if folds else 3)


def test_a_curve_over_throttle_is_in_the_order_of_throttle():
    # Speed sinks at full throttle, as with a pack that sags: the order is that of the command.
    rows = [
        point(throttle_pct=20.0, speed_rpm=5000.0, thrust_gf=100.0),
        point(throttle_pct=60.0, speed_rpm=15000.0, thrust_gf=600.0),
        point(throttle_pct=100.0, speed_rpm=14000.0, thrust_gf=550.0),
    ]
    found = curve_from_points(rows, "throttle_pct", "thrust_gf")
    assert [node.y.value for node in found.nodes] == [100.0, 600.0, 550.0]


# Crossings


def test_a_gap_of_exactly_nothing_is_crossed_once():
    def gap(at: float) -> Measured:
        return Measured(at - 500.0, {"u": 1.0})

    # 500 lies on the grid that is looked over.
    found = crossings(gap, 100.0, 900.0)
    assert len(found) <= 1
    assert all(one.at == pytest.approx(500.0) for one in found)


def test_curves_that_touch_do_not_cross():
    def gap(at: float) -> Measured:
        return Measured(abs(at - 500.0), {"u": 1.0})

    assert crossings(gap, 100.0, 900.0) == []


def test_a_hole_within_a_crossing_is_an_error_and_not_a_number():
    asked = []

    def gap(at: float) -> Measured | None:
        # The grid is asked first; what is asked after it lies between.
        asked.append(at)
        return Measured(at - 503.0, {"u": 0.1}) if len(asked) <= 201 else None

    with pytest.raises(QuantityError, match="no reading inside"):
        crossings(gap, 100.0, 900.0)


@pytest.mark.parametrize(
    ("maxima", "least", "expected"),
    [
        ([700.0], 1, [500.0]),
        ([700.0], 2, [200.0, 400.0, 600.0]),
        ([2100.0], 4, [500.0, 1000.0, 1500.0, 2000.0]),
        ([0.0], 4, []),
        ([], 4, []),
    ],
)
def test_a_ladder_of_round_thrusts(maxima, least, expected):
    assert thrust_ladder(maxima, least) == expected


# Scatter of a run


def test_of_stands_that_declare_unlike_scatter_the_larger_counts():
    quiet = measured_run("a", stand=Stand(repeatability=0.004, name="one"))
    rough = measured_run("b", stand=Stand(repeatability=0.015, name="other"))
    for order in ([quiet, rough], [rough, quiet]):
        assert _repeatability([], order) == (0.015, None, "stand")


def test_equivalence_with_few_repeats_goes_by_students_t():
    delta = Measured(1.0, {"repeat": 1.0})
    one = equivalence_p(delta, 3.0, freedom={"repeat": 1.0})
    # z = 2 on one degree of freedom: 1/2 − atan(2)/π.
    assert one == pytest.approx(0.5 - math.atan(2.0) / math.pi, abs=1e-9)
    assert equivalence_p(delta, 3.0, freedom={"repeat": 0.5}) == pytest.approx(one)


# Tables


def test_a_factor_table_needs_figures_above_nothing():
    cells = {("a", "x"): Measured(0.0, {"u": 1.0}), ("a", "y"): Measured(2.0, {"u": 1.0})}
    with pytest.raises(QuantityError, match="above 0"):
        factor_table(cells)


def test_motors_that_hang_together_over_others_make_a_table():
    # Read in this order, the last pairs are only reached in a second round.
    pairs = [
        ("d", "z"),
        ("d", "y"),
        ("c", "y"),
        ("c", "x"),
        ("b", "x"),
        ("b", "w"),
        ("a", "w"),
        ("a", "x"),
        ("d", "w"),
        ("c", "z"),
    ]
    cells = {pair: Measured(10.0 + i, {"u": 0.5}) for i, pair in enumerate(pairs)}
    assert isinstance(factor_table(cells), FactorTable)


def test_a_row_of_repeats_needs_two_like_runs_and_takes_what_the_first_of_them_has():
    figure = Measured(1000.0, {"u": 1.0})
    first = measured_run("a", summary={"max_thrust_gf": figure}, motor="m")
    second = measured_run(
        "b", summary={"max_thrust_gf": figure.scaled(1.02), "x": figure}, motor="m"
    )
    assert repeats_table([first]) == []
    [row] = repeats_table([first, second])
    assert (row.figure, row.runs) == ("max_thrust_gf", ("a", "b"))
    third = measured_run("c", summary={"max_thrust_gf": figure.scaled(1.01)}, motor="m")
    assert len(repeats_table([first, second, third])) == 1
    # What the first and the third have is a row, though the second has it not.
    some = measured_run("a", summary={"y": figure}, motor="m")
    none = measured_run("b", summary={}, motor="m")
    other = measured_run("c", summary={"y": figure.scaled(1.1)}, motor="m")
    assert [row.figure for row in repeats_table([some, none, other])] == ["y"]


@pytest.mark.parametrize("levels", [[-5.0, 100.0], [100.0, 0.0]])
def test_every_level_is_above_nothing(levels):
    points = [point(thrust_gf=100.0 * i, power_w=20.0 * i) for i in (1, 2, 3)]
    runs = [ComparedRun("a", points, 0.01)]
    with pytest.raises(QuantityError, match="above 0"):
        comparison_rows([alone(run) for run in runs], "a", levels, margin=0.02)


def test_a_quotient_says_what_is_missing_above_it():
    why = Absent("not_logged", "no meter")
    points = [point(thrust_gf=100.0 * i, power_w=why, throttle_pct=20.0 * i) for i in (1, 2, 3)]
    found = read_at(ComparedRun("a", points, 0.01), 200.0, "throttle_pct")
    assert isinstance(found["efficiency_g_per_w"], Absent)
    other = [point(power_w=20.0 * i, throttle_pct=20.0 * i) for i in (1, 2, 3)]
    found = read_at(ComparedRun("a", other, 0.01), 50.0, "throttle_pct")
    assert isinstance(found["efficiency_g_per_w"], Absent)


def test_a_curve_that_is_not_there_crosses_nothing():
    whole = [point(thrust_gf=100.0 * i, power_w=20.0 * i) for i in (1, 2, 3)]
    bare = [point(thrust_gf=100.0 * i) for i in (1, 2, 3)]
    pair = alone(ComparedRun("a", whole, 0.01)), alone(ComparedRun("b", bare, 0.01))
    assert crossings_of(*pair, x_name="thrust_gf", y_name="power_w") == []
    assert crossings_of(*reversed(pair), x_name="thrust_gf", y_name="power_w") == []


def test_the_weakest_point_that_is_drawn_lies_at_five_percent_itself():
    points = [point(thrust_gf=t, power_w=t / 5.0) for t in (50.0, 400.0, 1000.0)]
    [_, efficiency] = drawn_curves(ComparedRun("a", points, 0.01), [("thrust_gf", "power_w")])
    assert efficiency.points_x[0] == pytest.approx(50.0)
    weaker = [point(thrust_gf=t, power_w=t / 5.0) for t in (49.0, 400.0, 1000.0)]
    [_, efficiency] = drawn_curves(ComparedRun("a", weaker, 0.01), [("thrust_gf", "power_w")])
    assert efficiency.points_x[0] == pytest.approx(400.0)


# What has to be alike


@pytest.mark.parametrize(
    ("volts", "state"),
    [((16.0, 15.9), "same"), ((16.0, 10.0), "differs"), ((10.0, 16.0), "differs")],
)
def test_a_relative_tolerance_goes_by_the_larger_value(volts, state):
    runs = [Conditions("m", "A", "p", nominal_voltage_v=v) for v in volts]
    found = {factor.name: factor.state for factor in factors(runs)}
    assert found["nominal voltage"] == state


def test_the_tolerance_of_a_larger_value_is_wider():
    # 2 % of 100 are 2, of 98.01 only 1.96: the two lie 1.99 apart.
    from spindle_core.compare.like_with_like import _numbers

    found = _numbers("x", [100.0, 98.01], ("V", 1), relative=0.02)
    assert found.state == "same"
    assert _numbers("x", [100.0, 97.9], ("V", 1), relative=0.02).state == "differs"


def test_runs_of_an_unsaid_voltage_or_air_say_so():
    said = measured_run("a", nominal_voltage_v=14.8, air_temp_c=20.0, air_pressure_hpa=1000.0)
    unsaid = measured_run("b")
    assert (said.voltage, unsaid.voltage) == ("14.8 V", "")
    assert said.like[3] == "14.8 V"
    assert said.conditions().air_density_kg_per_m3 == pytest.approx(1.183, abs=2e-3)
    assert unsaid.conditions().air_density_kg_per_m3 is None


MOTOR = Motor(kv_rpm_per_v=1900.0, resistance_ohm=0.06, no_load_current_a=1.2)
PROP = Propeller(5.1, 0.11, 0.05)


@pytest.mark.parametrize(
    ("motor", "propeller", "both"), [(MOTOR, PROP, True), (MOTOR, None, False), (None, PROP, False)]
)
def test_a_model_corrects_only_where_motor_and_propeller_are_known(motor, propeller, both):
    run = measured_run("a", motor="m", propeller="p")
    models: Any = SimpleNamespace(
        motors=[SimpleNamespace(motor="m", model=lambda: motor or Absent("x", "y"))],
        propellers=[SimpleNamespace(propeller="p", model=lambda: propeller or Absent("x", "y"))],
    )
    assert _models(run, models) == ((motor, propeller) if both else (None, None))
    assert _models(run, None) == (None, None)


# Values with u


@pytest.mark.parametrize("n", [0, -1])
def test_a_figure_rests_on_a_run_at_least(n):
    with pytest.raises(QuantityError, match="at least one run"):
        Measured(1.0, n=n)


def test_a_component_is_not_added_twice():
    figure = Measured(1.0, {"a": 0.1})
    with pytest.raises(QuantityError, match="already"):
        figure.with_component("a", 0.2)
    assert figure.with_component("b", 0.2).u == pytest.approx(math.hypot(0.1, 0.2))


def test_a_partial_is_taken_over_a_small_part_of_u():
    # A cube: at a step of h the difference is 3x² + h², and h is a tenth of u.
    found = propagate(lambda x: x**3, [Measured(2.0, {component("k", "a"): 1.0})])
    assert found.u == pytest.approx(12.0 + 0.01, abs=1e-6)


@pytest.mark.parametrize(
    ("values", "step"),
    [
        ([58.4, 61.2, 70.0], 0.1),
        ([58.0, 61.0], 1.0),
        ([0.125, 0.5], 0.001),
        ([12345.6, 3.0], 0.1),
        ([0.123456789], 1e-6),
        ([9999.95, 1.0], 0.01),
    ],
)
def test_the_last_digit_that_was_written(values, step):
    assert last_digit(values) == pytest.approx(step, rel=1e-9)


def test_a_claim_of_nothing_is_compared_with_nothing():
    found = against(0.0, Measured(3.0, {"u": 0.1}), rating=False)
    assert (found.differs if hasattr(found, "differs") else found.resolved) is False
    assert isinstance(ratio(Measured(1.0), Measured(0.0)), Absent)


def test_nothing_is_held_against_what_may_be_nothing():
    from spindle_core.compare.benches import _held
    from spindle_core.compare.equal_conditions import _delta
    from spindle_core.compare.of_models import OfModel

    after = Measured(0.030)
    for held, told in (
        (Measured(0.0079, {"i": 0.004}), True),
        (Measured(0.0078, {"i": 0.004}), False),
    ):
        assert (_delta(after, held, 0.02, None) is not None) is told
        both = [OfModel(held, 1, 1), OfModel(after, 1, 1)]
        assert (_held(both, 0.02) is not None) is told
