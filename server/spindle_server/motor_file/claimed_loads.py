"""A maker's table held against the runs on the same propeller and as many cells."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from spindle_core.figures.measured import Figure
from spindle_core.intake.claim_evidence import Evidence, RunFigure, against, evidence, run_figures
from spindle_core.intake.claimed_loads import STATED, is_that_propeller, odd_about
from spindle_core.match.seats import fits_cells
from spindle_server.motors.claimed_loads import core_load
from spindle_server.motors.models import ClaimedLoad, MotorModel
from spindle_server.rig.models import Propeller
from spindle_server.runs.as_core import figure_of, run_propeller
from spindle_server.runs.models import Run, SummaryFigure
from spindle_server.runs.stated import figure_json

MEASURED = {"thrust_gf": "max_thrust_gf", "current_a": "max_current_a", "power_w": "max_power_w"}
"""What is stated of a load → the quantity by which runs measure it."""

NO_RUN = "no run on that propeller and as many cells"

Ran = tuple[Run, dict[str, Figure]]


def claimed_loads(motor: MotorModel) -> list[dict[str, Any]]:
    """The rows of every source, each figure beside what was measured, and what is odd about it.
    Nothing is read of the runs where nobody states a load."""
    rows = list(motor.claimed_loads.all())
    if not rows:
        return []
    runs = _runs(motor)
    known = {run.propeller_id: run.propeller for run, _ in runs if run.propeller is not None}
    return [_row(row, rows, runs, list(known.values())) for row in rows]


def _runs(motor: MotorModel) -> list[Ran]:
    wanted = [name for quantity in MEASURED.values() for name in (quantity, _burst(quantity))]
    rows = (
        SummaryFigure.objects.filter(
            run__sample__motor=motor,
            run__propeller__isnull=False,
            run__nominal_voltage_v__isnull=False,
            name__in=wanted,
        )
        .exclude(run__review="rejected")
        .select_related("run__propeller__maker")
        .order_by("run", "pk")
    )
    found: dict[int, Ran] = {}
    for row in rows:
        found.setdefault(row.run_id, (row.run, {}))[1][row.name] = figure_of(row)
    return list(found.values())


def _burst(quantity: str) -> str:
    return quantity.replace("max_", "burst_", 1)


def _row(
    row: ClaimedLoad, rows: list[ClaimedLoad], runs: list[Ran], propellers: list[Propeller]
) -> dict[str, Any]:
    meant = meant_by(row.propeller, propellers)
    fitting = [
        (run, summary)
        for run, summary in runs
        if run.propeller in meant and fits_cells(run.nominal_voltage_v or 0.0, row.cells)
    ]
    missing = NO_RUN
    if len(meant) > 1:
        # The highest run of several propellers is no evidence of the one that is meant.
        fitting, missing = [], may_mean(row.propeller, meant)
    others = [core_load(one) for one in rows if one.pk != row.pk and one.source == row.source]
    return {
        "id": row.pk,
        "version": row.version,
        "source": row.source,
        "stated_on": row.stated_on,
        "cells": row.cells,
        "propeller": row.propeller,
        "odd": odd_about(core_load(row), others),
        "figures": [
            _figure(name, float(said), fitting, missing)
            for name in STATED
            if (said := getattr(row, name)) is not None
        ],
    }


def meant_by(words: str, propellers: Iterable[Propeller]) -> list[Propeller]:
    """Propellers that a maker's words may mean."""
    return [one for one in propellers if is_that_propeller(words, run_propeller(one))]


def may_mean(words: str, meant: Sequence[Propeller]) -> str:
    """Why words that mean several propellers are held against none."""
    return f"“{words}” may mean {' or '.join(one.full_name for one in meant)}"


def _figure(name: str, said: float, runs: list[Ran], missing: str) -> dict[str, Any]:
    words, unit, _, _ = STATED[name]
    found: list[RunFigure] = [
        figure
        for run, summary in runs
        for figure in run_figures(str(run.sample_id), summary, MEASURED[name])
    ]
    measured: Evidence = evidence(MEASURED[name], found, missing)
    held = against(said, measured.figure, rating=False)
    return {
        "name": name,
        "label": words.capitalize(),
        "unit": unit,
        "said": said,
        "measured": figure_json(measured.figure),
        "measured_from": measured.rests_on,
        "deviation_pct": figure_json(held.deviation_pct),
        "resolved": held.differs,
    }
