"""A second made-up bench: it ran the Drift too, high up, on a scale that shows a little too much.

Its pack is made as any bench would make one, from logs of the simulated stand, and quoted through
the same door as a pack that came by mail. One sample travelled: their A is ours.
"""

from __future__ import annotations

import zlib
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.pack.parts import log_path, parts_of, result_path
from spindle_core.formats.pack.writing import pack_bytes
from spindle_core.formats.plain import plain
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.model.air import air_density_kg_per_m3
from spindle_core.publish.grade import GradedRun, bench_grade
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.result import Reduction
from spindle_server.accounts.models import User
from spindle_server.demo.no_load_runs import SHOWN
from spindle_server.demo.stand_logs import LogJob
from spindle_server.motors.models import MotorModel
from spindle_server.other_benches.opening import open_pack
from spindle_server.other_benches.services import Ours, quote_pack
from spindle_server.rig.models import Propeller

BENCH = "Saltpan Loft Bench"
MOTOR = ("Drift", "2206", 1900)
SCALE_SHOWS = 1.055
"""What its scale shows of a gram: what two benches that ran one motor can find."""

AMPERES_SHOWN = 0.992
AIR = {"air_temp_c": 18.5, "air_pressure_hpa": 931.0, "air_humidity_pct": 41.0}
DECLARED = {
    "stand": "Old beam",
    "thrust_gf_calibration_pct": 0.6,
    "thrust_gf_instrument": "load_cell",
    "voltage_v_calibration_pct": 0.3,
    "current_a_calibration_pct": 0.8,
    "current_a_instrument": "shunt_logger",
    "repeatability_pct": 0.7,
    "resistance_ohm": 0.084,
    "resistance_u_ohm": 0.003,
}
LEVELS = (10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0)


@dataclass(frozen=True, slots=True)
class There:
    """One of its runs; without a propeller it tells kV."""

    sample: str
    propeller: str
    on: str
    voltage_v: float = 16.0


RUNS = (
    There("A", "", "2026-09-11"),
    There("A", "Wickett 5.1x4.2x3", "2026-09-12"),
    There("A", "Wickett 5.1x4.2x3", "2026-09-12"),
    There("A", "Wickett 5x3.6x3", "2026-09-12"),
    There("A", "Wickett 5.1x3.1x2", "2026-09-13"),
    There("M", "Wickett 5.1x4.2x3", "2026-09-13"),
    There("M", "Wickett 5.1x4.2x3", "2026-09-13", voltage_v=14.8),
)


def runs_there() -> list[LogJob]:
    """What their stand plays."""
    motor, propellers = _motor_they_ran(), _propellers_they_ran()
    return [_job(run, motor, propellers, at) for at, run in enumerate(RUNS, start=1)]


def quote_other_bench(actor: User, recorded: Iterable[BenchLog]) -> None:
    """Make its pack of what :func:`runs_there` recorded, and quote it."""
    motor = _motor_they_ran()
    data = their_pack(motor, recorded)
    opened = open_pack("saltpan-loft-drift.zip", data)
    quote_pack(
        actor=actor,
        name="saltpan-loft-drift.zip",
        data=data,
        ours=Ours(
            motors=opened.motors,
            samples={"drift/A": motor.samples.get(mark="A").pk},
            propellers=opened.propellers,
        ),
    )


def _motor_they_ran() -> MotorModel:
    name, size, kv = MOTOR
    return MotorModel.objects.select_related("maker").get(
        name=name, size_code=size, kv_label_rpm_per_v=kv
    )


def _propellers_they_ran() -> dict[str, Propeller]:
    return {
        row.full_name: row
        for row in Propeller.objects.select_related("maker")
        if row.full_name in {run.propeller for run in RUNS}
    }


