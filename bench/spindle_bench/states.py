"""Where the bench is, how a run ended, and who is told."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from spindle_bench.plan import RunPlan


class State(StrEnum):
    """Where the bench is.

    ``coasting``: throttle zero by read-back, the rotor still turns. ``zeroed``: throttle zero by
    read-back, and nothing says whether the rotor turns. ``safe``: zero and still. ``watching``: the
    throttle is in somebody's hand, what it does is recorded, and nothing here can cut it.
    ``watched``: that record has ended, and the hand may do what it likes.
    """

    IDLE = "idle"
    ARMED = "armed"
    RUNNING = "running"
    ABORTING = "aborting"
    COASTING = "coasting"
    ZEROED = "zeroed"
    SAFE = "safe"
    FAULTED = "faulted"
    WATCHING = "watching"
    WATCHED = "watched"


AT_REST = (State.IDLE, State.SAFE, State.ZEROED, State.WATCHED)
"""States from which the bench may be armed."""


class Outcome(StrEnum):
    """How a run ended; exactly one per run. ``gave_up``: its profile could not reach what it was
    to reach, and ended itself."""

    COMPLETED = "completed"
    GAVE_UP = "gave_up"
    STOPPED = "stopped"
    LIMIT = "limit"
    FAULT = "fault"
    INTERRUPTED = "interrupted"


@dataclass(frozen=True, slots=True)
class RunEnd:
    """The end record of a run: outcome, a stable code, a sentence, and who stopped it, if any."""

    outcome: Outcome
    code: str
    reason: str
    by: str = ""

    def as_json(self) -> dict[str, str]:
        """The end record as plain data."""
        return {
            "outcome": str(self.outcome),
            "code": self.code,
            "reason": self.reason,
            "by": self.by,
        }


def stopped_by(who: str, *, where: str = "") -> RunEnd:
    """The end of a run that somebody stopped."""
    by = who.strip()[:80]
    name = f" by {by}" if by else ""
    return RunEnd(Outcome.STOPPED, "stopped", f"Stopped{name}{where}.", by)


class Recorder(Protocol):
    """Where the engine puts what it records; the spool in practice."""

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """A run starts."""

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Samples of the run in hand."""

    def end(self, end: RunEnd) -> None:
        """The run has ended; called exactly once per ``begin``."""
