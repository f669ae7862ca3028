"""The current at which a motor is at its best, and how good it is there."""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, propagate


@dataclass(frozen=True, slots=True)
class BestLoad:
    """Motor current [A] of the highest motor efficiency, and that efficiency [%]."""

    current_a: Measured
    efficiency_pct: Measured


def best_load(
    *, voltage_v: float, no_load_current_a: Measured, resistance_ohm: Measured, duty: float = 1.0
) -> BestLoad:
    """I* = √(d·V·I0/R) and η* = (1 − √(I0·R/(d·V)))².

    Both losses are equal there: I²R in the copper and the no-load power. I* rises with √V: a
    higher voltage needs a heavier load to be efficient.

    :raises QuantityError: a value that is not positive, or a motor that would not turn.
    """
    idle, ohm = no_load_current_a.value, resistance_ohm.value
    if min(voltage_v, idle, ohm, duty) <= 0 or duty > 1:
        raise QuantityError("Voltage, I0, R and duty must be above 0, duty at most 1.")
    applied = duty * voltage_v
    lost = math.sqrt(idle * ohm / applied)
    if lost >= 1:
        raise QuantityError("At this voltage the motor would not turn.", code="does_not_turn")
    current = math.sqrt(applied * idle / ohm)
    of_lost = -100.0 * (1.0 - lost) * lost
    both = (no_load_current_a, resistance_ohm)
    return BestLoad(
        propagate(
            lambda i0, r: math.sqrt(applied * i0 / r),
            both,
            partials=(0.5 * current / idle, -0.5 * current / ohm),
        ),
        propagate(
            lambda i0, r: 100.0 * (1.0 - math.sqrt(i0 * r / applied)) ** 2,
            both,
            partials=(of_lost / idle, of_lost / ohm),
        ),
    )
