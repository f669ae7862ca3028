"""Tables at equal thrust, and whether runs may be compared at all."""

import numpy as np
import pytest

from spindle_core.compare import mean_curves, subjects
from spindle_core.compare.delta import Outcome
from spindle_core.compare.factor_table import factor_table
from spindle_core.compare.like_with_like import (
    Conditions,
    confounded,
    factors,
    not_corrected,
    voltage_under_load_v,
)
from spindle_core.compare.table import MOST_READINGS, ComparedRun, drawn_curves, read_at, read_one
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, component
from spindle_core.reduction.result import Point


def comparison_rows(runs, baseline, levels, **words):
    return subjects.comparison_rows(
        [subjects.alone(one) for one in runs], baseline, levels, **words
    )


def crossings_of(a, b, **words):
    return mean_curves.crossings_of(subjects.alone(a), subjects.alone(b), **words)


def told_crossings(runs):
    return mean_curves.told_crossings([subjects.alone(one) for one in runs])


def measured(value, key, name, stand, u):
    return Measured(
        value,
        {
            component("within_run", f"{key}/{name}/{value}"): u,
            component("calibration", f"{stand}/{name}"): 0.01 * value,
        },
    )


def run(key, watts, *, thrusts=(200.0, 600.0, 1000.0), stand="bench"):
    points = [
        Point(
            {
                "thrust_gf": measured(thrust, key, "thrust_gf", stand, 0.5),
                "power_w": measured(power, key, "power_w", stand, 0.1),
                "current_a": measured(power / 16.0, key, "current_a", stand, 0.01),
                "throttle_pct": Measured(thrust / 10.0),
                "speed_rpm": Absent("not_logged"),
            },
            0,
            1,
            2,
            True,
        )
        for thrust, power in zip(thrusts, watts, strict=True)
    ]
    return ComparedRun(key, points, repeatability=0.004)


BASE = run("a", (40.0, 150.0, 320.0))
WORSE = run("b", (44.0, 165.0, 352.0))


def table(*runs, at=(600.0,), baseline="a"):
    rows = comparison_rows(runs, baseline, at, margin=0.02)
    return {(row.at, row.name): row.cells for row in rows}


def test_ten_percent_more_power_at_equal_thrust_is_different():
    base, worse = table(BASE, WORSE)[600.0, "power_w"]
    assert base.delta is None
    assert base.figure.value == pytest.approx(150)
    assert worse.delta.delta_pct == pytest.approx(10.0)
    assert worse.delta.outcome is Outcome.DIFFERENT


def test_the_stands_scatter_counts_on_both_axes():
    """On a straight line through the origin both axes scatter alike: u = √2 × 0.4 % of 300 W."""
    straight = run("s", (100.0, 300.0, 500.0))
    (cell,) = table(straight, baseline="s")[600.0, "power_w"]
    parts = cell.figure.components
    assert parts[component("repeat", "s/power_w")] == pytest.approx(1.2)
    assert parts[component("repeat", "s/thrust_gf")] == pytest.approx(-1.2, rel=0.02)


def test_shared_calibration_of_thrust_cancels_between_runs_of_one_stand():
    same = table(BASE, WORSE)[600.0, "power_w"][1].delta
    other = table(BASE, run("b", (44.0, 165.0, 352.0), stand="scale"))[600.0, "power_w"][1].delta
    assert same.delta.u < 0.75 * other.delta.u


def test_efficiency_is_thrust_over_power():
    base, worse = table(BASE, WORSE)[600.0, "efficiency_g_per_w"]
    assert base.figure.value == pytest.approx(4.0)
    assert worse.delta.delta_pct == pytest.approx(100 * (150 / 165 - 1))


def test_beyond_a_runs_maximum_is_not_reached_and_has_no_delta():
    weak = run("w", (40.0, 150.0, 250.0), thrusts=(200.0, 600.0, 800.0))
    base, other = table(BASE, weak, at=(900.0,))[900.0, "power_w"]
    assert isinstance(base.figure, Measured)
    assert other.figure.reason == "not_reached"
    assert other.delta is None


