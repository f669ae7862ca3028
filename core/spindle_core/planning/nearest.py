"""What is at hand and most like a motor or propeller that is not and can only be predicted."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from spindle_core.figures.measured import Absent
from spindle_core.planning.known import KnownMotor, KnownPropeller

RESISTANCE_WEIGHT: Final = 0.3
"""A motor is told by its kV first; R says how strong it is, and is known less well."""


def nearest_motor(
    wanted: KnownMotor | Absent, at_hand: Sequence[tuple[str, KnownMotor | Absent]]
) -> tuple[str, str]:
    """The motor at hand that is most like one that is not, and what sets it apart in words.

    :param at_hand: name and what is known, of each.
    :return: empty words where nothing is known of either.
    """
    if isinstance(wanted, Absent):
        return "", ""
    found = []
    for name, known in at_hand:
        if isinstance(known, Absent):
            continue
        kv = math.log(known.kv_rpm_per_v.value / wanted.kv_rpm_per_v.value)
        ohm = math.log(known.resistance_ohm.value / wanted.resistance_ohm.value)
        found.append((math.hypot(kv, RESISTANCE_WEIGHT * ohm), name, f"kV {_apart(kv)}"))
    return _first(found)


def nearest_propeller(
    wanted: KnownPropeller | Absent, at_hand: Sequence[tuple[str, KnownPropeller | Absent]]
) -> tuple[str, str]:
    """The propeller at hand that loads a motor most alike at one speed (CP·D⁵), and how far off."""
    if isinstance(wanted, Absent):
        return "", ""
    found = []
    for name, known in at_hand:
        if isinstance(known, Absent):
            continue
        off = math.log(_load(known) / _load(wanted))
        found.append((abs(off), name, f"load {_apart(off)}"))
    return _first(found)


def _load(known: KnownPropeller) -> float:
    return known.cp.value * known.diameter_in**5


def _apart(logarithm: float) -> str:
    percent = 100.0 * math.expm1(logarithm)
    if abs(percent) < 0.5:
        return "the same"
    return f"{abs(percent):.0f} % {'higher' if percent > 0 else 'lower'}"


def _first(found: Sequence[tuple[float, str, str]]) -> tuple[str, str]:
    if not found:
        return "", ""
    _, name, words = min(found)
    return name, words
