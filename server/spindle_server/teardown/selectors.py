"""Reading teardowns: one sheet, and two to four side by side."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from typing import Any

from spindle_core.figures.measured import Absent, Measured
from spindle_core.intake.motor_kind import not_applicable
from spindle_core.motor.size_code import Basis
from spindle_core.teardown import (
    ATTRIBUTES,
    OUTSIDE_STEP,
    STEPS,
    VERSION,
    Finding,
    Row,
    Seen,
    Status,
    arguments,
    compare_findings,
    compare_sheets,
    findings,
)
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Claim, MotorModel, Sample
from spindle_server.teardown.models import ANSWERED, TAKEN_OVER, Observation


def vocabulary() -> dict[str, Any]:
    """The core's vocabulary as plain data."""
    return {
        "version": VERSION,
        "steps": list(STEPS),
        "outside_step": OUTSIDE_STEP,
        "attributes": list(ATTRIBUTES.values()),
    }


def sheet(sample: Sample) -> dict[str, Any]:
    """Observations of one sample, what follows from their numbers, and what does not apply."""
    observations = list(
        Observation.objects.filter(sample=sample).select_related(
            "observed_by", "reference__motor__maker"
        )
    )
    _mark_moved_references(observations)
    found = _findings(sample, observations, _claimed_heat([sample]))
    absent = {key: not_applicable(sample.motor.kind, key) for key in ATTRIBUTES}
    return {
        "observations": observations,
        "findings": [finding_json(item) for item in found],
        "not_applicable": [
            {"attribute": key, "reason": item.note} for key, item in absent.items() if item
        ],
    }


def _mark_moved_references(observations: Sequence[Observation]) -> None:
    """An answer taken over from a sample whose own answer has changed since."""
    taken = [row for row in observations if row.status in TAKEN_OVER and row.reference_id]
    origins = {
        (row.sample_id, row.attribute): (row.choice, row.value)
        for row in Observation.objects.filter(
            sample__in=[row.reference_id for row in taken],
            attribute__in=[row.attribute for row in taken],
        )
    }
    for row in taken:
        now = origins.get((row.reference_id or 0, row.attribute))
        row.reference_changed = now != (row.choice, row.value)  # type: ignore[attr-defined]


Heat = dict[int, dict[str, str]]
"""Claimed enamel class and magnet grade by motor."""


def _claimed_heat(samples: Sequence[Sample]) -> Heat:
    found: Heat = {}
    rows = Claim.objects.filter(
        motor__in=[sample.motor_id for sample in samples],
        quantity__in=("enamel_class", "magnet_grade"),
    ).values_list("motor", "quantity", "words")
    for motor, quantity, words in rows:
        found.setdefault(motor, {})[quantity] = words
    return found


def _findings(sample: Sample, observations: Sequence[Observation], heat: Heat) -> list[Finding]:
    """What follows from what was measured or counted on this sample; a count may be taken over."""
    numbers = {}
    choices = {}
    for row in observations:
        counted = row.status == str(Status.SAME_AS) and ATTRIBUTES[row.attribute].integer
        if row.value is not None and (row.status in ANSWERED or counted):
            numbers[row.attribute] = Measured(row.value, {row.attribute: row.u} if row.u else {})
        if row.choice and row.status in ANSWERED:
            choices[row.attribute] = row.choice
    if not_applicable(sample.motor.kind, "slot_count") is not None:
        return []
    claimed = heat.get(sample.motor_id, {})
    return findings(
        numbers,
        size_code_mm=_stator_of(sample.motor),
        enamel_class=choices.get("enamel_class") or claimed.get("enamel_class"),
        magnet_grade=claimed.get("magnet_grade"),
    )


def _stator_of(motor: MotorModel) -> tuple[float, float] | None:
    """Diameter and height by the size code; None where the code is no stator's [mm]."""
    code = motor.size
    return (code.diameter_mm, code.height_mm) if code and code.basis is Basis.STATOR else None


def finding_json(item: Finding) -> dict[str, Any]:
    """A derived figure; null with its reason where something is missing."""
    figure = item.figure
    return {
        "name": item.name,
        "label": item.label,
        "unit": item.unit,
        "value": None if isinstance(figure, Absent) else figure.value,
        "u": None if isinstance(figure, Absent) or not figure.u else figure.u,
        "origin": "" if isinstance(figure, Absent) else str(figure.origin),
        "note": figure.note if isinstance(figure, Absent) else item.note,
    }


def compare(sample_ids: Sequence[int]) -> dict[str, Any]:
    """Two to four samples side by side: rows, what the differences suggest, the claims apart.

    :raises ServiceError: one of them is unknown. :raises CoreError: fewer than two or over four.
    """
    by_id = {
        sample.pk: sample
        for sample in Sample.objects.filter(pk__in=sample_ids).select_related("motor__maker")
    }
    unknown = [pk for pk in sample_ids if pk not in by_id]
    if unknown:
        raise ServiceError(f"There is no sample number {unknown[0]}.", code="no_sample")
    samples = [by_id[pk] for pk in dict.fromkeys(sample_ids)]
    rows: dict[int, list[Observation]] = {sample.pk: [] for sample in samples}
    for row in Observation.objects.filter(sample__in=samples).select_related(
        "observed_by", "reference__motor__maker"
    ):
        rows[row.sample_id].append(row)
    sheets = [{row.attribute: _seen(row) for row in rows[sample.pk]} for sample in samples]
    looked = compare_sheets(sheets)
    heat = _claimed_heat(samples)
    derived = compare_findings([_findings(sample, rows[sample.pk], heat) for sample in samples])
    return {
        "samples": samples,
        "observations": [rows[sample.pk] for sample in samples],
        "rows": [_row_json(row) for row in [*looked, *derived]],
        "arguments": arguments(looked),
        "claims": _claims(samples),
        "unknown": _unknown(samples, looked),
    }


