"""What was read at full throttle, and which runs reached the top that others did.

The largest thrust of a run is what it reached; of a motor it is that only where the run went to
full throttle. A run that somebody ended at 60 %, or that a limit did, tells of the thrusts below.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final, TypeVar

from spindle_core.compare.measured_run import strongest_point
from spindle_core.figures.measured import Absent
from spindle_core.reduction.result import Point
from spindle_core.run.duty import FULL_THROTTLE_PCT

SAME_TOP_PCT: Final = 100.0 - FULL_THROTTLE_PCT
"""Highest throttles that are no further apart are one [%]."""


def highest_throttle_pct(points: Sequence[Point]) -> float | None:
    """The highest throttle of a run's points [%]; None where none was noted."""
    known = (value for point in points if (value := point.value("throttle_pct")) is not None)
    return max(known, default=None)


def full_throttle_point(points: Sequence[Point]) -> Point | Absent:
    """The point of most thrust of a run that went to full throttle; a run of which nobody noted
    the throttle counts as one."""
    top = strongest_point(points)
    if top is None:
        return Absent("not_logged", "thrust was not logged")
    reached = top.value("throttle_pct")
    if reached is None:
        reached = highest_throttle_pct(points)
    if reached is not None and reached < FULL_THROTTLE_PCT:
        return Absent("no_full_throttle", f"it was run to {reached:.0f} % of throttle")
    return top


Run = TypeVar("Run")


def to_the_top(runs: Sequence[Run], points_of: Callable[[Run], Sequence[Point]]) -> list[Run]:
    """Those of the runs that went as high as any of them: only these repeat each other there.

    A run of which nobody noted the throttle counts as one at full throttle.
    """
    reached = [highest_throttle_pct(points_of(run)) for run in runs]
    tops = [100.0 if pct is None else pct for pct in reached]
    most = max(tops, default=0.0)
    return [run for run, top in zip(runs, tops, strict=True) if top >= most - SAME_TOP_PCT - 1e-9]
