"""Ramp: one slow sweep of the throttle up and down, with a short rest at the top."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.errors import PlanError
from spindle_bench.profiles.following import Segment


def segments(
    from_pct: float, to_pct: float, sweep_pct_per_s: float, top_s: float, rest_s: float
) -> Iterator[Segment]:
    """The sweep from rest to rest; it begins and ends at ``from_pct``.

    :raises PlanError: a sweep that does not go up.
    """
    if to_pct <= from_pct:
        raise PlanError("A sweep goes up: set the end above the beginning.", field="to_pct")
    yield Segment(0.0, 0.0, rest_s, "zero before")
    if from_pct > 0:
        yield Segment(0.0, from_pct, from_pct / 40.0, f"to {from_pct:g} %")
        yield Segment(from_pct, from_pct, 1.0, "before the sweep")
    seconds = (to_pct - from_pct) / sweep_pct_per_s
    yield Segment(from_pct, to_pct, seconds, "sweep up")
    if top_s > 0:
        yield Segment(to_pct, to_pct, top_s, "at the top")
    yield Segment(to_pct, from_pct, seconds, "sweep down")
    if from_pct > 0:
        yield Segment(from_pct, 0.0, from_pct / 40.0, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
