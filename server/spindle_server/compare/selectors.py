"""Comparing stored runs through the core: subjects, their curves, and the table between them."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.core.cache import cache
from django.db.models import Max

import spindle_core
from spindle_core.compare.bench_table import FIGURES, FULL, RanRun
from spindle_core.compare.delta import DEFAULT_MARGIN, thrust_ladder
from spindle_core.compare.envelope import envelope
from spindle_core.compare.feel import Feel, feel_of
from spindle_core.compare.like_with_like import confounded, factors
from spindle_core.compare.mean_curves import mean_curve, told_crossings
from spindle_core.compare.nominal import AtNominal
from spindle_core.compare.subjects import (
    ComparedCell,
    ComparedRow,
    Subject,
    comparison_rows,
    spread_between_samples,
)
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent
from spindle_core.figures.repeats import PooledSpread
from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.compare.asking import AskedComparison, read_asked
from spindle_server.compare.claims import quoted
from spindle_server.compare.warmth import warmth
from spindle_server.errors import ServiceError
from spindle_server.identification.models import Identified
from spindle_server.runs.as_core import conditions_of
from spindle_server.runs.models import Run
from spindle_server.runs.ran import evidence_revision
from spindle_server.runs.stated import figure_json

MOST_DRAWN = 12
MOST_LEVELS = 24

AXES = ("throttle_pct", "thrust_gf", "power_w", "current_a", "speed_rpm")
DRAWN_OVER = (
    "thrust_gf",
    "power_w",
    "current_a",
    "efficiency_g_per_w",
    "motor_esc_efficiency_pct",
    "torque_nm",
    "speed_rpm",
    "throttle_pct",
    "vibration_g",
)
OVER_THRUST = ("thrust_gf", "efficiency_g_per_w")
AGAINST = ("baseline", "previous")


KEPT_S = 24 * 3600


def compared(asked: AskedComparison) -> dict[str, Any]:
    """The whole comparison, kept as long as nothing that it rests on is written.

    :raises ServiceError: too few or many runs, one unknown, or one without figures.
    """
    rests_on = (evidence_revision(), Identified.objects.aggregate(Max("made_at")), asked)
    key = f"comparison:{hashlib.sha256(repr(rests_on).encode()).hexdigest()}"
    kept: dict[str, Any] | None = cache.get(key)
    if kept is None:
        kept = _look(asked)
        cache.set(key, kept, KEPT_S)
    # What others claim rests on no run, and no figure on it.
    return {**kept, "claims": quoted(kept["subjects"])}


def _look(asked: AskedComparison) -> dict[str, Any]:
    read = read_asked(asked)
    chosen, ran, changed, found = read.chosen, read.ran, read.changed, read.subjects
    by_pk = {run.pk: run for run in chosen}
    base = asked.baseline if asked.baseline is not None else chosen[0].pk
    held = f"run {base}" if asked.against == "baseline" else None
    levels = _levels(asked, found)
    try:
        rows = comparison_rows(
            found, held, levels, margin=DEFAULT_MARGIN, condition=asked.condition
        )
    except CoreError as error:
        fields = {"levels": [error.message]} if error.code != "baseline" else {}
        raise ServiceError(error.message, code=error.code, fields=fields) from error
    drawn = found[:MOST_DRAWN]
    pooled = {axes: spread_between_samples(found, *axes) for axes in asked.axes}
    one_stand = len({run.stand_id for run in chosen}) == 1 and chosen[0].stand_id is not None
    reference = next((one for one in found if one.holds(f"run {base}")), found[0])
    told = factors([conditions_of(run, one.core) for run, one in zip(chosen, ran, strict=True)])
    return {
        "by": asked.by,
        "subjects": [_subject(one, by_pk, index < MOST_DRAWN) for index, one in enumerate(found)],
        "runs": list(asked.runs),
        "baseline": base,
        "against": asked.against,
        "condition": asked.condition,
        "levels": levels,
        "figures": list(FIGURES[asked.condition]),
        "margin_pct": 100.0 * DEFAULT_MARGIN,
        "axes": [{"x_name": x, "y_name": y} for x, y in asked.axes],
        "curves": [
            [curve_json(one, axes, not one_stand, pooled[axes]) for axes in asked.axes]
            for one in drawn
        ],
        "band": (
            "scatter only: all were run on one stand, whose gain they share"
            if one_stand
            else "the whole u, with each stand's gain"
        ),
        "rows": [_row(row) for row in rows],
        "crossings": _crossings(drawn, pooled),
        "envelope": _envelope(drawn),
        "feel": [_feel(feel) for feel in feel_of(drawn, reference)],
        "factors": [
            {"name": f.name, "values": _by_subject(f.values, found, ran), "state": f.state}
            for f in told
        ],
        "confounded": confounded(told),
        "warmth": warmth(chosen, ran),
        "correction": [_correction(pk, one) for pk, one in changed.items()],
        "remarks": _remarks(chosen),
    }


def _levels(asked: AskedComparison, found: Iterable[Subject]) -> list[float]:
    if asked.condition == FULL:
        return []
    if asked.levels:
        return list(asked.levels)
    if asked.condition == "throttle_pct":
        return [25.0, 50.0, 75.0]
    tops = [
        max((run_top for one in subject.runs if (run_top := _top(one, asked.condition))), default=0)
        for subject in found
    ]
    return thrust_ladder(tops)[:MOST_LEVELS]


def _top(one: RanRun, name: str) -> float:
    return max((point.value(name) or 0.0 for point in one.core.points), default=0.0)


def _subject(subject: Subject, by_pk: dict[int, Run], drawn: bool) -> dict[str, Any]:
    numbers = [int(run.core.key.removeprefix("run ")) for run in subject.runs]
    first = by_pk[numbers[0]]
    marks = list(dict.fromkeys(run.sample for run in subject.runs))
    return {
        "key": numbers[0],
        "motor": first.sample.motor_id,
        "motor_name": first.sample.motor.full_name,
        "motor_short": first.sample.motor.short_name,
        "samples": marks,
        "propeller_name": first.propeller_name,
        "propeller_short": (
            first.propeller.short_name if first.propeller else first.propeller_name
        ),
        "on": subject.load.words.partition(", ")[2],
        "setup": subject.setup,
        "started_at": first.started_at,
        "runs": numbers,
        "drawn": drawn,
    }


def curve_json(
    subject: Subject, axes: tuple[str, str], whole: bool, pooled: PooledSpread | None
) -> dict[str, Any]:
    """A subject's curve as the charts take it; ``whole``: with the gain of its stand in u."""
    x_name, y_name = axes
    found = mean_curve(subject, x_name, y_name, whole_u=whole, pooled=pooled)
    if isinstance(found, Absent):
        return {
            "x_name": x_name,
            "y_name": y_name,
            "x": [],
            "y": [],
            "u": [],
            "points": [],
            "reason": found.note or found.reason,
        }

    def listed(values: Iterable[float]) -> list[float | None]:
        return [None if math.isnan(value) else value for value in values]

    return {
        "x_name": x_name,
        "y_name": y_name,
        "x": found.x.tolist(),
        "y": listed(found.y.tolist()),
        "u": listed(found.u.tolist()),
        "points": [list(point) for point in found.points],
        "reason": "",
    }


