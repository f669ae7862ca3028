"""A measured kV that fits another wind's label better than its own: were two mixed up?"""

from __future__ import annotations

import math
from collections.abc import Mapping

from spindle_core.figures.measured import Measured

FEWEST_SIGMA = 3.0
LEAST_OFF = 0.05
"""A label is believed within this share; nearer to one's own label than that nobody asks."""


def mixed_up(
    kv: Measured, label_rpm_per_v: float | None, siblings: Mapping[str, float]
) -> str | None:
    """The sibling whose label the measured kV is nearer to, in logarithms; None where it is not.

    :param siblings: label kV [rpm/V] of other winds of the motor, by their names.
    """
    if label_rpm_per_v is None or not siblings:
        return None
    own = abs(math.log(kv.value / label_rpm_per_v))
    if own < max(LEAST_OFF, FEWEST_SIGMA * kv.relative_u):
        return None
    name, nearest = min(siblings.items(), key=lambda item: abs(math.log(kv.value / item[1])))
    return name if abs(math.log(kv.value / nearest)) < own else None
