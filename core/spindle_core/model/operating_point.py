"""Where a motor, a propeller and a supply settle.

Symbols: d duty (0–1), V supply voltage, ω rad/s, Kv' = 2π·kv/60, Kt = 60/(2π·kv) N·m/A,
R effective resistance (winding, leads, ESC, commutation), I0 no-load current, CP and CT the
propeller's coefficients on n = rpm/60 and diameter D.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import (
    METRE_PER_INCH,
    NEWTON_PER_GF,
    REFERENCE_AIR_DENSITY_KG_PER_M3,
)


@dataclass(frozen=True, slots=True)
class Motor:
    """kv [rpm/V], R [Ω], I0 = a + b·rpm [A, A per rpm]."""

    kv_rpm_per_v: float
    resistance_ohm: float
    no_load_current_a: float
    no_load_slope_a_per_rpm: float = 0.0

    def __post_init__(self) -> None:
        if self.kv_rpm_per_v <= 0:
            raise QuantityError(f"kV must be above 0 rpm/V, got {self.kv_rpm_per_v}.")
        if self.resistance_ohm <= 0:
            raise QuantityError(f"Resistance must be above 0 Ω, got {self.resistance_ohm}.")
        if self.no_load_current_a < 0:
            raise QuantityError(f"I0 cannot be below 0 A, got {self.no_load_current_a}.")

    @property
    def torque_constant_nm_per_a(self) -> float:
        """Kt = 60/(2π·kv) [N·m/A]."""
        return 60.0 / (2.0 * math.pi * self.kv_rpm_per_v)


@dataclass(frozen=True, slots=True)
class Propeller:
    """Diameter [in] and the static coefficients CT and CP (per n in 1/s)."""

    diameter_in: float
    ct: float
    cp: float

    def __post_init__(self) -> None:
        if self.diameter_in <= 0 or self.ct <= 0 or self.cp <= 0:
            raise QuantityError("A propeller's diameter, CT and CP must be above 0.")

    @property
    def diameter_m(self) -> float:
        """Diameter [m]."""
        return self.diameter_in * METRE_PER_INCH


@dataclass(frozen=True, slots=True)
class OperatingPoint:
    """The steady state; names carry their units."""

    speed_rpm: float
    current_a: float
    motor_current_a: float
    voltage_v: float
    thrust_gf: float
    power_w: float
    shaft_power_w: float

    @property
    def efficiency_g_per_w(self) -> float:
        """Thrust ÷ electrical power [gf/W]."""
        return self.thrust_gf / self.power_w

    @property
    def motor_efficiency_pct(self) -> float:
        """Shaft ÷ electrical power [%]."""
        return 100.0 * self.shaft_power_w / self.power_w

    def value(self, name: str) -> float:
        """One of the figures by its name with unit."""
        return float(getattr(self, name))


def propeller_torque_coefficient(propeller: Propeller, density_kg_per_m3: float) -> float:
    """kq in torque = kq·ω² [N·m·s²]: CP·ρ·D⁵/(2π·4π²)."""
    return propeller.cp * density_kg_per_m3 * propeller.diameter_m**5 / (8.0 * math.pi**3)


def propeller_thrust_gf(propeller: Propeller, speed_rpm: float, density_kg_per_m3: float) -> float:
    """Static thrust CT·ρ·n²·D⁴ [gf]."""
    newton = propeller.ct * density_kg_per_m3 * (speed_rpm / 60.0) ** 2 * propeller.diameter_m**4
    return newton / NEWTON_PER_GF


def solve(
    motor: Motor,
    propeller: Propeller,
    *,
    voltage_v: float,
    duty: float = 1.0,
    density_kg_per_m3: float = REFERENCE_AIR_DENSITY_KG_PER_M3,
    pack_resistance_ohm: float = 0.0,
) -> OperatingPoint:
    """The operating point: positive root of the torque balance.

    kq·ω² + (Kt²/R + Kt·b·30/π)·ω + Kt·a − Kt·d·V/R = 0, with battery current d·I (synchronous
    PWM in continuous conduction). A pack's resistance Ri sits in series on the battery side;
    with battery current d·I it acts as d²·Ri in series with the motor, so the same quadratic
    holds with R + d²·Ri and the open-circuit voltage, exactly and without iteration.

    :param voltage_v: supply voltage [V], or the pack's open-circuit voltage.
    :param duty: 0 < d ≤ 1.
    :param pack_resistance_ohm: Ri [Ω], 0 for a stiff supply.
    :raises QuantityError: impossible input, or a voltage too low to turn the motor.
    """
    if voltage_v <= 0:
        raise QuantityError(f"The supply voltage must be above 0 V, got {voltage_v}.")
    if not 0 < duty <= 1:
        raise QuantityError(f"Duty must lie in 0 to 1, got {duty}.")
    if density_kg_per_m3 <= 0:
        raise QuantityError(f"Air density must be above 0 kg/m³, got {density_kg_per_m3}.")
    if pack_resistance_ohm < 0:
        raise QuantityError(f"Pack resistance cannot be below 0 Ω, got {pack_resistance_ohm}.")
    kt = motor.torque_constant_nm_per_a
    resistance = motor.resistance_ohm + duty**2 * pack_resistance_ohm
    quadratic = propeller_torque_coefficient(propeller, density_kg_per_m3)
    linear = kt**2 / resistance + kt * motor.no_load_slope_a_per_rpm * 30.0 / math.pi
    constant = kt * motor.no_load_current_a - kt * duty * voltage_v / resistance
    if constant >= 0:
        raise QuantityError(
            "The voltage does not overcome the no-load current; the motor would not turn.",
            code="does_not_turn",
        )
    # Written with the sum in the denominator: no cancellation for light loads.
    omega = -2.0 * constant / (linear + math.sqrt(linear**2 - 4.0 * quadratic * constant))
    motor_current = (duty * voltage_v - kt * omega) / resistance
    terminal = voltage_v - duty * motor_current * pack_resistance_ohm
    rpm = omega * 30.0 / math.pi
    return OperatingPoint(
        speed_rpm=rpm,
        current_a=duty * motor_current,
        motor_current_a=motor_current,
        voltage_v=terminal,
        thrust_gf=propeller_thrust_gf(propeller, rpm, density_kg_per_m3),
        power_w=terminal * duty * motor_current,
        shaft_power_w=quadratic * omega**3,
    )
