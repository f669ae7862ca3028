"""What turns, pulls and heats: motor, propeller, ESC and supply, integrated in small steps.

The equations are those of :mod:`spindle_core.operating_point` with inertia and heat added; the
tests hold the steady state of this integration against that closed solution.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from spindle_core.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K, NEWTON_PER_GF
from spindle_core.operating_point import Motor, Propeller, propeller_torque_coefficient

LONGEST_STEP_S = 0.002


@dataclass(frozen=True, slots=True)
class TrueMotor:
    """A motor as it is: electrical constants at 20 °C, inertia [kg·m²], mass [g]."""

    electrical: Motor
    inertia_kg_m2: float
    mass_g: float
    copper_share: float = 0.8
    """Share of R that is copper and grows with temperature; the rest is ESC and commutation."""


@dataclass(frozen=True, slots=True)
class TrueSupply:
    """A bench supply (with a trip current) or a pack (with its internal resistance).

    ``open_circuit_v`` full [V], ``resistance_ohm`` [Ω], ``trip_a`` None for a pack,
    ``capacity_as`` [A·s] None for a supply.
    """

    open_circuit_v: float
    resistance_ohm: float
    trip_a: float | None = None
    capacity_as: float | None = None


@dataclass(frozen=True, slots=True)
class Mounted:
    """What is on the stand, and the air around it."""

    motor: TrueMotor
    propeller: Propeller
    propeller_inertia_kg_m2: float
    supply: TrueSupply
    ambient_c: float = 21.0
    air_density_kg_per_m3: float = 1.2


@dataclass(slots=True)
class Physics:
    """The state of what is mounted. All in SI but for the names that say otherwise."""

    mounted: Mounted
    esc_slew_per_s: float = 6.0
    esc_current_limit_a: float = 90.0
    winding_c: float = field(init=False)
    case_c: float = field(init=False)
    omega: float = 0.0
    duty: float = 0.0
    motor_current_a: float = 0.0
    terminal_v: float = field(init=False)
    used_as: float = 0.0
    tripped: bool = False

    def __post_init__(self) -> None:
        self.winding_c = self.case_c = self.mounted.ambient_c
        self.terminal_v = self.mounted.supply.open_circuit_v

    @property
    def speed_rpm(self) -> float:
        """Mechanical speed [rpm]."""
        return self.omega * 30.0 / math.pi

    @property
    def battery_current_a(self) -> float:
        """Current from the supply, duty × motor current [A]."""
        return self.duty * self.motor_current_a

    @property
    def thrust_gf(self) -> float:
        """Static thrust [gf]."""
        prop = self.mounted.propeller
        revolutions = self.omega / (2.0 * math.pi)
        density = self.mounted.air_density_kg_per_m3
        return prop.ct * density * revolutions**2 * prop.diameter_m**4 / NEWTON_PER_GF

    @property
    def shaft_torque_nm(self) -> float:
        """Torque the propeller takes, which the stand's torque arm sees [N·m]."""
        return self._kq() * self.omega**2

    def _kq(self) -> float:
        return propeller_torque_coefficient(
            self.mounted.propeller, self.mounted.air_density_kg_per_m3
        )

    def warm_to(self, temperature_c: float) -> None:
        """Set winding and case to a temperature, as after an earlier run."""
        self.winding_c = self.case_c = temperature_c

    def advance(self, seconds: float, throttle_pct: float) -> None:
        """Integrate over ``seconds`` at a commanded throttle [%]."""
        steps = max(1, math.ceil(seconds / LONGEST_STEP_S - 1e-9))
        for _ in range(steps):
            self._step(seconds / steps, throttle_pct / 100.0)

    def _step(self, dt: float, wanted_duty: float) -> None:
        most = self.esc_slew_per_s * dt
        self.duty += min(most, max(-most, wanted_duty - self.duty))
        supply = self.mounted.supply
        self._electric(supply)
        self._turn(dt)
        self._heat(dt)
        current = self.battery_current_a
        self.used_as += current * dt
        self.terminal_v = (
            0.0 if self.tripped else self._open_circuit_v(supply) - supply.resistance_ohm * current
        )
        if supply.trip_a is not None and current > supply.trip_a:
            self.tripped = True

    def _open_circuit_v(self, supply: TrueSupply) -> float:
        if supply.capacity_as is None:
            return supply.open_circuit_v
        # A lithium cell between full and flat: steep at both ends, level between.
        left = max(0.0, 1.0 - self.used_as / supply.capacity_as)
        shape = 0.86 + 0.09 * left + 0.05 * left**8 - 0.12 * math.exp(-left / 0.05)
        return supply.open_circuit_v * shape

    def _electric(self, supply: TrueSupply) -> None:
        motor = self.mounted.motor
        kt = motor.electrical.torque_constant_nm_per_a
        warmer = COPPER_TEMPERATURE_COEFFICIENT_PER_K * (self.winding_c - 20.0)
        resistance = motor.electrical.resistance_ohm * (1.0 + motor.copper_share * warmer)
        volts = 0.0 if self.tripped else self._open_circuit_v(supply)
        drive = self.duty * volts - kt * self.omega
        # The supply's own resistance appears as d²·Ri on the motor's side.
        current = drive / (resistance + self.duty**2 * supply.resistance_ohm)
        # Without active braking the bridge cannot pull current out of a coasting motor.
        self.motor_current_a = min(max(current, 0.0), self.esc_current_limit_a)

    def _turn(self, dt: float) -> None:
        motor = self.mounted.motor
        electrical = motor.electrical
        drag_a = electrical.no_load_current_a + electrical.no_load_slope_a_per_rpm * self.speed_rpm
        kt = electrical.torque_constant_nm_per_a
        torque = kt * (self.motor_current_a - drag_a) - self._kq() * self.omega**2
        inertia = motor.inertia_kg_m2 + self.mounted.propeller_inertia_kg_m2
        self.omega = max(0.0, self.omega + torque / inertia * dt)

    def _heat(self, dt: float) -> None:
        motor, ambient = self.mounted.motor, self.mounted.ambient_c
        copper = motor.electrical.resistance_ohm * motor.copper_share * self.motor_current_a**2
        kt = motor.electrical.torque_constant_nm_per_a
        iron = kt * motor.electrical.no_load_current_a * self.omega
        winding_j_per_k, case_j_per_k = 0.10 * motor.mass_g, 0.42 * motor.mass_g
        between = 0.035 * motor.mass_g * (self.winding_c - self.case_c)
        still, moving = 0.0030 * motor.mass_g, 0.000012 * motor.mass_g * self.omega
        away = (still + moving) * (self.case_c - ambient)
        self.winding_c += (copper - between) / winding_j_per_k * dt
        self.case_c += (iron + between - away) / case_j_per_k * dt