def _crossings(
    drawn: Sequence[Subject], axes: Mapping[tuple[str, str], PooledSpread | None]
) -> list[dict[str, Any]]:
    """Of the drawn curves, chart by chart; at equal thrust gf/W crosses where power does."""
    found = []
    for (x_name, y_name), pooled in axes.items():
        read = "power_w" if (x_name, y_name) == OVER_THRUST else y_name
        for a, b, crossing in told_crossings(drawn, x_name=x_name, y_name=read, pooled=pooled):
            found.append(
                {
                    "a": int(a.removeprefix("run ")),
                    "b": int(b.removeprefix("run ")),
                    "x_name": x_name,
                    "y_name": y_name,
                    "at": crossing.at,
                    "low": crossing.low,
                    "high": crossing.high,
                }
            )
    return found


def _envelope(drawn: Sequence[Subject]) -> list[dict[str, Any]]:
    """Of one motor's propellers the thriftiest along the thrust; empty where motors are several."""
    if len({one.motor for one in drawn}) != 1 or len({one.load.propeller for one in drawn}) < 2:
        return []
    return [
        {
            "low": stretch.low,
            "high": stretch.high,
            "best": [int(key.removeprefix("run ")) for key in stretch.best],
        }
        for stretch in envelope(drawn)
    ]


def _row(row: ComparedRow) -> dict[str, Any]:
    return {"at": row.at, "name": row.name, "cells": [_cell(cell) for cell in row.cells]}


