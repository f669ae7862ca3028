"""The runs of a day in an order: few swaps, light propellers before heavy, every start cold.

A motor stays mounted for all it has to do, since swapping it takes longest; on it the propeller
that loads it least comes first, so that a weak part shows under the smaller load. Between two runs
of one motor its case cools; a swap of the propeller counts as cooling. Drift of stand, air and
packs is caught by one reference run first and last, or by going round the motors again and again.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.model.thermal import DEFAULT_CASE_TIME_CONSTANT_S, NEAR_AIR_K, cooling_time_s
from spindle_core.planning.next_run import MOTOR_SWAP_MINUTES, PROPELLER_SWAP_MINUTES, RUN_MINUTES

CASE_SHARE: Final = 0.5
"""How much of the winding's predicted rise the case reaches within a run: assumed."""

MOST_RUNS: Final = 400


class Drift(StrEnum):
    """How drift over the day is caught."""

    REFERENCE = "reference"
    INTERLEAVED = "interleaved"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class Job:
    """Runs of one motor on one propeller. ``load_w``: predicted power at the highest throttle [W];
    ``winding_rise_k``: predicted rise of the winding; None where nothing is predicted."""

    motor: int
    propeller: int
    runs: int
    load_w: float | None = None
    winding_rise_k: float | None = None


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. ``kind``: ``mount`` a motor, ``swap`` the propeller, ``cool`` or ``run``.

    ``starts_min``: minutes after the begin of the day; ``number`` of ``of`` runs of its job, 0 of
    what is no run; ``reference``: a run that is there for the drift alone.
    """

    kind: str
    motor: int
    propeller: int
    starts_min: float
    minutes: float
    number: int = 0
    of: int = 0
    reference: bool = False


@dataclass(frozen=True, slots=True)
class Day:
    """A day's steps in their order, and what they come to."""

    steps: tuple[Step, ...]
    minutes: float
    runs: int
    motor_swaps: int
    propeller_swaps: int
    cooling_minutes: float

    @property
    def propellers(self) -> tuple[int, ...]:
        """Propellers to lay out, in the order in which they are first mounted."""
        return tuple(dict.fromkeys(s.propeller for s in self.steps if s.kind == "run"))


def order_of_day(
    jobs: Sequence[Job],
    *,
    drift: Drift = Drift.REFERENCE,
    reference: tuple[int, int] | None = None,
    mounted: tuple[int, int] | None = None,
) -> Day:
    """The jobs as steps of a day.

    :param reference: motor and propeller of the reference runs; without it there are none.
    :param mounted: motor and propeller that are on the stand now.
    :raises QuantityError: more runs than a plan is made for, or a job with less than one.
    """
    if any(job.runs < 1 for job in jobs):
        raise QuantityError("A job has at least one run.")
    if sum(job.runs for job in jobs) > MOST_RUNS:
        raise QuantityError(f"A day is planned for at most {MOST_RUNS} runs.")
    writing = _Writing(mounted)
    at = reference if drift is Drift.REFERENCE and jobs else None
    if at is not None:
        writing.run(Job(*at, 1), 1, reference=True)
    for job, number in _runs(jobs, drift, writing.mounted):
        writing.run(job, number)
    if at is not None:
        writing.run(Job(*at, 1), 1, reference=True)
    return writing.day()


def _runs(
    jobs: Sequence[Job], drift: Drift, mounted: tuple[int, int] | None
) -> list[tuple[Job, int]]:
    """Job and number of its run, in their order."""
    motors = list(dict.fromkeys(job.motor for job in jobs))
    if mounted is not None and mounted[0] in motors:
        # What is on the stand stays there until it has done all it has to do.
        motors.remove(mounted[0])
        motors.insert(0, mounted[0])
    own = {
        motor: sorted((job for job in jobs if job.motor == motor), key=_load) for motor in motors
    }
    if drift is not Drift.INTERLEAVED:
        return [(job, n) for m in motors for job in own[m] for n in range(1, job.runs + 1)]
    rounds = max((job.runs for job in jobs), default=0)
    return [
        (job, n) for n in range(1, rounds + 1) for m in motors for job in own[m] if n <= job.runs
    ]


def _load(job: Job) -> tuple[float, int]:
    # What nobody predicts comes last: it may be the heaviest.
    load = math.inf if job.load_w is None or not math.isfinite(job.load_w) else job.load_w
    return load, job.propeller


def cool_down_minutes(winding_rise_k: float | None) -> float:
    """From the end of a run until the case is near the air again [min].

    Where no rise is predicted, that of a winding that gets 60 K warmer.
    """
    rise = 60.0 if winding_rise_k is None or not math.isfinite(winding_rise_k) else winding_rise_k
    case_k = max(0.0, CASE_SHARE * rise)
    time = cooling_time_s(
        case_k, NEAR_AIR_K, ambient_c=0.0, time_constant_s=DEFAULT_CASE_TIME_CONSTANT_S
    )
    return 0.0 if isinstance(time, Absent) else time / 60.0


class _Writing:
    """Writes steps one after the other and keeps the clock, what is mounted and how warm it is."""

    def __init__(self, mounted: tuple[int, int] | None) -> None:
        self.mounted = mounted
        self.steps: list[Step] = []
        self.clock = 0.0
        self.cool_at: dict[int, float] = {}

    def run(self, job: Job, number: int, *, reference: bool = False) -> None:
        if self.mounted is None or self.mounted[0] != job.motor:
            self._step("mount", job, MOTOR_SWAP_MINUTES)
        elif self.mounted[1] != job.propeller:
            self._step("swap", job, PROPELLER_SWAP_MINUTES)
        self.mounted = (job.motor, job.propeller)
        wait = self.cool_at.get(job.motor, 0.0) - self.clock
        if wait > 0.05:
            self._step("cool", job, wait)
        step = Step(
            "run", job.motor, job.propeller, self.clock, RUN_MINUTES, number, job.runs, reference
        )
        self.steps.append(step)
        self.clock += RUN_MINUTES
        self.cool_at[job.motor] = self.clock + cool_down_minutes(job.winding_rise_k)

    def _step(self, kind: str, job: Job, minutes: float) -> None:
        self.steps.append(Step(kind, job.motor, job.propeller, self.clock, minutes))
        self.clock += minutes

    def day(self) -> Day:
        count = {kind: [s for s in self.steps if s.kind == kind] for kind in ("mount", "swap")}
        return Day(
            tuple(self.steps),
            self.clock,
            sum(step.kind == "run" for step in self.steps),
            len(count["mount"]),
            len(count["swap"]),
            math.fsum(step.minutes for step in self.steps if step.kind == "cool"),
        )
