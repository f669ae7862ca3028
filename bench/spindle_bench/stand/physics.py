"""What turns, pulls and heats: motor, propeller, ESC and supply, integrated in small steps.

The equations are those of :mod:`spindle_core.model.operating_point` with inertia and heat
added; the tests hold the steady state of this integration against that closed solution.
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass, field

from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K, NEWTON_PER_GF
from spindle_core.model.operating_point import Motor, Propeller, propeller_torque_coefficient

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
    """What is on the stand, and the air around it.

    ``propeller`` None: a bare shaft, or a flywheel, of ``load_inertia_kg_m2``.
    """

    motor: TrueMotor
    propeller: Propeller | None
    load_inertia_kg_m2: float
    supply: TrueSupply
    ambient_c: float = 21.0
    air_density_kg_per_m3: float = 1.2


@dataclass(slots=True)
class Physics:
    """The state of what is mounted. All in SI but for the names that say otherwise.

    The ESC follows a command after ``esc_delay_s``, then at ``esc_slew_per_s``, and holds the
    motor's current to ``esc_current_limit_a``.
    """

    mounted: Mounted
    esc_slew_per_s: float = 6.0
    esc_current_limit_a: float = 90.0
    esc_delay_s: float = 0.008
    winding_c: float = field(init=False)
    case_c: float = field(init=False)
    omega: float = 0.0
    duty: float = 0.0
    motor_current_a: float = 0.0
    terminal_v: float = field(init=False)
    used_as: float = 0.0
    tripped: bool = False
    _commands: deque[tuple[float, float]] = field(default_factory=deque)
    _time_s: float = 0.0
    _wanted: float = 0.0

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
        """Static thrust [gf]; 0 without a propeller."""
        prop = self.mounted.propeller
        if prop is None:
            return 0.0
        revolutions = self.omega / (2.0 * math.pi)
        density = self.mounted.air_density_kg_per_m3
        return prop.ct * density * revolutions**2 * prop.diameter_m**4 / NEWTON_PER_GF

    @property
    def shaft_torque_nm(self) -> float:
        """Torque between motor and stand [N·m]: what turns the load and speeds it up.

        Equal to the propeller's at constant speed; negative while bearings slow a coasting rotor.
        """
        if self.omega <= 0.0:
            return 0.0
        kt = self.mounted.motor.electrical.torque_constant_nm_per_a
        return kt * (self.motor_current_a - self._drag_a())

    def _kq(self) -> float:
        prop = self.mounted.propeller
        if prop is None:
            return 0.0
        return propeller_torque_coefficient(prop, self.mounted.air_density_kg_per_m3)

    def _drag_a(self) -> float:
        electrical = self.mounted.motor.electrical
        return electrical.no_load_current_a + electrical.no_load_slope_a_per_rpm * self.speed_rpm

    def warm_to(self, temperature_c: float) -> None:
        """Set winding and case to a temperature, as after an earlier run."""
        self.winding_c = self.case_c = temperature_c

    def advance(self, seconds: float, throttle_pct: float) -> None:
        """Integrate over ``seconds`` at a commanded throttle [%]."""
        steps = max(1, math.ceil(seconds / LONGEST_STEP_S - 1e-9))
        duty = throttle_pct / 100.0
        if duty != (self._commands[-1][1] if self._commands else self._wanted):
            self._commands.append((self._time_s + self.esc_delay_s, duty))
        for _ in range(steps):
            self._step(seconds / steps)

    def _step(self, dt: float) -> None:
        self._time_s += dt
        while self._commands and self._commands[0][0] <= self._time_s + 1e-12:
            self._wanted = self._commands.popleft()[1]
        most = self.esc_slew_per_s * dt
        self.duty += min(most, max(-most, self._wanted - self.duty))
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
        kt = electrical.torque_constant_nm_per_a
        torque = kt * (self.motor_current_a - self._drag_a()) - self._kq() * self.omega**2
        inertia = motor.inertia_kg_m2 + self.mounted.load_inertia_kg_m2
        self.omega = max(0.0, self.omega + torque / inertia * dt)

    def _heat(self, dt: float) -> None:
        motor, ambient = self.mounted.motor, self.mounted.ambient_c
        # The winding heats with the resistance it has at its temperature, the ESC's stays outside.
        warmer = COPPER_TEMPERATURE_COEFFICIENT_PER_K * (self.winding_c - 20.0)
        cold = motor.electrical.resistance_ohm * motor.copper_share
        copper = cold * (1.0 + warmer) * self.motor_current_a**2
        kt = motor.electrical.torque_constant_nm_per_a
        iron = kt * self._drag_a() * self.omega
        winding_j_per_k, case_j_per_k = 0.10 * motor.mass_g, 0.42 * motor.mass_g
        between = 0.035 * motor.mass_g * (self.winding_c - self.case_c)
        still, moving = 0.0030 * motor.mass_g, 0.000012 * motor.mass_g * self.omega
        away = (still + moving) * (self.case_c - ambient)
        self.winding_c += (copper - between) / winding_j_per_k * dt
        self.case_c += (iron + between - away) / case_j_per_k * dt
