"""The simulated physics against the closed solution and the balance of energy."""

import dataclasses

import pytest

from spindle_bench.stand.physics import Mounted, Physics, TrueMotor, TrueSupply
from spindle_core.model.operating_point import Motor, Propeller, solve

MOTOR = TrueMotor(Motor(1900, 0.15, 1.2, 2e-5), 2e-6, 30.0, copper_share=0.0)
PROP = Propeller(5.1, 0.21, 0.145)


def settled(duty, supply, *, density=1.2):
    physics = Physics(Mounted(MOTOR, PROP, 4e-6, supply, air_density_kg_per_m3=density))
    physics.advance(2.0, 100.0 * duty)
    return physics


@pytest.mark.parametrize("duty", [0.3, 0.5, 1.0])
@pytest.mark.parametrize("resistance", [0.001, 0.012])
def test_settles_where_the_closed_solution_says(duty, resistance):
    physics = settled(duty, TrueSupply(16.0, resistance))
    point = solve(
        MOTOR.electrical,
        PROP,
        voltage_v=16.0,
        duty=duty,
        density_kg_per_m3=1.2,
        pack_resistance_ohm=resistance,
    )
    assert physics.speed_rpm == pytest.approx(point.speed_rpm, rel=1e-4)
    assert physics.battery_current_a == pytest.approx(point.current_a, rel=1e-3)
    assert physics.thrust_gf == pytest.approx(point.thrust_gf, rel=3e-4)
    assert physics.terminal_v == pytest.approx(point.voltage_v, rel=1e-4)


def test_supply_trips_and_stays_off():
    physics = settled(1.0, TrueSupply(16.0, 0.001, trip_a=15.0))
    assert physics.tripped
    assert physics.terminal_v == 0.0
    assert physics.speed_rpm < 2000


def test_a_pack_sags_as_it_empties():
    pack = TrueSupply(16.8, 0.012, capacity_as=400.0)
    physics = Physics(Mounted(MOTOR, PROP, 4e-6, pack))
    physics.advance(1.0, 100.0)
    fresh = physics.terminal_v
    physics.advance(8.0, 100.0)
    assert physics.terminal_v < fresh - 0.3
    assert physics.used_as > 150


def test_heat_goes_up_under_load_and_on_rising_in_the_case_after_the_stop():
    hot = dataclasses.replace(MOTOR, copper_share=0.8)
    physics = Physics(Mounted(hot, PROP, 4e-6, TrueSupply(16.0, 0.001)))
    physics.advance(6.0, 100.0)
    case_at_stop, winding_at_stop = physics.case_c, physics.winding_c
    assert winding_at_stop > case_at_stop > 21.5
    physics.advance(6.0, 0.0)
    assert physics.case_c > case_at_stop
    physics.advance(900.0, 0.0)
    assert physics.case_c == pytest.approx(21.0, abs=1.0)


def test_a_warm_winding_gives_less():
    cold, warm = (
        Physics(
            Mounted(
                dataclasses.replace(MOTOR, copper_share=0.8), PROP, 4e-6, TrueSupply(16.0, 0.001)
            )
        )
        for _ in range(2)
    )
    warm.warm_to(80.0)
    cold.advance(1.0, 100.0)
    warm.advance(1.0, 100.0)
    assert warm.thrust_gf < 0.985 * cold.thrust_gf
