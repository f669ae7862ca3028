"""What a run commands: generators of throttle segments. No input or output, no clock.

A profile can be rehearsed without a stand: :func:`segments` yields the same commands the engine
follows, and :func:`duration_s` and :func:`highest_throttle_pct` read them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from typing import Any

from spindle_bench.errors import PlanError
from spindle_core.reduction.kinds import KINDS


@dataclass(frozen=True, slots=True)
class Segment:
    """Throttle from ``start_pct`` to ``end_pct`` [%] in a straight line over ``seconds``."""

    start_pct: float
    end_pct: float
    seconds: float
    label: str


@dataclass(frozen=True, slots=True)
class StepsProfile:
    """Plateaus of throttle between two rests at 0, which give the tare before and after.

    ``levels_pct``: the plateaus in order [%]; ``dwell_s``: time on each; ``ramp_pct_per_s``:
    how fast the throttle moves between them; ``rest_s``: at 0 before and after.
    """

    levels_pct: tuple[float, ...]
    dwell_s: float = 3.0
    ramp_pct_per_s: float = 40.0
    rest_s: float = 3.0

    def __post_init__(self) -> None:
        if not 1 <= len(self.levels_pct) <= 40:
            raise PlanError("A steps run has 1 to 40 plateaus.")
        for level in self.levels_pct:
            if not 0 < level <= 100:
                raise PlanError(f"A plateau is above 0 and at most 100 % throttle, got {level:g}.")
        for parameter in KINDS["steps"].parameters:
            if parameter.many:
                continue
            value = getattr(self, parameter.name)
            if not (math.isfinite(value) and parameter.low <= value <= parameter.high):
                raise PlanError(
                    f"{parameter.label} is {parameter.low:g} to {parameter.high:g} "
                    f"{parameter.unit}, got {value:g}."
                )

    def as_json(self) -> dict[str, Any]:
        """The profile as plain data."""
        return {"kind": "steps", **asdict(self), "levels_pct": list(self.levels_pct)}


def profile_from_json(data: dict[str, Any]) -> StepsProfile:
    """The profile that :meth:`StepsProfile.as_json` wrote.

    :raises PlanError: another kind, a missing or unknown value.
    """
    if data.get("kind", "steps") != "steps":
        raise PlanError(f"Profiles of kind {data.get('kind')!r} are not known; 'steps' is.")
    try:
        levels = tuple(float(level) for level in data["levels_pct"])
        rest = {
            key: float(data[key]) for key in ("dwell_s", "ramp_pct_per_s", "rest_s") if key in data
        }
    except (KeyError, TypeError, ValueError) as error:
        raise PlanError("A steps profile needs levels_pct, a list of percents.") from error
    return StepsProfile(levels, **rest)


def segments(profile: StepsProfile) -> Iterator[Segment]:
    """The throttle the profile commands, from rest to rest."""
    yield Segment(0.0, 0.0, profile.rest_s, "zero before")
    at = 0.0
    for number, level in enumerate(profile.levels_pct, start=1):
        if level != at:
            seconds = abs(level - at) / profile.ramp_pct_per_s
            yield Segment(at, level, seconds, f"to {level:g} %")
        label = f"{number} of {len(profile.levels_pct)}: {level:g} %"
        yield Segment(level, level, profile.dwell_s, label)
        at = level
    yield Segment(at, 0.0, at / profile.ramp_pct_per_s, "down")
    yield Segment(0.0, 0.0, profile.rest_s, "zero after")


def duration_s(profile: StepsProfile) -> float:
    """How long the profile takes [s]."""
    return math.fsum(segment.seconds for segment in segments(profile))


def highest_throttle_pct(profile: StepsProfile) -> float:
    """The highest throttle the profile commands [%]."""
    return max(max(s.start_pct, s.end_pct) for s in segments(profile))


READ_AT = 0.6
"""Where on a plateau its figures are read, as a share of it."""


def course_to_the_top(profile: StepsProfile) -> list[tuple[float, float, float]]:
    """The throttle up to the middle of what is read at the highest plateau: from [%], to [%], s."""
    top = highest_throttle_pct(profile)
    course = []
    for segment in segments(profile):
        if segment.start_pct == segment.end_pct == top:
            course.append((top, top, READ_AT * segment.seconds))
            break
        course.append((segment.start_pct, segment.end_pct, segment.seconds))
    return course
