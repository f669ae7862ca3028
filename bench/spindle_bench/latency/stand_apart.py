"""The simulated stand in a process of its own, on a free port, that says when its time began."""

from __future__ import annotations

import asyncio
import sys
import time
from dataclasses import dataclass

from spindle_bench.stand.device import SimulatedStand
from spindle_bench.stand.server import StandServer

PATIENCE_S = 1.0
"""On a machine that shares its processor; how fast a silent owner is cut is tested elsewhere."""


@dataclass(frozen=True, slots=True)
class Apart:
    """A stand that runs: its process, its port, and the instant of its time 0 by the clock that
    all processes of a machine share [s]."""

    process: asyncio.subprocess.Process
    port: int
    begun_s: float


async def stand_apart() -> Apart:
    """Start one and wait until it listens."""
    command = "from spindle_bench.latency.stand_apart import main; main()"
    process = await asyncio.create_subprocess_exec(
        sys.executable, "-c", command, stdout=asyncio.subprocess.PIPE
    )
    assert process.stdout is not None
    port, begun_s = (await process.stdout.readline()).split()
    return Apart(process, int(port), float(begun_s))


async def _serve() -> None:
    stand = SimulatedStand(1, PATIENCE_S)
    begun_s = time.monotonic()
    stand.advance(begun_s)
    server, ready = StandServer(stand), asyncio.Event()
    serving = asyncio.create_task(server.serve("127.0.0.1", 0, ready))
    await ready.wait()
    sys.stdout.write(f"{server.port} {begun_s!r}\n")
    sys.stdout.flush()
    await serving


def main() -> None:
    """Serve until told to end."""
    asyncio.run(_serve())
