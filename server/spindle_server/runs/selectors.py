"""Reading runs, their traces and their files."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np
from django.db.models import Prefetch, QuerySet

from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.bench_log import BenchLog, bench_log_head, bench_log_rows, write_bench_log
from spindle_core.formats.trace_parquet import decode_segments
from spindle_core.reduction.kinds import KINDS
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.as_core import (
    MOST_AT_ONCE,
    SAID_OF_IT,
    read_trace,
    rows_of_trace,
    run_header,
    segment_blobs,
)
from spindle_server.runs.models import Run, SummaryFigure

IN_LISTS = sorted({name for kind in KINDS.values() for name in kind.headline})
"""The figures that some kind of run shows in a list."""

WITH = (*SAID_OF_IT, "operator", "end")

NOT_FOR_LISTS = (
    "channels",
    "profile",
    "limits",
    "limits_off",
    "header",
    "note",
    "reduction__result",
    "reduction__error",
)


def runs() -> QuerySet[Run]:
    """Runs with everything a list shows, in two queries; no whole result is loaded."""
    headline = SummaryFigure.objects.filter(name__in=IN_LISTS).defer("components", "samples")
    return (
        Run.objects.select_related(*WITH, "reduction")
        .defer(*NOT_FOR_LISTS)
        .prefetch_related(Prefetch("figures", headline))
    )


def with_results() -> QuerySet[Run]:
    """Runs with their whole results, for one run or a few."""
    return Run.objects.select_related(*WITH, "reduction").prefetch_related("figures")


def bench_log_pieces(run: Run, said: Mapping[str, object] | None = None) -> Iterator[bytes]:
    """Every sample of a run as a bench log, written part by part where it is long.

    :param said: its preamble, for a copy of all that was recorded; when None, what is known of the
        run, and the channels that the format knows.
    """
    header = run_header(run) if said is None else said

    def takes(name: str) -> bool:
        return said is not None or name in CHANNELS

    if rows_of_trace(run) <= MOST_AT_ONCE:
        time_s, channels = read_trace(run)
        yield write_bench_log(header, time_s, {n: v for n, v in channels.items() if takes(n)})
        return
    names = [name for name in run.channels if takes(name)]
    yield bench_log_head(header, names)
    for blob in segment_blobs(run):
        time_s, channels = decode_segments([blob])
        missing = np.full(time_s.size, np.nan)
        yield bench_log_rows(time_s, {name: channels.get(name, missing) for name in names})


POINT_COLUMNS = (
    "throttle_pct",
    "thrust_gf",
    "voltage_v",
    "current_a",
    "power_w",
    "efficiency_g_per_w",
    "speed_rpm",
    "torque_nm",
    "shaft_power_w",
    "motor_esc_efficiency_pct",
    "motor_temp_c",
)


PLACES = ("start_s", "used_from_s", "end_s", "settled")


def shape_point(point: dict[str, Any]) -> dict[str, Any]:
    """A stored point with its figures, its marks, its absences and its place apart."""
    rest = {name: item for name, item in point.items() if name not in PLACES and name != "absent"}
    return {
        "figures": {name: item for name, item in rest.items() if not isinstance(item, bool)},
        "marks": {name: item for name, item in rest.items() if isinstance(item, bool)},
        "absent": point.get("absent", {}),
        **{name: point[name] for name in PLACES},
    }


def points_as_csv(run: Run) -> str:
    """The points of a run: a value and a u column per figure; empty where absent."""
    result = run.reduction.result if hasattr(run, "reduction") else None
    points = [shape_point(point) for point in (result or {}).get("points", [])]
    held = {name for point in points for name in point["figures"]}
    columns = [*POINT_COLUMNS, *sorted(held - set(POINT_COLUMNS))]
    marks = sorted({name for point in points for name in point["marks"]})
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    header = [cell for name in columns for cell in (name, f"u_{name}")]
    writer.writerow(["start_s", "used_from_s", "end_s", "settled", *marks, *header])
    for point in points:
        row: list[Any] = [
            point["start_s"],
            point["used_from_s"],
            point["end_s"],
            "yes" if point["settled"] else "no",
        ]
        row += [_YES_NO[point["marks"].get(name)] for name in marks]
        for name in columns:
            figure = point["figures"].get(name)
            row += [figure["value"], figure["u"]] if figure else ["", ""]
        writer.writerow(row)
    return out.getvalue()


_YES_NO = {True: "yes", False: "no", None: ""}


def proposals(log: BenchLog) -> dict[str, int | None]:
    """Which sample and propeller of the bench a log's preamble names; None where unsure."""
    name, mark = log.header.get("motor", ""), log.header.get("sample", "")
    motor = next(
        (m for m in MotorModel.objects.select_related("maker") if m.full_name == name), None
    )
    sample = None
    if motor is not None:
        marked = Sample.objects.filter(motor=motor, mark=mark) if mark else motor.samples.all()
        sample = marked.first() if marked.count() == 1 else None
    propeller = next(
        (
            p
            for p in Propeller.objects.select_related("maker")
            if p.full_name == log.header.get("propeller")
        ),
        None,
    )
    return {
        "sample": sample.pk if sample else None,
        "propeller": propeller.pk if propeller else None,
    }


def understood_columns(log: BenchLog) -> list[dict[str, Any]]:
    """What was understood of each column of a log."""
    rows = []
    for name, values in log.channels.items():
        finite = values[np.isfinite(values)]
        rows.append(
            {
                "name": name,
                "label": CHANNELS[name].label,
                "unit": CHANNELS[name].unit,
                "lowest": float(finite.min()) if finite.size else None,
                "highest": float(finite.max()) if finite.size else None,
                "missing": int(values.size - finite.size),
            }
        )
    return rows
