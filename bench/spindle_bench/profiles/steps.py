"""Steps: plateaus of throttle between two rests at 0, which give the tare before and after."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Segment


def segments(
    levels_pct: tuple[float, ...], dwell_s: float, ramp_pct_per_s: float, rest_s: float
) -> Iterator[Segment]:
    """The throttle of plateaus, from rest to rest."""
    yield Segment(0.0, 0.0, rest_s, "zero before")
    at = 0.0
    for number, level in enumerate(levels_pct, start=1):
        if level != at:
            yield Segment(at, level, abs(level - at) / ramp_pct_per_s, f"to {level:g} %")
        label = f"{number} of {len(levels_pct)}: {level:g} %"
        yield Segment(level, level, dwell_s, label)
        at = level
    yield Segment(at, 0.0, at / ramp_pct_per_s, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")
