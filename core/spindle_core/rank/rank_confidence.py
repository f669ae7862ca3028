"""How sure the places of a ranking are: seeded draws from every figure's uncertainty.

A shared component (one load cell's gain) takes one value per draw for all motors that carry it,
so that it moves them together and hardly changes a place; run-to-run terms are drawn apart.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured, source_of
from spindle_core.rank.scoring import MOST_MISSING_WEIGHT, Criterion, Entry, Snapshot

DRAWS = 2000

SCALES = ("mass_g", "price")
"""What a score is also given per."""


@dataclass(frozen=True, slots=True)
class RankConfidence:
    """How sure the places of m motors are.

    ``probability`` (m, m): of motor i at place j; ``interval``: 95 % of its places, 1-based.
    ``ahead`` (m, m): probability that motor i scores more than motor j; ``total_u``,
    ``per_mass_u`` and ``per_price_u`` (m,): standard uncertainty of each total, and of the same per
    mass and per price, NaN for a motor whose mass or price is not known; ``score_u``: the same of
    its score by each criterion, (m,), NaN where it has none.
    """

    names: tuple[str, ...]
    probability: Floats
    interval: tuple[tuple[int, int], ...]
    ahead: Floats
    total_u: Floats
    per_mass_u: Floats
    per_price_u: Floats
    score_u: Mapping[str, Floats]

    def of(self, name: str, place: int) -> float:
        """Probability of a motor's place (1-based)."""
        return float(self.probability[self.names.index(name), place - 1])


def rank_confidence(
    entries: Sequence[Entry], criteria: Sequence[Criterion], *, seed: int, draws: int = DRAWS
) -> RankConfidence:
    """Probabilities of each place from ``draws`` scorings of drawn figures.

    Components of one kind and source are one random number in each draw. Motors that are unranked
    at their values are left out.

    :raises QuantityError: fewer than two motors that can be ranked.
    """
    weights = np.array([c.weight for c in criteria])
    kept = [entry for entry in entries if _weight_present(entry, criteria) is not None]
    if len(kept) < 2:
        raise QuantityError("A confidence needs two motors that are ranked.", code="too_few")
    count = len(kept)
    rng = np.random.default_rng(seed)
    drawn, present = _drawn(kept, [c.name for c in criteria], rng, draws)
    scores = _scores(drawn, criteria)
    total: Floats = np.nansum(weights * scores, axis=2) / (present @ weights)
    order = np.argsort(-total, axis=1, kind="stable")
    places = np.empty_like(order)
    np.put_along_axis(places, order, np.arange(count)[None, :], axis=1)
    probability = np.stack([(places == j).mean(axis=0) for j in range(count)], axis=1)
    # After the places, so that they are what they are whatever was weighed beside.
    below, _ = _drawn([_beside(entry) for entry in entries], SCALES, rng, draws)
    rows = [k for k, entry in enumerate(entries) if _weight_present(entry, criteria) is not None]
    for j, criterion in enumerate(criteria):
        if criterion.name in SCALES:
            below[:, rows, SCALES.index(criterion.name)] = drawn[:, :, j]
    per_mass, per_price = (_per(total, below[:, :, k], rows) for k in range(len(SCALES)))
    edges = np.quantile(places, [0.025, 0.975], axis=0, method="nearest") + 1
    return RankConfidence(
        tuple(entry.name for entry in kept),
        probability,
        tuple((int(low), int(high)) for low, high in edges.T),
        (places[:, :, None] < places[:, None, :]).mean(axis=0),
        total.std(axis=0),
        per_mass.std(axis=0),
        per_price.std(axis=0),
        {c.name: scores[:, :, j].std(axis=0) for j, c in enumerate(criteria)},
    )


def _drawn(
    entries: Sequence[Entry], names: Sequence[str], rng: np.random.Generator, draws: int
) -> tuple[Floats, np.ndarray]:
    """Figures by motor and name as they may be (draws, m, c), NaN where absent; and which are
    there (m, c)."""
    values, shared, own = _arrays(entries, names)
    moved = rng.standard_normal((draws, values.size)) * own
    if shared.shape[0]:
        moved += rng.standard_normal((draws, shared.shape[0])) @ shared
    drawn = values + moved.reshape(draws, *values.shape)
    present = np.isfinite(values)
    # A draw far in the tail must not turn a figure negative and its score upside down.
    kept = np.maximum(drawn, 0.02 * np.nan_to_num(values, nan=1.0))
    return np.where(present, kept, np.nan), present


def _per(total: Floats, below: Floats, rows: Sequence[int]) -> Floats:
    """Totals over what the motors weigh or cost (draws, m): total × the cohort's mean ÷ own.

    :param below: of the whole cohort, (draws, all); NaN where it is not known.
    """
    known = below[:, np.isfinite(below).all(axis=0)]
    if not known.shape[1]:
        return np.full_like(total, np.nan)
    found: Floats = total * known.mean(axis=1, keepdims=True) / below[:, rows]
    return found


SURE = 0.95


PROBABLE = 0.75


def lead_words(name: str, probability: float) -> str:
    """Who leads, as surely as it may be said: a sentence without a figure.

    :param probability: that it leads, in [0, 1]; nan where nobody knows.
    """
    if probability >= SURE:
        return f"{name} leads."
    if probability >= PROBABLE:
        return f"{name} probably leads."
    return f"Nobody can be said to lead; {name} is first by less than the runs can tell."


