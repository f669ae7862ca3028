"""A craft: its mass as a list, its motors, and the thrust it has for it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    Origin,
    component,
    last_digit,
    propagate,
    ratio,
)

COAXIAL_THRUST_SHARE, COAXIAL_HALF_WIDTH = 0.85, 0.05
"""Thrust of a coaxial pair relative to two free propellers, estimated (0.80 to 0.90)."""

ASSUMED_GLIDE = 0.15
"""What a lift-to-drag ratio that somebody typed may be off (half-width, relative)."""

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
        # What was weighed is rounded to the last digit that was written down.
        rounded = 0.5 * last_digit([self.mass_g])
        half = max(self.half_width_g, least[self.basis] * self.mass_g, rounded)
        origin = {"weighed": Origin.MEASURED, "claimed": Origin.CLAIMED}.get(
            self.basis, Origin.ESTIMATED
        )
        total = self.count * self.mass_g
        parts = {component("mass", self.name): self.count * half / math.sqrt(3.0)}
        return Measured(total, parts, origin=origin)


@dataclass(frozen=True, slots=True)
class Craft:
    """What is to fly. ``items`` leave the motors out; those are added with their own mass.

    A plane's cruise follows from ``lift_to_drag``, or from ``cruise_throttle_pct`` where somebody
    knows that; without either only its static figures are told.
    """

    layout: Layout
    motors: int
    cells: int
    items: tuple[MassItem, ...]
    lift_to_drag: float | None = None
    cruise_throttle_pct: float | None = None

    def __post_init__(self) -> None:
        if self.motors < 1 or self.cells < 1:
            raise QuantityError("A craft has at least one motor and one cell.")
        if self.layout is Layout.COAXIAL and self.motors % 2:
            raise QuantityError("Coaxial motors come in pairs.", code="odd_coaxial")
        if self.lift_to_drag is not None and self.lift_to_drag <= 0:
            raise QuantityError("A lift-to-drag ratio is above 0.", code="lift_to_drag")
        if self.cruise_throttle_pct is not None and not 0 < self.cruise_throttle_pct <= 100:
            raise QuantityError("A cruise throttle lies between 0 and 100 %.", code="cruise")

    @property
    def thrust_share(self) -> Measured:
        """Thrust of the mounted motors relative to free ones; of coaxial pairs an estimate."""
        if self.layout is not Layout.COAXIAL:
            return Measured(1.0)
        half = {"assumed_coaxial_share": COAXIAL_HALF_WIDTH / math.sqrt(3.0)}
        return Measured(COAXIAL_THRUST_SHARE, half, origin=Origin.ESTIMATED)


def all_up_mass(craft: Craft, motor_mass_g: Measured) -> Measured:
    """All-up mass with these motors [g]; another motor changes it.

    :param motor_mass_g: of one motor as mounted.
    """
    figures = [*(item.figure() for item in craft.items), motor_mass_g]
    counts = [*(1.0 for _ in craft.items), float(craft.motors)]
    total = propagate(
        lambda *masses: math.fsum(n * m for n, m in zip(counts, masses, strict=True)),
        figures,
        partials=counts,
    )
    if total.value <= 0:
        raise QuantityError("The all-up mass must be above 0 g.")
    return replace(total, n=1)


def thrust_to_weight(max_thrust_gf: Measured, mass_g: Measured, *, motors: int) -> Measured:
    """n × maximum thrust ÷ all-up mass. One motor's thrust by itself never carries this name.

    :param max_thrust_gf: of one motor.
    :raises QuantityError: no motors or no mass.
    """
    if motors < 1 or mass_g.value <= 0:
        raise QuantityError("Thrust-to-weight needs motors and a mass above 0 g.")
    value = motors * max_thrust_gf.value / mass_g.value
    return propagate(
        lambda thrust, mass: motors * thrust / mass,
        (max_thrust_gf, mass_g),
        partials=(motors / mass_g.value, -value / mass_g.value),
    )


def needed_thrust_gf(craft: Craft, mass_g: Measured) -> Figure:
    """Thrust each motor gives in hover, or in a plane's cruise (weight ÷ lift-to-drag) [gf]; absent
    for a plane of which no lift-to-drag ratio is known."""
    each = mass_g.scaled(1.0 / craft.motors)
    if craft.layout is Layout.PLANE:
        if craft.lift_to_drag is None:
            return Absent("no_lift_to_drag", "a plane's cruise needs its lift-to-drag ratio")
        glide = {"assumed_lift_to_drag": ASSUMED_GLIDE * craft.lift_to_drag / math.sqrt(3.0)}
        found = ratio(each, Measured(craft.lift_to_drag, glide))
    else:
        found = ratio(each, craft.thrust_share)
    return found


def arm_inertia_kg_mm2(masses_g: Sequence[Measured], radii_mm: Sequence[float]) -> Measured:
    """Σ m·r² of what sits on the arms [kg·mm²]: what the motors must swing when the craft turns.

    A radius is known to its last written digit; one figure that is given several times is one
    thing that is weighed once.
    """
    if len(masses_g) != len(radii_mm) or any(
        v < 0 for v in (*(m.value for m in masses_g), *radii_mm)
    ):
        raise QuantityError("Each mass on an arm needs its radius, neither below 0.")
    radii = {
        r: Measured(r, {f"assumed_radius@{r:g} mm": last_digit([r]) / math.sqrt(12.0)})
        for r in radii_mm
    }
    arms = [radii[r] for r in radii_mm]
    values = [(m.value, r.value) for m, r in zip(masses_g, arms, strict=True)]
    return propagate(
        lambda *flat: math.fsum(
            m * 1e-3 * r**2 for m, r in zip(flat[: len(arms)], flat[len(arms) :], strict=True)
        ),
        [*masses_g, *arms],
        partials=[*(1e-3 * r**2 for _, r in values), *(2e-3 * m * r for m, r in values)],
    )
