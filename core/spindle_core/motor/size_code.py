"""Size codes of motors and what they stand for.

A code alone does not say what it measures, so every code has a *basis*: the stator
(``2105.5``: 21 mm across, 5.5 mm high), the outer can (``4238``: 42 mm across, 38 mm long) or
the case of a brushed motor (``8x20``). Only the stator basis has a stator volume.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import StrEnum

from spindle_core.errors import QuantityError, SizeCodeError
from spindle_core.figures.measured import Absent


class Basis(StrEnum):
    """What the digits of a size code measure."""

    STATOR = "stator"
    OUTER_CAN = "outer_can"
    CASE = "case"

    @property
    def label(self) -> str:
        """The basis in words."""
        return self.value.replace("_", " ")


@dataclass(frozen=True, slots=True)
class SizeCode:
    """A size code that was understood: diameter and height (or length) [mm] on its basis."""

    text: str
    basis: Basis
    diameter_mm: float
    height_mm: float

    @property
    def aspect(self) -> float:
        """Height ÷ diameter; flat motors lose torque to edge effects."""
        return self.height_mm / self.diameter_mm


_FOUR_DIGITS = re.compile(
    r"^(?:[A-Za-z]{1,4}[- ]?)?(\d{2})(\d{2}(?:\.\d+)?)(?:[- ]?(?!kv$)[A-Za-z]{1,4})?$",
    re.IGNORECASE,
)
"""Makers put letters before and after: ``F2207``, ``2306.5S``, ``XM5010-TE``."""

_CASE = re.compile(r"^(\d+(?:\.\d+)?)\s*[x×]\s*(\d+(?:\.\d+)?)$", re.IGNORECASE)

_LARGEST_STATOR_ASPECT = 0.75
"""Outrunner stators for multirotors are flat; a taller 'stator' is an outer can."""


def parse_size_code(text: str, basis: Basis | str | None = None) -> SizeCode:
    """Read a size code.

    ``basis`` overrides the proposal: a case for ``8x20``, a stator for ``DDHH[.h]`` unless its
    height exceeds 0.75 of its diameter, which no flat multirotor stator does.

    :raises SizeCodeError: the text is not a size code, or a dimension is 0.
    """
    cleaned = text.strip()
    match = _FOUR_DIGITS.match(cleaned)
    proposed = Basis.STATOR
    if match is None:
        match = _CASE.match(cleaned)
        proposed = Basis.CASE
    if match is None:
        raise SizeCodeError(
            f"{text!r} is not a size code: write four digits with an optional decimal "
            "and letters around them (2207, 2105.5, F2306S), or diameter x length (8x20); leave it "
            "empty where there is none."
        )
    diameter, height = float(match[1]), float(match[2])
    if diameter <= 0 or height <= 0:
        raise SizeCodeError(f"{text!r} has a dimension of 0 mm.")
    if proposed is Basis.STATOR and height / diameter > _LARGEST_STATOR_ASPECT:
        proposed = Basis.OUTER_CAN
    return SizeCode(cleaned, Basis(basis) if basis is not None else proposed, diameter, height)


def propose_basis(code: SizeCode, mass_g: float | None = None) -> Basis:
    """The basis that the numbers suggest, to be confirmed by a person.

    A solid steel-and-copper stator of the code's cylinder (7.5 g/cm³) outweighs its whole motor
    only when the code is really the outer can's.
    """
    if code.basis is not Basis.STATOR or mass_g is None:
        return code.basis
    if mass_g <= 0:
        raise QuantityError(f"A mass must be above 0 g, got {mass_g} g.")
    cylinder_g = stator_cylinder_mm3(code.diameter_mm, code.height_mm) * 7.5e-3
    return Basis.OUTER_CAN if cylinder_g > mass_g else Basis.STATOR


def stator_cylinder_mm3(diameter_mm: float, height_mm: float) -> float:
    """Volume of the stator's cylinder, π/4·D²·h [mm³]."""
    return stator_ring_mm3(diameter_mm, height_mm, hub_hole_mm=0.0)


def stator_ring_mm3(diameter_mm: float, height_mm: float, *, hub_hole_mm: float) -> float:
    """Volume of the stator's ring, π/4·(D² − d²)·h [mm³], d the hole in its hub [mm].

    :raises QuantityError: a dimension is not positive, or the hole is as wide as the stator.
    """
    if diameter_mm <= 0 or height_mm <= 0:
        raise QuantityError("A stator's diameter and height must be above 0 mm.")
    if not 0 <= hub_hole_mm < diameter_mm:
        raise QuantityError(
            f"A hub hole of {hub_hole_mm} mm does not fit a stator of {diameter_mm} mm."
        )
    return math.pi / 4.0 * (diameter_mm**2 - hub_hole_mm**2) * height_mm


def stator_volume_mm3(code: SizeCode) -> float | Absent:
    """Cylinder volume of a code on the stator basis [mm³]; absent on any other basis."""
    if code.basis is not Basis.STATOR:
        return Absent("basis_not_stator", f"the size code measures the {code.basis.label}")
    return stator_cylinder_mm3(code.diameter_mm, code.height_mm)
