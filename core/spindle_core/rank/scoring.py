"""Scores against the cohort's own mean, in snapshots that say who moved and why."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.rank.criteria import MEASURES

MOST_MISSING_WEIGHT = 0.5
"""A motor that lacks more than this share of the weight is unranked."""


@dataclass(frozen=True, slots=True)
class Criterion:
    """One criterion: the figure's name, its weight, and whether less of it is better."""

    name: str
    weight: float
    lower_is_better: bool = False

    def __post_init__(self) -> None:
        if not (math.isfinite(self.weight) and self.weight >= 0):
            raise QuantityError(f"The weight of {self.name} must be 0 or above.")


PRESETS: Mapping[str, tuple[Criterion, ...]] = {
    "equal": (
        Criterion("max_thrust_gf", 1.0),
        Criterion("efficiency_g_per_w", 1.0),
        Criterion("peak_torque_nm", 1.0),
        Criterion("response_rpm_per_s", 1.0),
    ),
    "racing": (
        Criterion("max_thrust_gf", 2.0),
        Criterion("efficiency_g_per_w", 0.5),
        Criterion("peak_torque_nm", 1.5),
        Criterion("response_rpm_per_s", 2.0),
    ),
    "freestyle": (
        Criterion("max_thrust_gf", 1.0),
        Criterion("efficiency_g_per_w", 1.0),
        Criterion("peak_torque_nm", 1.5),
        Criterion("response_rpm_per_s", 1.5),
    ),
    "long range": (
        Criterion("max_thrust_gf", 0.5),
        Criterion("efficiency_g_per_w", 3.0),
        Criterion("peak_torque_nm", 0.5),
        Criterion("rise_k", 1.0, lower_is_better=True),
    ),
    "heavy lift": (
        Criterion("max_thrust_gf", 2.0),
        Criterion("efficiency_g_per_w", 1.5),
        Criterion("peak_torque_nm", 1.0),
        Criterion("rise_k", 1.0, lower_is_better=True),
    ),
    "indoor": (
        Criterion("efficiency_g_per_w", 1.5),
        Criterion("response_rpm_per_s", 1.5),
        Criterion("mass_g", 2.0, lower_is_better=True),
    ),
}
"""Weights by use; a reviewer's own set stands beside them."""


@dataclass(frozen=True, slots=True)
class Entry:
    """A motor of the cohort. ``losses`` says how many of how many broke on test.

    ``price_note`` keeps the basis, date and status of the price.
    """

    name: str
    figures: Mapping[str, Measured]
    mass_g: float | None = None
    price: float | None = None
    price_note: str = ""
    losses: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class Scored:
    """Scores of one motor; 100 is the cohort's mean. ``total`` is absent for an unranked motor.

    ``per_mass`` and ``per_price``: total × mean mass ÷ mass, total × mean price ÷ price.
    """

    name: str
    scores: Mapping[str, float]
    total: float | Absent
    place: int | None
    per_mass: float | Absent
    per_price: float | Absent
    missing: tuple[str, ...]
    losses: tuple[int, int] | None


@dataclass(frozen=True, slots=True)
class Snapshot:
    """A cohort as it was scored: criteria, means and scores, places in order."""

    criteria: tuple[Criterion, ...]
    means: Mapping[str, float]
    scored: tuple[Scored, ...]
    entries: Mapping[str, Entry] = field(default_factory=dict)


def score_cohort(entries: Sequence[Entry], criteria: Sequence[Criterion]) -> Snapshot:
    """Score = 100 × value ÷ mean; lower is better: 100 × H ÷ value, H the harmonic mean.

    The total is the weighted mean of the criteria present, weights renormalised.

    :raises QuantityError: no motors or criteria, no weight, two motors of one name, or a value
        that is not above 0.
    """
    names = [entry.name for entry in entries]
    if not entries or not criteria or math.fsum(c.weight for c in criteria) <= 0:
        raise QuantityError("A ranking needs motors, criteria and weights.", code="empty_ranking")
    if len(set(names)) < len(names):
        raise QuantityError("Two motors of the ranking have one name.", code="same_name")
    means = {c.name: mean for c in criteria if (mean := _mean(entries, c)) is not None}
    rows = [(entry, *_total(entry, criteria, means)) for entry in entries]
    ranked = sorted(
        (total for _, _, total, _ in rows if not isinstance(total, Absent)), reverse=True
    )
    masses = _mean_of([entry.mass_g for entry in entries])
    prices = _mean_of([entry.price for entry in entries])
    scored = [
        Scored(
            entry.name,
            scores,
            total,
            None if isinstance(total, Absent) else ranked.index(total) + 1,
            _normalised(total, masses, entry.mass_g, "mass"),
            _normalised(total, prices, entry.price, "price"),
            missing,
            entry.losses,
        )
        for entry, scores, total, missing in rows
    ]
    scored.sort(key=lambda item: (item.place is None, item.place or 0, item.name))
    return Snapshot(tuple(criteria), means, tuple(scored), {entry.name: entry for entry in entries})


