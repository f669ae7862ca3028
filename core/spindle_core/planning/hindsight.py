"""Predictions held against what was measured: was the stated u right?

One prediction that misses says little. Over many runs the misses, each divided by its own u, must
scatter by 1: more, and the u that was stated was too small, whatever its digits; much less, and
it was too large to plan by.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import median

from spindle_core.figures.measured import Figure, Measured, difference
from spindle_core.figures.repeats import chi_squared_at

FEWEST = 5
CONFIDENCE = 0.95


@dataclass(frozen=True, slots=True)
class Miss:
    """One figure, predicted and measured [unit by name].

    ``z``: measured − predicted in units of the u of that difference, in which parts that both
    share cancel; None where that u is 0.
    """

    name: str
    predicted: Measured
    measured: Measured
    off_pct: float
    z: float | None


def look_back(predicted: Mapping[str, Figure], measured: Mapping[str, Figure]) -> list[Miss]:
    """Every figure that was both predicted and measured, in the order of the predictions."""
    found = []
    for name, before in predicted.items():
        after = measured.get(name)
        if not (isinstance(before, Measured) and isinstance(after, Measured)):
            continue
        gap = difference(after, before)
        found.append(
            Miss(
                name,
                before,
                after,
                100.0 * (after.value / before.value - 1.0) if before.value else math.nan,
                gap.value / gap.u if gap.u > 0 else None,
            )
        )
    return found


class Verdict(StrEnum):
    """Whether stated uncertainties were right."""

    TOO_FEW = "too_few"
    RIGHT = "right"
    TOO_SMALL = "too_small"
    TOO_LARGE = "too_large"


@dataclass(frozen=True, slots=True)
class Honesty:
    """How well stated u held, over ``count`` predictions of one figure.

    ``scale``: root mean square of z, 1 when u is right; ``low`` and ``high`` its 95 % interval
    (χ² of independent misses). ``within_1u``, ``within_2u``: shares, 0.68 and 0.95 expected.
    ``bias_pct``: median miss.
    """

    count: int
    scale: float | None
    low: float | None
    high: float | None
    within_1u: float | None
    within_2u: float | None
    bias_pct: float | None
    verdict: Verdict


def honesty(misses: Sequence[Miss]) -> Honesty:
    """Over many predictions of one figure: was the stated u right?"""
    zs = [miss.z for miss in misses if miss.z is not None]
    count = len(zs)
    if not count:
        return Honesty(0, None, None, None, None, None, None, Verdict.TOO_FEW)
    total = math.fsum(z**2 for z in zs)
    scale = math.sqrt(total / count)
    tail = 0.5 * (1.0 - CONFIDENCE)
    low = math.sqrt(total / chi_squared_at(1.0 - tail, count))
    high = math.sqrt(total / chi_squared_at(tail, count))
    off = sorted(miss.off_pct for miss in misses if math.isfinite(miss.off_pct))
    verdict = Verdict.TOO_FEW
    if count >= FEWEST:
        verdict = Verdict.RIGHT
        if low > 1.0:
            verdict = Verdict.TOO_SMALL
        elif high < 1.0:
            verdict = Verdict.TOO_LARGE
    return Honesty(
        count,
        scale,
        low,
        high,
        sum(abs(z) <= 1.0 for z in zs) / count,
        sum(abs(z) <= 2.0 for z in zs) / count,
        median(off) if off else None,
        verdict,
    )
