"""Response: the throttle jumps between two levels, several times."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.errors import PlanError
from spindle_bench.profiles.following import Segment


def segments(
    low_pct: float, high_pct: float, cycles: float, dwell_s: float, rest_s: float
) -> Iterator[Segment]:
    """The cycles from rest to rest.

    :raises PlanError: levels that do not differ upwards.
    """
    if high_pct <= low_pct:
        raise PlanError("The high level is above the low one.", field="high_pct")
    count = round(cycles)
    yield Segment(0.0, 0.0, rest_s, "zero before")
    yield Segment(0.0, low_pct, low_pct / 20.0, f"to {low_pct:g} %")
    yield Segment(low_pct, low_pct, max(1.0, dwell_s), "before the cycles")
    for number in range(1, count + 1):
        yield Segment(high_pct, high_pct, dwell_s, f"cycle {number} of {count}: high")
        yield Segment(low_pct, low_pct, dwell_s, f"cycle {number} of {count}: low")
    yield Segment(low_pct, 0.0, low_pct / 20.0, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
