"""From the spool to the run store, in segments, once: also after a crash or a lost database."""

from __future__ import annotations

import contextlib
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol

import numpy as np

from spindle_bench.errors import BenchError, StoreAwayError
from spindle_bench.plan import RunPlan
from spindle_bench.spool import SetAside, SpooledRun, set_aside, spooled_runs, sync, take_back, tidy
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
    """Where runs are kept. Every call may be repeated and must then change nothing.

    Every call raises ``StoreAwayError`` when the store cannot be reached now, and anything else
    when this run cannot be stored. Nothing is added to a run of another arming, or to one that has
    ended.
    """

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
    set_aside: list[SetAside] = field(default_factory=list)
    waiting: int = 0
    _begun: set[str] = field(default_factory=set)

    def recover(self) -> list[SpooledRun]:
        """Close every run that a crash left open as interrupted; returns them. Never raises for
        what is in the spool."""
        tidy(self.root)
        interrupted = []
        for run in list(spooled_runs(self.root)):
            if isinstance(run, SpooledRun) and run.end is None:
                with contextlib.suppress(OSError):
                    run.write_end(INTERRUPTED)
                interrupted.append(run)
        return interrupted

    def deliver(self) -> int:
        """Bring every complete segment of every spooled run to the store.

        A run that has ended is delivered to its last row and then removed from disk. A run that
        the store refuses is set aside with the reason, and the rest goes on. Returns the number of
        segments brought.

        :raises StoreAwayError: the store is away; what was brought before stays and the rest comes
            with the next call.
        """
        sync(self.root)
        brought = 0
        try:
            for run in list(spooled_runs(self.root)):
                if isinstance(run, SpooledRun):
                    brought += self._try_run(run)
        finally:
            found = list(spooled_runs(self.root))
            self.set_aside = [run for run in found if isinstance(run, SetAside)]
            self.waiting = len(found) - len(self.set_aside)
        return brought

    def _try_run(self, run: SpooledRun) -> int:
        try:
            return self._deliver_run(run)
        except StoreAwayError:
            raise
        except Exception as error:
            text = error.message if isinstance(error, BenchError) else _sentence(error)
            set_aside(self.root, run.folder.name, text)
            return 0

    def retry(self, run_id: str) -> None:
        """Try a run that was set aside again, from its beginning in the store.

        :raises BenchError: there is no such run.
        """
        take_back(self.root, run_id)
        self._begun.discard(run_id)

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
                run_id, Segment(index, first, len(rows), float(times[0]), float(times[-1]), parquet)
            )
            index, first, brought = index + 1, first + len(rows), brought + 1
        if ended is not None:
            self.store.end_run(run_id, ended)
            self._begun.discard(run_id)
            run.remove()
        return brought


def _sentence(error: Exception) -> str:
    return f"{type(error).__name__}: {error}"[:400]
