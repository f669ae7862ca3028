"""Claims checked for sense, propeller codes read, and the formulas around propellers."""

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.intake.claims import (
    check_ratings,
    deviation_pct,
    implied_voltage_v,
    label_conflicts,
)
from spindle_core.intake.propeller_code import parse_propeller_code
from spindle_core.model.air import air_density_kg_per_m3
from spindle_core.model.best_load import best_load
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.model.propeller import (
    estimate_coefficients,
    figure_of_merit,
    load_index_m5,
    merit_of,
    pitch_speed_m_per_s,
    pooled_reynolds_exponent,
    reynolds_number,
    tip_mach,
)


def test_ratings_of_the_worked_example():
    check = check_ratings(rated_power_w=420.0, rated_current_a=26.0, cells=4)
    assert check.nominal.binds == "current"
    assert check.nominal.power_w == pytest.approx(384.8)
    assert implied_voltage_v(420.0, 26.0) == pytest.approx(16.15, abs=0.005)
    assert check.plausible
    assert check.full.binds == "power"
    assert check.full.current_a == pytest.approx(420 / 16.8)
    assert not check_ratings(rated_power_w=420.0, rated_current_a=26.0, cells=6).plausible


def test_deviation_and_label_conflicts():
    off = deviation_pct(2550.0, Measured(2479.2, {"u": 5.0}))
    assert off.value == pytest.approx(-2.8, abs=0.05)
    assert off.u == pytest.approx(0.196, abs=0.001)
    motors = {
        "one": (1900.0, Measured(1880.0, {"a": 4.0})),
        "two": (1905.0, Measured(1790.0, {"b": 4.0})),
        "three": (2420.0, Measured(2282.0, {"c": 4.0})),
        "four": (1900.0, Measured(1884.0, {"d": 4.0})),
    }
    pairs = {(c.first, c.second) for c in label_conflicts(motors)}
    assert pairs == {("one", "two"), ("four", "two")}


@pytest.mark.parametrize(
    ("text", "size", "certain"),
    [
        ("5043x3", (5.0, 4.3, 3), False),
        ("51433", (5.1, 4.3, 3), False),
        ("5.1×4.3×3", (5.1, 4.3, 3), True),
        ("7x3.8", (7.0, 3.8, 2), True),
        ("7x3,8", (7.0, 3.8, 2), True),
        ("940", (9.0, 4.0, 2), False),
        ("6x3", (6.0, 3.0, 2), False),
        ("1045", (10.0, 4.5, 2), False),
        ("10x4.5x2", (10.0, 4.5, 2), True),
    ],
)
def test_propeller_codes(text, size, certain):
    code = parse_propeller_code(text)
    assert (code.diameter_in, code.pitch_in, code.blades) == size
    assert code.certain is certain


@pytest.mark.parametrize(
    "text", ["", "five", "5x", "99x99", "5x4x12", "40mm", "7", "12345x3", "0000", "5x0.1", "٥x٣"]
)
def test_no_propeller_codes(text):
    with pytest.raises(QuantityError):
        parse_propeller_code(text)


def test_estimated_coefficients_are_marked_and_wide():
    estimate = estimate_coefficients(5.1, 4.2, blades=3)
    ct, cp = estimate.measured()
    assert (round(cp.value, 3), round(ct.value, 3)) == (0.119, 0.189)
    assert ct.origin is cp.origin is Origin.ESTIMATED
    assert ct.relative_u == pytest.approx(0.3 / np.sqrt(3))
    assert estimate_coefficients(5.1, 4.2, blades=3, family="bullnose").cp > estimate.cp
    with pytest.raises(QuantityError):
        estimate_coefficients(5.1, 4.2, blades=3, family="origami")


def test_figure_of_merit_is_the_one_that_joins_ct_and_cp():
    density = air_density_kg_per_m3(15.0, pressure_hpa=1013.25)
    estimate = estimate_coefficients(5.1, 4.2, blades=3)
    point = solve(
        Motor(1900, 0.15, 1.2),
        Propeller(5.1, estimate.ct, estimate.cp),
        voltage_v=16.0,
        density_kg_per_m3=density,
    )
    merit = figure_of_merit(
        point.thrust_gf, point.shaft_power_w, diameter_in=5.1, density_kg_per_m3=density
    )
    assert merit == pytest.approx(0.55 * 1.2533 / np.sqrt(np.pi / 2), rel=1e-4)
    # The same from the coefficients alone, and what both share of a stand's gain counts once.
    ct = Measured(estimate.ct, {"calibration@stand": 0.01 * estimate.ct})
    cp = Measured(estimate.cp, {"calibration@stand": 0.01 * estimate.cp, "fit@prop": 0.001})
    found = merit_of(ct, cp)
    assert found.value == pytest.approx(merit)
    assert found.u == pytest.approx(merit * np.hypot(0.015 - 0.01, 0.001 / estimate.cp))
    with pytest.raises(QuantityError):
        merit_of(Measured(0.0), cp)


