"""Claims and expectations of a motor beside what was measured, by the core's rules."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db.models import F

from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.intake.claim_evidence import (
    MEASURED_AS,
    RATINGS,
    Evidence,
    RunFigure,
    against,
    evidence,
    mean_of_each,
    run_figures,
)
from spindle_core.intake.claim_quantities import CLAIMS
from spindle_server.motors.models import Expectation, MotorModel
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.models import SummaryFigure
from spindle_server.runs.stated import figure_json

MISSING = {
    "max_current_a": "no run measured current",
    "max_power_w": "no run measured power",
    "max_thrust_gf": "no run measured thrust",
    "no_load_current_a": "no run without a propeller",
    "kv_rpm_per_v": "no run without a propeller",
}


def measured_figures(motor: MotorModel, masses: Sequence[Figure]) -> dict[str, Evidence]:
    """What was measured of a motor by quantity, with what it rests on in words.

    One query. A rejected run does not count; several samples make a mean of samples.
    """
    wanted = {"kv_raw_rpm_per_v", *(name for names in MEASURED_AS.values() for name in names)}
    rows = (
        SummaryFigure.objects.filter(run__sample__motor=motor, name__in=wanted)
        .exclude(run__review="rejected")
        .order_by("run", "pk")
        .annotate(sample=F("run__sample"))
    )
    by_run: dict[int, tuple[str, dict[str, Figure]]] = {}
    for row in rows:
        by_run.setdefault(row.run_id, (str(row.sample), {}))[1][row.name] = figure_of(row)
    summaries = list(by_run.values())
    found = {
        quantity: evidence(quantity, _of_all(summaries, quantity), MISSING[quantity])
        for quantity in MEASURED_AS
    }
    kv = found["kv_rpm_per_v"]
    if isinstance(kv.figure, Measured) and kv.figure.component("assumed_resistance") > 0:
        said = f"{kv.rests_on}, corrected for I·R with an assumed R"
        found["kv_rpm_per_v"] = Evidence(kv.figure, said)
    if isinstance(kv.figure, Absent):
        raw = [
            RunFigure(sample, figure)
            for sample, summary in summaries
            if isinstance(figure := summary.get("kv_raw_rpm_per_v"), Measured)
        ]
        plain = evidence("kv_rpm_per_v", raw, MISSING["kv_rpm_per_v"])
        said = f"{plain.rests_on}, not corrected for I·R" if raw else ""
        found["kv_rpm_per_v"] = Evidence(plain.figure, said)
    found["mass_g"] = mean_of_each(masses, "no sample was weighed", "at the bench's lead length")
    return found


def _of_all(summaries: Sequence[tuple[str, dict[str, Figure]]], quantity: str) -> list[RunFigure]:
    return [row for sample, summary in summaries for row in run_figures(sample, summary, quantity)]


def against_claims(motor: MotorModel, measured: dict[str, Evidence]) -> list[dict[str, Any]]:
    """One row per claim with a number: claimed, measured, deviation with its u."""
    rows = []
    if motor.kv_label_rpm_per_v is not None:
        rows.append(
            _row("kv_rpm_per_v", "kV", "rpm/V", motor.kv_label_rpm_per_v, "label", measured)
        )
    for claim in motor.claims.all():
        known = CLAIMS[claim.quantity]
        if claim.value is not None and claim.quantity in measured:
            row = _row(claim.quantity, known.label, known.unit, claim.value, claim.source, measured)
            rows.append({**row, "stated_on": claim.stated_on})
    return rows


def _row(
    quantity: str, label: str, unit: str, said: float, source: str, measured: dict[str, Evidence]
) -> dict[str, Any]:
    found = measured[quantity]
    held = against(said, found.figure, rating=source != EXPECTED_BY and quantity in RATINGS)
    return {
        "quantity": quantity,
        "label": label,
        "unit": unit,
        "said": said,
        "source": source,
        "stated_on": None,
        "measured": figure_json(found.figure),
        "measured_from": found.rests_on,
        "deviation_pct": figure_json(held.deviation_pct),
        "resolved": held.differs,
        "reached_pct": figure_json(held.reached_pct),
    }


EXPECTED_BY = "expected"
"""The source of what somebody expected: a prediction, even of a current."""


def against_expectations(
    expectations: Iterable[Expectation], measured: dict[str, Evidence]
) -> list[dict[str, Any]]:
    """Each expectation with what came of it; in words where no number was expected."""
    units = {"max_thrust_gf": "gf", "max_current_a": "A", "kv_rpm_per_v": "rpm/V", "mass_g": "g"}
    rows = []
    for item in expectations:
        row: dict[str, Any] = {
            "id": item.pk,
            "text": item.text,
            "noted_at": item.noted_at,
            "who": item.noted_by.shown_name if item.noted_by else "",
            "held_against": None,
        }
        if item.quantity and item.value is not None:
            row["held_against"] = _row(
                item.quantity,
                item.get_quantity_display(),
                units[item.quantity],
                item.value,
                EXPECTED_BY,
                measured,
            )
        rows.append(row)
    return rows
