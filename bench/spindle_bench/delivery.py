"""From the spool to the run store, in segments, once: also after a crash or a lost database."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol

import numpy as np

from spindle_bench.plan import RunPlan
from spindle_bench.spool import SpooledRun, spooled_runs, sync
from spindle_bench.states import Outcome, RunEnd
from spindle_core.formats.trace_parquet import encode_segment

SEGMENT_S = 1.0
MOST_ROWS = 65_536

INTERRUPTED = RunEnd(
    Outcome.INTERRUPTED,
    "agent_died",
    "The bench agent ended in mid-run; the stand cut the throttle by itself.",
)


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of a run as Parquet bytes; ``index`` counts from 0."""

    index: int
    first_row: int
    row_count: int
    begin_s: float
    end_s: float
    parquet: bytes


class RunStore(Protocol):
    """Where runs are kept. Every call may be repeated and must then change nothing."""

    def begin_run(self, plan: RunPlan, channels: list[str]) -> None:
        """Create the run."""

    def stored_rows(self, run_id: str) -> tuple[int, int]:
        """Segments and rows the store already holds."""

    def add_segment(self, run_id: str, segment: Segment) -> None:
        """Keep one segment."""

    def end_run(self, run_id: str, end: dict[str, Any]) -> None:
        """Write the end record and derive the figures."""


@dataclass(slots=True)
class Delivery:
    """Delivers what is in the spool. Not thread-safe: call it from one thread at a time."""

    root: Path
    store: RunStore
    _begun: set[str] = field(default_factory=set)

    def recover(self) -> list[str]:
        """Close every run that a crash left open as interrupted; returns their ids."""
        interrupted = []
        for run in spooled_runs(self.root):
            if run.end is None:
                run.write_end(INTERRUPTED)
                interrupted.append(run.plan.run_id)
        return interrupted

    def deliver(self) -> int:
        """Bring every complete segment of every spooled run to the store.

        A run that has ended is delivered to its last row and then removed from disk.
        Returns the number of segments brought. Errors of the store pass through; what was
        brought before stays and the rest comes with the next call.
        """
        sync(self.root)
        return sum(self._deliver_run(run) for run in list(spooled_runs(self.root)))

    def _deliver_run(self, run: SpooledRun) -> int:
        run_id = run.plan.run_id
        ended = run.end
        if run_id not in self._begun:
            self.store.begin_run(run.plan, run.channels)
            self._begun.add(run_id)
        index, first = self.store.stored_rows(run_id)
        brought = 0
        per_segment = min(MOST_ROWS, max(1, round(SEGMENT_S * run.plan.rate_hz)))
        total = run.row_count()
        while first < total and (total - first >= per_segment or ended is not None):
            rows = run.rows(first, min(first + per_segment, total))
            channels = {
                name: np.ascontiguousarray(rows[:, i + 1]) for i, name in enumerate(run.channels)
            }
            times = np.ascontiguousarray(rows[:, 0])
            parquet = encode_segment(times, channels)
            self.store.add_segment(
                run_id,
                Segment(index, first, len(rows), float(times[0]), float(times[-1]), parquet),
            )
            index, first, brought = index + 1, first + len(rows), brought + 1
        if ended is not None:
            self.store.end_run(run_id, ended)
            self._begun.discard(run_id)
            run.remove()
        return brought