def their_pack(motor: MotorModel, recorded: Iterable[BenchLog]) -> bytes:
    """The pack as they sent it; the same every time."""
    propellers = _propellers_they_ran()
    keys = {name: f"prop-{at}" for at, name in enumerate(propellers, start=1)}
    logs = dict(enumerate(recorded, start=1))
    reduced = {number: reduce_trace(log.trace()) for number, log in logs.items()}
    index: dict[str, Any] = {
        "bench": {"name": BENCH, "address": "https://saltpan-loft.example"},
        "publication": {
            "kind": "motor",
            "subject": motor.full_name,
            "slug": "ostrel-drift-2206-1900",
            "edition": 1,
            "issued_on": "2026-09-20",
            "sentence": "The strongest of its size that we ran, and it wants to be fed.",
            "corrections": [],
        },
        "licence": "CC BY 4.0",
        "grade": _grade(),
        "disclosure": [
            "Sample A: lent by Gannet Yard Bench. Sample M: bought by the bench.",
            "No link on this page pays anybody here.",
        ],
        "motors": [_motor(motor, reduced)],
        "propellers": [
            {
                "key": keys[name],
                "full_name": name,
                "diameter_in": row.diameter_in,
                "pitch_in": row.pitch_in,
                "blades": row.blades,
                "figures": {},
            }
            for name, row in propellers.items()
        ],
        "stands": [{"key": "beam", "name": "Old beam"}],
        "runs": [_listed(at, run, keys) for at, run in enumerate(RUNS, start=1)],
        "teardown": [],
        "photos": [],
    }
    results = {number: reduction_to_json(one) for number, one in reduced.items()}
    parts = parts_of(
        index,
        results,
        logs.__getitem__,
        verdict={"sentence": index["publication"]["sentence"]},
        verdict_text=f"{index['publication']['sentence']}\n",
    )
    return pack_bytes(index, parts)


def _grade() -> dict[str, Any]:
    line = bench_grade(
        [
            GradedRun(
                run.sample, f"{run.propeller}/{run.voltage_v}", run.voltage_v, 34, False, True
            )
            for run in RUNS
        ]
    )
    return {"label": line.grade.label, "line": line.line, "missing": list(line.missing)}


def _motor(motor: MotorModel, reduced: dict[int, Reduction]) -> dict[str, Any]:
    unloaded = {"kv_rpm_per_v": plain(reduced[1].summary["kv_rpm_per_v"])}
    return {
        "key": "drift",
        "maker": motor.maker.name,
        "name": motor.name,
        "full_name": motor.full_name,
        "size_code": motor.size_code,
        "kv_label_rpm_per_v": motor.kv_label_rpm_per_v,
        "claims": [{"quantity": "mass_g", "value": 30.1, "words": "", "source": "box label"}],
        "figures": {
            **unloaded,
            "mass_g": {"value": 31.2, "u": 0.1, "n": 2, "origin": "measured", "assumed": False},
        },
        "samples": [{"mark": "A", "figures": unloaded}, {"mark": "M", "figures": {}}],
    }


def _listed(number: int, run: There, keys: dict[str, str]) -> dict[str, Any]:
    return {
        "number": number,
        "motor": "drift",
        "sample": run.sample,
        "propeller": keys.get(run.propeller),
        "supply": "psu",
        "nominal_voltage_v": run.voltage_v,
        "stand": "beam",
        "kind": "steps" if run.propeller else "no_load",
        "on": run.on,
        "origin": "Live on the bench",
        "review": "accepted",
        "review_reason": "",
        "log": log_path(number),
        "result": result_path(number),
    }


def _job(run: There, motor: MotorModel, propellers: dict[str, Propeller], number: int) -> LogJob:
    facts: dict[str, object] = {
        "motor": motor.full_name,
        "sample": run.sample,
        "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v,
        "open_circuit_v": run.voltage_v,
        "supply_resistance_ohm": 0.004,
        "ambient_c": AIR["air_temp_c"],
        "air_density_kg_per_m3": air_density_kg_per_m3(
            AIR["air_temp_c"],
            pressure_hpa=AIR["air_pressure_hpa"],
            humidity_pct=AIR["air_humidity_pct"],
        ),
        "load": "propeller" if run.propeller else "none",
    }
    header: dict[str, Any] = {"kind": "no_load", "motor": motor.full_name, "sample": run.sample}
    levels: tuple[float, ...] = (100.0, 100.0)
    seconds = 10.0
    if run.propeller:
        row = propellers[run.propeller]
        size = {"diameter_in": row.diameter_in, "pitch_in": row.pitch_in, "blades": row.blades}
        named = {f"prop_{key}": value for key, value in size.items()}
        facts |= {"propeller": run.propeller, **named}
        header |= {"kind": "steps", "propeller": run.propeller, **named}
        levels, seconds = LEVELS, 6.0 + 2.0 * len(LEVELS)
    return LogJob(
        zlib.crc32(f"{BENCH} {number}".encode()) % 100_000,
        facts,
        header | {"supply": "psu", "nominal_voltage_v": run.voltage_v, **AIR, **DECLARED},
        levels,
        seconds,
        (*SHOWN, *(["thrust_gf"] if run.propeller else [])),
        thrust_gain=SCALE_SHOWS,
        gains={"current_a": AMPERES_SHOWN},
    )
