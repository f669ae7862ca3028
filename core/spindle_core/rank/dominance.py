"""Which choice is beaten in everything, and what the better ones cost."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, difference

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
class MarginalPrice:
    """What the dearer of two choices costs for what it adds.

    ``per_gram_saved`` and ``per_percent_gained`` in the currency of the prices; absent where it
    saves or gains nothing.
    """

    dearer: str
    cheaper: str
    extra: float
    per_gram_saved: float | Absent
    per_percent_gained: float | Absent


def marginal_price(
    first: tuple[str, float, float, float], second: tuple[str, float, float, float]
) -> MarginalPrice | Absent:
    """Extra price per gram saved and per 1 % of a figure gained.

    :param first, second: name, price, mass [g], figure (higher is better).
    :returns: absent at equal prices.
    """
    if first[1] == second[1]:
        return Absent("same_price", "both cost the same")
    dear, cheap = (first, second) if first[1] > second[1] else (second, first)
    if min(cheap[1], dear[2], cheap[2], dear[3], cheap[3]) <= 0:
        raise QuantityError("Prices, masses and figures must be above 0.")
    extra = dear[1] - cheap[1]
    saved = cheap[2] - dear[2]
    gained = 100.0 * (dear[3] / cheap[3] - 1.0)
    return MarginalPrice(
        dear[0],
        cheap[0],
        extra,
        extra / saved if saved > 0 else Absent("no_saving", "the dearer one is not lighter"),
        extra / gained if gained > 0 else Absent("no_gain", "the dearer one gives no more"),
    )
