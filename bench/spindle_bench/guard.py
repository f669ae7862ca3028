"""The predictive guard: a step that would pass a limit is not taken.

Before each rise of the throttle the steps so far, and what was expected, are judged *outside* the
loop that owns the stand (:func:`judge`, pure); the answer has to be there when the rise is due. If
it says that a limit would be passed, or if there is none, the run ends there. The hard limits stay
as they are. Guarded are the kinds whose throttle is commanded by time; hold and flywheel bound
themselves by what they read, see their profiles.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Final

from spindle_bench.buckets import BUCKET_S, Bucket, means_of
from spindle_bench.limits import KINDS, LimitMonitor
from spindle_bench.profiles import Profile, segments
from spindle_bench.states import Outcome, RunEnd
from spindle_core.planning.guard import (
    CHANNELS,
    ExpectedStep,
    Forecast,
    Passed,
    SeenStep,
    forecast,
    passed,
    warmest,
)

GUARDED: Final = ("steps", "ramp", "peak", "no_load", "response", "soak", "direction")
"""Kinds whose rises come at a known time."""

JUDGED: Final = ("current_a", "power_w", "motor_temp_c", "thrust_gf", "speed_rpm")
"""Limits that a step can be foreseen to pass; the floor of the voltage besides."""

PART_PCT: Final = 5.0
"""A sweep is judged in parts of this much throttle, or of more where it is fast."""

PART_S: Final = 0.75
"""No part is shorter: who judges it needs time to answer."""

LONGEST_JUMP_S: Final = 1.5
"""A rise that takes longer is a sweep."""

LEAD_S: Final = 1.0
SEEN_S: Final = 1.0
LEAST_SEEN_S: Final = 0.3
STEADY_PCT: Final = 1.0
WARMING_S: Final = 4.0
MOST_SEEN: Final = 60


@dataclass(frozen=True, slots=True)
class Rise:
    """A rise of the throttle to ``to_pct``, due at ``at_s`` after the begin of the run. ``ask_s``:
    when it is asked about; ``lasts_s``: how long it stays up there at least."""

    at_s: float
    ask_s: float
    to_pct: float
    lasts_s: float


def rises(profile: Profile) -> list[Rise]:
    """Every rise of a guarded profile in its order; none of a kind that is not guarded."""
    if profile.kind not in GUARDED:
        return []
    found: list[tuple[float, float, float]] = []
    at_s, level = 0.0, 0.0
    for part in segments(profile):
        if part.end_pct > level or part.start_pct > level:
            found += _parts(at_s, level, part.end_pct, part.seconds)
        elif found and part.end_pct == part.start_pct == level:
            begin, to_pct, lasts = found[-1]
            if begin + lasts >= at_s - 1e-9:
                found[-1] = (begin, to_pct, at_s + part.seconds - begin)
        at_s += part.seconds
        level = part.end_pct
    asked, before_s = [], 0.0
    for begin, to_pct, lasts in found:
        lead = min(LEAD_S, (begin - before_s) / 3.0)
        asked.append(Rise(begin, begin - lead, to_pct, lasts))
        before_s = begin
    return asked


def _parts(
    at_s: float, low: float, high: float, seconds: float
) -> Iterator[tuple[float, float, float]]:
    if seconds <= LONGEST_JUMP_S:
        yield at_s, high, seconds
        return
    count = max(1, min(math.ceil((high - low) / PART_PCT), math.floor(seconds / PART_S)))
    each = seconds / count
    for i in range(count):
        yield at_s + i * each, low + (high - low) * (i + 1) / count, each


@dataclass(frozen=True, slots=True)
class Question:
    """What the guard is asked: may the throttle rise to ``rise``?"""

    number: int
    rise: Rise
    curve: tuple[ExpectedStep, ...]
    seen: tuple[SeenStep, ...]
    case_c: float | None
    warming_k_per_s: float
    most: Mapping[str, float]
    floor_v: float | None


@dataclass(frozen=True, slots=True)
class Verdict:
    """The answer to a question: the figures of the next step, and the limit they would pass."""

    number: int
    to_pct: float
    forecasts: Mapping[str, Forecast]
    passed: Passed | None

    @property
    def words(self) -> str:
        """Why the step is not taken; empty where it may be."""
        if self.passed is None:
            return ""
        one = self.passed
        kind = KINDS["voltage_floor_v" if one.floor else one.name]
        size = "fall to" if one.floor else "reach"
        least = "floor" if one.floor else "limit"
        return (
            f"Ended before {self.to_pct:g} %: {kind.label.lower()} would {size} "
            f"{_figure(one.forecast)} {kind.unit}; the {least} is {one.limit:g} {kind.unit}."
        )

    def as_json(self) -> dict[str, Any]:
        """The next step as plain data, for the screen."""
        figures = [
            {"name": name, "value": round(one.value, 4), "u": round(one.u, 4)}
            for name, one in self.forecasts.items()
        ]
        return {"throttle_pct": round(self.to_pct, 2), "figures": figures}


def _figure(one: Forecast) -> str:
    places = max(0, 1 - math.floor(math.log10(one.u))) if one.u > 0 else 1
    places = min(places, 3)
    return f"{one.value:.{places}f} ± {one.u:.{places}f}"


def judge(question: Question) -> Verdict:
    """Answer a question. Pure; runs outside the loop that owns the stand."""
    made = forecast(question.rise.to_pct, question.curve, question.seen)
    now = question.seen[-1].values.get("current_a") if question.seen else None
    current = made.get("current_a")
    if question.case_c is not None and now is not None and current is not None:
        case = warmest(
            question.case_c,
            question.warming_k_per_s,
            question.rise.lasts_s,
            current_now_a=abs(now),
            current_next_a=current.value,
        )
        if case is not None:
            made["motor_temp_c"] = case
    return Verdict(
        question.number, question.rise.to_pct, made, passed(made, question.most, question.floor_v)
    )


@dataclass(slots=True)
class GuardWatch:
    """The engine's end of the guard: sees every sample, asks in time, and knows what is due.

    ``ask`` hands a question to whoever judges it and returns at once.
    """

    rises: list[Rise]
    curve: tuple[ExpectedStep, ...]
    monitor: LimitMonitor
    ask: Callable[[Question], None]
    verdict: Verdict | None = None
    seen: list[SeenStep] = field(default_factory=list)
    _next: int = 0
    _asked: int = 0
    _buckets: deque[Bucket] = field(default_factory=lambda: deque(maxlen=200))

    def see(self, bucket: Bucket) -> None:
        """A twentieth of a second of samples, timed from the begin of the run."""
        self._buckets.append(bucket)

    def at(self, time_s: float) -> RunEnd | None:
        """What is due at a time since the begin of the run [s]: a question goes out when its time
        has come; the run's end where a rise may not be taken."""
        while self._next < len(self.rises):
            rise = self.rises[self._next]
            if time_s < rise.ask_s - 1e-9 and self._next > 0:
                return None
            if self._asked <= self._next:
                self._asked = self._next + 1
                self.ask(self._question(time_s, rise))
            if time_s < rise.at_s - 1e-9:
                return None
            ending = self._due(rise)
            if ending is not None:
                return ending
            self._next += 1
        return None

    @property
    def ahead(self) -> Verdict | None:
        """What is foreseen of the rise that comes next; None while nothing is."""
        verdict = self.verdict
        return verdict if verdict is not None and verdict.number == self._next else None

    def answered(self, verdict: Verdict) -> None:
        """The answer to a question; one that comes late is worth nothing."""
        if verdict.number == self._next:
            self.verdict = verdict

    def _due(self, rise: Rise) -> RunEnd | None:
        verdict = self.ahead
        if verdict is None:
            text = (
                f"Ended before {rise.to_pct:g} %: the guard that judges each step did not "
                "answer in time."
            )
            return RunEnd(Outcome.FAULT, "guard_silent", text)
        if verdict.passed is not None:
            return RunEnd(Outcome.GAVE_UP, "guard", verdict.words[:300])
        return None

    def _question(self, time_s: float, rise: Rise) -> Question:
        self._take_step()
        most = {
            name: limit for name in JUDGED if (limit := self.monitor.effective(name)[0]) is not None
        }
        case_c, warming = self._case(time_s)
        return Question(
            self._next,
            rise,
            self.curve,
            tuple(self.seen),
            case_c,
            warming,
            most,
            self.monitor.effective("voltage_floor_v")[0],
        )

    def _take_step(self) -> None:
        """The means of the last second at one throttle, or of the last instant of a sweep."""
        taken: list[Bucket] = []
        for bucket in reversed(self._buckets):
            low = min([bucket.low_pct, *(one.low_pct for one in taken)])
            high = max([bucket.high_pct, *(one.high_pct for one in taken)])
            steady = high - low <= STEADY_PCT
            if len(taken) * BUCKET_S >= (SEEN_S if steady else LEAST_SEEN_S) - 1e-9:
                break
            taken.append(bucket)
        if not taken:
            return
        throttle = sum(one.pct for one in taken) / len(taken)
        values = {name: abs(value) for name, value in means_of(taken, CHANNELS).items()}
        if throttle > 0 and values:
            self.seen = [*self.seen, SeenStep(throttle, values)][-MOST_SEEN:]

    def _case(self, time_s: float) -> tuple[float | None, float]:
        """The case now [°C] and how fast it warms [K/s]."""
        points = [
            (one.begin_s, case)
            for one in self._buckets
            if time_s - one.begin_s <= WARMING_S and (case := one.mean("motor_temp_c")) is not None
        ]
        if not points:
            return None, 0.0
        if len(points) < 3:
            return points[-1][1], 0.0
        mean_t = sum(t for t, _ in points) / len(points)
        mean_c = sum(c for _, c in points) / len(points)
        spread = sum((t - mean_t) ** 2 for t, _ in points)
        slope = sum((t - mean_t) * (c - mean_c) for t, c in points) / spread
        return points[-1][1], slope
