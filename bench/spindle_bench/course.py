"""Where a run is on its profile: the throttle that is wanted at a time of the stand's."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from spindle_bench.profiles import Segment, StepsProfile, duration_s, segments


@dataclass(slots=True)
class Course:
    """Follows one profile. It begins with the first time it is asked for."""

    profile: StepsProfile
    segment: Segment | None = None
    begun_s: float | None = None
    _rest: Iterator[Segment] = field(init=False)
    _since_s: float = 0.0

    def __post_init__(self) -> None:
        self._rest = segments(self.profile)

    @property
    def total_s(self) -> float:
        """How long the profile takes [s]."""
        return duration_s(self.profile)

    def wanted_pct(self, time_s: float) -> float | None:
        """The throttle [%] at a time of the stand's [s]; None once the profile is at its end."""
        if self.begun_s is None:
            self.begun_s = self._since_s = time_s
            self.segment = next(self._rest)
        assert self.segment is not None
        while time_s - self._since_s >= self.segment.seconds - 1e-9:
            self._since_s += self.segment.seconds
            following = next(self._rest, None)
            if following is None:
                return None
            self.segment = following
        share = (time_s - self._since_s) / self.segment.seconds
        part = self.segment
        return round(part.start_pct + share * (part.end_pct - part.start_pct), 1)
