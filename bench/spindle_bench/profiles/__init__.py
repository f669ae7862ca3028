"""What a run commands. No input or output, no clock.

Each kind of run has a module here: the segments it commands (at its longest, where it depends on
what is measured), and where it does a follower that is asked for the next throttle with the sample
in hand. A new kind is one line in :data:`PLAYS` beside its module, and its line in
:mod:`spindle_core.reduction.kinds`.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, Protocol

from spindle_bench.errors import PlanError
from spindle_bench.limits import Limits
from spindle_bench.profiles import (
    direction,
    flywheel,
    hold,
    no_load,
    peak,
    ramp,
    response,
    soak,
    steps,
)
from spindle_bench.profiles.following import (
    Done,
    Follower,
    GiveUp,
    Next,
    Sample,
    Segment,
    SegmentFollower,
)
from spindle_bench.profiles.values import MOST_LISTED, checked_values

__all__ = [
    "PLAYS",
    "Done",
    "Follower",
    "GiveUp",
    "KindProfile",
    "Next",
    "Profile",
    "Sample",
    "Segment",
    "StepsProfile",
    "course_to_the_top",
    "duration_s",
    "follow",
    "highest_throttle_pct",
    "profile_from_json",
    "segments",
]


class Profile(Protocol):
    """A run's commands before they are followed."""

    @property
    def kind(self) -> str:
        """The kind of run."""

    @property
    def values(self) -> dict[str, Any]:
        """Its parameters by name."""

    def as_json(self) -> dict[str, Any]:
        """The profile as plain data."""


@dataclass(frozen=True, slots=True)
class KindProfile:
    """A profile of any kind from its checked parameters."""

    kind: str
    values: dict[str, Any] = field(default_factory=dict)

    def as_json(self) -> dict[str, Any]:
        """The profile as plain data."""
        listed = {k: list(v) if isinstance(v, tuple) else v for k, v in self.values.items()}
        return {"kind": self.kind, **listed}


@dataclass(frozen=True, slots=True)
class StepsProfile:
    """Plateaus of throttle between two rests at 0.

    ``levels_pct``: the plateaus in order [%]; ``dwell_s``: time on each; ``ramp_pct_per_s``:
    how fast the throttle moves between them; ``rest_s``: at 0 before and after.
    """

    levels_pct: tuple[float, ...]
    dwell_s: float = 3.0
    ramp_pct_per_s: float = 40.0
    rest_s: float = 3.0

    def __post_init__(self) -> None:
        if not 1 <= len(self.levels_pct) <= MOST_LISTED:
            raise PlanError(f"A steps run has 1 to {MOST_LISTED} plateaus.", field="levels_pct")
        for level in self.levels_pct:
            if not 0 < level <= 100:
                raise PlanError(
                    f"A plateau is above 0 and at most 100 % throttle, got {level:g}.",
                    field="levels_pct",
                )
        checked_values("steps", {**self.values, "levels_pct": [50.0]})

    @property
    def kind(self) -> str:
        """The kind of run."""
        return "steps"

    @property
    def values(self) -> dict[str, Any]:
        """Its parameters by name."""
        return {
            "levels_pct": self.levels_pct,
            "dwell_s": self.dwell_s,
            "ramp_pct_per_s": self.ramp_pct_per_s,
            "rest_s": self.rest_s,
        }

    def as_json(self) -> dict[str, Any]:
        """The profile as plain data."""
        return {"kind": "steps", **self.values, "levels_pct": list(self.levels_pct)}


@dataclass(frozen=True, slots=True)
class Play:
    """How a kind is played. ``follow`` None: by its segments alone."""

    segments: Callable[[dict[str, Any]], Iterator[Segment]]
    follow: Callable[[dict[str, Any], Limits | None], Follower] | None = None
    check: Callable[[dict[str, Any]], None] | None = None


def _only(values: dict[str, Any], *names: str) -> dict[str, Any]:
    return {name: values[name] for name in names}


