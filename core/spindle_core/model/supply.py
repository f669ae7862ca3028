"""Operating points on real supplies: a bench supply that limits, a pack that sags, an ESC too.

:func:`spindle_core.model.operating_point.solve` knows a stiff voltage and a pack's resistance; here
the limits are added, and a pack's state of charge.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.numerics import root
from spindle_core.model.operating_point import Motor, OperatingPoint, Propeller, solve


@dataclass(frozen=True, slots=True)
class BenchSupply:
    """A supply of constant voltage [V] up to its current limit [A]; None: no limit."""

    voltage_v: float
    current_limit_a: float | None = None
    trips: bool = False
    """Whether the limit switches the supply off, rather than letting its voltage fall."""
    resistance_ohm: float = 0.0
    """Of the supply and its cables [Ω]."""


@dataclass(frozen=True, slots=True)
class Pack:
    """A lithium-polymer pack: cells in series, capacity [mAh], resistance [Ω], charge left 0–1."""

    cells: int
    capacity_mah: float
    resistance_ohm: float
    charge: float = 1.0

    def __post_init__(self) -> None:
        if self.cells < 1 or self.capacity_mah <= 0 or self.resistance_ohm < 0:
            raise QuantityError("A pack has cells and a capacity above 0, and no negative ohms.")
        if not 0 <= self.charge <= 1:
            raise QuantityError(f"Charge lies in 0 to 1, got {self.charge}.")

    @property
    def open_circuit_v(self) -> float:
        """Open-circuit voltage at the charge left [V]."""
        return self.cells * cell_open_circuit_v(self.charge)


def cell_open_circuit_v(charge: float) -> float:
    """Open-circuit voltage of a rested lithium-polymer cell over its charge [V].

    4.20 V full, a plateau about 3.8 V, 3.3 V empty: a logarithmic knee at both ends and a line
    between, v = 3.68 + 0.32·q + 0.20·q⁸ − 0.38·exp(−q/0.06).

    :param charge: 0 (empty) to 1 (full).
    """
    if not 0 <= charge <= 1:
        raise QuantityError(f"Charge lies in 0 to 1, got {charge}.")
    return float(3.68 + 0.32 * charge + 0.20 * charge**8 - 0.38 * math.exp(-charge / 0.06))


def parallel(packs: list[Pack]) -> Pack:
    """Several packs of equal cells and charge in parallel as one composed supply.

    :raises QuantityError: no packs, or packs of different cells or charge (never connect those).
    """
    if not packs:
        raise QuantityError("A composed supply needs at least one pack.")
    first = packs[0]
    if any(p.cells != first.cells or abs(p.charge - first.charge) > 0.02 for p in packs):
        raise QuantityError(
            "Packs of different cells or charge must not be connected in parallel: the fuller one "
            "charges the other without limit.",
            code="unequal_packs",
        )
    siemens = sum(1.0 / max(p.resistance_ohm, 1e-9) for p in packs)
    return Pack(first.cells, sum(p.capacity_mah for p in packs), 1.0 / siemens, first.charge)


@dataclass(frozen=True, slots=True)
class SupplyPoint:
    """The operating point and what limited it: '' nothing, ``supply``, ``esc`` or ``trip``."""

    point: OperatingPoint
    limited_by: str


def settled_on_supply(
    motor: Motor,
    propeller: Propeller,
    supply: BenchSupply | Pack,
    *,
    duty: float = 1.0,
    density_kg_per_m3: float = REFERENCE_AIR_DENSITY_KG_PER_M3,
    esc_current_limit_a: float | None = None,
) -> SupplyPoint:
    """Where motor and propeller settle on this supply.

    A supply at its current limit lowers its voltage until the current is the limit, or trips. An
    ESC at its (motor) current limit lowers its duty.

    :raises QuantityError: impossible input, or a limit at which the motor would not turn.
    """
    if isinstance(supply, Pack):
        volts, ohms, limit = supply.open_circuit_v, supply.resistance_ohm, None
    else:
        volts, ohms, limit = supply.voltage_v, supply.resistance_ohm, supply.current_limit_a
    free = solve(
        motor,
        propeller,
        voltage_v=volts,
        duty=duty,
        density_kg_per_m3=density_kg_per_m3,
        pack_resistance_ohm=ohms,
    )
    if limit is not None and free.current_a > limit:
        if isinstance(supply, BenchSupply) and supply.trips:
            return SupplyPoint(free, "trip")
        lower = _lowest_turning_v(motor, duty)

        def excess(v: float) -> float:
            found = solve(
                motor, propeller, voltage_v=v, duty=duty, density_kg_per_m3=density_kg_per_m3
            )
            return found.current_a - limit

        if excess(lower) > 0:
            raise QuantityError("The supply's limit is below the motor's no-load current.")
        at = root(excess, lower, volts, within=1e-4)
        free = solve(motor, propeller, voltage_v=at, duty=duty, density_kg_per_m3=density_kg_per_m3)
        return SupplyPoint(free, "supply")
    if esc_current_limit_a is not None and free.motor_current_a > esc_current_limit_a:
        return SupplyPoint(
            _at_motor_current(
                motor, propeller, volts, ohms, duty, density_kg_per_m3, esc_current_limit_a
            ),
            "esc",
        )
    return SupplyPoint(free, "")


def _lowest_turning_v(motor: Motor, duty: float) -> float:
    return 1.001 * motor.resistance_ohm * max(motor.no_load_current_a, 1e-3) / duty + 1e-3


def _at_motor_current(
    motor: Motor,
    propeller: Propeller,
    volts: float,
    ohms: float,
    duty: float,
    rho: float,
    limit_a: float,
) -> OperatingPoint:
    lowest = min(duty, 1.01 * motor.resistance_ohm * max(motor.no_load_current_a, 1e-3) / volts)

    def at(d: float) -> OperatingPoint:
        return solve(
            motor,
            propeller,
            voltage_v=volts,
            duty=d,
            density_kg_per_m3=rho,
            pack_resistance_ohm=ohms,
        )

    if at(lowest).motor_current_a > limit_a:
        raise QuantityError("The ESC's limit is below the motor's no-load current.")
    return at(root(lambda d: at(d).motor_current_a - limit_a, lowest, duty, within=1e-6))