def _mean(entries: Sequence[Entry], criterion: Criterion) -> float | None:
    values = [
        figure.value
        for entry in entries
        if (figure := entry.figures.get(criterion.name)) is not None
    ]
    if any(value <= 0 for value in values):
        raise QuantityError(f"{criterion.name} must be above 0 to be scored.", code="not_positive")
    if not values:
        return None
    if criterion.lower_is_better:
        return len(values) / math.fsum(1.0 / value for value in values)
    return math.fsum(values) / len(values)


def _total(
    entry: Entry, criteria: Sequence[Criterion], means: Mapping[str, float]
) -> tuple[dict[str, float], float | Absent, tuple[str, ...]]:
    scores: dict[str, float] = {}
    present = total = 0.0
    for criterion in criteria:
        figure, mean = entry.figures.get(criterion.name), means.get(criterion.name)
        if figure is None or mean is None:
            continue
        ratio = mean / figure.value if criterion.lower_is_better else figure.value / mean
        scores[criterion.name] = 100.0 * ratio
        present += criterion.weight
        total += criterion.weight * 100.0 * ratio
    whole = math.fsum(criterion.weight for criterion in criteria)
    missing = tuple(c.name for c in criteria if c.name not in scores)
    if present < (1.0 - MOST_MISSING_WEIGHT) * whole or present == 0:
        return scores, Absent("too_much_missing", f"lacks {', '.join(missing)}"), missing
    return scores, total / present, missing


def _mean_of(values: Sequence[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    if any(value <= 0 for value in known):
        raise QuantityError("Masses and prices must be above 0.")
    return math.fsum(known) / len(known) if known else None


def _normalised(
    total: float | Absent, mean: float | None, own: float | None, what: str
) -> float | Absent:
    if isinstance(total, Absent):
        return total
    if mean is None or own is None:
        return Absent(f"no_{what}", f"its {what} is not known")
    return total * mean / own


@dataclass(frozen=True, slots=True)
class Move:
    """A motor whose place changed between two snapshots, and the reasons."""

    name: str
    before: int | None
    after: int | None
    reasons: tuple[str, ...]


def moves(before: Snapshot, after: Snapshot) -> list[Move]:
    """Who moved from one snapshot to the next, and why: own figures, new motors, weights."""
    old = {item.name: item for item in before.scored}
    new = {item.name: item for item in after.scored}
    joined = sorted(new.keys() - old.keys())
    left = sorted(old.keys() - new.keys())
    found = []
    for name, item in new.items():
        previous = old.get(name)
        if previous is not None and previous.place == item.place:
            continue
        reasons = []
        if previous is None:
            reasons.append("joined the cohort")
        else:
            reasons += _own_changes(before, after, name)
            if joined:
                reasons.append(f"joined: {', '.join(joined)}")
            if left:
                reasons.append(f"left: {', '.join(left)}")
            if before.criteria != after.criteria:
                reasons.append("other criteria or weights")
            if not reasons:
                reasons.append("others' figures changed")
        found.append(Move(name, previous.place if previous else None, item.place, tuple(reasons)))
    return found


def _own_changes(before: Snapshot, after: Snapshot, name: str) -> list[str]:
    old, new = before.entries.get(name), after.entries.get(name)
    if old is None or new is None:
        return []
    changes = []
    for key in sorted(old.figures.keys() | new.figures.keys()):
        a, b = old.figures.get(key), new.figures.get(key)
        measure = MEASURES.get(key)
        said, unit = (measure.label, f" {measure.unit}") if measure else (key, "")
        if a is None and b is not None:
            changes.append(f"{said} was measured")
        elif b is None:
            changes.append(f"{said} was withdrawn")
        elif a is not None and a.value != b.value:
            changes.append(f"{said} {a.value:.4g} → {b.value:.4g}{unit}".rstrip())
    return changes
