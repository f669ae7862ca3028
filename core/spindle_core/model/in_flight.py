"""What changes when the air comes towards the propeller: estimates, never measurements.

A static stand loads a propeller more than flight does. CT falls with the advance ratio
J = v/(n·D) to zero at J_T, which follows from pitch and diameter; the motor then turns faster with
less current. Beside the solved estimate stands the bench's own rule, where it has one: it is typed,
or learnt from flights; there is no default.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import METRE_PER_INCH
from spindle_core.figures.measured import Absent, Measured, Origin, difference
from spindle_core.figures.numerics import root
from spindle_core.model.correction import MODEL_SHARE
from spindle_core.model.operating_point import Motor, OperatingPoint, Propeller, solve

ZERO_THRUST_OFFSET = 0.15
"""J_T lies above pitch/D, since a blade still lifts a little at no angle to its path."""

ZERO_THRUST_RELATIVE_U = 0.12
POWER_FALL, POWER_FALL_U = 0.6, 0.15
"""Share of CP that is gone where CT is 0, and how far a propeller may be from it: assumed."""


@dataclass(frozen=True, slots=True)
class InFlight:
    """Solved at one speed, with the range that the bench's own rule gives beside it.

    ``current_a``, ``thrust_gf`` and ``unloading_pct`` (how much faster than on the stand [%]) carry
    u from J_T, from what CP falls by, and from the change that the model makes; nothing of motor
    and propeller themselves, of which most cancels in ``current_share``: current in flight ÷ on the
    stand, for a current that was measured there. ``rule_current_a``: (low, high) [A]; absent where
    the bench has no rule.
    """

    speed_m_per_s: float
    advance_ratio: float
    speed_rpm: float
    current_a: Measured
    thrust_gf: Measured
    current_share: Measured
    rule_current_a: tuple[float, float] | Absent
    unloading_pct: Measured


def zero_thrust_advance_ratio(pitch_in: float, diameter_in: float) -> Measured:
    """J_T = pitch/D + 0.15, u 12 %: where a propeller stops pulling."""
    if pitch_in <= 0 or diameter_in <= 0:
        raise QuantityError("Pitch and diameter must be above 0.")
    value = pitch_in / diameter_in + ZERO_THRUST_OFFSET
    return Measured(value, {"zero_thrust": ZERO_THRUST_RELATIVE_U * value}, origin=Origin.ESTIMATED)


def in_flight(
    motor: Motor,
    propeller: Propeller,
    *,
    pitch_in: float,
    flight_speed_m_per_s: float,
    voltage_v: float,
    duty: float = 1.0,
    density_kg_per_m3: float = 1.2250,
    less_current_pct: tuple[float, float] | None = None,
) -> InFlight:
    """The operating point at a flight speed, with CT(J) = CT₀·(1 − J/J_T).

    CP falls as CP₀·(1 − 0.6·(J/J_T)²), with 0.6 ± 0.15. The speed is found by bisection, since J
    depends on it.

    :param flight_speed_m_per_s: along the propeller's axis, ≥ 0.
    :param less_current_pct: the bench's own rule: so much less current than on the stand, as a
        range (low, high) [%].
    :raises QuantityError: a rule outside 0 to 100 %, a negative speed, or one at which the
        propeller no longer pulls.
    """
    if flight_speed_m_per_s < 0:
        raise QuantityError("A flight speed cannot be below 0 m/s.")
    zero = zero_thrust_advance_ratio(pitch_in, propeller.diameter_in)

    def at(j_zero: float, fall: float = POWER_FALL) -> tuple[OperatingPoint, float]:
        return _solve_at(
            motor, propeller, flight_speed_m_per_s, j_zero, fall, voltage_v, duty, density_kg_per_m3
        )

    point, j = at(zero.value)
    step = zero.u
    moved = {
        "zero_thrust": (at(zero.value + step)[0], at(max(zero.value - step, j + 1e-3))[0]),
        "assumed_power_fall": tuple(
            at(zero.value, POWER_FALL + sign * POWER_FALL_U)[0] for sign in (1.0, -1.0)
        ),
    }
    static = solve(
        motor, propeller, voltage_v=voltage_v, duty=duty, density_kg_per_m3=density_kg_per_m3
    )

    def figure(name: str) -> Measured:
        value = point.value(name)
        parts = {
            key: 0.5 * (high.value(name) - low.value(name)) for key, (high, low) in moved.items()
        }
        change = value - static.value(name)
        parts["model"] = MODEL_SHARE * change / math.sqrt(3.0)
        return Measured(value, parts, origin=Origin.ESTIMATED)

    current, speed = figure("current_a"), figure("speed_rpm")
    faster = difference(speed.scaled(100.0 / static.speed_rpm), Measured(100.0))
    return InFlight(
        flight_speed_m_per_s,
        j,
        point.speed_rpm,
        current,
        figure("thrust_gf"),
        current.scaled(1.0 / static.current_a),
        _by_rule(static.current_a, less_current_pct),
        faster,
    )


def _solve_at(
    motor: Motor,
    propeller: Propeller,
    v: float,
    j_zero: float,
    fall: float,
    volts: float,
    duty: float,
    rho: float,
) -> tuple[OperatingPoint, float]:
    diameter = propeller.diameter_in * METRE_PER_INCH

    def with_j(j: float) -> OperatingPoint:
        share = min(j / j_zero, 0.999)
        moved = Propeller(
            propeller.diameter_in,
            propeller.ct * (1.0 - share),
            propeller.cp * (1.0 - fall * share**2),
        )
        return solve(motor, moved, voltage_v=volts, duty=duty, density_kg_per_m3=rho)

    def gap(j: float) -> float:
        return j - v / (with_j(j).speed_rpm / 60.0 * diameter)

    if v == 0:
        return with_j(0.0), 0.0
    if gap(0.999 * j_zero) < 0:
        raise QuantityError(
            f"At {v:g} m/s the propeller no longer pulls; its pitch speed is lower.",
            code="beyond_pitch_speed",
        )
    j = root(gap, 0.0, 0.999 * j_zero, within=1e-6)
    return with_j(j), j


def _by_rule(static_a: float, less_pct: tuple[float, float] | None) -> tuple[float, float] | Absent:
    if less_pct is None:
        return Absent("no_rule", "the bench has no rule of its own for the current in flight")
    low, high = less_pct
    if not 0.0 <= low <= high < 100.0:
        raise QuantityError(
            f"So much less current in flight is 0 to below 100 %, low before high, "
            f"not {low:g} to {high:g}."
        )
    return static_a * (1.0 - high / 100.0), static_a * (1.0 - low / 100.0)


def torque_reserve_pct(
    motor: Motor, static: OperatingPoint, *, voltage_v: float, duty: float = 1.0
) -> float:
    """How much speed is left above the static point [%]: no-load speed against static speed.

    A heavily loaded motor has much to gain when the propeller unloads, a lightly loaded one none.
    """
    kt = motor.torque_constant_nm_per_a
    idle = duty * voltage_v - motor.resistance_ohm * motor.no_load_current_a
    slope = kt + motor.resistance_ohm * motor.no_load_slope_a_per_rpm * 30.0 / math.pi
    free_rpm = max(0.0, idle / slope) * 30.0 / math.pi
    return 100.0 * (free_rpm / static.speed_rpm - 1.0)
