"""Comparing stored runs through the core."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Any

from spindle_core.cohort.equal_conditions import ASSUMED_REPEATABILITY
from spindle_core.comparison import DEFAULT_MARGIN, crossings, thrust_ladder
from spindle_core.comparison_table import ComparedRun, Row, comparison_rows, run_curve
from spindle_core.formats.result_json import points_from_json
from spindle_core.like_with_like import Conditions, confounded, factors
from spindle_core.measured import Absent
from spindle_core.reading import Curve
from spindle_server.errors import ServiceError
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import air_density, runs

MOST_RUNS = 8
CURVES = (("throttle_pct", "thrust_gf"), ("thrust_gf", "power_w"), ("thrust_gf", "current_a"))
SUPPLY_WORDS = {"psu": "bench supply", "pack": "pack"}


def compared(
    run_ids: Sequence[int], baseline: int | None, thrusts_gf: Sequence[float]
) -> dict[str, Any]:
    """The whole comparison of some runs.

    :raises ServiceError: too few or many runs, one unknown, or one without figures.
    """
    chosen = _load(run_ids)
    base = chosen[0].pk if baseline is None else baseline
    cores = [_as_core(run) for run in chosen]
    maxima = [
        max(((p.value("thrust_gf") or 0.0) for p in core.points), default=0.0) for core in cores
    ]
    ladder = list(thrusts_gf) or thrust_ladder(maxima)
    rows = comparison_rows(cores, str(base), ladder, margin=DEFAULT_MARGIN)
    found = factors([_conditions(run) for run in chosen])
    return {
        "runs": chosen,
        "baseline": base,
        "thrusts_gf": ladder,
        "margin_pct": 100.0 * DEFAULT_MARGIN,
        "curves": [_curves(core) for core in cores],
        "rows": [_row(row) for row in rows],
        "crossings": _crossings(cores),
        "factors": [{"name": f.name, "values": list(f.values), "state": f.state} for f in found],
        "confounded": confounded(found),
        "remarks": [
            f"Run {run.pk} names no stand; a repeatability of "
            f"{100 * ASSUMED_REPEATABILITY:g} % is assumed for it."
            for run in chosen
            if run.stand is None
        ],
    }


def _load(run_ids: Sequence[int]) -> list[Run]:
    if not 1 <= len(run_ids) <= MOST_RUNS or len(set(run_ids)) != len(run_ids):
        raise ServiceError(f"Compare 1 to {MOST_RUNS} different runs.", code="run_count")
    by_id = {run.pk: run for run in runs().filter(pk__in=run_ids)}
    missing = [pk for pk in run_ids if pk not in by_id]
    if missing:
        raise ServiceError(f"There is no run {missing[0]}.", code="unknown_run")
    for run in by_id.values():
        if not hasattr(run, "reduction") or run.reduction.result is None:
            raise ServiceError(f"Run {run.pk} has no figures to compare.", code="no_figures")
    return [by_id[pk] for pk in run_ids]


def _result(run: Run) -> dict[str, Any]:
    result: dict[str, Any] = run.reduction.result or {}
    return result


def _as_core(run: Run) -> ComparedRun:
    stand = run.stand
    result = _result(run)
    untared = any(warning["code"] == "tare_missing" for warning in result["warnings"])
    return ComparedRun(
        key=str(run.pk),
        points=points_from_json(result),
        tared=not untared,
        stand=f"stand-{stand.pk}" if stand else f"run-{run.pk}",
        repeatability=stand.repeatability_rel if stand else ASSUMED_REPEATABILITY,
        calibration=stand.calibration_rel if stand else ASSUMED_REPEATABILITY,
    )


def _conditions(run: Run) -> Conditions:
    first = (_result(run)["points"] or [{}])[0]
    rise = None
    warm, air = first.get("motor_temp_c"), first.get("ambient_temp_c")
    if warm and air:
        rise = warm["value"] - air["value"]
    return Conditions(
        motor=run.sample.motor.full_name,
        sample=run.sample.mark,
        propeller=run.propeller_name,
        supply_kind=SUPPLY_WORDS[run.supply.kind] if run.supply else None,
        nominal_voltage_v=run.nominal_voltage_v,
        stand=run.stand.name if run.stand else None,
        start_rise_k=rise,
        air_density_kg_per_m3=air_density(run),
    )


def _curves(run: ComparedRun) -> list[dict[str, Any]]:
    drawn = []
    for x_name, y_name in CURVES:
        line = run_curve(run, x_name, y_name)
        if isinstance(line, Absent):
            continue
        x, y = line.sampled()
        drawn.append({
            "x_name": x_name, "y_name": y_name, "x": x.tolist(), "y": y.tolist(),
            "points_x": line.x.tolist(), "points_y": line.y.tolist(),
            "points_u": line.u_y.tolist(),
        })  # fmt: skip
        if y_name == "power_w":
            drawn.append(_efficiency_curve(line))
    return drawn


def _efficiency_curve(power: Curve) -> dict[str, Any]:
    """g/W over thrust: the power curve read at each thrust, from 5 % of the maximum up."""
    x, watts = power.sampled()
    keep = x >= 0.05 * x[-1]
    inside = power.x >= 0.05 * power.x[-1]
    points_x, points_w = power.x[inside], power.y[inside]
    points_u = points_x / points_w * (power.u_y[inside] / points_w)
    return {
        "x_name": "thrust_gf", "y_name": "efficiency_g_per_w",
        "x": x[keep].tolist(), "y": (x[keep] / watts[keep]).tolist(),
        "points_x": points_x.tolist(), "points_y": (points_x / points_w).tolist(),
        "points_u": points_u.tolist(),
    }  # fmt: skip


def _crossings(cores: Sequence[ComparedRun]) -> list[dict[str, Any]]:
    found = []
    lines = [(core.key, run_curve(core, "thrust_gf", "power_w")) for core in cores]
    for i, (key_a, a) in enumerate(lines):
        for key_b, b in lines[i + 1 :]:
            if isinstance(a, Curve) and isinstance(b, Curve):
                floor = 0.05 * min(a.x[-1], b.x[-1])
                found += [
                    {"run_a": int(key_a), "run_b": int(key_b), "thrust_gf": x}
                    for x in crossings(a, b)
                    if x > floor
                ]
    return found


def _row(row: Row) -> dict[str, Any]:
    cells = []
    for cell in row.cells:
        absent = isinstance(cell.figure, Absent)
        cells.append({
            "value": None if isinstance(cell.figure, Absent) else cell.figure.value,
            "u": None if isinstance(cell.figure, Absent) else cell.figure.u,
            "absent_reason": cell.figure.reason if isinstance(cell.figure, Absent) else "",
            "absent_note": cell.figure.note if isinstance(cell.figure, Absent) else "",
            "delta": cell.delta.delta.value if cell.delta and not absent else None,
            "delta_pct": cell.delta.delta_pct if cell.delta else None,
            "u_pct": cell.delta.u_pct if cell.delta else None,
            "outcome": str(cell.delta.outcome) if cell.delta else "",
        })  # fmt: skip
    return {"thrust_gf": row.thrust_gf, "name": row.name, "cells": cells}


def comparison_csv(comparison: dict[str, Any]) -> str:
    """The table as CSV: one row per thrust, figure and run."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([
        "thrust_gf", "figure", "run", "motor", "sample", "propeller", "value", "u", "absent",
        "delta", "delta_pct", "u_delta_pct", "outcome", "baseline_run",
    ])  # fmt: skip
    for row in comparison["rows"]:
        for run, cell in zip(comparison["runs"], row["cells"], strict=True):
            values = [cell["value"], cell["u"], cell["absent_reason"], cell["delta"],
                      cell["delta_pct"], cell["u_pct"], cell["outcome"]]  # fmt: skip
            writer.writerow([
                row["thrust_gf"], row["name"], run.pk, run.sample.motor.full_name,
                run.sample.mark, run.propeller_name,
                *("" if v is None else v for v in values), comparison["baseline"],
            ])  # fmt: skip
    return out.getvalue()
