"""What sources state of the very loads that are compared: quoted beside them, in no figure."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from spindle_core.intake.claimed_loads import STATED, is_that_propeller
from spindle_core.match.seats import fits_cells
from spindle_server.motors.models import ClaimedLoad
from spindle_server.runs.as_core import run_propeller
from spindle_server.runs.models import Run

MOST_QUOTED = 40


def quoted(subjects: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Claimed loads of the drawn subjects' motors on the propeller and cells of their runs.

    :param subjects: as a comparison tells them. ``subject``: which of the drawn ones it is of.
    """
    drawn = [one for one in subjects if one["drawn"]]
    rows: dict[int, list[ClaimedLoad]] = {}
    for row in ClaimedLoad.objects.filter(motor__in={one["motor"] for one in drawn}):
        rows.setdefault(row.motor_id, []).append(row)
    if not rows:
        return []
    keys = [one["key"] for one in drawn]
    runs = Run.objects.select_related("propeller__maker").in_bulk(keys)
    found = []
    for index, one in enumerate(drawn):
        run = runs.get(one["key"])
        if run is None or run.propeller is None or not run.nominal_voltage_v:
            continue
        for row in rows.get(one["motor"], []):
            if is_that_propeller(row.propeller, run_propeller(run.propeller)) and fits_cells(
                run.nominal_voltage_v, row.cells
            ):
                found.append({"subject": index, **_quoted(row)})
    return found[:MOST_QUOTED]


def _quoted(row: ClaimedLoad) -> dict[str, Any]:
    said = {name: value for name in STATED if (value := getattr(row, name)) is not None}
    if "thrust_gf" in said and "power_w" in said:
        said["efficiency_g_per_w"] = said["thrust_gf"] / said["power_w"]
    return {
        "source": row.source,
        "stated_on": row.stated_on,
        "cells": row.cells,
        "said": [{"name": name, "value": value} for name, value in said.items()],
    }
