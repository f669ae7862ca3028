"""Where the bench is, how a run ended, and who is told."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from spindle_bench.plan import RunPlan


class State(StrEnum):
    """Where the bench is."""

    IDLE = "idle"
    ARMED = "armed"
    RUNNING = "running"
    ABORTING = "aborting"
    SAFE = "safe"
    FAULTED = "faulted"


class Outcome(StrEnum):
    """How a run ended; exactly one per run."""

    COMPLETED = "completed"
    STOPPED = "stopped"
    LIMIT = "limit"
    FAULT = "fault"
    INTERRUPTED = "interrupted"


@dataclass(frozen=True, slots=True)
class RunEnd:
    """The end record of a run: outcome, a stable code and a sentence."""

    outcome: Outcome
    code: str
    reason: str

    def as_json(self) -> dict[str, str]:
        """The end record as plain data."""
        return {"outcome": str(self.outcome), "code": self.code, "reason": self.reason}


class Recorder(Protocol):
    """Where the engine puts what it records; the spool in practice."""

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """A run starts."""

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Samples of the run in hand."""

    def end(self, end: RunEnd) -> None:
        """The run has ended; called exactly once per ``begin``."""
