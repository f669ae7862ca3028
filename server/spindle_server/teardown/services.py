"""Recording what was seen."""

from __future__ import annotations

from django.db import transaction

from spindle_core.errors import VocabularyError
from spindle_core.teardown import VERSION, Status, air_gap_mm, check_observation
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
    """Numbers that contradict each other: a stator that does not fit inside its magnets."""
    pair = {"stator_diameter": "magnet_inner_diameter", "magnet_inner_diameter": "stator_diameter"}
    other_key = pair.get(attribute)
    if other_key is None or value is None:
        return
    other = Observation.objects.filter(sample=sample, attribute=other_key).first()
    if other is not None and other.value is not None:
        magnets, stator = (
            (other.value, value) if attribute == "stator_diameter" else (value, other.value)
        )
        air_gap_mm(magnets, stator)
