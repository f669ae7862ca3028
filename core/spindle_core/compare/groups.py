"""Which motors perform the same: groups in which every pair is equivalent.

Five models may be one motor in five boxes. A pair counts as the same only when it was *shown* to
be (both one-sided tests passed); that no difference was found is not enough. Over a cohort's many
pairs false discoveries are held to 5 % (Benjamini and Hochberg 1995), and complete linkage keeps
chains of neighbours from joining ends that differ.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.compare.delta import DEFAULT_MARGIN
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, difference
from spindle_core.figures.numerics import t_below
from spindle_core.figures.repeats import effective_freedom

FALSE_DISCOVERY_RATE = 0.05


@dataclass(frozen=True, slots=True)
class EquivalencePair:
    """Two names, |d| ÷ the margin's half-width, and the p-value of equivalence."""

    first: str
    second: str
    distance: float
    p_value: float


@dataclass(frozen=True, slots=True)
class Groups:
    """Groups of two or more that perform the same, largest first, and all pairs behind them."""

    groups: tuple[tuple[str, ...], ...]
    pairs: tuple[EquivalencePair, ...]


def performs_the_same(
    figures: Mapping[str, Mapping[str, Measured]],
    *,
    margin: float = DEFAULT_MARGIN,
    rate: float = FALSE_DISCOVERY_RATE,
    freedom: Mapping[str, float] | None = None,
) -> Groups:
    """Groups whose members are equivalent in every figure they share.

    :param figures: motor → figure name → value; a pair is judged by its worst shared figure.
    :param margin: relative half-width of equivalence.
    :param freedom: kind of component → degrees of freedom of the repeats it comes from.
    :raises QuantityError: a margin or rate outside 0 to 1.
    """
    if not (0 < margin < 1 and 0 < rate < 1):
        raise QuantityError("Margin and rate lie between 0 and 1.")
    names = sorted(figures)
    pairs = [
        pair
        for i, first in enumerate(names)
        for second in names[i + 1 :]
        if (pair := _pair(first, second, figures[first], figures[second], margin, freedom))
        is not None
    ]
    kept = benjamini_hochberg([pair.p_value for pair in pairs], rate)
    same = {
        (pair.first, pair.second): pair.distance
        for pair, shown in zip(pairs, kept, strict=True)
        if shown
    }
    return Groups(_complete_linkage(names, same), tuple(pairs))


def _pair(
    first: str,
    second: str,
    a: Mapping[str, Measured],
    b: Mapping[str, Measured],
    margin: float,
    freedom: Mapping[str, float] | None,
) -> EquivalencePair | None:
    worst_p, farthest, shared = 0.0, 0.0, 0
    for name in a.keys() & b.keys():
        middle = 0.5 * (abs(a[name].value) + abs(b[name].value))
        if middle == 0:
            continue
        shared += 1
        delta = difference(a[name], b[name])
        allowed = margin * middle
        farthest = max(farthest, abs(delta.value) / allowed)
        worst_p = max(worst_p, equivalence_p(delta, allowed, freedom=freedom))
    return EquivalencePair(first, second, farthest, worst_p) if shared else None


def equivalence_p(
    delta: Measured, allowed: float, *, freedom: Mapping[str, float] | None = None
) -> float:
    """p of the larger of two one-sided tests of |d| ≥ ``allowed`` (Schuirmann 1987).

    By Student's t where the scatter comes from few repeats.
    """
    if delta.u == 0:
        return 0.0 if abs(delta.value) < allowed else 1.0
    z = (allowed - abs(delta.value)) / delta.u
    nu = max(1.0, effective_freedom(delta, freedom)) if freedom else math.inf
    return 0.5 * math.erfc(z / math.sqrt(2.0)) if nu > 1e6 else t_below(nu, -z)


def benjamini_hochberg(p_values: list[float], rate: float) -> list[bool]:
    """Which hypotheses are discoveries at a false discovery rate, in the order given."""
    order = sorted(range(len(p_values)), key=lambda i: p_values[i])
    last = 0
    for place, i in enumerate(order, start=1):
        if p_values[i] <= rate * place / len(p_values):
            last = place
    kept = set(order[:last])
    return [i in kept for i in range(len(p_values))]


def _complete_linkage(
    names: list[str], same: Mapping[tuple[str, str], float]
) -> tuple[tuple[str, ...], ...]:
    """Merge the two nearest clusters while every pair across them is the same."""
    clusters: list[tuple[str, ...]] = [(name,) for name in names]

    def reach(a: tuple[str, ...], b: tuple[str, ...]) -> float:
        return max(same.get((x, y) if x < y else (y, x), math.inf) for x in a for y in b)

    while True:
        candidates = [
            (distance, i, j)
            for i in range(len(clusters))
            for j in range(i + 1, len(clusters))
            if (distance := reach(clusters[i], clusters[j])) < math.inf
        ]
        if not candidates:
            break
        _, i, j = min(candidates)
        clusters[i] = tuple(sorted(clusters[i] + clusters[j]))
        del clusters[j]
    found = [cluster for cluster in clusters if len(cluster) > 1]
    return tuple(sorted(found, key=lambda cluster: (-len(cluster), cluster)))
