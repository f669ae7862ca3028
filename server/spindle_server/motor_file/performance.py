"""What a motor does on each propeller, and how warm it gets: the figures of its first screen."""

from __future__ import annotations

import math
from typing import Any

from spindle_core.compare.by_propeller import OnPropeller, common_thrust_gf, on_propellers
from spindle_core.compare.table import Drawn
from spindle_server.motors.models import MotorModel
from spindle_server.runs.as_core import SUPPLY_WORDS, compared_run, figure_of
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.selectors import with_results
from spindle_server.runs.stated import figure_json

MOST_PROPELLERS = 6
MOST_REPEATS = 4
HEAT = ("continuous_power_w", "case_k_per_w", "case_time_constant_s", "sustained_motor_temp_c")
"""Summary figures that say how warm a motor gets; the newest run that has one counts."""


def performance(motor: MotorModel) -> dict[str, Any]:
    """Like runs by propeller and voltage, read at one thrust; and heat. Two queries and one for
    the figures, whatever the number of runs."""
    groups = _groups(motor)
    cores = [[compared_run(run) for run in group] for group in groups]
    return {
        "common_thrust_gf": common_thrust_gf(cores),
        "propellers": [
            _row(group, found) for group, found in zip(groups, on_propellers(cores), strict=True)
        ],
        "heat": _heat(motor),
    }


def _groups(motor: MotorModel) -> list[list[Run]]:
    """The newest runs of the propellers that were run most, at most so many of each."""
    rows = (
        Run.objects.filter(sample__motor=motor, kind="steps", propeller__isnull=False)
        .filter(reduction__error="")
        .exclude(review="rejected")
        .order_by("-started_at", "-pk")
        .values_list("pk", "propeller", "supply__kind", "nominal_voltage_v")
    )
    by_likeness: dict[tuple[Any, ...], list[int]] = {}
    for pk, *likeness in rows:
        by_likeness.setdefault(tuple(likeness), []).append(pk)
    most = sorted(by_likeness.values(), key=len, reverse=True)[:MOST_PROPELLERS]
    wanted = [pks[:MOST_REPEATS] for pks in most]
    runs = {
        run.pk: run for run in with_results().filter(pk__in=[pk for pks in wanted for pk in pks])
    }
    found = [[runs[pk] for pk in pks] for pks in wanted]
    return sorted(
        found, key=lambda group: (group[0].propeller_name, group[0].nominal_voltage_v or 0)
    )


def _row(group: list[Run], found: OnPropeller) -> dict[str, Any]:
    first = group[0]
    return {
        "propeller": first.propeller_name,
        "supply": SUPPLY_WORDS[first.supply.kind] if first.supply else "",
        "nominal_voltage_v": first.nominal_voltage_v,
        "runs": [run.pk for run in group],
        "largest_thrust_gf": figure_json(found.largest_thrust_gf),
        "efficiency_g_per_w": figure_json(found.efficiency_g_per_w),
        "curve": _curve(found.curve),
    }


def _curve(curve: Drawn | None) -> dict[str, list[float]] | None:
    """A small curve: what cannot be read is left out."""
    if curve is None:
        return None
    kept = [(x, y) for x, y in zip(curve.x, curve.y, strict=True) if math.isfinite(y)]
    return {"thrust_gf": [x for x, _ in kept], "efficiency_g_per_w": [y for _, y in kept]}


def _heat(motor: MotorModel) -> list[dict[str, Any]]:
    rows = (
        SummaryFigure.objects.filter(run__sample__motor=motor, name__in=HEAT, value__isnull=False)
        .exclude(run__review="rejected")
        .order_by("run__started_at", "run")
    )
    newest = {row.name: row for row in rows}
    return [
        {"name": name, "run": newest[name].run_id, "figure": figure_json(figure_of(newest[name]))}
        for name in HEAT
        if name in newest
    ]