def test_what_was_not_logged_is_absent():
    (cell,) = table(BASE)[600.0, "speed_rpm"]
    assert cell.figure.reason == "too_few_points"


def test_the_same_run_twice_is_equivalent():
    twin = run("b", (40.1, 150.3, 320.5))
    assert table(BASE, twin)[600.0, "power_w"][1].delta.outcome is Outcome.EQUIVALENT


def test_a_baseline_must_be_there():
    with pytest.raises(QuantityError) as caught:
        table(BASE, baseline="z")
    assert caught.value.code == "baseline"
    with pytest.raises(QuantityError):
        table(BASE, at=(0.0,))


def conditions(**changed):
    return Conditions(
        **{
            "motor": "Drift",
            "sample": "A",
            "propeller": "5.1x4.2x3",
            "supply_kind": "psu",
            "nominal_voltage_v": 16.0,
            "stand": "bench",
            "start_rise_k": 1.0,
            "air_density_kg_per_m3": 1.19,
            "voltage_under_load_v": 15.8,
            **changed,
        }
    )


def state(**changed):
    return {f.name: f.state for f in factors([conditions(), conditions(**changed)])}


def test_equal_conditions_are_the_same():
    assert set(state().values()) == {"same"}


def test_a_start_that_is_as_warm_as_the_air_goes_neither_way():
    rows = [conditions(start_rise_k=rise) for rise in (-0.2, 0.3, 3.4, -3.4)]
    found = next(f for f in factors(rows) if f.name == "motor above air at the start")
    assert found.values == ("0 K", "0 K", "+3 K", "\N{MINUS SIGN}3 K")
    voltage = next(f for f in factors(rows) if f.name == "nominal voltage")
    assert voltage.values == ("16.0 V",) * 4


def test_differences_are_named_and_small_ones_are_not():
    assert state(propeller="5x3.6x3")["propeller"] == "differs"
    assert state(start_rise_k=5.5)["motor above air at the start"] == "same"
    assert state(start_rise_k=25.0)["motor above air at the start"] == "differs"
    assert state(voltage_under_load_v=15.6)["voltage under load"] == "same"
    # A pack that sags by 3 V is another supply, whatever its label says.
    assert state(voltage_under_load_v=12.8)["voltage under load"] == "differs"
    assert state(nominal_voltage_v=16.1)["nominal voltage"] == "same"
    assert state(nominal_voltage_v=16.8)["nominal voltage"] == "differs"


def test_unknown_is_not_the_same():
    assert state(air_density_kg_per_m3=None)["air density"] == "unknown"
    assert state(stand=None)["stand"] == "unknown"


def test_two_differences_are_confounded_one_is_not():
    one = factors([conditions(), conditions(motor="No. 4")])
    two = factors([conditions(), conditions(motor="No. 4", propeller="5x3.6x3")])
    assert confounded(one) == []
    assert confounded(two) == ["motor", "propeller"]


def full_run(key, factor=1.0):
    points = [
        Point(
            {
                "thrust_gf": Measured(12.0 * throttle, {"within_run": 0.5}),
                "power_w": Measured(factor * throttle * 4.0, {"within_run": 0.1}),
                "current_a": Measured(factor * throttle / 4.0, {"within_run": 0.01}),
                "shaft_power_w": Measured(throttle * 2.8, {"within_run": 0.1}),
                "throttle_pct": Measured(throttle),
                "speed_rpm": Measured(200.0 * throttle, {"within_run": 3.0}),
            },
            0,
            1,
            2,
            True,
        )
        for throttle in (20.0, 40.0, 60.0, 80.0, 100.0)
    ]
    return ComparedRun(key, points, repeatability=0.004)


