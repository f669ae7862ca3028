"""Logs of motors without a propeller, recorded by the simulated stand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from spindle_bench.stand.physics import Physics
from spindle_bench.stand.script import plateaus, record
from spindle_bench.stand.sensors import Sensors
from spindle_bench.stand.world import mounted_from
from spindle_core.formats.bench_log import write_bench_log

SHOWN = ("throttle_pct", "voltage_v", "current_a", "speed_rpm", "motor_temp_c", "ambient_temp_c")
RATE_HZ = 50.0


@dataclass(frozen=True, slots=True)
class BareShaft:
    """A sample without a propeller: what the simulated stand is told, and the log's preamble."""

    seed: int
    facts: dict[str, object]
    header: dict[str, Any]


def no_load_log(shaft: BareShaft) -> bytes:
    """Full throttle on a bare shaft, as a bench log. Runs in a worker process; touches no
    database."""
    recording = record(
        Physics(mounted_from(shaft.facts)),
        Sensors(shaft.seed),
        plateaus([100.0, 100.0], dwell_s=2.0),
        9.0,
        rate_hz=RATE_HZ,
    )
    return write_bench_log(
        shaft.header, recording.time_s, {name: recording.channels[name] for name in SHOWN}
    )
