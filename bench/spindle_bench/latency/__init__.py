"""How fast the bench is: ``spindle-latency``.

All channels of the simulated stand at 1 kHz for ten minutes through real sockets, the stand in a
process of its own. Is a sample lost; how long from a sample to a viewer's stream; how long from a
sample beyond a limit to throttle zero? It says what it measured here, and nothing about another
machine.
"""

from __future__ import annotations

import argparse
import asyncio
import json
import sys
import tempfile
import time
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path

import numpy as np

from spindle_bench.latency.cutting import cut_times_ms
from spindle_bench.latency.streaming import stream_for

BUDGET_SCREEN_MS = 150.0
BUDGET_CUT_MS = 20.0


@dataclass(frozen=True, slots=True)
class Found:
    """What was measured, and the budgets it is held against."""

    minutes: float
    rate_hz: float
    channels: int
    viewers: int
    samples_taken: int
    samples_recorded: int
    samples_lost: int
    frames_seen: int
    screen_p50_ms: float
    screen_p95_ms: float
    screen_most_ms: float
    cut_p50_ms: float
    cut_p95_ms: float
    cut_most_ms: float
    cuts: int

    @property
    def holds(self) -> dict[str, bool]:
        """Which budgets hold."""
        return {
            "no sample lost": self.samples_lost == 0,
            f"sample to viewer p95 ≤ {BUDGET_SCREEN_MS:g} ms": self.screen_p95_ms
            <= BUDGET_SCREEN_MS,
            f"limit to throttle zero p95 ≤ {BUDGET_CUT_MS:g} ms": self.cut_p95_ms <= BUDGET_CUT_MS,
        }


def measure(minutes: float, rate_hz: float, viewers: int, cuts: int) -> Found:
    """Stream for a while, then cut many times; see :class:`Found`."""
    with tempfile.TemporaryDirectory(prefix="spindle-latency-") as folder:
        streamed = asyncio.run(stream_for(Path(folder), 60.0 * minutes, rate_hz, viewers))
    with tempfile.TemporaryDirectory(prefix="spindle-latency-") as folder:
        times = np.array(asyncio.run(cut_times_ms(Path(folder), cuts, rate_hz)))
    delays = np.array(streamed.delays_ms)
    return Found(
        minutes,
        rate_hz,
        streamed.channels,
        viewers,
        streamed.taken,
        streamed.recorded,
        streamed.taken - streamed.recorded,
        delays.size,
        float(np.percentile(delays, 50)),
        float(np.percentile(delays, 95)),
        float(delays.max()),
        float(np.percentile(times, 50)),
        float(np.percentile(times, 95)),
        float(times.max()),
        times.size,
    )


def main(arguments: Sequence[str] | None = None) -> int:
    """Measure and print; status 1 where a budget does not hold."""
    parser = argparse.ArgumentParser(
        prog="spindle-latency",
        description=__doc__,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--rate-hz", type=float, default=1000.0)
    parser.add_argument("--viewers", type=int, default=3)
    parser.add_argument("--cuts", type=int, default=30)
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args(arguments)
    began = time.monotonic()
    found = measure(options.minutes, options.rate_hz, options.viewers, options.cuts)
    if options.json:
        print(json.dumps({**asdict(found), "holds": found.holds}, indent=1))
    else:
        _tell(found, time.monotonic() - began)
    return 0 if all(found.holds.values()) else 1


def _tell(found: Found, took_s: float) -> None:
    out = sys.stdout.write
    out(
        f"{found.channels} channels at {found.rate_hz:g} Hz for {found.minutes:g} min, "
        f"{found.viewers} viewers: {found.samples_taken:,} samples taken, "
        f"{found.samples_recorded:,} recorded, {found.samples_lost:,} lost.\n"
        f"Sample to viewer: median {found.screen_p50_ms:.0f} ms, p95 {found.screen_p95_ms:.0f} ms, "
        f"most {found.screen_most_ms:.0f} ms ({found.frames_seen:,} frames).\n"
        f"Limit to throttle zero: median {found.cut_p50_ms:.1f} ms, p95 {found.cut_p95_ms:.1f} ms, "
        f"most {found.cut_most_ms:.1f} ms ({found.cuts} cuts).\n"
    )
    for words, holds in found.holds.items():
        out(f"{'held    ' if holds else 'NOT HELD'} {words}\n")
    out(f"Took {took_s:.0f} s.\n")


if __name__ == "__main__":
    raise SystemExit(main())
