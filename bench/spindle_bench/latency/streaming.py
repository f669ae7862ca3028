"""A long run at a high rate: what is recorded of what was taken, and how late the screen is."""

from __future__ import annotations

import asyncio
import contextlib
import time
from dataclasses import dataclass
from pathlib import Path

from spindle_bench.agent.control import watch
from spindle_bench.latency.house import a_run, house, until
from spindle_bench.limits import Limits

LONGEST_DWELL_S = 60.0
THROTTLE_PCT = 30.0


@dataclass(frozen=True, slots=True)
class Streamed:
    """What a stream gave. ``delays_ms``: of each frame of a viewer, from the instant at which the
    stand took the oldest sample in it to the instant at which the frame had been read."""

    taken: int
    recorded: int
    channels: int
    delays_ms: list[float]


async def stream_for(folder: Path, seconds: float, rate_hz: float, viewers: int) -> Streamed:
    """Hold one throttle for about so long, with viewers at the agent's socket."""
    dwell = min(LONGEST_DWELL_S, max(1.5, seconds))
    levels = [THROTTLE_PCT] * max(1, round(seconds / dwell))
    plan = a_run("stream", rate_hz, Limits(current_a=50.0), levels_pct=levels, dwell_s=dwell)
    async with house(folder) as made:
        delays: list[list[float]] = [[] for _ in range(viewers)]
        viewing = [
            asyncio.create_task(_view(made.agent.socket_path, made.stand_begun_s, seen))
            for seen in delays
        ]
        try:
            await made.run(plan)
            await until(lambda: made.store.ended > 0, 60.0)
        finally:
            for task in viewing:
                task.cancel()
                with contextlib.suppress(asyncio.CancelledError):
                    await task
        found = [delay for seen in delays for delay in seen]
        store, channels = made.store, len(made.agent.engine.channels)
        taken, recorded = store.taken(plan.run_id, rate_hz), store.rows(plan.run_id)
        return Streamed(taken, recorded, channels, found)


async def _view(socket: Path, begun_s: float, delays_ms: list[float]) -> None:
    before_s: float | None = None
    async for frame in watch(socket):
        if frame["state"] != "running" or frame["time_s"] is None:
            before_s = None
            continue
        if before_s is not None:
            # Its oldest sample came right after the newest of the frame before.
            delays_ms.append(1000.0 * (time.monotonic() - begun_s - before_s))
        before_s = frame["time_s"]