@pytest.mark.parametrize(
    ("condition", "level", "expected"),
    [
        ("power_w", 200.0, {"thrust_gf": (600.0, 500.0), "efficiency_g_per_w": (3.0, 2.5)}),
        ("throttle_pct", 50.0, {"thrust_gf": (600.0, 600.0), "efficiency_g_per_w": (3.0, 2.5)}),
        (
            "shaft_power_w",
            140.0,
            {"power_w": (200.0, 240.0), "motor_esc_efficiency_pct": (70.0, 58.333)},
        ),
        ("thrust_gf", 600.0, {"power_w": (200.0, 240.0), "throttle_pct": (50.0, 50.0)}),
    ],
)
def test_readings_at_every_equal_condition(condition, level, expected):
    rows = comparison_rows(
        [full_run("a"), full_run("b", 1.2)], "a", [level], margin=0.02, condition=condition
    )
    found = {row.name: tuple(cell.figure.value for cell in row.cells) for row in rows}
    for name, values in expected.items():
        assert found[name] == pytest.approx(values, rel=1e-4), name
    assert {row.at for row in rows} == {level}


def test_a_condition_nobody_can_compare_at():
    with pytest.raises(QuantityError, match="at full, thrust_gf"):
        comparison_rows([BASE], "a", [1.0], margin=0.02, condition="luck")
    # What was not reached is absent, not extrapolated.
    rows = comparison_rows([full_run("a")], "a", [900.0], margin=0.02, condition="power_w")
    assert {cell.figure.reason for row in rows for cell in row.cells} == {"not_reached"}


def test_throttle_is_commanded_and_does_not_scatter():
    row = comparison_rows([full_run("a")], "a", [600.0], margin=0.02)
    throttle = next(r for r in row if r.name == "throttle_pct").cells[0].figure
    assert component("repeat", "a/throttle_pct") not in throttle.components
    through = throttle.components[component("repeat", "a/thrust_gf")]
    assert through == pytest.approx(-50.0 * 0.004, rel=0.01)


def test_what_was_corrected_and_what_could_not_be():
    pair = [
        conditions(lead_length_mm=60.0, esc="Tarn 45", nominal_voltage_v=16.0),
        conditions(lead_length_mm=140.0, esc="Tarn 45", nominal_voltage_v=14.8),
    ]
    plain = {f.name: f.state for f in factors(pair)}
    assert plain["nominal voltage"] == "differs"
    assert plain["lead length"] == "differs"
    assert plain["ESC"] == "same"
    assert "throttle point" not in plain
    told = factors(pair, corrected=("nominal voltage",))
    assert {f.name: f.state for f in told}["nominal voltage"] == "corrected"
    assert not_corrected(told) == ["lead length"]
    assert confounded(told) == []
    unsaid = factors([conditions(esc="Tarn 45"), conditions()])
    assert next(f for f in unsaid if f.name == "ESC").state == "unknown"


AXES = (("throttle_pct", "thrust_gf"), ("thrust_gf", "power_w"), ("thrust_gf", "speed_rpm"))


def test_what_is_drawn_is_what_was_measured():
    drawn = {(c.x_name, c.y_name): c for c in drawn_curves(full_run("a"), AXES)}
    assert list(drawn) == [
        ("throttle_pct", "thrust_gf"),
        ("thrust_gf", "power_w"),
        ("thrust_gf", "efficiency_g_per_w"),
        ("thrust_gf", "speed_rpm"),
    ]
    power = drawn["thrust_gf", "power_w"]
    assert power.points_x.tolist() == [240, 480, 720, 960, 1200]
    assert power.points_y.tolist() == [80, 160, 240, 320, 400]
    assert power.points_u.tolist() == pytest.approx([0.1] * 5)
    assert (power.x[0], power.x[-1]) == (240, 1200)
    assert power.y == pytest.approx(power.x / 3.0)
    per_watt = drawn["thrust_gf", "efficiency_g_per_w"]
    assert per_watt.y == pytest.approx(3.0)
    assert per_watt.points_y == pytest.approx(3.0)
    # 0.5 of 240 gf and 0.1 of 80 W, both of one point.
    assert per_watt.points_u[0] == pytest.approx(3.0 * np.hypot(0.5 / 240, 0.1 / 80))


