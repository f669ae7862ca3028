"""What turns, pulls and heats: motor, propeller, ESC and supply, integrated in small steps.

The equations are those of :mod:`spindle_core.model.operating_point` with inertia and heat
added; the tests hold the steady state of this integration against that closed solution.
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass, field

from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.model.operating_point import (
    Motor,
    Propeller,
    propeller_thrust_gf,
    propeller_torque_coefficient,
)

LONGEST_STEP_S = 0.002
LONGEST_STEP_AT_REST_S = 0.02
"""Where nothing turns only heat goes, and takes its time."""


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


@dataclass(frozen=True, slots=True)
class _Constants:
    """What stays as it is while something is mounted. SI; drag as current, A and A per rad/s."""

    kt: float
    resistance_ohm: float
    copper_share: float
    copper_ohm: float
    supply_ohm: float
    trip_a: float | None
    steady_v: float | None
    """Open-circuit voltage of what keeps it; None for a pack, which sinks as it is used."""
    drag_a: float
    drag_per_omega: float
    kq: float
    thrust_gf_per_omega2: float
    inertia_kg_m2: float
    winding_j_per_k: float
    case_j_per_k: float
    between_w_per_k: float
    still_w_per_k: float
    moving_w_per_k: float
    ambient_c: float


def _constants_of(mounted: Mounted) -> _Constants:
    motor, supply, prop = mounted.motor, mounted.supply, mounted.propeller
    electrical, density = motor.electrical, mounted.air_density_kg_per_m3
    rpm_per_omega = 30.0 / math.pi
    return _Constants(
        kt=electrical.torque_constant_nm_per_a,
        resistance_ohm=electrical.resistance_ohm,
        copper_share=motor.copper_share,
        copper_ohm=electrical.resistance_ohm * motor.copper_share,
        supply_ohm=supply.resistance_ohm,
        trip_a=supply.trip_a,
        steady_v=supply.open_circuit_v if supply.capacity_as is None else None,
        drag_a=electrical.no_load_current_a,
        drag_per_omega=electrical.no_load_slope_a_per_rpm * rpm_per_omega,
        kq=0.0 if prop is None else propeller_torque_coefficient(prop, density),
        thrust_gf_per_omega2=(
            0.0 if prop is None else propeller_thrust_gf(prop, rpm_per_omega, density)
        ),
        inertia_kg_m2=motor.inertia_kg_m2 + mounted.load_inertia_kg_m2,
        winding_j_per_k=0.10 * motor.mass_g,
        case_j_per_k=0.42 * motor.mass_g,
        between_w_per_k=0.035 * motor.mass_g,
        still_w_per_k=0.0030 * motor.mass_g,
        moving_w_per_k=0.000012 * motor.mass_g,
        ambient_c=mounted.ambient_c,
    )


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
    _constants: _Constants = field(init=False)

    def __post_init__(self) -> None:
        self._constants = _constants_of(self.mounted)
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
        return self._constants.thrust_gf_per_omega2 * self.omega * self.omega

    @property
    def shaft_torque_nm(self) -> float:
        """Torque between motor and stand [N·m]: what turns the load and speeds it up.

        Equal to the propeller's at constant speed; negative while bearings slow a coasting rotor.
        """
        if self.omega <= 0.0:
            return 0.0
        k = self._constants
        return k.kt * (self.motor_current_a - k.drag_a - k.drag_per_omega * self.omega)

    def warm_to(self, temperature_c: float) -> None:
        """Set winding and case to a temperature, as after an earlier run."""
        self.winding_c = self.case_c = temperature_c

    def advance(self, seconds: float, throttle_pct: float) -> None:
        """Integrate over ``seconds`` at a commanded throttle [%]."""
        still = self.omega == self.duty == self._wanted == 0.0 and throttle_pct == 0.0
        longest_s = LONGEST_STEP_AT_REST_S if still and not self._commands else LONGEST_STEP_S
        steps = max(1, math.ceil(seconds / longest_s - 1e-9))
        duty = throttle_pct / 100.0
        if duty != (self._commands[-1][1] if self._commands else self._wanted):
            self._commands.append((self._time_s + self.esc_delay_s, duty))
        for _ in range(steps):
            self._step(seconds / steps)

    def _step(self, dt: float) -> None:
        """One step, in one piece: a demo takes millions of them."""
        k = self._constants
        self._time_s += dt
        while self._commands and self._commands[0][0] <= self._time_s + 1e-12:
            self._wanted = self._commands.popleft()[1]
        most, behind = self.esc_slew_per_s * dt, self._wanted - self.duty
        duty = self.duty + (most if behind > most else -most if behind < -most else behind)

        # The supply's own resistance appears as d²·Ri on the motor's side.
        warmer = COPPER_TEMPERATURE_COEFFICIENT_PER_K * (self.winding_c - 20.0)
        resistance = k.resistance_ohm * (1.0 + k.copper_share * warmer)
        volts = 0.0 if self.tripped else self._pack_v() if k.steady_v is None else k.steady_v
        drive = duty * volts - k.kt * self.omega
        current = drive / (resistance + duty * duty * k.supply_ohm)
        # Without active braking the bridge cannot pull current out of a coasting motor.
        if current < 0.0:
            current = 0.0
        elif current > self.esc_current_limit_a:
            current = self.esc_current_limit_a

        torque = k.kt * (current - k.drag_a - k.drag_per_omega * self.omega)
        omega = self.omega + (torque - k.kq * self.omega * self.omega) / k.inertia_kg_m2 * dt
        if omega < 0.0:
            omega = 0.0

        # The winding heats with the resistance it has at its temperature, the ESC's stays outside.
        copper = k.copper_ohm * (1.0 + warmer) * current * current
        iron = k.kt * (k.drag_a + k.drag_per_omega * omega) * omega
        between = k.between_w_per_k * (self.winding_c - self.case_c)
        away = (k.still_w_per_k + k.moving_w_per_k * omega) * (self.case_c - k.ambient_c)
        self.winding_c += (copper - between) / k.winding_j_per_k * dt
        self.case_c += (iron + between - away) / k.case_j_per_k * dt

        self.duty, self.motor_current_a, self.omega = duty, current, omega
        drawn = duty * current
        self.used_as += drawn * dt
        if k.steady_v is None:
            volts = self._pack_v()
        self.terminal_v = 0.0 if self.tripped else volts - k.supply_ohm * drawn
        if k.trip_a is not None and drawn > k.trip_a:
            self.tripped = True

    def _pack_v(self) -> float:
        supply = self.mounted.supply
        assert supply.capacity_as is not None
        # A lithium cell between full and flat: steep at both ends, level between.
        left = max(0.0, 1.0 - self.used_as / supply.capacity_as)
        shape = 0.86 + 0.09 * left + 0.05 * left**8 - 0.12 * math.exp(-left / 0.05)
        return supply.open_circuit_v * shape
