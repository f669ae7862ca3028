"""Limits of supplies and ESCs, corrections to nominal conditions, flight, and matched expo."""

from dataclasses import replace

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.model.correction import At, corrected
from spindle_core.model.in_flight import in_flight, torque_reserve_pct, zero_thrust_advance_ratio
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.model.supply import (
    BenchSupply,
    Pack,
    cell_open_circuit_v,
    parallel,
    settled_on_supply,
)
from spindle_core.reduction.throttle_feel import matching_expo

MOTOR, PROP = Motor(1900.0, 0.15, 1.2), Propeller(5.1, 0.21, 0.145)


def test_a_supply_without_limit_is_the_plain_point():
    free = settled_on_supply(MOTOR, PROP, BenchSupply(22.2, 60.0))
    assert free.limited_by == ""
    assert free.point == solve(MOTOR, PROP, voltage_v=22.2)


def test_a_supply_at_its_limit_lets_its_voltage_fall():
    held = settled_on_supply(MOTOR, PROP, BenchSupply(22.2, 30.0))
    assert held.limited_by == "supply"
    assert held.point.current_a == pytest.approx(30.0, abs=0.01)
    assert held.point.voltage_v < 18.0
    assert settled_on_supply(MOTOR, PROP, BenchSupply(22.2, 30.0, trips=True)).limited_by == "trip"


def test_an_esc_at_its_limit_lowers_its_duty():
    held = settled_on_supply(MOTOR, PROP, BenchSupply(22.2), esc_current_limit_a=25.0)
    assert held.limited_by == "esc"
    assert held.point.motor_current_a == pytest.approx(25.0, abs=0.01)


def test_a_pack_sags():
    pack = Pack(6, 1300.0, 0.012, charge=0.9)
    found = settled_on_supply(MOTOR, PROP, pack).point
    assert found.voltage_v == pytest.approx(pack.open_circuit_v - 0.012 * found.current_a, abs=1e-3)


def test_cells_from_full_to_empty():
    volts = [cell_open_circuit_v(q) for q in np.linspace(0, 1, 50)]
    assert volts[0] == pytest.approx(3.3)
    assert volts[-1] == pytest.approx(4.2, abs=0.01)
    assert all(np.diff(volts) > 0)


def test_packs_in_parallel_are_one_supply():
    both = parallel([Pack(4, 1500.0, 0.02), Pack(4, 1000.0, 0.03)])
    assert both.capacity_mah == 2500.0
    assert both.resistance_ohm == pytest.approx(0.012)
    with pytest.raises(QuantityError) as caught:
        parallel([Pack(4, 1500.0, 0.02), Pack(6, 1500.0, 0.02)])
    assert caught.value.code == "unequal_packs"


def test_correction_by_model_turns_one_condition_into_the_other():
    low, nominal = At(21.0, 1.1469), At(22.2, 1.2250)
    thrust = Measured(
        solve(MOTOR, PROP, voltage_v=21.0, density_kg_per_m3=1.1469).thrust_gf, {"r": 8}
    )
    found = corrected(
        thrust, "thrust_gf", measured_at=low, wanted_at=nominal, motor=MOTOR, propeller=PROP
    )
    assert found.value == pytest.approx(1675.4, abs=0.1)
    assert found.component("model") > 0


def test_correction_without_model_uses_powers_and_widens():
    figure = Measured(1000.0, {"within_run": 5.0})
    found = corrected(figure, "thrust_gf", measured_at=At(15.0, 1.15), wanted_at=At(16.0, 1.225))
    assert found.value == pytest.approx(1000 * (16 / 15) ** 1.7 * (1.225 / 1.15) ** 0.65)
    expected = found.value * np.log(16 / 15) * 0.2 / np.sqrt(3)
    assert found.component("voltage_exponent") == pytest.approx(expected)
    model = corrected(
        figure,
        "thrust_gf",
        measured_at=At(15.0, 1.15),
        wanted_at=At(16.0, 1.225),
        motor=MOTOR,
        propeller=PROP,
    )
    assert model.u < found.u
    assert model.value == pytest.approx(found.value, rel=0.02)


GAIN, SCATTER = "gain@meter/voltage_v", "within_run"


@pytest.mark.parametrize("by_model", [False, True])
@pytest.mark.parametrize("name", ["thrust_gf", "power_w", "current_a", "speed_rpm"])
def test_what_voltmeter_and_barometer_show_too_much_is_in_the_corrected_figure(name, by_model):
    """Against a correction from conditions that are off by what they may be."""
    models = {"motor": MOTOR, "propeller": PROP} if by_model else {}
    figure, wanted = Measured(1000.0), At(16.0, 1.225)

    def found(**parts):
        at = At(15.0, 1.15, **parts)
        return corrected(figure, name, measured_at=at, wanted_at=wanted, **models)

    def moved(volts, air):
        at = At(15.0 + volts, 1.15 + air)
        return corrected(figure, name, measured_at=at, wanted_at=wanted, **models).value

    exact = found()
    volts = found(voltage_parts={GAIN: 0.06})
    assert volts.value == exact.value
    assert volts.components[GAIN] == pytest.approx(moved(0.06, 0.0) - exact.value, rel=0.02)
    assert volts.components[GAIN] * (moved(0.06, 0.0) - exact.value) > 0
    air = found(density_parts={"air@run 1": 0.0046})
    assert air.components["air@run 1"] == pytest.approx(moved(0.0, 0.0046) - exact.value, rel=0.02)
    assert volts.u > exact.u < air.u


