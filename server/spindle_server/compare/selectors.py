"""Comparing stored runs through the core."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Sequence
from typing import Any

import spindle_core
from spindle_core.compare.delta import DEFAULT_MARGIN, Crossing, thrust_ladder
from spindle_core.compare.like_with_like import confounded, factors
from spindle_core.compare.table import Drawn, Row, comparison_rows, drawn_curves, told_crossings
from spindle_core.figures.measured import Absent
from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.errors import ServiceError
from spindle_server.runs.as_core import compared_run, conditions_of
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import with_results

MOST_RUNS = 8
CURVES = (("throttle_pct", "thrust_gf"), ("thrust_gf", "power_w"), ("thrust_gf", "current_a"))


def compared(
    run_ids: Sequence[int], baseline: int | None, thrusts_gf: Sequence[float]
) -> dict[str, Any]:
    """The whole comparison of some runs.

    :raises ServiceError: too few or many runs, one unknown, or one without figures.
    """
    chosen = _load(run_ids)
    base = chosen[0].pk if baseline is None else baseline
    cores = [compared_run(run) for run in chosen]
    maxima = [
        max(((p.value("thrust_gf") or 0.0) for p in core.points), default=0.0) for core in cores
    ]
    ladder = list(thrusts_gf) or thrust_ladder(maxima)
    rows = comparison_rows(cores, f"run {base}", ladder, margin=DEFAULT_MARGIN)
    found = factors([conditions_of(run, core) for run, core in zip(chosen, cores, strict=True)])
    return {
        "runs": chosen,
        "baseline": base,
        "thrusts_gf": ladder,
        "margin_pct": 100.0 * DEFAULT_MARGIN,
        "curves": [[_drawn(curve) for curve in drawn_curves(core, CURVES)] for core in cores],
        "rows": [_row(row) for row in rows],
        "crossings": [_crossing(*item) for item in told_crossings(cores)],
        "factors": [{"name": f.name, "values": list(f.values), "state": f.state} for f in found],
        "confounded": confounded(found),
        "remarks": [
            *(
                f"The figures of run {run.pk} were made by version "
                f"{run.reduction.core_version}; make them again before comparing."
                for run in chosen
                if run.reduction.core_version != spindle_core.__version__
            ),
            *(
                f"Run {run.pk} {_unknown_repeatability(run)}; one of "
                f"{100 * ASSUMED_REPEATABILITY:g} % is assumed for it."
                for run in chosen
                if run.stand is None or run.stand.repeatability_rel is None
            ),
        ],
    }


def _unknown_repeatability(run: Run) -> str:
    if run.stand is None:
        return "names no stand, whose repeatability would be known"
    return f"was made on {run.stand.name}, whose repeatability nobody declared"


def _load(run_ids: Sequence[int]) -> list[Run]:
    if not 1 <= len(run_ids) <= MOST_RUNS or len(set(run_ids)) != len(run_ids):
        raise ServiceError(f"Compare 1 to {MOST_RUNS} different runs.", code="run_count")
    by_id = {run.pk: run for run in with_results().filter(pk__in=run_ids)}
    missing = [pk for pk in run_ids if pk not in by_id]
    if missing:
        raise ServiceError(f"There is no run {missing[0]}.", code="unknown_run")
    for run in by_id.values():
        if not hasattr(run, "reduction") or run.reduction.result is None:
            raise ServiceError(f"Run {run.pk} has no figures to compare.", code="no_figures")
    return [by_id[pk] for pk in run_ids]


def _drawn(curve: Drawn) -> dict[str, Any]:
    return {
        "x_name": curve.x_name,
        "y_name": curve.y_name,
        "x": curve.x.tolist(),
        "y": [None if math.isnan(value) else value for value in curve.y.tolist()],
        "points_x": curve.points_x.tolist(),
        "points_y": curve.points_y.tolist(),
        "points_u": curve.points_u.tolist(),
    }


def _crossing(a: str, b: str, crossing: Crossing) -> dict[str, Any]:
    return {
        "run_a": int(a.removeprefix("run ")),
        "run_b": int(b.removeprefix("run ")),
        "thrust_gf": crossing.at,
        "from_gf": crossing.low,
        "to_gf": crossing.high,
    }


def _row(row: Row) -> dict[str, Any]:
    cells = []
    for cell in row.cells:
        absent = isinstance(cell.figure, Absent)
        cells.append(
            {
                "value": None if isinstance(cell.figure, Absent) else cell.figure.value,
                "u": None if isinstance(cell.figure, Absent) else cell.figure.u,
                "absent_reason": cell.figure.reason if isinstance(cell.figure, Absent) else "",
                "absent_note": cell.figure.note if isinstance(cell.figure, Absent) else "",
                "delta": cell.delta.delta.value if cell.delta and not absent else None,
                "delta_pct": cell.delta.delta_pct if cell.delta else None,
                "u_pct": cell.delta.u_pct if cell.delta else None,
                "outcome": str(cell.delta.outcome) if cell.delta else "",
            }
        )
    return {"thrust_gf": row.thrust_gf, "name": row.name, "cells": cells}


def comparison_csv(comparison: dict[str, Any]) -> str:
    """The table as CSV: one row per thrust, figure and run."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "thrust_gf",
            "figure",
            "run",
            "motor",
            "sample",
            "propeller",
            "value",
            "u",
            "absent",
            "delta",
            "delta_pct",
            "u_delta_pct",
            "outcome",
            "baseline_run",
        ]
    )
    for row in comparison["rows"]:
        for run, cell in zip(comparison["runs"], row["cells"], strict=True):
            values = [
                cell["value"],
                cell["u"],
                cell["absent_reason"],
                cell["delta"],
                cell["delta_pct"],
                cell["u_pct"],
                cell["outcome"],
            ]
            writer.writerow(
                [
                    row["thrust_gf"],
                    row["name"],
                    run.pk,
                    run.sample.motor.full_name,
                    run.sample.mark,
                    run.propeller_name,
                    *("" if v is None else v for v in values),
                    comparison["baseline"],
                ]
            )
    return out.getvalue()
