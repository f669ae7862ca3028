"""Recording what was seen."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import VocabularyError
from spindle_core.intake.motor_kind import not_applicable
from spindle_core.teardown import REFERRING, VERSION, Status, check_observation, check_together
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Sample
from spindle_server.records.versions import changed_meanwhile, write_fields
from spindle_server.records.writes import writes
from spindle_server.teardown.models import ANSWERED, TAKEN_OVER, Observation


@writes(Role.REVIEWER)
def record_observation(
    *,
    actor: User | None,
    sample: Sample,
    attribute: str,
    status: str,
    choice: str = "",
    value: float | None = None,
    u: float | None = None,
    ordinal: str = "",
    reference: Sample | None = None,
    instrument: str = "",
    typed: str = "",
    note: str = "",
    base: int | None = None,
) -> Observation:
    """Record an answer made from version ``base`` (None: there was none yet); what it replaces
    moves into the history. "Same as" and "inferred" copy the reference's answer.

    :raises ServiceError: an answer that cannot be. :raises ConflictError: somebody answered since.
    """
    if status in REFERRING:
        reference = _checked_reference(sample, status, reference)
    if status in TAKEN_OVER and reference is not None:
        choice, value, u = _taken_over(reference, attribute)
    field = "value" if value is not None else "choice"
    absent = not_applicable(sample.motor.kind, attribute)
    if absent is not None:
        raise ServiceError(f"This does not apply: {absent.note}.", code=absent.reason)
    try:
        check_observation(
            attribute, Status(status), choice=choice or None, value=value, ordinal=ordinal or None
        )
        if value is not None and status in ANSWERED:
            check_together(attribute, value, _other_numbers(sample, attribute))
    except VocabularyError as error:
        raise ServiceError(
            error.message, code=error.code, fields={field: [error.message]}
        ) from error
    values: dict[str, Any] = {
        "status": status,
        "choice": choice,
        "value": value,
        "u": u,
        "ordinal": ordinal,
        "reference": reference if status in REFERRING else None,
        "instrument": instrument,
        "typed": typed,
        "note": note,
    }
    row = _answered(sample, attribute)
    if row is None:
        row = Observation(sample=sample, attribute=attribute, **values)
        row.vocabulary_version, row.observed_by = VERSION, actor
        row.save()
        return row
    if base is None and any(getattr(row, name) != value for name, value in values.items()):
        raise changed_meanwhile(row, list(values))
    row.vocabulary_version, row.observed_by = VERSION, actor
    write_fields(row, values, base=base)
    return row


def _answered(sample: Sample, attribute: str) -> Observation | None:
    """The answer on record, held against other writers."""
    rows = Observation.objects.select_for_update()
    return rows.filter(sample=sample, attribute=attribute).first()


def _checked_reference(sample: Sample, status: str, reference: Sample | None) -> Sample:
    message = ""
    if reference is None:
        message = "Name the sample this is compared with."
    elif reference.pk == sample.pk:
        message = "A sample cannot be its own reference."
    elif status == str(Status.INFERRED) and not _same_family(sample, reference):
        message = (
            f"{reference} is no sibling of {sample.motor}: only another wind or size of the "
            "family lets one infer."
        )
    if message or reference is None:
        raise ServiceError(message, code="reference", fields={"reference": [message]})
    return reference


def _same_family(sample: Sample, reference: Sample) -> bool:
    """The same motor, or one of the same maker and name."""
    one, other = sample.motor, reference.motor
    return one.pk == other.pk or (one.maker_id, one.name) == (other.maker_id, other.name)


def _taken_over(reference: Sample, attribute: str) -> tuple[str, float | None, float | None]:
    row = Observation.objects.filter(
        sample=reference, attribute=attribute, status__in=ANSWERED
    ).first()
    if row is None:
        message = f"Nobody has looked at this on {reference}."
        raise ServiceError(message, code="nothing_there", fields={"reference": [message]})
    return row.choice, row.value, row.u


def _other_numbers(sample: Sample, attribute: str) -> dict[str, float]:
    rows = Observation.objects.filter(sample=sample, status__in=ANSWERED)
    pairs = rows.exclude(attribute=attribute).values_list("attribute", "value")
    return {key: value for key, value in pairs if value is not None}
