"""Propellers that were never measured, and the codes they are sold under."""

from __future__ import annotations

from dataclasses import dataclass

from spindle_core.errors import QuantityError

TYPICAL_FIGURE_OF_MERIT = 0.55


@dataclass(frozen=True, slots=True)
class EstimatedCoefficients:
    """CT and CP of an unmeasured propeller; ``relative_half_width`` is rectangular."""

    ct: float
    cp: float
    relative_half_width: float = 0.30


def estimate_coefficients(
    diameter_in: float, pitch_in: float, *, blades: int
) -> EstimatedCoefficients:
    """Static CT and CP from geometry alone.

    CP = 0.06·(pitch/D)·blades^0.8 and CT = (1.2533·FoM·CP)^(2/3) with a figure of merit of 0.55;
    1.2533 = √(2·π/4) joins them through momentum theory. Always an estimate.

    :raises QuantityError: a dimension or blade count that is not positive.
    """
    if diameter_in <= 0 or pitch_in <= 0 or blades < 1:
        raise QuantityError("A propeller needs a diameter, a pitch and blades above 0.")
    cp = 0.06 * (pitch_in / diameter_in) * blades**0.8
    ct = (1.2533 * TYPICAL_FIGURE_OF_MERIT * cp) ** (2.0 / 3.0)
    return EstimatedCoefficients(ct, cp)
