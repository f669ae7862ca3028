"""Peak: short bursts to full throttle with a rest between."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Segment

UP_S = 0.25
"""A burst is reached this fast; the jump itself is no part of what is averaged."""


def segments(bursts: float, burst_s: float, pause_s: float, rest_s: float) -> Iterator[Segment]:
    """The bursts from rest to rest."""
    count = round(bursts)
    yield Segment(0.0, 0.0, rest_s, "zero before")
    for number in range(1, count + 1):
        yield Segment(0.0, 100.0, UP_S, f"burst {number} of {count}: up")
        yield Segment(100.0, 100.0, burst_s, f"burst {number} of {count}")
        yield Segment(100.0, 0.0, UP_S, "down")
        if number < count:
            yield Segment(0.0, 0.0, pause_s, f"pause before burst {number + 1}")
    yield Segment(0.0, 0.0, rest_s, "zero after")