def test_speeds_and_loads():
    speed = pitch_speed_m_per_s(4.2, Measured(24_000.0, {"w": 240.0}))
    assert speed.value == pytest.approx(4.2 * 0.0254 * 400)
    assert speed.relative_u == pytest.approx(0.01)
    assert tip_mach(5.1, 30_000, air_temp_c=20.0) == pytest.approx(203.48 / 343.2, abs=0.001)
    assert load_index_m5(Measured(0.145), 5.1).value == pytest.approx(0.145 * 0.12954**5)
    # A tenth more diameter is 61 % more load at one CP.
    light, heavy = (load_index_m5(Measured(0.1, {"fit": 0.001}), d) for d in (5.0, 5.5))
    assert heavy.value / light.value == pytest.approx(1.1**5)
    assert heavy.relative_u == pytest.approx(0.01)
    with pytest.raises(QuantityError):
        load_index_m5(Measured(0.1), 0.0)
    number = reynolds_number(5.1, 24_000, chord_mm=11.0, density_kg_per_m3=1.2, air_temp_c=20.0)
    assert number == pytest.approx(1.2 * 0.75 * 162.8 * 0.011 / 1.813e-5, rel=0.01)


def test_reynolds_exponent_is_pooled_and_only_where_shown():
    rng = np.random.default_rng(1)
    numbers = np.array([3e4, 5e4, 8e4, 1.2e5])
    rising = [
        (numbers, c * numbers**0.1 * np.exp(rng.normal(0, 0.003, 4))) for c in (0.04, 0.06, 0.05)
    ]
    assert pooled_reynolds_exponent(rising).value == pytest.approx(0.1, abs=0.01)
    flat = [(numbers, c * np.exp(rng.normal(0, 0.01, 4))) for c in (0.04, 0.06, 0.05)]
    assert isinstance(pooled_reynolds_exponent(flat), Absent)


def test_best_load_of_the_worked_example():
    idle, ohm = Measured(1.1), Measured(0.052)
    best = best_load(voltage_v=14.8, no_load_current_a=idle, resistance_ohm=ohm)
    assert best.current_a.value == pytest.approx(17.69, abs=0.005)
    assert best.efficiency_pct.value == pytest.approx(88.0, abs=0.05)
    doubled = best_load(voltage_v=29.6, no_load_current_a=idle, resistance_ohm=ohm)
    assert doubled.current_a.value / best.current_a.value == pytest.approx(np.sqrt(2))


def test_a_best_load_is_as_unsure_as_i0_and_r():
    """Of one fit, where both are too high together, the current keeps its place and the efficiency
    does not."""

    def best(idle_a, ohm):
        return best_load(
            voltage_v=14.8,
            no_load_current_a=Measured(1.1, {"fit@A": idle_a}),
            resistance_ohm=Measured(0.052, {"fit@A": ohm}),
        )

    for idle_a, ohm in ((0.022, 0.0), (0.0, 0.00104), (0.022, 0.00104), (0.022, -0.00104)):
        high, low = (
            best_load(
                voltage_v=14.8,
                no_load_current_a=Measured(1.1 + sign * idle_a),
                resistance_ohm=Measured(0.052 + sign * ohm),
            )
            for sign in (1.0, -1.0)
        )
        found = best(idle_a, ohm)
        for name in ("current_a", "efficiency_pct"):
            moved = 0.5 * (getattr(high, name).value - getattr(low, name).value)
            part = getattr(found, name).components["fit@A"]
            assert part == pytest.approx(moved, rel=1e-3, abs=1e-9), name


def test_best_load_is_the_maximum_of_the_motors_own_efficiency():
    v, i0, r = 14.8, 1.1, 0.052
    current = np.linspace(5, 60, 5000)
    efficiency = (v - current * r) * (current - i0) / (v * current)
    best = best_load(voltage_v=v, no_load_current_a=Measured(i0), resistance_ohm=Measured(r))
    assert best.current_a.value == pytest.approx(current[np.argmax(efficiency)], abs=0.02)
    assert best.efficiency_pct.value == pytest.approx(100 * efficiency.max(), abs=1e-4)
