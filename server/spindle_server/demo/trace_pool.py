"""Traces for the large bench: some of its motors on the simulated stand, in every kind of run.

They go the way of any run: planned, played by the real engine, stored, reduced. The runs of the
other motors are then told apart from these by motor, sample, propeller and day only.
"""

from __future__ import annotations

import datetime
import uuid
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import Any

import numpy as np

from spindle_bench.plan import RunPlan
from spindle_core.formats.bench_log import read_bench_log, write_bench_log
from spindle_server.bench.services import plan_run
from spindle_server.demo.simulated_runs import STEPS, Played, play
from spindle_server.motors.models import Maker, Sample
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.runs.services import store_log
from spindle_server.runs.store import DatabaseRunStore

SHAPES, MAKERS_OF_EACH = 24, 5
RATE_HZ = 20.0
RATES_HZ = {"response": 50.0, "soak": 10.0}
VOLTAGE_V = 16.0
BEGAN = datetime.datetime(2023, 9, 1, 8, 0, tzinfo=datetime.UTC)
READ = ("throttle_pct", "thrust_gf", "voltage_v", "current_a", "power_w", "speed_rpm")


def pool_propellers(makers: Sequence[Maker]) -> None:
    """Every shape from several makers, so that one fit does not rest on all runs of the bench."""
    Propeller.objects.bulk_create(
        Propeller(
            maker=makers[(k + maker) % len(makers)],
            diameter_in=round(3.0 + 0.2 * k, 1),
            pitch_in=round(0.62 * (3.0 + 0.2 * k), 1),
            blades=2 + k % 2,
        )
        for maker in range(MAKERS_OF_EACH)
        for k in range(SHAPES)
    )


def propellers_for(sample: Sample, count: int, all_of_them: Sequence[Propeller]) -> list[int]:
    """Which shapes suit a motor's size: indices of those nearest in diameter."""
    wanted_in = 0.23 * float(sample.motor.size_code[:2])
    near = sorted(range(SHAPES), key=lambda k: abs(all_of_them[k].diameter_in - wanted_in))
    return sorted(near[:count])


def profiles_of(mass_g: float, steps: int) -> list[dict[str, Any]]:
    """What a motor is put through: plateaus on each propeller, and every other kind that turns."""
    share = mass_g / 34.0
    others: list[dict[str, Any]] = [
        {"kind": "ramp", "sweep_pct_per_s": 8.0, "to_pct": 60.0},
        {"kind": "peak", "pause_s": 6.0},
        {"kind": "hold", "targets_gf": [10.0 * mass_g, 20.0 * mass_g], "dwell_s": 3.0},
        {"kind": "response", "cycles": 6},
        {
            "kind": "flywheel",
            "inertia_kg_mm2": 62.0 * share,
            "rated_speed_rpm": 60_000.0,
            "duty_pct": 40.0,
            "spin_ups": 1,
            "spin_up_to_rpm": 12_000.0,
        },
        {"kind": "soak", "level_pct": 60.0, "load_s": 40.0, "watch_s": 60.0},
        {"kind": "direction"},
        {"kind": "no_load"},
    ]
    return [dict(STEPS) for _ in range(steps)] + others


def play_pool(
    samples: Sequence[Sample],
    propellers: int,
    stand: Stand,
    supply: Supply,
    say: Callable[[str], None],
) -> list[list[Run]]:
    """The runs of each sample, stored and reduced: plateaus on each propeller first."""
    shapes = list(Propeller.objects.order_by("pk").select_related("maker"))
    jobs: list[tuple[int, str, RunPlan]] = []
    for sample in samples:
        mass_g = _mass_g(sample)
        chosen = propellers_for(sample, propellers, shapes)
        for index, profile in enumerate(profiles_of(mass_g, len(chosen))):
            shape = shapes[chosen[min(index, len(chosen) - 1)]]
            kind = profile["kind"]
            plan = _plan(sample, shape, supply, stand, profile, RATES_HZ.get(kind, RATE_HZ))
            jobs.append((len(jobs), "", plan))
    each = len(jobs) // len(samples)
    stored: list[Run] = []
    for index, played in enumerate(_played(jobs)):
        stored.append(_store(played))
        if index % 50 == 49 or index == len(jobs) - 1:
            say(f"{index + 1} of {len(jobs)} runs on the simulated stand")
    return [
        [*stored[k * each : (k + 1) * each], _read_off(stored[k * each])]
        for k in range(len(samples))
    ]


def _mass_g(sample: Sample) -> float:
    diameter, height = float(sample.motor.size_code[:2]), float(sample.motor.size_code[2:])
    return 4.0 + 0.0088 * diameter**2 * height


def _plan(
    sample: Sample,
    propeller: Propeller,
    supply: Supply,
    stand: Stand,
    profile: dict[str, Any],
    rate_hz: float,
) -> RunPlan:
    off = ["power_w", "vibration_g", "motor_temp_c", "thrust_gf", "lost_rpm_s", "voltage_floor_v"]
    rated = profile.get("rated_speed_rpm")
    plan = plan_run(
        actor=None,
        sample=sample,
        propeller=propeller,
        supply=supply,
        stand=stand,
        profile=profile,
        limits={"current_a": 80.0, "speed_rpm": rated},
        limits_off=off if rated else [*off, "speed_rpm"],
        rate_hz=rate_hz,
        air_temp_c=21.0,
        air_pressure_hpa=1004.0,
        air_humidity_pct=48.0,
        run_id=str(uuid.uuid4()),
        guarded=False,
    )
    plan.record["started_at"] = BEGAN.isoformat()
    return plan


def _played(jobs: Sequence[tuple[int, str, RunPlan]]) -> Iterator[Played]:
    """One after the other where it is little: starting workers takes longer than that."""
    if len(jobs) < 20:
        yield from map(play, jobs)
        return
    # Spawned workers share no database connection with this process.
    with ProcessPoolExecutor(mp_context=get_context("spawn")) as pool:
        yield from pool.map(play, jobs, chunksize=4)


def _store(played: Played) -> Run:
    store, run_id = DatabaseRunStore(origin="demo"), played.plan.run_id
    store.begin_run(played.plan, played.channels)
    store.add_segment(run_id, played.segment)
    store.end_run(run_id, played.end.as_json())
    return Run.objects.get(uid=run_id)


def _read_off(run: Run) -> Run:
    """The same plateaus as somebody reads them off and types them: a run of readings."""
    points = (run.reduction.result or {})["points"]
    columns = {
        name: np.array([point[name]["value"] for point in points])
        for name in READ
        if all(point.get(name) for point in points)
    }
    header = {"kind": "readings", "readings_are": "held", "nominal_voltage_v": VOLTAGE_V}
    log = read_bench_log(write_bench_log(header, np.arange(len(points), dtype=float), columns))
    return store_log(
        operator=None,
        log=log,
        name="readings.csv",
        source=None,
        sample=run.sample,
        propeller=run.propeller,
        supply=run.supply,
        stand=run.stand,
        note="",
    )
