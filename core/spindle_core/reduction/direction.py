"""Reduction of a direction check: a few seconds at low throttle, and which way it pulls."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.figures.remark import Remark
from spindle_core.reduction.result import Reduction
from spindle_core.reduction.steps import plateau_points, say_all
from spindle_core.run.trace import Trace

SURE: Final = 2.0
"""A pull counts where it lies so many u off nothing."""

LEAST_GF: Final = 3.0
"""Below that a stand's tare, cables and draught decide, whatever u says."""

TOLD = ("thrust_gf", "current_a", "speed_rpm", "vibration_g")


class Way(StrEnum):
    """Which way a motor pulled."""

    PULLS = "pulls"
    PUSHES = "pushes"
    UNCLEAR = "unclear"


def which_way(thrust_gf: Figure) -> Way:
    """The way of a thrust at low throttle, tared; unclear where it is not there or too little."""
    if isinstance(thrust_gf, Absent):
        return Way.UNCLEAR
    clear = max(SURE * thrust_gf.u, LEAST_GF)
    if thrust_gf.value > clear:
        return Way.PULLS
    return Way.PUSHES if thrust_gf.value < -clear else Way.UNCLEAR


SAID: Final = {
    Way.PUSHES: Remark(
        "pulls_backwards",
        "The thrust is negative: it turns the wrong way, the propeller is upside down or of the "
        "other hand, or the stand's sign is. Take the propeller off before you swap two of the "
        "three phase wires or change the ESC's direction.",
    ),
    Way.UNCLEAR: Remark(
        "direction_unclear",
        "The thrust is too small to tell which way it pulls; look at the propeller, or check again "
        "at a little more throttle.",
    ),
}


def reduce(trace: Trace) -> Reduction:
    """The figures of the plateau, and a remark where it does not pull as it should.

    :raises ReductionError: nothing tells where the plateau is, or there is none.
    """
    work, points, found = plateau_points(trace)
    say_all(work, points, found)
    strongest = max(points, key=_size)
    summary: dict[str, Figure] = {
        name: strongest.figures[name] for name in TOLD if name in strongest.figures
    }
    way = which_way(
        strongest.figures.get("thrust_gf", Absent("not_logged", "no thrust was logged"))
    )
    warnings = (*work.warnings, SAID[way]) if way in SAID else tuple(work.warnings)
    return Reduction("direction", points, summary, warnings, tuple(work.outliers))


def _size(point: object) -> float:
    figure = getattr(point, "figures", {}).get("thrust_gf")
    return abs(figure.value) if isinstance(figure, Measured) else 0.0
