"""Soak: a constant load for a time or up to a temperature, then a stop and a watch."""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.profiles.following import Done, Next, Sample, Segment

UP_PCT_PER_S = 20.0
DOWN_S = 0.5


def segments(level_pct: float, load_s: float, watch_s: float, rest_s: float) -> Iterator[Segment]:
    """The soak at its longest."""
    yield Segment(0.0, 0.0, rest_s, "zero before")
    yield Segment(0.0, level_pct, level_pct / UP_PCT_PER_S, f"to {level_pct:g} %")
    yield Segment(level_pct, level_pct, load_s, f"under load at {level_pct:g} %")
    yield Segment(level_pct, 0.0, DOWN_S, "down")
    yield Segment(0.0, 0.0, watch_s, "watching it cool")


class SoakFollower:
    """Follows the soak; a case that reaches ``until_c`` [°C] ends the load early."""

    def __init__(
        self, level_pct: float, load_s: float, watch_s: float, until_c: float | None, rest_s: float
    ) -> None:
        self._level = level_pct
        self._until_c = until_c
        up_s = level_pct / UP_PCT_PER_S
        self._begin_s = rest_s
        self._full_s = rest_s + up_s
        self._stop_s = rest_s + up_s + load_s
        self._watch_s = watch_s
        self.label = "zero before"

    def next(self, time_s: float, sample: Sample) -> Next:
        """The throttle at this time."""
        if time_s < self._begin_s:
            return 0.0
        case = sample.get("motor_temp_c")
        warm = self._until_c is not None and case is not None and case >= self._until_c
        if warm and self._full_s <= time_s < self._stop_s:
            self._stop_s = time_s
        if time_s < self._full_s:
            self.label = f"to {self._level:g} %"
            share = (time_s - self._begin_s) / (self._full_s - self._begin_s)
            return round(self._level * share, 1)
        if time_s < self._stop_s:
            self.label = f"under load at {self._level:g} %"
            return self._level
        after = time_s - self._stop_s
        if after < DOWN_S:
            self.label = "down"
            return round(self._level * (1.0 - after / DOWN_S), 1)
        self.label = "watching it cool"
        return Done() if after >= DOWN_S + self._watch_s else 0.0
