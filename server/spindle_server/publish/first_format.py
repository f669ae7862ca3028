"""Comparisons that were frozen when only single runs at equal thrust were compared."""

from __future__ import annotations

from typing import Any


def as_now(content: dict[str, Any]) -> dict[str, Any]:
    """A frozen comparison in today's shape; its figures are those that were frozen.

    What was not told then is empty: no band, no feel, no spread.
    """
    if "subjects" in content:
        return content
    runs = content["runs"]
    return {
        "by": "run",
        "subjects": [_subject(run) for run in runs],
        "runs": [run["id"] for run in runs],
        "baseline": content["baseline"],
        "against": "baseline",
        "condition": "thrust_gf",
        "levels": content["thrusts_gf"],
        "figures": list(dict.fromkeys(row["name"] for row in content["rows"])),
        "margin_pct": content["margin_pct"],
        "axes": [],
        "curves": [],
        "band": "",
        "rows": [_row(row) for row in content["rows"]],
        "crossings": [
            {
                "a": one["run_a"],
                "b": one["run_b"],
                "x_name": "thrust_gf",
                "y_name": "power_w",
                "at": one["thrust_gf"],
                "low": one["from_gf"],
                "high": one["to_gf"],
            }
            for one in content["crossings"]
        ],
        "envelope": [],
        "feel": [],
        "factors": content["factors"],
        "confounded": content["confounded"],
        "correction": [],
        "remarks": content["remarks"],
    }


def _subject(run: dict[str, Any]) -> dict[str, Any]:
    volts = run.get("nominal_voltage_v")
    return {
        "key": run["id"],
        "motor": run["motor"],
        "motor_name": run["motor_name"],
        "samples": [run["sample_mark"]],
        "propeller_name": run["propeller_name"],
        "on": run.get("supply_name") or (f"{volts:g} V" if volts else ""),
        "setup": run.get("stand_name") or "",
        "started_at": run["started_at"],
        "runs": [run["id"]],
        "drawn": False,
    }


def _row(row: dict[str, Any]) -> dict[str, Any]:
    cells = [{"samples": 1, "runs": 1, "spread": None, **cell} for cell in row["cells"]]
    return {"at": row["thrust_gf"], "name": row["name"], "cells": cells}
