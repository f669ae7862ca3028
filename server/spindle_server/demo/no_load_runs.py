"""The demo's motors without a propeller: what the stand is told of them, their logs imported."""

from __future__ import annotations

import zlib
from datetime import timedelta

from spindle_server.accounts.models import User
from spindle_server.demo.simulated_runs import SEASON_BEGINS
from spindle_server.demo.stand_logs import LogJob
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.services import import_log, review_run

SHOWN = ("throttle_pct", "voltage_v", "current_a", "speed_rpm", "motor_temp_c", "ambient_temp_c")


def bare_shaft(sample: Sample, supply: Supply) -> LogJob:
    """Full throttle on the bare shaft of a sample."""
    motor = sample.motor
    return LogJob(
        zlib.crc32(f"no load {sample}".encode()) % 100_000,
        {
            "motor": motor.full_name,
            "sample": sample.mark,
            "size_code": motor.size_code,
            "kv_rpm_per_v": motor.kv_label_rpm_per_v,
            "load": "none",
            "open_circuit_v": supply.open_circuit_v,
            "supply_resistance_ohm": supply.resistance_ohm,
            "ambient_c": 21.0,
        },
        {
            "kind": "no_load",
            "motor": motor.full_name,
            "sample": sample.mark,
            "supply": "psu",
            "nominal_voltage_v": supply.nominal_voltage_v,
            "air_temp_c": 21.0,
        },
        (100.0, 100.0),
        9.0,
        SHOWN,
    )


def import_no_load(
    actor: User, sample: Sample, log: bytes, index: int, *, supply: Supply, stand: Stand
) -> None:
    """Import and accept one."""
    run = import_log(
        actor=actor,
        name=f"no-load-{sample.motor.size_code}-{sample.mark}.csv",
        data=log,
        sample=sample,
        supply=supply,
        stand=stand,
        note="kV before the first propeller.",
    )
    began = SEASON_BEGINS - timedelta(hours=20) + timedelta(minutes=12 * index)
    Run.objects.filter(pk=run.pk).update(started_at=began)
    review_run(actor=actor, run=run, review="accepted", base=run.version)
