"""The operating point against the worked table, and the balance of energy."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import QuantityError
from spindle_core.model.operating_point import Motor, Propeller, solve

MOTOR = Motor(1900, 0.15, 1.2)
PROP = Propeller(5.1, 0.21, 0.145)

WORKED = [
    ({"voltage_v": 22.2}, (28_575, 47.74, 1675.4, 1059.8, 699.9, 66.0, 1.581)),
    ({"voltage_v": 22.2, "duty": 0.5}, (16_386, 8.252, 551.0, 183.2, 132.0, 72.0, 3.008)),
    ({"voltage_v": 25.2}, (31_461, 57.61, 2030.9, 1451.8, 934.1, 64.3, 1.399)),
    (
        {"voltage_v": 22.2, "density_kg_per_m3": 1.1469},
        (29_026, 46.16, 1618.5, 1024.7, 686.8, 67.0, 1.580),
    ),
    (
        {"voltage_v": 25.0, "pack_resistance_ohm": 0.012},
        (30_650, 54.74, 1927.6, 1332.6, 863.7, 64.8, 1.447),
    ),
]


@pytest.mark.parametrize(("given_", "expected"), WORKED)
def test_worked_table(given_, expected):
    point = solve(MOTOR, PROP, **given_)
    rpm, amps, gf, watts, shaft, efficiency, g_per_w = expected
    assert point.speed_rpm == pytest.approx(rpm, abs=0.5)
    assert point.current_a == pytest.approx(amps, rel=2e-4)
    assert point.thrust_gf == pytest.approx(gf, abs=0.06)
    assert point.power_w == pytest.approx(watts, abs=0.06)
    assert point.shaft_power_w == pytest.approx(shaft, abs=0.06)
    assert point.motor_efficiency_pct == pytest.approx(efficiency, abs=0.06)
    assert point.efficiency_g_per_w == pytest.approx(g_per_w, abs=6e-4)


def test_hot_winding_row():
    hot = Motor(1900, 0.15 * (1 + 0.00393 * 60), 1.2)
    point = solve(hot, PROP, voltage_v=22.2)
    assert point.speed_rpm == pytest.approx(27_059, abs=0.5)
    assert point.thrust_gf == pytest.approx(1502.4, abs=0.06)


@given(
    st.floats(3, 30),
    st.floats(0.3, 1.0),
    st.floats(0.03, 0.3),
    st.floats(0, 0.05),
    st.floats(0, 4e-5),
)
def test_electrical_power_is_shaft_plus_losses(voltage, duty, resistance, pack, slope):
    motor = Motor(1900, resistance, 0.5, slope)
    point = solve(motor, PROP, voltage_v=voltage, duty=duty, pack_resistance_ohm=pack)
    omega = point.speed_rpm * 3.141592653589793 / 30
    drag = motor.torque_constant_nm_per_a * (0.5 + slope * point.speed_rpm) * omega
    copper = point.motor_current_a**2 * resistance
    assert point.power_w == pytest.approx(point.shaft_power_w + drag + copper, rel=1e-9)
    assert point.voltage_v == pytest.approx(voltage - pack * point.current_a, rel=1e-9)


@pytest.mark.parametrize(
    "wrong",
    [
        {"voltage_v": 0},
        {"voltage_v": 22, "duty": 0},
        {"voltage_v": 22, "duty": 1.1},
        {"voltage_v": 22, "density_kg_per_m3": 0},
        {"voltage_v": 22, "pack_resistance_ohm": -1},
        {"voltage_v": 0.1},
    ],
)
def test_impossible_input_is_refused(wrong):
    with pytest.raises(QuantityError):
        solve(MOTOR, PROP, **wrong)
