"""Recording what was seen."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from simple_history.utils import bulk_create_with_history

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
    values = _checked(
        sample,
        attribute,
        Answer(
            status=status,
            choice=choice,
            value=value,
            u=u,
            ordinal=ordinal,
            reference=reference,
            instrument=instrument,
            typed=typed,
            note=note,
        ),
        lambda: _numbers(sample),
    )
    row = _answered(sample, attribute)
    if row is None:
        row = _first(sample, attribute, values, actor)
        row.save()
        return row
    if base is None and any(getattr(row, name) != value for name, value in values.items()):
        raise changed_meanwhile(row, list(values))
    row.vocabulary_version, row.observed_by = VERSION, actor
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def record_sheet(
    *, actor: User | None, sample: Sample, answers: Sequence[Mapping[str, Any]]
) -> list[Observation]:
    """First answers of a sample, all or none, in the order in which they were given.

    :param answers: each as :func:`record_observation` takes it, ``attribute`` with the others.
    :raises ServiceError: an answer that cannot be. :raises ConflictError: one was given already.
    """
    numbers = _numbers(sample)
    rows: dict[str, Observation] = {}
    for answer in answers:
        attribute = answer["attribute"]
        if attribute in rows:
            raise ServiceError(f"{attribute} is answered twice on one sheet.", code="twice")
        given = Answer(**{key: said for key, said in answer.items() if key != "attribute"})
        values = _checked(sample, attribute, given, lambda: numbers)
        rows[attribute] = _first(sample, attribute, values, actor)
        if values["value"] is not None and values["status"] in ANSWERED:
            numbers[attribute] = values["value"]
    there = _first_of(sample, list(rows))
    if there is not None:
        raise changed_meanwhile(there, list(values))
    if not rows:
        return []
    made: list[Observation] = bulk_create_with_history(
        list(rows.values()), Observation, default_user=actor
    )
    return made


@dataclass(frozen=True, slots=True)
class Answer:
    """What somebody says of one attribute; "same as" and "inferred" take the reference's word."""

    status: str
    choice: str = ""
    value: float | None = None
    u: float | None = None
    ordinal: str = ""
    reference: Sample | None = None
    instrument: str = ""
    typed: str = ""
    note: str = ""


def _checked(
    sample: Sample, attribute: str, said: Answer, numbers: Callable[[], dict[str, float]]
) -> dict[str, Any]:
    """An answer as it is kept.

    :param numbers: the numbers of the sample that stand, this one's aside.
    :raises ServiceError: it cannot be.
    """
    reference, choice, value, u = said.reference, said.choice, said.value, said.u
    if said.status in REFERRING:
        reference = _checked_reference(sample, said.status, reference)
    if said.status in TAKEN_OVER and reference is not None:
        choice, value, u = _taken_over(reference, attribute)
    absent = not_applicable(sample.motor.kind, attribute)
    if absent is not None:
        raise ServiceError(f"This does not apply: {absent.note}.", code=absent.reason)
    try:
        check_observation(
            attribute,
            Status(said.status),
            choice=choice or None,
            value=value,
            ordinal=said.ordinal or None,
        )
        if value is not None and said.status in ANSWERED:
            check_together(attribute, value, numbers())
    except VocabularyError as error:
        field = "value" if value is not None else "choice"
        raise ServiceError(
            error.message, code=error.code, fields={field: [error.message]}
        ) from error
    return {
        "status": said.status,
        "choice": choice,
        "value": value,
        "u": u,
        "ordinal": said.ordinal,
        "reference": reference if said.status in REFERRING else None,
        "instrument": said.instrument,
        "typed": said.typed,
        "note": said.note,
    }


def _first(
    sample: Sample, attribute: str, values: dict[str, Any], actor: User | None
) -> Observation:
    return Observation(
        sample=sample, attribute=attribute, vocabulary_version=VERSION, observed_by=actor, **values
    )


def _answered(sample: Sample, attribute: str) -> Observation | None:
    """The answer on record, held against other writers."""
    rows = Observation.objects.select_for_update()
    return rows.filter(sample=sample, attribute=attribute).first()


def _first_of(sample: Sample, attributes: list[str]) -> Observation | None:
    """The first of these that is answered already, held against other writers."""
    rows = Observation.objects.select_for_update()
    return rows.filter(sample=sample, attribute__in=attributes).first()


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


def _numbers(sample: Sample) -> dict[str, float]:
    rows = Observation.objects.filter(sample=sample, status__in=ANSWERED, value__isnull=False)
    pairs = rows.values_list("attribute", "value")
    return {key: value for key, value in pairs if value is not None}
