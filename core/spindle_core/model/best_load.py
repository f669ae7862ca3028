"""The current at which a motor is at its best, and how good it is there."""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class BestLoad:
    """Motor current [A] of the highest motor efficiency, and that efficiency [%]."""

    current_a: float
    efficiency_pct: float


def best_load(
    *, voltage_v: float, no_load_current_a: float, resistance_ohm: float, duty: float = 1.0
) -> BestLoad:
    """I* = √(d·V·I0/R) and η* = (1 − √(I0·R/(d·V)))².

    Both losses are equal there: I²R in the copper and the no-load power. I* rises with √V: a
    higher voltage needs a heavier load to be efficient.

    :raises QuantityError: a value that is not positive, or a motor that would not turn.
    """
    if min(voltage_v, no_load_current_a, resistance_ohm, duty) <= 0 or duty > 1:
        raise QuantityError("Voltage, I0, R and duty must be above 0, duty at most 1.")
    applied = duty * voltage_v
    lost = math.sqrt(no_load_current_a * resistance_ohm / applied)
    if lost >= 1:
        raise QuantityError("At this voltage the motor would not turn.", code="does_not_turn")
    current = math.sqrt(applied * no_load_current_a / resistance_ohm)
    return BestLoad(current, 100.0 * (1.0 - lost) ** 2)
