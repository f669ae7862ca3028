"""Direction check: a few seconds at low throttle, just enough to see which way it pulls."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Segment

UP_PCT_PER_S = 10.0
"""So slowly that a wrong prop is seen before it is fast."""


def segments(level_pct: float, turn_s: float, rest_s: float) -> Iterator[Segment]:
    """Up, a look, down, from rest to rest."""
    ramp_s = level_pct / UP_PCT_PER_S
    yield Segment(0.0, 0.0, rest_s, "zero before")
    yield Segment(0.0, level_pct, ramp_s, f"to {level_pct:g} %")
    yield Segment(level_pct, level_pct, turn_s, "which way does it pull?")
    yield Segment(level_pct, 0.0, ramp_s, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
