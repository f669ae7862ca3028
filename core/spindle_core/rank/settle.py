"""What one more run would settle about who leads.

Between the first and whoever is likeliest to be first in its stead, which need not be the second:
a motor further down may be known so badly that it can lead. The lead over it is a sum of figures,
each with its scatter. One more run of a kind makes that kind's scatter smaller; how sure the first
place will then be, on average over what the run may show, follows from how much of the lead's
variance it takes away.
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

    ``now`` and ``after``: probability that whoever leads of ``motor`` and ``against`` really does,
    today and on average after it. ``kind`` is what has to be run.
    """

    motor: str
    against: str
    kind: MeasuredBy
    another_sample: bool
    now: float
    after: float


@dataclass(frozen=True, slots=True)
class Undecided:
    """How sure the first is before its strongest contender, and what makes it unsure.

    ``largest``: the kind of uncertainty with the largest share of the lead's variance.
    """

    first: str
    contender: str
    now: float
    largest: str
    share: float


@dataclass(frozen=True, slots=True)
class _Lead:
    first: str
    contender: str
    points: float
    variance: float
    shared: tuple[Criterion, ...]
    slopes: Mapping[tuple[str, str], float]

    @property
    def sure(self) -> float:
        return _normal(abs(self.points) / math.sqrt(self.variance))


def settlings(
    snapshot: Snapshot, counts: Mapping[tuple[str, str], tuple[int, int]]
) -> list[Settling] | Absent:
    """Runs of the first and of its strongest contender that would settle who leads, best first.

    :param counts: (motor, criterion) → samples and runs that its figure rests on.
    """
    lead = _contested(snapshot)
    if isinstance(lead, Absent):
        return lead
    if lead.variance <= 0:
        return []
    now = lead.sure
    found = []
    for motor, other in ((lead.first, lead.contender), (lead.contender, lead.first)):
        for kind in dict.fromkeys(MEASURES[c.name].by for c in lead.shared if c.name in MEASURES):
            if kind in (MeasuredBy.SCALE, MeasuredBy.RECEIPT):
                continue
            for another in (False, True):
                less = _variance(snapshot, lead.slopes, (motor, kind, another), counts)
                after = _expected(lead.points, lead.variance, less)
                if after > now + LEAST_GAIN:
                    found.append(Settling(motor, other, kind, another, now, after))
    return sorted(found, key=lambda one: -one.after)


def undecided(snapshot: Snapshot) -> Undecided | Absent:
    """Who could lead in the first's stead, how surely it does not, and what leaves it open."""
    lead = _contested(snapshot)
    if isinstance(lead, Absent):
        return lead
    if lead.variance <= 0:
        return Absent("no_uncertainty", "nothing is uncertain about the figures of the first two")
    kinds: dict[str, float] = {}
    for key, part in _parts(snapshot, lead.slopes).items():
        kind = kind_of(key.split("|")[0])
        kinds[kind] = kinds.get(kind, 0.0) + part**2
    largest = max(kinds, key=lambda kind: kinds[kind])
    return Undecided(lead.first, lead.contender, lead.sure, largest, kinds[largest] / lead.variance)


def _contested(snapshot: Snapshot) -> _Lead | Absent:
    """The lead of the first over whoever is likeliest to be first in its stead."""
    ranked = [item for item in snapshot.scored if item.place is not None]
    if len(ranked) < 2:
        return Absent("too_few", "needs two ranked motors")
    first = ranked[0]
    leads = []
    for other in ranked[1:]:
        shared = tuple(
            c
            for c in snapshot.criteria
            if c.weight > 0 and c.name in first.scores and c.name in other.scores
        )
        if not shared:
            continue
        assert not isinstance(first.total, Absent)
        assert not isinstance(other.total, Absent)
        slopes = _slopes(snapshot, shared, first.name, other.name)
        variance = math.fsum(part**2 for part in _parts(snapshot, slopes).values())
        points = first.total - other.total
        leads.append(_Lead(first.name, other.name, points, variance, shared, slopes))
    if not leads:
        return Absent("criteria_differ", "no other was scored by the criteria of the first")
    unsure = [lead for lead in leads if lead.variance > 0]
    return min(unsure, key=lambda lead: lead.sure) if unsure else leads[0]


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
    return math.fsum(part**2 for part in _parts(snapshot, slopes, more, counts).values())


def _parts(
    snapshot: Snapshot,
    slopes: Mapping[tuple[str, str], float],
    more: tuple[str, MeasuredBy, bool] | None = None,
    counts: Mapping[tuple[str, str], tuple[int, int]] | None = None,
) -> dict[str, float]:
    """Parts of the lead's u in points; what the two share has cancelled in it."""
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
    return parts


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