def test_efficiency_is_drawn_from_a_twentieth_of_the_largest_thrust():
    low = run("a", (0.9, 2.0, 8.0, 40.0, 150.0), thrusts=(20.0, 49.0, 51.0, 300.0, 1000.0))
    drawn = {c.y_name: c for c in drawn_curves(low, (("thrust_gf", "power_w"),))}
    assert drawn["efficiency_g_per_w"].points_x.tolist() == [51, 300, 1000]
    assert drawn["efficiency_g_per_w"].x.min() >= 50.0
    assert drawn["power_w"].x.min() == 20.0
    # Between 51 and 300 gf lies more than fourfold: a hole is drawn, no line.
    assert np.isnan(drawn["power_w"].y[5])


def test_a_curve_that_is_not_there_is_not_drawn():
    assert [c.y_name for c in drawn_curves(BASE, (("thrust_gf", "speed_rpm"),))] == []


STEEP = run("b", (30.0, 150.5, 380.0))


def test_a_crossing_is_told_with_its_interval_or_not_at_all():
    ((first, second, crossing),) = told_crossings([BASE, STEEP])
    assert (first, second) == ("a", "b")
    assert crossing.low < crossing.at < crossing.high
    assert crossing.at == pytest.approx(590, abs=30)
    # Between two that nowhere differ there may be one; nobody is told.
    twin = run("c", (39.9, 150.1, 319.5))
    assert crossings_of(BASE, twin)
    assert told_crossings([BASE, twin]) == []
    assert told_crossings([BASE]) == []


def test_curves_of_two_runs_that_share_no_range_do_not_cross():
    heavy = run("h", (500.0, 700.0, 900.0), thrusts=(1100.0, 1400.0, 1700.0))
    assert crossings_of(BASE, heavy) == []
    assert crossings_of(BASE, BASE, y_name="speed_rpm") == []


def test_few_repeats_widen_the_interval_of_a_crossing():
    narrow, wide = (crossings_of(BASE, STEEP, k=k)[0] for k in (1.96, 4.3))
    assert wide.high is None or wide.high > narrow.high
    assert wide.low is None or wide.low < narrow.low


@pytest.mark.parametrize("level", [0.0, -5.0])
def test_a_level_of_nothing_is_refused_for_a_single_reading_too(level):
    with pytest.raises(QuantityError) as caught:
        read_at(BASE, level)
    assert caught.value.code == "thrust"


def test_a_crossing_at_the_smallest_thrusts_is_not_told():
    """Below a twentieth of the weaker one's largest thrust: there g/W is noise."""
    thrusts = (10.0, 25.0, 60.0, 200.0, 600.0, 1900.0)
    one = run("a", (1.0, 3.0, 9.0, 40.0, 150.0, 700.0), thrusts=thrusts)
    other = run("b", (0.7, 2.5, 9.9, 50.0, 195.0, 950.0), thrusts=thrusts)
    (crossing,) = crossings_of(one, other)
    assert crossing.at < 0.05 * 1900
    assert told_crossings([one, other]) == []


def test_the_voltage_under_load_is_the_lowest_that_was_measured():
    rows = full_run("a").points
    assert voltage_under_load_v(rows) is None
    sagging = [
        Point({**point.figures, "voltage_v": Measured(16.0 - 0.6 * i)}, 0, 1, 2, True)
        for i, point in enumerate(rows)
    ]
    assert voltage_under_load_v([*sagging, rows[0]]) == pytest.approx(13.6)


def test_a_table_at_nothing_is_refused_before_anything_is_read():
    with pytest.raises(QuantityError, match="at full, thrust_gf"):
        comparison_rows([BASE], "a", [], margin=0.02, condition="luck")


