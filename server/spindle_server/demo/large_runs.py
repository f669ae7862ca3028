"""Runs of the large bench: forty motors on five propellers, three times each, solved and scattered.

They hold figures and no samples: they measure how judgements hold up, not how traces do.
"""

from __future__ import annotations

import datetime
import random
from collections.abc import Sequence

from django.utils import timezone

import spindle_core
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Figure, Measured, component
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.reduction.result import Point
from spindle_core.reduction.result import Reduction as Reduced
from spindle_server.motors.models import MotorModel
from spindle_server.rig.models import Propeller as PropellerRow
from spindle_server.rig.models import Stand, Supply
from spindle_server.runs.models import Reduction, Run, SummaryFigure
from spindle_server.runs.reducing import rows_of

RUN_MOTORS = {"small": 6, "large": 40}
PROPELLERS, REPEATS = 5, 3
VOLTAGE_V = 16.0
DUTIES = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0)
SCATTER = 0.006


def seed_runs(size: str, draw: random.Random) -> int:
    """Runs of the first motors; returns how many."""
    motors = list(MotorModel.objects.order_by("pk")[: RUN_MOTORS[size]])
    stand = Stand.objects.create(
        name="Seed stand", kind="direct", repeatability_rel=0.008, calibration_rel=0.008
    )
    supply = Supply.objects.create(
        name="Seed supply",
        kind="psu",
        nominal_voltage_v=VOLTAGE_V,
        open_circuit_v=VOLTAGE_V,
        resistance_ohm=0.004,
        trip_a=60.0,
    )
    propellers = list(PropellerRow.objects.order_by("pk")[8 : 8 + PROPELLERS])
    begin = timezone.now() - datetime.timedelta(days=90)
    runs: list[Run] = []
    results: list[Reduced] = []
    for motor in motors:
        sample = motor.samples.order_by("mark")[0]
        core = _core_motor(motor, draw)
        for propeller in propellers:
            for _ in range(REPEATS):
                points = _points(core, propeller, draw)
                if len(points) < 3:
                    continue
                runs.append(
                    Run(
                        kind="steps",
                        origin="import",
                        sample=sample,
                        propeller=propeller,
                        supply=supply,
                        stand=stand,
                        nominal_voltage_v=VOLTAGE_V,
                        review="accepted",
                        started_at=begin + datetime.timedelta(hours=len(runs)),
                    )
                )
                results.append(Reduced("steps", tuple(points), _summary(points), (), ()))
    Run.objects.bulk_create(runs)
    stored = list(Run.objects.filter(stand=stand).order_by("started_at"))
    _store(stored, results)
    return len(stored)


def _core_motor(motor: MotorModel, draw: random.Random) -> Motor:
    kv = (motor.kv_label_rpm_per_v or 2000.0) * draw.uniform(0.95, 1.02)
    return Motor(kv, 0.06 * (1900.0 / kv) ** 1.2 * draw.uniform(0.9, 1.2), draw.uniform(0.6, 1.5))


def _points(motor: Motor, propeller: PropellerRow, draw: random.Random) -> list[Point]:
    shape = Propeller(propeller.diameter_in, 0.17, 0.11)
    found = []
    for duty in DUTIES:
        try:
            at = solve(motor, shape, voltage_v=VOLTAGE_V, duty=duty, density_kg_per_m3=1.2)
        except CoreError:
            continue
        figures: dict[str, Figure] = {"throttle_pct": Measured(100.0 * duty)}
        for name in ("thrust_gf", "current_a", "power_w", "speed_rpm"):
            value = at.value(name) * draw.gauss(1.0, SCATTER)
            parts = {component("calibration", f"Seed stand/{name}"): 0.008 * value}
            figures[name] = Measured(value, {**parts, "scatter": 0.002 * value})
        thrust, power = figures["thrust_gf"], figures["power_w"]
        assert isinstance(thrust, Measured)
        assert isinstance(power, Measured)
        figures["efficiency_g_per_w"] = Measured(thrust.value / power.value, {"scatter": 0.01})
        found.append(Point(figures, 0.0, 0.5, 3.0, settled=True))
    return found


def _summary(points: Sequence[Point]) -> dict[str, Figure]:
    top = points[-1].figures
    return {
        "max_thrust_gf": top["thrust_gf"],
        "max_current_a": top["current_a"],
        "max_power_w": top["power_w"],
        "efficiency_at_max_g_per_w": top["efficiency_g_per_w"],
    }


def _store(runs: Sequence[Run], results: Sequence[Reduced]) -> None:
    rows, figures = [], []
    for run, result in zip(runs, results, strict=True):
        plain = reduction_to_json(result)
        rows.append(
            Reduction(
                run=run,
                core_version=spindle_core.__version__,
                inputs_hash=f"seed {run.pk}",
                result=plain,
            )
        )
        figures += rows_of(run.pk, plain)
    Reduction.objects.bulk_create(rows)
    SummaryFigure.objects.bulk_create(figures)