PLAYS: dict[str, Play] = {
    "steps": Play(lambda v: steps.segments(**v)),
    "ramp": Play(lambda v: ramp.segments(**v)),
    "peak": Play(lambda v: peak.segments(**v)),
    "no_load": Play(lambda v: no_load.segments(**v)),
    "direction": Play(lambda v: direction.segments(**v)),
    "response": Play(lambda v: response.segments(**v)),
    "hold": Play(
        lambda v: hold.segments(**v),
        lambda v, limits: hold.HoldFollower(
            **v, most_current_a=limits.current_a if limits else None
        ),
    ),
    "flywheel": Play(
        lambda v: flywheel.segments(**_only(v, "duty_pct", "spin_ups", "rest_s")),
        lambda v, limits: flywheel.FlywheelFollower(
            v["duty_pct"], v["spin_ups"], v["spin_up_to_rpm"], v["rated_speed_rpm"], v["rest_s"]
        ),
        flywheel.check,
    ),
    "soak": Play(
        lambda v: soak.segments(**_only(v, "level_pct", "load_s", "watch_s", "rest_s")),
        lambda v, limits: soak.SoakFollower(
            v["level_pct"], v["load_s"], v["watch_s"], v["until_c"], v["rest_s"]
        ),
    ),
}
"""Kind → how it is played. A kind that is not here comes in by other ways than the bench."""


def profile_from_json(data: dict[str, Any]) -> Profile:
    """The profile that ``as_json`` wrote.

    :raises PlanError: a kind the bench does not play, a missing, unknown or impossible value.
    """
    kind = data.get("kind", "steps")
    if kind not in PLAYS:
        raise PlanError(f"The bench plays no {kind!r}; it plays {', '.join(PLAYS)}.", field="kind")
    if kind == "steps":
        return _steps_from_json(data)
    values = checked_values(kind, data)
    play = PLAYS[kind]
    if play.check is not None:
        play.check(values)
    profile = KindProfile(kind, values)
    # A profile whose parts do not fit together says so now, not on the stand.
    for _ in segments(profile):
        pass
    return profile


def _steps_from_json(data: dict[str, Any]) -> StepsProfile:
    try:
        levels = tuple(float(level) for level in data["levels_pct"])
        rest = {
            key: float(data[key]) for key in ("dwell_s", "ramp_pct_per_s", "rest_s") if key in data
        }
    except (KeyError, TypeError, ValueError) as error:
        raise PlanError("A steps profile needs levels_pct, a list of percents.") from error
    return StepsProfile(levels, **rest)


def segments(profile: Profile) -> Iterator[Segment]:
    """The throttle a profile commands from rest to rest; at its longest where that depends."""
    return PLAYS[profile.kind].segments(profile.values)


def follow(profile: Profile, limits: Limits | None = None) -> Follower:
    """One pass through a profile."""
    play = PLAYS[profile.kind]
    if play.follow is not None:
        return play.follow(profile.values, limits)
    return SegmentFollower(segments(profile))


def duration_s(profile: Profile) -> float:
    """How long the profile takes at its longest [s]."""
    return math.fsum(segment.seconds for segment in segments(profile))


def highest_throttle_pct(profile: Profile) -> float:
    """The highest throttle the profile may command [%]."""
    return max(max(s.start_pct, s.end_pct) for s in segments(profile))


READ_AT = 0.6
"""Where on a plateau its figures are read, as a share of it."""

READ_AT_THE_END = ("soak",)
"""Kinds whose figures are read where the load ends."""


def course_to_the_top(profile: Profile) -> list[tuple[float, float, float]]:
    """The throttle up to where the figures are read: from [%], to [%], s.

    That is the middle of what is read at the highest plateau; of a soak its stop, and nothing where
    it stops at a temperature.
    """
    if profile.values.get("until_c") is not None:
        return []
    top = highest_throttle_pct(profile)
    read_at = 1.0 if profile.kind in READ_AT_THE_END else READ_AT
    course = []
    for segment in segments(profile):
        if segment.start_pct == segment.end_pct == top:
            course.append((top, top, read_at * segment.seconds))
            break
        course.append((segment.start_pct, segment.end_pct, segment.seconds))
    return course
