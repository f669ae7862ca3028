"""No load: full throttle on a bare shaft, reached slowly enough for the ESC."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Segment

UP_S = 2.0


def segments(burst_s: float, rest_s: float) -> Iterator[Segment]:
    """Up, full throttle, down, from rest to rest."""
    yield Segment(0.0, 0.0, rest_s, "zero before")
    yield Segment(0.0, 100.0, UP_S, "up")
    yield Segment(100.0, 100.0, burst_s, "full throttle, bare shaft")
    yield Segment(100.0, 0.0, UP_S, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
