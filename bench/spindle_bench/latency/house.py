"""Agent and stand for a measurement: started, told, taken down."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from spindle_bench.agent.process import Agent
from spindle_bench.delivery import Segment
from spindle_bench.latency.stand_apart import stand_apart
from spindle_bench.limits import Limits
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import profile_from_json
from spindle_bench.states import RunEnd

FACTS: dict[str, Any] = {
    "motor": "bench motor",
    "sample": "A",
    "size_code": "2306",
    "kv_rpm_per_v": 1900.0,
    "propeller": "bench propeller",
    "prop_diameter_in": 5.1,
    "prop_pitch_in": 4.2,
    "prop_blades": 3,
    "open_circuit_v": 16.0,
    "supply_resistance_ohm": 0.004,
    "trip_a": 55.0,
}
OPERATOR = 1


@dataclass(slots=True)
class Counting:
    """A run store that counts what reaches it; a segment that comes twice counts once."""

    segments: dict[str, dict[int, Segment]] = field(default_factory=dict)
    ended: int = 0

    def begin_run(self, plan: RunPlan, channels: list[str]) -> None:
        """A run begins."""
        self.segments.setdefault(plan.run_id, {})

    def stored_rows(self, run_id: str) -> tuple[int, int]:
        """Segments and rows of a run so far."""
        return len(self.segments[run_id]), self.rows(run_id)

    def add_segment(self, run_id: str, segment: Segment) -> None:
        """About a second of it."""
        self.segments[run_id][segment.index] = segment

    def end_run(self, run_id: str, end: dict[str, Any]) -> None:
        """It has ended."""
        self.ended += 1

    def rows(self, run_id: str) -> int:
        """Samples that were recorded of a run."""
        return sum(segment.row_count for segment in self.segments[run_id].values())

    def taken(self, run_id: str, rate_hz: float) -> int:
        """Samples that the stand took from the first recorded to the last, by its own clock."""
        kept = self.segments[run_id].values()
        begin = min(segment.begin_s for segment in kept)
        end = max(segment.end_s for segment in kept)
        return round((end - begin) * rate_hz) + 1


@dataclass(slots=True)
class Keeping:
    """The agent's recorder, which also keeps the rows."""

    spool: Any
    times_s: list[float] = field(default_factory=list)
    rows: list[list[float | None]] = field(default_factory=list)

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """A run begins."""
        self.times_s, self.rows = [], []
        self.spool.begin(plan, channels)

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Samples of it."""
        self.times_s += times_s
        self.rows += rows
        self.spool.add(times_s, rows)

    def end(self, end: RunEnd) -> None:
        """It has ended."""
        self.spool.end(end)


@dataclass(slots=True)
class House:
    """An agent, its store, and the instant of the stand's time 0 [s]."""

    agent: Agent
    store: Counting
    stand_begun_s: float

    async def run(self, plan: RunPlan) -> RunEnd:
        """Arm, start, and wait for the end."""
        engine = self.agent.engine
        answers: list[Exception | None] = []
        self.agent.spool.prepare(plan, list(engine.channels))
        engine.arm(plan, time.monotonic(), answers.append)
        await until(lambda: bool(answers))
        if answers[0] is not None:
            raise answers[0]
        engine.start(time.monotonic(), run_id=plan.run_id, operator_id=OPERATOR)
        await until(lambda: engine.end is not None, engine.progress()["total_s"] + 60.0)
        assert engine.end is not None
        return engine.end


@contextlib.asynccontextmanager
async def house(folder: Path) -> AsyncIterator[House]:
    """Start stand and agent; take them down at the end."""
    stand, store = await stand_apart(), Counting()
    agent = Agent(folder=folder, socket_path=folder / "a.sock", stand_port=stand.port, store=store)
    tasks = [asyncio.create_task(agent.run()), asyncio.create_task(_page(agent))]
    try:
        await until(lambda: agent.engine.hello is not None and agent.socket_path.exists())
        yield House(agent, store, stand.begun_s)
    finally:
        for task in reversed(tasks):
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task
        stand.process.terminate()
        await stand.process.wait()


async def _page(agent: Agent) -> None:
    while True:
        agent.engine.pages(time.monotonic(), ago_s=0.0)
        await asyncio.sleep(0.1)


async def until(wanted: Callable[[], bool], seconds: float = 20.0) -> None:
    """Wait until something is so.

    :raises TimeoutError: it did not become so.
    """
    async with asyncio.timeout(seconds):
        while not wanted():
            await asyncio.sleep(0.005)


def a_run(run_id: str, rate_hz: float, limits: Limits, **profile: Any) -> RunPlan:
    """A run of plateaus; what is not limited is off by the measurement's choice."""
    made = profile_from_json({"kind": "steps", "rest_s": 2.0, **profile})
    off = dict.fromkeys(limits.off, "the measurement")
    return RunPlan(run_id, made, limits, FACTS, {"operator_id": OPERATOR}, rate_hz, off)