def _seen(row: Observation) -> Seen:
    reference = "" if row.reference is None else str(row.reference)
    return Seen(Status(row.status), row.choice, row.value, row.u, row.ordinal, reference)


def _row_json(row: Row) -> dict[str, Any]:
    return {
        "key": row.key,
        "label": row.label,
        "step": row.step,
        "unit": row.unit,
        "outcome": row.outcome,
        "cells": [_cell_json(row.key, cell) for cell in row.cells],
    }


def _cell_json(key: str, cell: Seen | Finding | None) -> dict[str, Any]:
    """One cell: how it was answered, its text, and its number with u."""
    if cell is None:
        return {"status": "not_looked", "text": "not looked at", "value": None, "u": None}
    if isinstance(cell, Finding):
        found = finding_json(cell)
        return {
            "status": "derived",
            "text": found["note"],
            "value": found["value"],
            "u": found["u"],
        }
    return {
        "status": str(cell.status),
        "text": in_words(key, cell),
        "value": cell.value,
        "u": cell.u,
    }


def in_words(key: str, seen: Seen) -> str:
    """An answer as one would say it, with what it refers to."""
    attribute = ATTRIBUTES[key]
    if seen.status is Status.ORDINAL:
        at = ("less", "same", "more").index(seen.ordinal)
        return f"{attribute.ordinal_words[at]} beside {seen.reference}"
    if seen.status in (Status.COULD_NOT_TELL, Status.NOT_LOOKED):
        return str(seen.status).replace("_", " ").replace("looked", "looked at")
    label = next((item.label for item in attribute.choices if item.key == seen.choice), "")
    if seen.status is Status.SAME_AS:
        return f"{label} (same as {seen.reference})".strip()
    if seen.status is Status.INFERRED:
        return f"{label} (inferred from {seen.reference})".strip()
    return label


def _claims(samples: Sequence[Sample]) -> list[dict[str, Any]]:
    """Claims by quantity, one cell per sample: they are the motor's, and never measurements."""
    found: dict[str, dict[int, Claim]] = {}
    labels: dict[str, str] = {}
    for claim in Claim.objects.filter(motor__in=[sample.motor_id for sample in samples]):
        found.setdefault(claim.quantity, {}).setdefault(claim.motor_id, claim)
        labels[claim.quantity] = claim.get_quantity_display()
    return [
        {
            "quantity": quantity,
            "label": labels[quantity],
            "cells": [by_motor.get(sample.motor_id) for sample in samples],
        }
        for quantity, by_motor in found.items()
    ]


def _unknown(samples: Sequence[Sample], looked: Sequence[Row]) -> list[dict[str, Any]]:
    """Per sample, what nobody looked at or could tell."""
    rows = {row.key: row for row in looked}
    found = []
    for at, sample in enumerate(samples):
        labels = []
        for key, attribute in ATTRIBUTES.items():
            row = rows.get(key)
            cell = row.cells[at] if row else None
            blank = cell is None or (
                isinstance(cell, Seen) and cell.status in (Status.COULD_NOT_TELL, Status.NOT_LOOKED)
            )
            if blank and attribute.step != OUTSIDE_STEP:
                labels.append(attribute.label)
        found.append({"sample": sample.pk, "labels": labels})
    return found


def compare_csv(sample_ids: Sequence[int], *, only_differences: bool) -> str:
    """The comparison as CSV: a row per attribute, for each sample its answer, number, u and
    status."""
    table = compare(sample_ids)
    out = io.StringIO()
    writer = csv.writer(out)
    names = [f"{sample.motor.full_name} {sample.mark}" for sample in table["samples"]]
    heads = [f"{name}: {part}" for name in names for part in ("answer", "value", "u", "status")]
    writer.writerow(["step", "attribute", "unit", "outcome", *heads])
    for row in table["rows"]:
        if only_differences and row["outcome"] != "different":
            continue
        cells = [
            "" if part is None else part
            for cell in row["cells"]
            for part in (cell["text"], cell["value"], cell["u"], cell["status"])
        ]
        writer.writerow([row["step"], row["label"], row["unit"] or "", row["outcome"], *cells])
    for claim in table["claims"]:
        cells = []
        for cell in claim["cells"]:
            cells += (
                ["", "", "", "claimed"]
                if cell is None
                else [cell.words, "" if cell.value is None else cell.value, "", "claimed"]
            )
        writer.writerow(["Claimed", claim["label"], "", "", *cells])
    return out.getvalue()
