"""Torque over speed: the lines meet where the prediction says they do."""

import math

import numpy as np
import pytest

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller
from spindle_core.planning.torque_lines import load_line, motor_line, torque_chart

AIR = Measured(1.225, {"air": 0.005})


def motor(kv=1900.0, ohm=0.06, idle=1.0, warming=0.0, slope=0.0):
    return KnownMotor(
        Measured(kv, {"fit": 0.01 * kv}),
        Measured(ohm, {"fit": 0.03 * ohm}),
        Measured(idle),
        slope,
        Measured(warming),
        8.0,
        Foundation.IDENTIFIED,
        "identified from 3 runs",
    )


def propeller(cp=0.12, exponent=0.0):
    return KnownPropeller(
        5.1,
        Measured(0.19, {"a": 0.004}),
        Measured(cp, {"b": 0.003}),
        Foundation.IDENTIFIED,
        "identified",
        0.0,
        exponent,
    )


@pytest.mark.parametrize("warming", [0.0, 2e-6])
@pytest.mark.parametrize("exponent", [0.0, -0.05])
def test_a_load_meets_the_motors_line_where_the_prediction_says(warming, exponent):
    found = torque_chart(
        motor(warming=warming), {"a": propeller(exponent=exponent)}, [14.8, 22.2], AIR
    )
    assert len(found.meetings) == 2
    for meeting in found.meetings:
        line, load = found.motor[meeting.voltage_v], found.propellers["a"]
        speed, torque = (meeting.figures[n].value for n in ("speed_rpm", "torque_nm"))
        assert np.interp(speed, load.speed_rpm, load.torque_nm) == pytest.approx(torque, rel=0.01)
        assert np.interp(speed, line.speed_rpm, line.torque_nm) == pytest.approx(torque, rel=0.02)
        assert meeting.figures["torque_nm"].u > 0
    low, high = found.meetings
    assert low.figures["thrust_gf"].value < high.figures["thrust_gf"].value


def test_the_line_begins_at_no_torque_and_falls_with_speed():
    line = motor_line(motor(slope=1e-5), 16.0)
    assert line.torque_nm[-1] == 0.0
    assert (np.diff(line.speed_rpm) > 0).all()
    assert (np.diff(line.torque_nm) < 0).all()
    # kv·(V − R·I0) with I0 at that speed, R warmed by the case.
    assert line.speed_rpm[-1] == pytest.approx(1900.0 * (16.0 - 0.06 * 1.3), rel=0.003)
    stall = motor_line(motor(), 16.0)
    assert stall.speed_rpm[0] == pytest.approx(0.0, abs=200.0)


def test_a_heavier_propeller_asks_for_more_and_the_drawing_ends_with_the_motor():
    light, heavy = (load_line(propeller(cp), 1.225, fastest_rpm=20_000.0) for cp in (0.1, 0.2))
    assert heavy.torque_nm[-1] == pytest.approx(2.0 * light.torque_nm[-1])
    n = 20_000.0 / 60.0
    expected = 0.1 * 1.225 * n**2 * (5.1 * 0.0254) ** 5 / (2 * math.pi)
    assert light.torque_nm[-1] == pytest.approx(expected)
    cut = load_line(propeller(0.2), 1.225, fastest_rpm=20_000.0, most_nm=0.05)
    assert cut.torque_nm.max() <= 0.05


def test_what_does_not_turn_meets_nothing():
    found = torque_chart(motor(idle=9.0, ohm=2.0), {"a": propeller()}, [8.0], AIR)
    assert isinstance(found.meetings[0].figures["torque_nm"], Absent)


@pytest.mark.parametrize("voltages", [[], [0.0], [16.0, -3.0]])
def test_no_voltage_no_line(voltages):
    with pytest.raises(QuantityError, match="above 0 V"):
        torque_chart(motor(), {"a": propeller()}, voltages, AIR)


def test_a_heavier_load_turns_slower_and_so_its_torque_is_surer_than_its_cp():
    exact = KnownMotor(
        Measured(1900.0),
        Measured(0.06),
        Measured(1.0),
        0.0,
        Measured(0.0),
        8.0,
        Foundation.IDENTIFIED,
        "runs",
    )
    load = KnownPropeller(
        5.1, Measured(0.19), Measured(0.12, {"b@load": 0.006}), Foundation.IDENTIFIED, ""
    )

    def torque(cp):
        moved = KnownPropeller(5.1, Measured(0.19), Measured(cp), Foundation.IDENTIFIED, "")
        found = torque_chart(exact, {"a": moved}, [16.0], Measured(1.225)).meetings[0]
        return found.figures["torque_nm"].value

    figure = torque_chart(exact, {"a": load}, [16.0], Measured(1.225)).meetings[0].figures
    own = figure["torque_nm"].components["b@load"]
    assert own == pytest.approx((torque(0.126) - torque(0.114)) / 2.0, rel=0.02)
    assert own / figure["torque_nm"].value < 0.05
