"""Which choice is beaten in everything, and what the better ones cost."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import is_told, relative_pct
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, difference, ratio

LOWER_IS_BETTER = frozenset({"mass_g", "price", "rise_k", "current_a", "power_w"})


@dataclass(frozen=True, slots=True)
class Dominance:
    """``better`` equals or beats ``worse`` in every criterion.

    ``confidence``: the lowest probability over the criteria that it really does, with a
    difference inside the margin counting as equal. ``only_if``: criteria in which ``worse`` is
    not beaten by more than the margin, for "B only if …".
    """

    better: str
    worse: str
    confidence: float
    only_if: tuple[str, ...]
    sentence: str


def dominated(
    choices: Mapping[str, Mapping[str, Measured]],
    *,
    lower_is_better: frozenset[str] = LOWER_IS_BETTER,
    margin: float = 0.01,
    least_confidence: float = 0.8,
) -> list[Dominance]:
    """Every pair in which one choice is beaten or equalled in all criteria they share.

    :param choices: name → criterion → figure; at least two shared criteria are needed.
    :param margin: relative difference that counts as equal.
    """
    found = []
    for better, a in choices.items():
        for worse, b in choices.items():
            shared = sorted(a.keys() & b.keys())
            if better == worse or len(shared) < 2:
                continue
            gains = {
                name: _gain(a[name], b[name], lower=name in lower_is_better) for name in shared
            }
            if min(_not_worse(gain, margin) for gain in gains.values()) < least_confidence:
                continue
            if max(gain.value for gain in gains.values()) <= margin:
                continue
            confidence = min(_not_worse(gain, margin) for gain in gains.values())
            only_if = tuple(name for name, gain in gains.items() if gain.value <= margin)
            found.append(
                Dominance(better, worse, confidence, only_if, _sentence(better, worse, only_if))
            )
    return found


def _gain(a: Measured, b: Measured, *, lower: bool) -> Measured:
    """Relative advantage of a over b, positive where a is better."""
    if b.value == 0:
        raise QuantityError("A relative advantage over 0 does not exist.")
    gap = difference(a, b)
    scale = (-1.0 if lower else 1.0) / abs(b.value)
    return gap.scaled(scale)


def _not_worse(gain: Measured, margin: float) -> float:
    """Probability that the advantage is above −margin."""
    if gain.u == 0:
        return 1.0 if gain.value >= -margin else 0.0
    return 0.5 * math.erfc(-(gain.value + margin) / gain.u / math.sqrt(2.0))


def _sentence(better: str, worse: str, only_if: Sequence[str]) -> str:
    if not only_if:
        return f"Choose {better}; {worse} is behind in everything measured."
    names = ", ".join(name.rsplit("_", 1)[0].replace("_", " ") for name in only_if)
    return f"Choose {better}; {worse} only if {names} is all that counts, where they are level."


@dataclass(frozen=True, slots=True)
class Priced:
    """A choice with its price, its mass [g] and a figure of which more is better."""

    name: str
    price: float
    mass_g: Measured
    figure: Measured


@dataclass(frozen=True, slots=True)
class MarginalPrice:
    """What the dearer of two choices costs for what it adds.

    ``per_gram_saved`` and ``per_percent_gained`` in the currency of the prices; absent where it is
    not told to save or gain anything.
    """

    dearer: str
    cheaper: str
    extra: float
    per_gram_saved: Figure
    per_percent_gained: Figure


def marginal_price(first: Priced, second: Priced) -> MarginalPrice | Absent:
    """Extra price per gram saved and per 1 % of a figure gained.

    :returns: absent at equal prices.
    :raises QuantityError: a price, mass or figure that is not above 0.
    """
    if first.price == second.price:
        return Absent("same_price", "both cost the same")
    dear, cheap = (first, second) if first.price > second.price else (second, first)
    values = (one.value for item in (dear, cheap) for one in (item.mass_g, item.figure))
    if min(cheap.price, *values) <= 0:
        raise QuantityError("Prices, masses and figures must be above 0.")
    extra = dear.price - cheap.price
    saved = difference(cheap.mass_g, dear.mass_g)
    gained = relative_pct(dear.figure, cheap.figure)
    return MarginalPrice(
        dear.name,
        cheap.name,
        extra,
        _per(extra, saved, Absent("no_saving", "the dearer one is not told to be lighter")),
        _per(extra, gained, Absent("no_gain", "the dearer one is not told to give more")),
    )


def _per(extra: float, won: Measured, nothing: Absent) -> Figure:
    # What may be nothing would cost no end.
    return ratio(Measured(extra), won) if won.value > 0 and is_told(won) else nothing
