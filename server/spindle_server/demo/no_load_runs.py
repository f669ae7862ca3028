"""Logs of the demo's motors without a propeller, recorded by the simulated stand and imported."""

from __future__ import annotations

import zlib
from datetime import timedelta

from spindle_bench.stand.physics import Physics
from spindle_bench.stand.script import plateaus, record
from spindle_bench.stand.sensors import Sensors
from spindle_bench.stand.world import mounted_from
from spindle_core.formats.bench_log import write_bench_log
from spindle_server.accounts.models import User
from spindle_server.demo.simulated_runs import SEASON_BEGINS
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.services import import_log, review_run

SHOWN = ("throttle_pct", "voltage_v", "current_a", "speed_rpm", "motor_temp_c", "ambient_temp_c")
RATE_HZ = 50.0


def no_load_log(sample: Sample, supply: Supply) -> bytes:
    """Full throttle on a bare shaft, as a bench log."""
    motor = sample.motor
    facts: dict[str, object] = {
        "motor": motor.full_name,
        "sample": sample.mark,
        "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v,
        "load": "none",
        "open_circuit_v": supply.open_circuit_v,
        "supply_resistance_ohm": supply.resistance_ohm,
        "ambient_c": 21.0,
    }
    seed = zlib.crc32(f"no load {sample}".encode()) % 100_000
    recording = record(
        Physics(mounted_from(facts)),
        Sensors(seed),
        plateaus([100.0, 100.0], dwell_s=2.0),
        9.0,
        rate_hz=RATE_HZ,
    )
    header = {
        "kind": "no_load",
        "motor": motor.full_name,
        "sample": sample.mark,
        "supply": "psu",
        "nominal_voltage_v": supply.nominal_voltage_v,
        "air_temp_c": 21.0,
    }
    return write_bench_log(
        header, recording.time_s, {name: recording.channels[name] for name in SHOWN}
    )


def import_no_load(actor: User, sample: Sample, index: int) -> None:
    """Record, import and accept one."""
    supply, stand = Supply.objects.get(name="Supply 16 V"), Stand.objects.get(live=True)
    run = import_log(
        actor=actor,
        name=f"no-load-{sample.motor.size_code}-{sample.mark}.csv",
        data=no_load_log(sample, supply),
        sample=sample,
        supply=supply,
        stand=stand,
        note="kV before the first propeller.",
    )
    began = SEASON_BEGINS - timedelta(hours=20) + timedelta(minutes=12 * index)
    Run.objects.filter(pk=run.pk).update(started_at=began)
    review_run(actor=actor, run=run, review="accepted", base=run.version)
