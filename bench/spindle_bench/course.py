"""Where a run is on its profile: the throttle that is wanted at a time of the stand's."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import groupby

from spindle_bench.limits import Limits
from spindle_bench.profiles import Done, Follower, GiveUp, Profile, duration_s, follow, segments


@dataclass(slots=True)
class Course:
    """Follows one profile. It begins with the first time it is asked for.

    ``gave_up``: why the profile ended before it was through; empty while it did not. ``step``
    counts how often what it does has changed, see :meth:`steps`.
    """

    profile: Profile
    limits: Limits | None = None
    begun_s: float | None = None
    gave_up: str = ""
    step: int = 0
    _said: str = ""
    _follower: Follower = field(init=False)

    def __post_init__(self) -> None:
        self._follower = follow(self.profile, self.limits)

    @property
    def total_s(self) -> float:
        """How long the profile takes at its longest [s]."""
        return duration_s(self.profile)

    @property
    def label(self) -> str:
        """What it does at the moment; empty before it began."""
        return "" if self.begun_s is None else self._follower.label

    def steps(self) -> list[str]:
        """What it does one after the other, each once however many segments it takes."""
        labels = (segment.label for segment in segments(self.profile))
        return [label for label, _ in groupby(labels)]

    def wanted_pct(
        self, time_s: float, sample: Mapping[str, float | None] | None = None
    ) -> float | None:
        """The throttle [%] at a time of the stand's [s]; None once the profile is at its end."""
        if self.begun_s is None:
            self.begun_s = time_s
        wanted = self._follower.next(time_s - self.begun_s, sample or {})
        if self._follower.label != self._said:
            self.step += bool(self._said)
            self._said = self._follower.label
        if isinstance(wanted, Done):
            return None
        if isinstance(wanted, GiveUp):
            self.gave_up = wanted.why
            return None
        return wanted