def tied_places(confidence: RankConfidence, order: Sequence[str]) -> list[tuple[int, int]]:
    """Blocks of neighbouring places, first and last, in which nobody is surely before another.

    In each block every motor is ahead of each one behind it with less than 95 %. Blocks are as
    long as they can be and may overlap: that 1 and 3 differ does not tell 2 from either.

    :param order: names by place; those that the confidence does not know end it.
    """
    rows = [confidence.names.index(name) for name in order if name in confidence.names]
    blocks: list[tuple[int, int]] = []
    for first in range(len(rows)):
        last = first
        while last + 1 < len(rows) and all(
            confidence.ahead[rows[k], rows[last + 1]] < SURE for k in range(first, last + 1)
        ):
            last += 1
        if last > first and not (blocks and blocks[-1][1] >= last + 1):
            blocks.append((first + 1, last + 1))
    return blocks


def tie_words(blocks: Sequence[tuple[int, int]]) -> list[str]:
    """The same in words."""
    return [
        f"Places {first} {'and' if last == first + 1 else 'to'} {last} cannot be told apart."
        for first, last in blocks
    ]


def _weight_present(entry: Entry, criteria: Sequence[Criterion]) -> float | None:
    whole = math.fsum(c.weight for c in criteria)
    present = math.fsum(c.weight for c in criteria if c.name in entry.figures)
    return present if present >= (1.0 - MOST_MISSING_WEIGHT) * whole and present > 0 else None


def _beside(entry: Entry) -> Entry:
    """What a score is given per; a mass or price that was given as a plain number is exact."""
    plain = {"mass_g": entry.mass_g, "price": entry.price}
    exact = {name: Measured(value) for name, value in plain.items() if value is not None}
    own = {name: entry.figures[name] for name in SCALES if name in entry.figures}
    return Entry(entry.name, exact | own)


def _arrays(entries: Sequence[Entry], names: Sequence[str]) -> tuple[Floats, Floats, Floats]:
    """Values (m, c), NaN where absent; what components that several figures carry contribute,
    (components, m·c); and what each figure has of its own together, (m·c,)."""
    values = np.full((len(entries), len(names)), np.nan)
    cells: list[tuple[int, int, float]] = []
    numbers: dict[str, int] = {}
    for i, entry in enumerate(entries):
        for j, called in enumerate(names):
            figure = entry.figures.get(called)
            if figure is None:
                continue
            values[i, j] = figure.value
            for name, part in figure.components.items():
                key = name if source_of(name) else f"{name}|{entry.name}|{called}"
                row = numbers.setdefault(key, len(numbers))
                cells.append((row, i * len(names) + j, part))
    carried: dict[int, set[int]] = {}
    for row, column, _ in cells:
        carried.setdefault(row, set()).add(column)
    place = {row: k for k, row in enumerate(r for r, c in carried.items() if len(c) > 1)}
    shared, own = np.zeros((len(place), values.size)), np.zeros(values.size)
    for row, column, part in cells:
        if row in place:
            shared[place[row], column] += part
        else:
            own[column] += part**2
    return values, shared, np.sqrt(own)


def _scores(drawn: Floats, criteria: Sequence[Criterion]) -> Floats:
    """Scores (draws, m, c), NaN where absent: the same rule as
    :func:`spindle_core.rank.scoring.score_cohort`."""
    scores = np.full_like(drawn, np.nan)
    for j, criterion in enumerate(criteria):
        present = np.isfinite(drawn[0, :, j])
        if not present.any():
            continue
        column = drawn[:, present, j]
        if criterion.lower_is_better:
            scores[:, present, j] = 100.0 / (np.mean(1.0 / column, axis=1, keepdims=True) * column)
        else:
            scores[:, present, j] = 100.0 * column / column.mean(axis=1, keepdims=True)
    return scores


@dataclass(frozen=True, slots=True)
class Swap:
    """The change of one weight that would swap the first two places."""

    criterion: str
    weight: float
    needed: float

    @property
    def change_pct(self) -> float:
        """Relative change of the weight [%]; infinite from 0."""
        return math.inf if self.weight == 0 else 100.0 * (self.needed / self.weight - 1.0)


def weight_swaps(snapshot: Snapshot) -> list[Swap] | Absent:
    """For each criterion the weight at which the first two change places, smallest change first.

    Criteria whose weight would have to be negative are left out.
    """
    ranked = [item for item in snapshot.scored if item.place is not None]
    if len(ranked) < 2:
        return Absent("too_few", "needs two ranked motors")
    first, second = ranked[0], ranked[1]
    if first.missing or second.missing:
        return Absent("criteria_differ", "the first two were not scored by the same criteria")
    gaps = {c.name: first.scores[c.name] - second.scores[c.name] for c in snapshot.criteria}
    lead = math.fsum(c.weight * gaps[c.name] for c in snapshot.criteria)
    swaps = [
        Swap(c.name, c.weight, c.weight - lead / gaps[c.name])
        for c in snapshot.criteria
        if gaps[c.name] != 0 and c.weight - lead / gaps[c.name] >= 0
    ]
    return sorted(swaps, key=lambda swap: abs(swap.needed - swap.weight))


def lead_figure(first: float, second: float, ahead: float) -> Measured:
    """The first of two totals with what its lead over the second may be off, as the draws say.

    :param ahead: probability that the first really is ahead. Where no draw says otherwise, the
        lead is as sure as so many draws can make it.
    """
    sure = 1.0 - 0.5 / DRAWS
    z = NormalDist().inv_cdf(min(max(ahead, 1.0 - sure), sure))
    if first == second or z == 0:
        return Measured(first, {"lead": abs(first)})
    return Measured(first, {"lead": abs((first - second) / z)})
