"""A craft: its mass as a list, its motors, and the thrust it has for it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from spindle_core.errors import QuantityError
from spindle_core.measured import Measured, Origin

COAXIAL_THRUST_SHARE = 0.85
"""Thrust of a coaxial pair relative to two free propellers, estimated (0.80 to 0.90)."""

OMITTED_HALF_WIDTH = 0.5


class Layout(StrEnum):
    """How the motors work together."""

    MULTIROTOR = "multirotor"
    COAXIAL = "coaxial"
    PLANE = "plane"


@dataclass(frozen=True, slots=True)
class MassItem:
    """One thing that flies. ``basis``: ``weighed``, ``claimed`` or ``omitted`` (a guess).

    ``half_width_g`` is what the mass may be off by; a claim counts ±5 %, a guess ±50 % at least.
    """

    name: str
    mass_g: float
    count: int = 1
    basis: str = "weighed"
    half_width_g: float = 0.0

    def figure(self) -> Measured:
        """Mass of all of them [g] with its uncertainty; a claim stays a claim."""
        if self.mass_g < 0 or self.count < 0 or self.half_width_g < 0:
            raise QuantityError(f"{self.name}: mass, count and interval cannot be below 0.")
        least = {"weighed": 0.0, "claimed": 0.05, "omitted": OMITTED_HALF_WIDTH}
        if self.basis not in least:
            raise QuantityError(f"{self.name}: a mass is weighed, claimed or omitted.")
        half = max(self.half_width_g, least[self.basis] * self.mass_g)
        origin = {"weighed": Origin.MEASURED, "claimed": Origin.CLAIMED}.get(
            self.basis, Origin.ESTIMATED
        )
        total = self.count * self.mass_g
        parts = {f"mass {self.name}": self.count * half / math.sqrt(3.0)} if half else {}
        return Measured(total, parts, origin=origin)


@dataclass(frozen=True, slots=True)
class Craft:
    """What is to fly. ``items`` leave the motors out; those are added with their own mass.

    ``lift_to_drag`` and ``flight_speed_m_per_s`` are for a plane.
    """

    layout: Layout
    motors: int
    cells: int
    items: tuple[MassItem, ...]
    lift_to_drag: float | None = None

    def __post_init__(self) -> None:
        if self.motors < 1 or self.cells < 1:
            raise QuantityError("A craft has at least one motor and one cell.")
        if self.layout is Layout.COAXIAL and self.motors % 2:
            raise QuantityError("Coaxial motors come in pairs.", code="odd_coaxial")
        if self.layout is Layout.PLANE and not (self.lift_to_drag and self.lift_to_drag > 0):
            raise QuantityError("A plane needs its lift-to-drag ratio.", code="no_lift_to_drag")

    @property
    def thrust_share(self) -> float:
        """Thrust of the mounted motors relative to free ones."""
        return COAXIAL_THRUST_SHARE if self.layout is Layout.COAXIAL else 1.0


def all_up_mass(craft: Craft, motor_mass_g: Measured) -> Measured:
    """All-up mass with these motors [g]; another motor changes it.

    :param motor_mass_g: of one motor as mounted.
    """
    figures = [item.figure() for item in craft.items]
    parts: dict[str, float] = {}
    for figure in figures:
        for name, part in figure.components.items():
            parts[name] = parts.get(name, 0.0) + part
    for name, part in motor_mass_g.components.items():
        parts[f"motor_{name}"] = craft.motors * part
    origins = [figure.origin for figure in figures] + [motor_mass_g.origin]
    order = list(Origin)
    total = math.fsum(f.value for f in figures) + craft.motors * motor_mass_g.value
    if total <= 0:
        raise QuantityError("The all-up mass must be above 0 g.")
    return Measured(total, parts, origin=max([Origin.DERIVED, *origins], key=order.index))


def thrust_to_weight(max_thrust_gf: Measured, mass_g: Measured, *, motors: int) -> Measured:
    """n × maximum thrust ÷ all-up mass. One motor's thrust by itself never carries this name.

    :param max_thrust_gf: of one motor.
    :raises QuantityError: no motors or no mass.
    """
    if motors < 1 or mass_g.value <= 0:
        raise QuantityError("Thrust-to-weight needs motors and a mass above 0 g.")
    value = motors * max_thrust_gf.value / mass_g.value
    parts = {k: motors * v / mass_g.value for k, v in max_thrust_gf.components.items()}
    for name, part in mass_g.components.items():
        parts[f"mass_{name}"] = -value * part / mass_g.value
    return Measured(value, parts, origin=Origin.DERIVED)


def needed_thrust_gf(craft: Craft, mass_g: float) -> float:
    """Thrust each motor gives in hover, or in a plane's cruise (weight ÷ lift-to-drag) [gf]."""
    if craft.layout is Layout.PLANE:
        assert craft.lift_to_drag is not None
        return mass_g / craft.lift_to_drag / craft.motors
    return mass_g / (craft.motors * craft.thrust_share)


def arm_inertia_kg_mm2(masses_g: Sequence[float], radii_mm: Sequence[float]) -> float:
    """Σ m·r² of what sits on the arms [kg·mm²]: what the motors must swing when the craft turns."""
    if len(masses_g) != len(radii_mm) or any(v < 0 for v in (*masses_g, *radii_mm)):
        raise QuantityError("Each mass on an arm needs its radius, neither below 0.")
    return math.fsum(m * 1e-3 * r**2 for m, r in zip(masses_g, radii_mm, strict=True))
