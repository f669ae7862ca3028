"""A known mass on the stand at the start of the day: has the stand moved since its calibration?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.instruments import assumed_accuracy
from spindle_core.figures.measured import Measured
from spindle_core.run.scale import Geometry

COVERAGE = 2.0
"""A check within so many u is what its uncertainty explains."""


@dataclass(frozen=True, slots=True)
class MassCheck:
    """What a check mass showed: ``thrust_gf`` for ``mass_g``, their way, and the u of it [gf].

    ``moved``: by more than u explains. ``assumed``: whether u rests on an assumed accuracy.
    """

    thrust_gf: float
    difference_gf: float
    u_gf: float
    moved: bool
    assumed: bool
    sentence: str


def check_mass(
    *,
    mass_g: float,
    reading_g: float,
    geometry: Geometry,
    relative_u: float | None,
    step_g: float,
    u_mass_g: float = 0.0,
) -> MassCheck:
    """Hold a reading against the mass that made it.

    :param relative_u: declared for the stand's thrust; assumed for a load cell where None.
    :param step_g: the smallest step that the scale shows [g].
    :raises QuantityError: a mass of 0 g or less, or numbers that cannot be.
    """
    numbers = (mass_g, reading_g, step_g, u_mass_g)
    if not all(math.isfinite(value) for value in numbers) or mass_g <= 0 or step_g <= 0:
        raise QuantityError(
            "A check needs a mass above 0 g, a reading and the step of the scale.", code="check"
        )
    assumed = assumed_accuracy("thrust_gf") if relative_u is None else None
    relative = assumed.relative_u if assumed else relative_u or 0.0
    shown = geometry.thrust_gf(Measured(reading_g)).value
    step_gf = step_g * abs(
        geometry.thrust_gf(Measured(1.0)).value - geometry.thrust_gf(Measured(0.0)).value
    )
    u = math.sqrt((relative * mass_g) ** 2 + step_gf**2 / 12.0 + u_mass_g**2)
    difference = shown - mass_g
    moved = abs(difference) > COVERAGE * u
    sentence = f"{mass_g:g} g shows as {shown:.5g} gf: {difference:+.3g} gf, u {u:.2g} gf"
    if moved:
        sentence += (
            f". That is more than u explains ({100 * difference / mass_g:+.2g} %): look for what "
            "rubs or moved, then calibrate anew."
        )
    else:
        sentence += ", as its uncertainty allows."
    if assumed:
        sentence += f" Nobody declared the stand; assumed is {assumed.words}."
    return MassCheck(shown, difference, u, moved, assumed is not None, sentence)
