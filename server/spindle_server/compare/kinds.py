"""What runs of the other kinds say over the whole bench, the label or claim beside it."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.core.cache import cache

from spindle_core.compare.bench_table import BenchRow, deltas
from spindle_core.compare.kinds_table import OF_KIND, against_label, kinds_table, listed
from spindle_core.compare.of_models import OfModel
from spindle_core.figures.quantities import QUANTITIES
from spindle_core.reduction.kinds import KINDS
from spindle_server.compare.bench import delta_json
from spindle_server.compare.pivot import row_key
from spindle_server.motors.models import Claim, MotorModel
from spindle_server.runs.models import Run
from spindle_server.runs.ran import evidence_of, evidence_revision, motors_with_runs
from spindle_server.runs.stated import figure_json

KEPT_S = 24 * 3600
CLAIMED = {"kv_rpm_per_v": "", "no_load_current_a": "no_load_current_a"}
"""Figure → the claim that stands beside it; kV is on the label."""


@dataclass(frozen=True, slots=True)
class AskedKind:
    """Which kind of run; empty: the first there is. ``baseline``: a row's key; empty: each is held
    against the one before."""

    kind: str = ""
    baseline: str = ""


def kinds_of(asked: AskedKind) -> dict[str, Any]:
    """The table of a kind, kept as long as nothing that it rests on is written."""
    rests_on = repr((evidence_revision(), asked))
    key = f"kinds:{hashlib.sha256(rests_on.encode()).hexdigest()}"
    kept: dict[str, Any] | None = cache.get(key)
    if kept is None:
        kept = _look(asked)
        cache.set(key, kept, KEPT_S)
    return kept


def _look(asked: AskedKind) -> dict[str, Any]:
    motors_run, more = motors_with_runs(kinds=list(OF_KIND))
    rows = Run.objects.filter(
        sample__motor__in=motors_run, kind__in=list(OF_KIND), reduction__error=""
    ).exclude(review="rejected")
    there = listed(set(rows.order_by().values_list("kind", flat=True).distinct()))
    kind = asked.kind if asked.kind in there else next(iter(there), "")
    # Of fifty thousand runs only those of one kind are read.
    evidence = evidence_of(rows.filter(kind=kind).order_by("pk"), {})
    found = kinds_table(evidence.runs, kind) if kind else []
    motors = MotorModel.objects.select_related("maker").in_bulk([int(r.motor) for r in found])
    found.sort(key=lambda row: (row.load, motors[int(row.motor)].full_name))
    claims = _claims(motors)
    baseline = next((row for row in found if row_key(row) == asked.baseline), None)
    names = list(OF_KIND[kind]) if kind else []
    against = {name: deltas(found, name, baseline) for name in names}
    return {
        "kinds": [{"kind": one, "label": KINDS[one].label} for one in there],
        "kind": kind,
        "figures": names,
        "rows": [
            {
                "key": row_key(row),
                "motor": int(row.motor),
                "motor_name": motors[int(row.motor)].full_name,
                "load": row.load.words,
                "runs": [int(key.removeprefix("run ")) for key in row.runs],
                "baseline": row is baseline,
                "off_label_pct": _off_label(row, motors[int(row.motor)]),
                "cells": [
                    {
                        **_cell(row, name),
                        "delta": delta_json(against[name][k]),
                        "claimed": claims.get((int(row.motor), name), []),
                    }
                    for name in names
                ],
            }
            for k, row in enumerate(found)
        ],
        "more": more,
    }


def _cell(row: BenchRow, name: str) -> dict[str, Any]:
    held = row.figures.get(name)
    return {
        "name": name,
        "figure": figure_json(row.figure(name)),
        "samples": held.samples if isinstance(held, OfModel) else None,
        "runs": held.runs if isinstance(held, OfModel) else None,
    }


def _off_label(row: BenchRow, motor: MotorModel) -> dict[str, Any] | None:
    if "kv_rpm_per_v" not in row.figures:
        return None
    return figure_json(against_label(row.figure("kv_rpm_per_v"), motor.kv_label_rpm_per_v))


def _claims(motors: dict[int, MotorModel]) -> dict[tuple[int, str], list[dict[str, Any]]]:
    """What others say, beside what was measured and never in it."""
    found: dict[tuple[int, str], list[dict[str, Any]]] = {}
    for pk, motor in motors.items():
        if motor.kv_label_rpm_per_v:
            found[pk, "kv_rpm_per_v"] = [{"value": motor.kv_label_rpm_per_v, "source": "label"}]
    wanted = {quantity: name for name, quantity in CLAIMED.items() if quantity}
    rows = Claim.objects.filter(motor__in=motors, quantity__in=wanted, value__isnull=False)
    for claim in rows:
        place = found.setdefault((claim.motor_id, wanted[claim.quantity]), [])
        place.append({"value": claim.value, "source": claim.source})
    return found


def kinds_rows(found: dict[str, Any]) -> list[list[Any]]:
    """The table as rows for a file."""
    heads: list[Any] = ["Motor", "Under", "Runs"]
    for name in found["figures"]:
        label = QUANTITIES[name].head
        heads += [label, f"u, {label}", f"difference, %, {label}", f"outcome, {label}", "claimed"]
    rows = [heads]
    for row in found["rows"]:
        cells: list[Any] = [row["motor_name"], row["load"], " ".join(map(str, row["runs"]))]
        for cell in row["cells"]:
            delta = cell["delta"] or {"delta_pct": None, "outcome": ""}
            claimed: Sequence[dict[str, Any]] = cell["claimed"]
            cells += [
                cell["figure"]["value"],
                cell["figure"]["u"],
                delta["delta_pct"],
                delta["outcome"],
                "; ".join(f"{one['value']:g} ({one['source']})" for one in claimed),
            ]
        rows.append(cells)
    return rows
