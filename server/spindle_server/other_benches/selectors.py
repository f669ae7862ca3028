"""What other benches say, for the screens."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, Q, QuerySet

from spindle_core.compare.bench_table import FULL
from spindle_core.compare.benches import BenchCheck, Held, Offset
from spindle_core.compare.of_models import OfModel
from spindle_core.compare.subjects import Grouping, Reading, read_subject, subjects
from spindle_core.figures.measured import Absent
from spindle_server.motors.models import MotorModel
from spindle_server.other_benches.evidence import (
    as_ran,
    check_against,
    counted_packs,
    quoted_runs_of,
)
from spindle_server.other_benches.models import OtherBench, QuotedMotor, QuotedPack
from spindle_server.runs.stated import figure_json

SHOWN = ("kv_rpm_per_v", "mass_g", "max_current_a", "continuous_power_w")
READ_FULL = ("thrust_gf", "current_a", "power_w", "efficiency_g_per_w")


def benches() -> QuerySet[OtherBench]:
    """Every other bench, with how many packs and motors of ours it tells of."""
    return OtherBench.objects.annotate(
        pack_count=Count("packs", distinct=True),
        motor_count=Count("packs__motors__ours", distinct=True, filter=Q(packs__put_aside="")),
    ).order_by("name")


def packs_of(bench: OtherBench) -> list[dict[str, Any]]:
    """Its packs with whether they count, and what in them is ours."""
    counted = set(counted_packs(bench).values_list("pk", flat=True))
    rows = (
        bench.packs.select_related("bench", "imported_by")
        .prefetch_related("motors__samples__ours", "motors__ours__maker", "propellers__ours__maker")
        .annotate(
            run_count=Count("runs", distinct=True),
            refused_count=Count("runs", distinct=True, filter=Q(runs__result__isnull=True)),
        )
        .order_by("subject", "-edition")
    )
    return [{"pack": row, "counts": row.pk in counted} for row in rows]


def pack_remarks(pack: QuotedPack) -> list[dict[str, Any]]:
    """Runs whose log gives other figures than are stated, or none at all."""
    rows = pack.runs.exclude(remarks=[], error="").order_by("number")
    return [
        {"number": row.number, "remarks": [row.error] if row.error else row.remarks}
        for row in rows
        if row.error or row.remarks
    ]


def check_json(check: BenchCheck) -> dict[str, Any]:
    """What both measured, figure by figure, and the mean of it."""
    names = {
        str(row.pk): row.full_name
        for row in MotorModel.objects.select_related("maker").filter(
            pk__in={int(one.motor) for one in check.held} | {int(m) for m, _ in check.theirs_only}
        )
    }
    return {
        "offsets": [_offset(one) for one in check.offsets],
        "held": [_held(one, names) for one in check.held],
        "theirs_only": [
            {"motor": int(motor), "motor_name": names.get(motor, ""), "load": load.words}
            for motor, load in check.theirs_only
        ],
    }


def _offset(one: Offset) -> dict[str, Any]:
    return {
        "condition": one.condition,
        "name": one.name,
        "offset_pct": one.delta.delta_pct,
        "u_pct": one.delta.u_pct,
        "half_width_pct": one.delta.half_width_pct,
        "outcome": str(one.delta.outcome),
        "loads": one.loads,
        "motors": one.motors,
        "assumed": one.delta.delta.assumed,
    }


def _held(one: Held, names: dict[str, str]) -> dict[str, Any]:
    return {
        "motor": int(one.motor),
        "motor_name": names.get(one.motor, ""),
        "load": one.load.words,
        "condition": one.condition,
        "at": one.at,
        "name": one.name,
        "ours": _of_model(one.ours),
        "theirs": _of_model(one.theirs),
        "offset_pct": one.delta.delta_pct,
        "u_pct": one.delta.u_pct,
        "half_width_pct": one.delta.half_width_pct,
        "outcome": str(one.delta.outcome),
        "one_sample": one.one_sample,
    }


def _of_model(one: OfModel) -> dict[str, Any]:
    return {"figure": figure_json(one.figure), "samples": one.samples, "runs": one.runs}


def quoted_of(motor: MotorModel) -> list[dict[str, Any]]:
    """What other benches say of a motor: their grade, their constants, their loads at full
    throttle, and what is read apart over the loads that both ran."""
    packs = counted_packs().filter(motors__ours=motor).select_related("bench").distinct()
    found = []
    for pack in packs.order_by("bench__name", "subject"):
        found.append(
            {
                "pack": pack,
                "figures": _constants(pack, motor),
                "loads": _loads(pack, motor),
                "offsets": check_json(check_against(pack.bench, [motor.pk]))["offsets"],
            }
        )
    return found


def _constants(pack: QuotedPack, motor: MotorModel) -> list[dict[str, Any]]:
    rows = QuotedMotor.objects.filter(pack=pack, ours=motor)
    return [
        {"name": name, "figure": _stated(row.figures[name])}
        for row in rows
        for name in SHOWN
        if name in row.figures and "value" in row.figures[name]
    ]


def _stated(figure: dict[str, Any]) -> dict[str, Any]:
    return {
        "value": figure["value"],
        "u": figure["u"] or None,
        "n": figure["n"],
        "origin": figure["origin"],
        "reason": "",
        "assumed": bool(figure.get("assumed", False)),
    }


def _loads(pack: QuotedPack, motor: MotorModel) -> list[dict[str, Any]]:
    runs = [as_ran(run) for run in quoted_runs_of([pack], [motor.pk]) if run.propeller is not None]
    found = []
    for one in subjects(runs, Grouping.MODEL):
        readings = {name: read_subject(one, name, FULL) for name in READ_FULL}
        if all(isinstance(reading, Absent) for reading in readings.values()):
            continue
        found.append(
            {
                "load": one.load.words,
                "samples": len({run.sample for run in one.runs}),
                "runs": len(one.runs),
                "figures": [
                    {
                        "name": name,
                        "figure": figure_json(
                            reading.figure if isinstance(reading, Reading) else reading
                        ),
                    }
                    for name, reading in readings.items()
                ],
            }
        )
    return found
