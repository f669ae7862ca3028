"""Peak: short bursts to full throttle with a rest between, some at half throttle before them."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Segment

UP_S = 0.25
"""A burst is reached this fast; the jump itself is no part of what is averaged."""

HALF_PCT = 50.0


def segments(
    bursts: float, burst_s: float, pause_s: float, rest_s: float, half_bursts: float = 0.0
) -> Iterator[Segment]:
    """The bursts from rest to rest, the light ones first."""
    full, half = round(bursts), round(half_bursts)
    rising = [(HALF_PCT, f"half burst {number} of {half}") for number in range(1, half + 1)] + [
        (100.0, f"burst {number} of {full}") for number in range(1, full + 1)
    ]
    yield Segment(0.0, 0.0, rest_s, "zero before")
    for place, (level, label) in enumerate(rising):
        if place:
            yield Segment(0.0, 0.0, pause_s, f"pause before {label.split(' of ')[0]}")
        yield Segment(0.0, level, UP_S, f"{label}: up")
        yield Segment(level, level, burst_s, label)
        yield Segment(level, 0.0, UP_S, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