def _cell(cell: ComparedCell) -> dict[str, Any]:
    reading, delta = cell.reading, cell.delta
    known = None if isinstance(reading, Absent) else reading
    return {
        "value": known.figure.value if known else None,
        "u": known.figure.u if known else None,
        "samples": known.samples if known else None,
        "runs": known.runs if known else None,
        "spread": known.spread if known else None,
        "absent_reason": reading.reason if isinstance(reading, Absent) else "",
        "absent_note": reading.note if isinstance(reading, Absent) else "",
        "delta": delta.delta.value if delta else None,
        "delta_pct": delta.delta_pct if delta else None,
        "u_pct": delta.u_pct if delta else None,
        "outcome": str(delta.outcome) if delta else "",
    }


def _feel(feel: Feel) -> dict[str, Any]:
    expo = feel.expo
    return {
        "low_slope_gf_per_pct": figure_json(feel.low_slope_gf_per_pct),
        "low_ratio": figure_json(feel.low_ratio),
        "top_end_ratio": figure_json(feel.top_end_ratio),
        "last_tenth_thrust_pct": figure_json(feel.last_tenth_thrust_pct),
        "last_tenth_current_pct": figure_json(feel.last_tenth_current_pct),
        "expo": None if isinstance(expo, Absent) else expo,
        "no_expo": expo.note if isinstance(expo, Absent) else "",
        "words": feel.words,
        "stick_pct": [] if feel.stick_pct is None else feel.stick_pct.tolist(),
        "thrust_gf": []
        if feel.thrust_gf is None
        else [None if math.isnan(value) else value for value in feel.thrust_gf.tolist()],
    }


def _by_subject(
    values: Sequence[str], found: Sequence[Subject], ran: Sequence[RanRun]
) -> list[str]:
    """A factor's value of each subject; several where its runs differ in it."""
    of_run = {one.core.key: value for one, value in zip(ran, values, strict=True)}
    return [
        ", ".join(dict.fromkeys(of_run[run.core.key] for run in subject.runs)) for subject in found
    ]


def _correction(pk: int, found: AtNominal | Absent) -> dict[str, Any]:
    if isinstance(found, Absent):
        return {"run": pk, "way": "", "changed": [], "left_out": 0, "reason": found.note}
    return {
        "run": pk,
        "way": found.way,
        "changed": [{"name": name, "pct": pct} for name, pct in found.changed_pct.items()],
        "left_out": found.left_out,
        "reason": "",
    }


def _remarks(chosen: Sequence[Run]) -> list[str]:
    said = [
        f"The figures of run {run.pk} were made by version {run.reduction.core_version}; make "
        "them again before comparing."
        for run in chosen
        if run.reduction.core_version != spindle_core.__version__
    ]
    said += [
        f"Run {run.pk} was rejected: {run.review_reason}."
        for run in chosen
        if run.review == "rejected"
    ]
    unknown: dict[str, list[int]] = {}
    for run in chosen:
        if run.stand is None or run.stand.repeatability_rel is None:
            unknown.setdefault(_unknown_repeatability(run), []).append(run.pk)
    for why, numbers in unknown.items():
        listed = ", ".join(str(pk) for pk in numbers)
        said.append(
            f"Run{'s' * (len(numbers) > 1)} {listed} {why}; a repeatability of "
            f"{100 * ASSUMED_REPEATABILITY:g} % is assumed."
        )
    return said


def _unknown_repeatability(run: Run) -> str:
    if run.stand is None:
        return "without a stand whose repeatability would be known"
    return f"on {run.stand.name}, whose repeatability nobody declared"


def comparison_rows_of(found: dict[str, Any]) -> list[list[Any]]:
    """The table of a comparison: a row per level, figure and subject."""
    heads: list[Any] = [
        "condition",
        "at",
        "figure",
        "runs",
        "motor",
        "samples",
        "propeller",
        "on",
        "value",
        "u",
        "spread",
        "absent",
        "delta",
        "delta_pct",
        "u_delta_pct",
        "outcome",
        "against",
    ]
    rows = [heads]
    for row in found["rows"]:
        for subject, cell in zip(found["subjects"], row["cells"], strict=True):
            rows.append(
                [
                    found["condition"],
                    row["at"],
                    row["name"],
                    " ".join(str(pk) for pk in subject["runs"]),
                    subject["motor_name"],
                    " ".join(subject["samples"]),
                    subject["propeller_name"],
                    subject["on"],
                    cell["value"],
                    cell["u"],
                    cell["spread"],
                    cell["absent_reason"],
                    cell["delta"],
                    cell["delta_pct"],
                    cell["u_pct"],
                    cell["outcome"],
                    "the one before"
                    if found["against"] == "previous"
                    else f"run {found['baseline']}",
                ]
            )
    return rows
