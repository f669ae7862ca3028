"""What one choice gives for another: differences with their u, and whether they are told at all."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import is_told
from spindle_core.figures.measured import Measured, source_of
from spindle_core.figures.said import figure as in_words
from spindle_core.figures.said import number


def apart_u(figures: Sequence[Measured]) -> list[float]:
    """u of each without what all of them carry [unit of the figures]: by what they may be off from
    one another, so that a guessed mass of the craft does not hide how far they are apart.

    Parts that name no source are nobody's but their own.
    """
    if len(figures) < 2:
        return [figure.u for figure in figures]
    common = set.intersection(*(set(figure.components) for figure in figures))
    shared = {key for key in common if source_of(key)}
    return [
        math.hypot(*(part for key, part in figure.components.items() if key not in shared))
        for figure in figures
    ]


@dataclass(frozen=True, slots=True)
class Differs:
    """A difference in words: of what, in which unit."""

    what: str
    change: Measured
    unit: str

    def words(self) -> str:
        """“−7.0 ± 1.2 % thrust”; “thrust not told apart (+1 ± 3 %)” where it is none that is told.

        Exact figures that are the same to the digits that are said are called so.
        """
        if self.change.u == 0:
            decimals = 0 if self.unit == "%" else 1
            if round(self.change.value, decimals) == 0:
                return f"the same {self.what}"
            said = number(self.change.value, decimals, signed=True)
            return self._with(f"{said} {self.unit}")
        said = in_words(self.change.value, self.change.u, self.unit, signed=True)
        return self._with(said) if is_told(self.change) else f"{self.what} not told apart ({said})"

    def _with(self, said: str) -> str:
        # Minutes and grams say themselves of what they are.
        return f"{said} {self.what}" if self.unit == "%" else said


def told_first(differences: Sequence[Differs]) -> str:
    """All of them, those that are told first."""
    ordered = sorted(differences, key=lambda one: not is_told(one.change))
    return ", ".join(one.words() for one in ordered)
