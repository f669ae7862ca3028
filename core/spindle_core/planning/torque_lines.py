"""Torque over speed: what a motor gives at each voltage, what each propeller asks for, and the
points where the two meet.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, Origin, propagate
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.predict import WARMED, KnownSupply, predict

POINTS = 61
HEADROOM = 1.35
"""Lines are drawn up to this share of the largest torque at which they meet a propeller."""


@dataclass(frozen=True, slots=True)
class TorqueLine:
    """What a motor gives at one voltage, or a propeller asks for: speed [rpm], torque [N·m]."""

    speed_rpm: Floats
    torque_nm: Floats


@dataclass(frozen=True, slots=True)
class Meeting:
    """Where a propeller's load meets the motor's line at a voltage [V]: the full-throttle point.

    Figures: ``speed_rpm``, ``torque_nm``, ``current_a``, ``power_w``, ``thrust_gf``;
    absent where it would not turn.
    """

    propeller: str
    voltage_v: float
    figures: Mapping[str, Figure]


@dataclass(frozen=True, slots=True)
class TorqueChart:
    """Lines of the motor by voltage, load lines by propeller, and all their meetings."""

    motor: Mapping[float, TorqueLine]
    propellers: Mapping[str, TorqueLine]
    meetings: tuple[Meeting, ...]


def torque_chart(
    motor: KnownMotor,
    propellers: Mapping[str, KnownPropeller],
    voltages_v: Sequence[float],
    density_kg_per_m3: Measured,
) -> TorqueChart:
    """The chart of a motor at stiff voltages, its winding as warm as a run makes it.

    :raises QuantityError: a voltage that is not above 0, or none.
    """
    if not voltages_v or any(volts <= 0 for volts in voltages_v):
        raise QuantityError("A torque line needs voltages above 0 V.", code="voltage")
    meetings = [
        Meeting(name, volts, _meeting(motor, propeller, volts, density_kg_per_m3))
        for volts in voltages_v
        for name, propeller in propellers.items()
    ]
    torques = [
        figure.value for one in meetings if isinstance(figure := one.figures["torque_nm"], Measured)
    ]
    top = HEADROOM * max(torques, default=math.inf)
    lines = {volts: motor_line(motor, volts, most_nm=top) for volts in voltages_v}
    fastest = max((float(s) for line in lines.values() for s in line.speed_rpm[-1:]), default=0.0)
    loads = {
        name: load_line(one, density_kg_per_m3.value, fastest_rpm=fastest, most_nm=top)
        for name, one in propellers.items()
    }
    return TorqueChart(lines, loads, tuple(meetings))


def motor_line(motor: KnownMotor, voltage_v: float, *, most_nm: float = math.inf) -> TorqueLine:
    """Torque over speed at full throttle: d·V = rpm/kv + R·I and torque = Kt·(I − I0).

    R stands above its value by what the current makes of it, as in a run's prediction.

    :param most_nm: largest torque that is drawn; stall where nothing limits it.
    """
    model = motor.model
    kt = model.torque_constant_nm_per_a
    ohm = model.resistance_ohm
    rising = WARMED * max(0.0, motor.warming_ohm_per_a2.value)
    stall = _stall_a(ohm, rising, voltage_v)
    most_a = min(stall, most_nm / kt + model.no_load_current_a + 0.5)
    current = np.linspace(0.0, most_a, 4 * POINTS)
    speed = model.kv_rpm_per_v * (voltage_v - current * (ohm + rising * current**2))
    idle = model.no_load_current_a + model.no_load_slope_a_per_rpm * speed
    torque = kt * (current - idle)
    kept = (torque >= -1e-9) & (speed >= 0) & (torque <= most_nm)
    # The end without torque lies between two currents; it is the zero of a straight line.
    speeds, torques = speed[kept], torque[kept]
    first = int(np.argmax(torque >= 0)) if (torque >= 0).any() else 0
    if first > 0:
        share = -torque[first - 1] / (torque[first] - torque[first - 1])
        zero = speed[first - 1] + share * (speed[first] - speed[first - 1])
        speeds, torques = np.concatenate(([zero], speeds)), np.concatenate(([0.0], torques))
    return TorqueLine(speeds[::-1], torques[::-1])


def _stall_a(ohm: float, rising: float, volts: float) -> float:
    """The current that leaves no speed [A]: I·(R + w·I²) = V, by Newton."""
    current = volts / ohm
    for _ in range(60):
        gap = current * (ohm + rising * current**2) - volts
        current -= gap / (ohm + 3.0 * rising * current**2)
    return current


def load_line(
    propeller: KnownPropeller,
    density_kg_per_m3: float,
    *,
    fastest_rpm: float,
    most_nm: float = math.inf,
) -> TorqueLine:
    """What a propeller asks for: CP·ρ·n²·D⁵/2π, with CP as it changes with speed."""
    speed = np.linspace(0.0, fastest_rpm, POINTS)
    torque = np.zeros(POINTS)
    for i, rpm in enumerate(speed):
        if rpm <= 0:
            continue
        model = propeller.model(float(rpm))
        n = rpm / 60.0
        torque[i] = model.cp * density_kg_per_m3 * n**2 * model.diameter_m**5 / (2.0 * math.pi)
    kept = torque <= most_nm
    return TorqueLine(speed[kept], torque[kept])


def _meeting(
    motor: KnownMotor, propeller: KnownPropeller, volts: float, density: Measured
) -> dict[str, Figure]:
    supply = KnownSupply(Measured(volts), Measured(0.0))
    found = dict(predict(motor, propeller, supply, density).figures)
    speed = found["speed_rpm"]
    if isinstance(speed, Absent):
        return {**found, "torque_nm": speed}
    rpm = speed.value
    cp = propeller.cp.scaled(propeller.model(rpm).cp / propeller.cp.value)
    torque = cp.value * density.value * (rpm / 60.0) ** 2 * propeller.model(rpm).diameter_m ** 5
    torque /= 2.0 * math.pi
    # A speed that came of a smaller CP carries that CP's part: the two pull against each other.
    found["torque_nm"] = propagate(
        lambda *_: torque,
        [cp, density, speed],
        partials=[torque / cp.value, torque / density.value, 2.0 * torque / rpm],
        origin=Origin.ESTIMATED,
    )
    return found
