"""Cooling of a motor after a run.

The two-node identification of a ``soak`` belongs here too.
"""

from __future__ import annotations

import math

from spindle_core.errors import QuantityError
from spindle_core.measured import Absent

DEFAULT_CASE_TIME_CONSTANT_S = 140.0
"""Cooling time constant of a still motor's case, until a soak has measured its own [s]."""


def cooling_time_s(
    from_c: float, to_c: float, *, ambient_c: float, time_constant_s: float
) -> float | Absent:
    """Time until a case has cooled from one temperature to another [s].

    Newton's law of cooling, t = τ·ln((T0 − Ta)/(T1 − Ta)); 0 when it is already there.

    :param from_c: temperature now [°C].
    :param to_c: temperature wanted [°C]; at or below ambient it is never reached: absent.
    :raises QuantityError: a time constant that is not positive.
    """
    if time_constant_s <= 0:
        raise QuantityError(f"A time constant must be above 0 s, got {time_constant_s}.")
    if from_c <= to_c:
        return 0.0
    if to_c <= ambient_c:
        return Absent("never_reached", "the target is not above the air")
    return time_constant_s * math.log((from_c - ambient_c) / (to_c - ambient_c))