def test_a_predicted_cell_carries_the_fit_and_what_one_run_scatters_by():
    """Two motors on three propellers, one cell missing: ln y = motor + propeller + λ·both, with λ
    held at 0 ± 0.4 as firmly as effects alone fit, by hand."""
    cells = {
        ("A", "x"): Measured(100.0),
        ("A", "y"): Measured(205.0),
        ("A", "z"): Measured(298.0),
        ("B", "x"): Measured(112.0),
        ("B", "y"): Measured(221.0),
    }
    table = factor_table(cells)
    y = np.log([100.0, 205.0, 298.0, 112.0, 221.0])
    design = np.array(
        [[1, 0, 0, 0], [1, 0, 1, 0], [1, 0, 0, 1], [0, 1, 0, 0], [0, 1, 1, 0]], dtype=float
    )
    values, residuals, *_ = np.linalg.lstsq(design, y, rcond=None)
    variance = float(residuals[0]) / 1.0
    of_motor = values[:2] - values[:2].mean()
    of_prop = np.array([0.0, *values[2:]]) - np.array([0.0, *values[2:]]).mean()
    both = np.outer(of_motor, of_prop)
    bent = np.column_stack([design, [both[0, 0], both[0, 1], both[0, 2], both[1, 0], both[1, 1]]])
    firm = np.sqrt(variance) / 0.4
    held = np.vstack([bent, [0.0, 0.0, 0.0, 0.0, firm]])
    told, *_ = np.linalg.lstsq(held, np.append(y, 0.0), rcond=None)
    row = np.array([0.0, 1.0, 0.0, 1.0, both[1, 2]])
    cell = table.predicted[("B", "z")]
    assert cell.value == pytest.approx(np.exp(row @ told), rel=1e-9)
    weights = np.linalg.pinv(held).T @ row
    # One cell more than effects judges the fit: Student's t of one degree of freedom.
    widened = (12.7062 / 1.959964) ** 2 * variance
    assert table.freedom == 1
    left = (weights[:5] @ weights[:5] + 1.0) * widened + (weights[5] * firm * 0.4) ** 2
    assert cell.u == pytest.approx(cell.value * np.sqrt(left), rel=1e-5)


def test_at_equal_throttle_a_reading_carries_the_scatter_of_its_own_axis_alone():
    """A commanded throttle does not scatter: the relative u of a thrust is that of one run."""
    quiet = ComparedRun(
        "a",
        [
            Point(
                {
                    "thrust_gf": Measured(thrust),
                    "power_w": Measured(power),
                    "throttle_pct": Measured(throttle),
                },
                0,
                1,
                2,
                True,
            )
            for throttle, thrust, power in (
                (20.0, 100.0, 10.0),
                (50.0, 400.0, 70.0),
                (100.0, 1000.0, 280.0),
            )
        ],
        repeatability=0.01,
    )
    figure = read_at(quiet, 50.0, "throttle_pct")["thrust_gf"]
    assert figure.value == pytest.approx(400.0)
    assert figure.u == pytest.approx(4.0, rel=1e-6)


def test_a_run_keeps_the_readings_that_were_asked_for_last_and_no_more():
    run = full_run("kept")
    first = read_one(run, 30.0, "power_w", "throttle_pct")
    assert read_one(run, 30.0, "power_w", "throttle_pct") is first
    levels = [float(level) for level in np.linspace(31.0, 99.0, 3 * MOST_READINGS)]
    read = [read_one(run, level, "power_w", "throttle_pct") for level in levels]
    assert len(run.readings) == MOST_READINGS
    assert read_one(run, levels[-1], "power_w", "throttle_pct") is read[-1]
    # What was let go is read again, to the same.
    again = read_one(run, 30.0, "power_w", "throttle_pct")
    assert again == first
    assert again is not first
    # Another level and another figure are another reading.
    assert read_one(run, 30.0, "current_a", "throttle_pct") != first
