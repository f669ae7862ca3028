"""Reading a teardown."""

from __future__ import annotations

from typing import Any

from spindle_core.measured import Absent, Measured
from spindle_core.size_code import Basis, parse_size_code
from spindle_core.teardown import ATTRIBUTES, STEPS, VERSION, Finding, findings
from spindle_server.intake.models import MotorModel, Sample
from spindle_server.teardown.models import Observation


def vocabulary() -> dict[str, Any]:
    """The core's vocabulary as plain data."""
    return {"version": VERSION, "steps": list(STEPS), "attributes": list(ATTRIBUTES.values())}


def sheet(sample: Sample) -> dict[str, Any]:
    """Observations of one sample and the findings computed from their numbers."""
    observations = list(Observation.objects.filter(sample=sample).select_related("observed_by"))
    numbers = {
        row.attribute: Measured(row.value, {row.attribute: row.u} if row.u else {})
        for row in observations
        if row.value is not None
    }
    shown = [_finding(item) for item in findings(numbers, size_code_mm=_stator_of(sample.motor))]
    return {"observations": observations, "findings": shown}


def _stator_of(motor: MotorModel) -> tuple[float, float] | None:
    """Diameter and height by the size code; None where the code is no stator's [mm]."""
    if motor.size_basis != str(Basis.STATOR):
        return None
    code = parse_size_code(motor.size_code, motor.size_basis)
    return code.diameter_mm, code.height_mm


def _finding(item: Finding) -> dict[str, Any]:
    figure = item.figure
    return {
        "name": item.name, "label": item.label, "unit": item.unit,
        "value": None if isinstance(figure, Absent) else figure.value,
        "u": None if isinstance(figure, Absent) or not figure.u else figure.u,
        "note": figure.note if isinstance(figure, Absent) else item.note,
    }  # fmt: skip
