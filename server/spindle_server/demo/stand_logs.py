"""Logs that the simulated stand records without a controller.

Made in worker processes: nothing here knows a database.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from spindle_bench.stand.physics import Physics
from spindle_bench.stand.script import plateaus, record
from spindle_bench.stand.sensors import Sensors
from spindle_bench.stand.world import mounted_from
from spindle_core.formats.bench_log import BenchLog, write_bench_log


@dataclass(frozen=True, slots=True)
class LogJob:
    """What is mounted (``facts``), how it is driven, and what its log shows.

    ``thrust_gain`` and ``gains``: what the instruments show of a unit.
    """

    seed: int
    facts: dict[str, object]
    header: dict[str, Any]
    levels_pct: tuple[float, ...]
    seconds: float
    shown: tuple[str, ...]
    rate_hz: float = 50.0
    thrust_gain: float = 1.0
    gains: dict[str, float] = field(default_factory=dict)


def recorded(job: LogJob) -> BenchLog:
    """Plateaus of two seconds each, as a bench log."""
    sensors = Sensors(job.seed, thrust_gain=job.thrust_gain, gains=job.gains)
    played = record(
        Physics(mounted_from(job.facts)),
        sensors,
        plateaus(job.levels_pct, dwell_s=2.0),
        job.seconds,
        rate_hz=job.rate_hz,
    )
    header = {key: str(value) for key, value in job.header.items()}
    return BenchLog(header, played.time_s, {name: played.channels[name] for name in job.shown})


def recorded_file(job: LogJob) -> bytes:
    """The same as a file."""
    log = recorded(job)
    return write_bench_log(job.header, log.time_s, log.channels)
