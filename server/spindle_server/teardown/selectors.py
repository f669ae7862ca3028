"""Reading a teardown."""

from __future__ import annotations

import math
from typing import Any

from spindle_core.errors import VocabularyError
from spindle_core.teardown import ATTRIBUTES, STEPS, VERSION, air_gap_mm
from spindle_server.intake.models import Sample
from spindle_server.teardown.models import Observation


def vocabulary() -> dict[str, Any]:
    """The core's vocabulary as plain data."""
    return {"version": VERSION, "steps": list(STEPS), "attributes": list(ATTRIBUTES.values())}


def sheet(sample: Sample) -> dict[str, Any]:
    """Observations of one sample and the findings computed from their numbers."""
    observations = list(Observation.objects.filter(sample=sample).select_related("observed_by"))
    return {"observations": observations, "findings": _findings(observations)}


def _findings(observations: list[Observation]) -> list[dict[str, Any]]:
    numbers = {o.attribute: o for o in observations if o.value is not None}
    magnets, stator = numbers.get("magnet_inner_diameter"), numbers.get("stator_diameter")
    gap: dict[str, Any] = {"name": "air_gap_mm", "label": "Air gap", "unit": "mm"}
    if magnets is None or stator is None:
        missing = "the inner diameter across the magnets" if magnets is None else "the stator"
        return [{**gap, "value": None, "u": None, "note": f"needs {missing} to be measured"}]
    assert magnets.value is not None
    assert stator.value is not None
    try:
        value = air_gap_mm(magnets.value, stator.value)
    except VocabularyError as error:
        return [{**gap, "value": None, "u": None, "note": error.message}]
    u = None
    if magnets.u is not None and stator.u is not None:
        u = math.hypot(magnets.u, stator.u) / 2.0
    return [{**gap, "value": value, "u": u, "note": ""}]