def test_a_gain_that_is_in_the_power_already_is_taken_out_of_it():
    """Watts are volts times amps: of the 2.5 % that 1 % of a voltmeter takes off, one is in the
    watts already, with the other sign. Scatter of both has no sign."""
    power = Measured(500.0, {GAIN: 5.0, SCATTER: 3.0})
    at = At(15.0, voltage_parts={GAIN: 0.15, SCATTER: 0.03})
    found = corrected(power, "power_w", measured_at=at, wanted_at=At(15.0))
    assert found.value == pytest.approx(500.0)
    assert found.components[GAIN] == pytest.approx(5.0 - 2.5 * 5.0)
    assert found.components[SCATTER] == pytest.approx(np.hypot(3.0, 2.5 * 1.0))


def test_correction_round_trip_and_limits():
    figure = Measured(1000.0)
    there = corrected(figure, "power_w", measured_at=At(15.0), wanted_at=At(16.0))
    back = corrected(there, "power_w", measured_at=At(16.0), wanted_at=At(15.0))
    assert back.value == pytest.approx(1000.0)
    far = corrected(figure, "power_w", measured_at=At(12.0), wanted_at=At(16.0))
    assert far.reason == "too_far_from_nominal"
    with pytest.raises(QuantityError):
        corrected(figure, "vibration_g", measured_at=At(15.0), wanted_at=At(16.0))


def test_flight_unloads_the_propeller():
    still = in_flight(MOTOR, PROP, pitch_in=4.2, flight_speed_m_per_s=0.0, voltage_v=22.2)
    assert still.current_a.value == pytest.approx(47.74, abs=0.01)
    assert still.rule_current_a.reason == "no_rule"
    fast = in_flight(
        MOTOR,
        PROP,
        pitch_in=4.2,
        flight_speed_m_per_s=25.0,
        voltage_v=22.2,
        less_current_pct=(21.0, 28.0),
    )
    assert fast.current_a.value < still.current_a.value
    assert fast.thrust_gf.value < still.thrust_gf.value
    assert fast.unloading_pct.value > 0
    assert fast.current_a.u > 0
    assert fast.rule_current_a == pytest.approx((47.74 * 0.72, 47.74 * 0.79), abs=0.01)
    for wrong in ((28.0, 21.0), (-1.0, 5.0), (5.0, 100.0), (float("nan"), 5.0)):
        with pytest.raises(QuantityError, match="less current"):
            in_flight(
                MOTOR,
                PROP,
                pitch_in=4.2,
                flight_speed_m_per_s=5.0,
                voltage_v=22.2,
                less_current_pct=wrong,
            )
    with pytest.raises(QuantityError) as caught:
        in_flight(MOTOR, PROP, pitch_in=4.2, flight_speed_m_per_s=90.0, voltage_v=22.2)
    assert caught.value.code == "beyond_pitch_speed"
    assert zero_thrust_advance_ratio(5.1, 5.1).value == pytest.approx(1.15)


def test_flight_takes_off_what_the_stand_showed_and_says_how_well():
    def flown(propeller, speed=25.0, motor=MOTOR):
        return in_flight(motor, propeller, pitch_in=4.2, flight_speed_m_per_s=speed, voltage_v=22.2)

    found = flown(PROP)
    static = solve(MOTOR, PROP, voltage_v=22.2)
    assert found.current_share.value == pytest.approx(found.current_a.value / static.current_a)
    assert set(found.current_share.components) == {"zero_thrust", "assumed_power_fall", "model"}
    assert found.current_share.assumed
    # By how much CP falls is assumed: a quarter of it is a quarter of what flight takes off.
    part = abs(found.current_share.components["assumed_power_fall"])
    assert part == pytest.approx(0.25 * (1.0 - found.current_share.value), rel=0.25)
    # What is wrong with the motor or the propeller hardly changes the share: both are in it twice.
    for off in (
        flown(replace(PROP, cp=1.03 * PROP.cp)),
        flown(PROP, motor=Motor(1957.0, 0.15, 1.2)),
    ):
        moved = off.current_share.value - found.current_share.value
        assert abs(moved) < found.current_share.u
    # Without any speed nothing is taken off, and that is known.
    still = flown(PROP, speed=0.0)
    assert still.current_share.value == pytest.approx(1.0)
    assert still.current_share.u == still.unloading_pct.u == 0.0


def test_torque_reserve_is_larger_under_a_heavier_propeller():
    heavy, light = PROP, Propeller(4.0, 0.16, 0.09)
    reserves = [
        torque_reserve_pct(MOTOR, solve(MOTOR, prop, voltage_v=22.2), voltage_v=22.2)
        for prop in (heavy, light)
    ]
    assert reserves[0] > reserves[1] > 0


def test_expo_that_makes_two_motors_feel_alike():
    def curve(x):
        return 1500.0 * x**1.4

    reference = 1000.0 * 0.2**1.4
    e = matching_expo(curve, reference_gf=reference)
    assert curve((1 - e) * 0.2 + e * 0.008) == pytest.approx(reference, rel=1e-4)
    assert matching_expo(curve, reference_gf=curve(0.2) * 1.1).reason == "already_softer"
    assert matching_expo(curve, reference_gf=0.1).reason == "no_expo"
    assert matching_expo(curve, reference_gf=curve(0.2)) == 0.0
