"""Recording what was seen."""

from __future__ import annotations

from django.db import transaction

from spindle_core.errors import VocabularyError
from spindle_core.teardown import ATTRIBUTES, VERSION, Status, air_gap_mm, check_observation
from spindle_server.accounts.models import User
from spindle_server.errors import ServiceError
from spindle_server.history import save_as
from spindle_server.intake.models import Sample
from spindle_server.teardown.models import Observation


@transaction.atomic
def record_observation(
    *,
    actor: User | None,
    sample: Sample,
    attribute: str,
    status: str,
    choice: str = "",
    value: float | None = None,
    u: float | None = None,
    instrument: str = "",
    note: str = "",
) -> Observation:
    """Record an answer; an earlier answer to the same question moves into the history."""
    field = "value" if value is not None else "choice"
    try:
        check_observation(attribute, Status(status), choice=choice or None, value=value)
        _check_against_siblings(sample, attribute, value)
    except VocabularyError as error:
        raise ServiceError(
            error.message, code=error.code, fields={field: [error.message]}
        ) from error
    row = Observation.objects.select_for_update().filter(sample=sample, attribute=attribute).first()
    if row is None:
        row = Observation(sample=sample, attribute=attribute)
    row.vocabulary_version = VERSION
    row.status, row.choice, row.value, row.u = status, choice, value, u
    row.instrument, row.note, row.observed_by = instrument, note, actor
    save_as(row, actor)
    return row


def _check_against_siblings(sample: Sample, attribute: str, value: float | None) -> None:
    """Numbers that contradict each other: a stator wider than its magnets, a shaft thicker than
    its bearing.
    """
    for inside, outside in NESTED:
        if value is None or attribute not in (inside, outside):
            continue
        other_key = outside if attribute == inside else inside
        other = Observation.objects.filter(sample=sample, attribute=other_key).first()
        if other is None or other.value is None:
            continue
        small, large = (value, other.value) if attribute == inside else (other.value, value)
        if (inside, outside) == NESTED[0]:
            air_gap_mm(large, small)
        elif small >= large:
            labels = (ATTRIBUTES[inside].label.lower(), ATTRIBUTES[outside].label.lower())
            raise VocabularyError(
                f"The {labels[0]} ({small:g} mm) must be below the {labels[1]} ({large:g} mm).",
                code="does_not_fit",
            )


NESTED = (
    ("stator_diameter", "magnet_inner_diameter"),
    ("shaft_inner_diameter", "bearing_outer_diameter"),
    ("magnet_inner_diameter", "bell_outer_diameter"),
    ("hub_diameter", "stator_diameter"),
)
"""(what lies inside, what lies around it)."""
