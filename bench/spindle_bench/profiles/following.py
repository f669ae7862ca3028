"""What a profile says when it is asked: a throttle, that it is done, or that it gives up."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Protocol

Sample = Mapping[str, float | None]
"""The channels of one sample by name; None or missing where nothing was read."""


@dataclass(frozen=True, slots=True)
class Segment:
    """Throttle from ``start_pct`` to ``end_pct`` [%] in a straight line over ``seconds``."""

    start_pct: float
    end_pct: float
    seconds: float
    label: str


@dataclass(frozen=True, slots=True)
class Done:
    """The profile is at its end."""


@dataclass(frozen=True, slots=True)
class GiveUp:
    """What was wanted cannot be had; ``why`` is a sentence for the end record."""

    why: str


Next = float | Done | GiveUp


class Follower(Protocol):
    """One pass through a profile. It has no clock and sends nothing: it is asked."""

    @property
    def label(self) -> str:
        """What is done at the moment."""

    def next(self, time_s: float, sample: Sample) -> Next:
        """The throttle [%] at a time since the first asking [s], seeing one sample."""


class SegmentFollower:
    """Follows segments by time alone."""

    def __init__(self, segments: Iterator[Segment]) -> None:
        self._rest = segments
        self._since_s = 0.0
        self._part = next(segments)

    @property
    def label(self) -> str:
        """The segment in hand."""
        return self._part.label

    def next(self, time_s: float, sample: Sample) -> Next:
        """The throttle at this time, to a tenth of a percent."""
        while time_s - self._since_s >= self._part.seconds - 1e-9:
            self._since_s += self._part.seconds
            following = next(self._rest, None)
            if following is None:
                return Done()
            self._part = following
        share = (time_s - self._since_s) / self._part.seconds
        span = self._part.end_pct - self._part.start_pct
        return round(self._part.start_pct + share * span, 1)
