"""Whether a figure keeps a bound: told that it does, told that it does not, or not told."""

from __future__ import annotations

from enum import StrEnum

from spindle_core.compare.delta import K_95
from spindle_core.figures.measured import Measured


class Standing(StrEnum):
    """How a figure stands to a bound, at 95 %."""

    KEPT = "kept"
    NOT_TOLD = "not told"
    BROKEN = "broken"


def at_least(figure: Measured, least: float) -> Standing:
    """Whether a figure reaches what is wanted [unit of the figure]; the bound itself does."""
    return _held(figure.value - least, figure.u)


def at_most(figure: Measured, most: float) -> Standing:
    """Whether a figure stays within what is allowed [unit of the figure]; the bound itself does."""
    return _held(most - figure.value, figure.u)


def _held(room: float, u: float) -> Standing:
    if u > 0 and abs(room) <= K_95 * u:
        return Standing.NOT_TOLD
    return Standing.KEPT if room >= 0 else Standing.BROKEN
