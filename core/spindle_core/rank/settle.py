"""What one more run would settle between the first two.

The lead of the first over the second is a sum of figures, each with its scatter. One more run of a
kind makes that kind's scatter smaller; how sure the first place will then be, on average over what
the run may show, follows from how much of the lead's variance it takes away.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.measured import Absent, Measured, kind_of, source_of
from spindle_core.rank.criteria import MEASURES, MeasuredBy
from spindle_core.rank.scoring import Criterion, Snapshot

SCATTER = ("repeat", "assumed_repeat")
BETWEEN = ("sample", "assumed_sample")

LEAST_GAIN = 0.005

_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(41)


@dataclass(frozen=True, slots=True)
class Settling:
    """One more run of a motor, or one of another sample, and how sure the first place will be.

    ``now`` and ``after``: probability that whoever leads really leads, today and on average after
    it. ``kind`` is what has to be run.
    """

    motor: str
    kind: MeasuredBy
    another_sample: bool
    now: float
    after: float


def settlings(
    snapshot: Snapshot, counts: Mapping[tuple[str, str], tuple[int, int]]
) -> list[Settling] | Absent:
    """Runs of the first two that would settle who leads, the best first.

    :param counts: (motor, criterion) → samples and runs that its figure rests on.
    """
    ranked = [item for item in snapshot.scored if item.place is not None]
    if len(ranked) < 2:
        return Absent("too_few", "needs two ranked motors")
    first, second = ranked[0], ranked[1]
    shared = [
        c
        for c in snapshot.criteria
        if c.weight > 0 and c.name in first.scores and c.name in second.scores
    ]
    if not shared:
        return Absent("criteria_differ", "the first two were not scored by the same criteria")
    assert not isinstance(first.total, Absent)
    assert not isinstance(second.total, Absent)
    lead = first.total - second.total
    slopes = _slopes(snapshot, shared, first.name, second.name)
    whole = _variance(snapshot, slopes)
    if whole <= 0:
        return []
    now = _normal(abs(lead) / math.sqrt(whole))
    found = []
    for motor in (first.name, second.name):
        for kind in dict.fromkeys(MEASURES[c.name].by for c in shared if c.name in MEASURES):
            if kind in (MeasuredBy.SCALE, MeasuredBy.RECEIPT):
                continue
            for another in (False, True):
                less = _variance(snapshot, slopes, (motor, kind, another), counts)
                after = _expected(lead, whole, less)
                if after > now + LEAST_GAIN:
                    found.append(Settling(motor, kind, another, now, after))
    return sorted(found, key=lambda one: -one.after)


def _slopes(
    snapshot: Snapshot, shared: Sequence[Criterion], first: str, second: str
) -> dict[tuple[str, str], float]:
    """How the lead moves with each figure of the two, in points per unit."""
    weight = math.fsum(c.weight for c in shared)
    found = {}
    for criterion in shared:
        mean = snapshot.means[criterion.name]
        for name, sign in ((first, 1.0), (second, -1.0)):
            value = snapshot.entries[name].figures[criterion.name].value
            slope = -100.0 * mean / value**2 if criterion.lower_is_better else 100.0 / mean
            found[name, criterion.name] = sign * slope * criterion.weight / weight
    return found


def _variance(
    snapshot: Snapshot,
    slopes: Mapping[tuple[str, str], float],
    more: tuple[str, MeasuredBy, bool] | None = None,
    counts: Mapping[tuple[str, str], tuple[int, int]] | None = None,
) -> float:
    """Variance of the lead, with one more run or sample where that is asked."""
    parts: dict[str, float] = {}
    for (motor, name), slope in slopes.items():
        figure: Measured = snapshot.entries[motor].figures[name]
        for key, part in figure.components.items():
            shrink = 1.0
            if more is not None and (motor, MEASURES[name].by) == more[:2]:
                samples, runs = (counts or {}).get((motor, name), (1, 1))
                if kind_of(key) in SCATTER:
                    shrink = math.sqrt(runs / (runs + 1.0))
                elif more[2] and kind_of(key) in BETWEEN:
                    shrink = math.sqrt(samples / (samples + 1.0))
            own = key if source_of(key) else f"{key}|{motor}|{name}"
            parts[own] = parts.get(own, 0.0) + slope * part * shrink
    return math.fsum(part**2 for part in parts.values())


def _normal(z: float) -> float:
    return 0.5 * math.erfc(-z / math.sqrt(2.0))


def _expected(lead: float, before: float, after: float) -> float:
    """Mean over what the run may show of the probability that who leads then really leads."""
    taken = max(0.0, before - after)
    if after <= 0:
        return 1.0
    means = lead + math.sqrt(taken) * _NODES
    sure = [_normal(abs(mean) / math.sqrt(after)) for mean in means]
    return float(np.dot(_WEIGHTS, sure) / _WEIGHTS.sum())
