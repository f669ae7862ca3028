"""The scale, and what was done to a sample or befell it: records that are struck, never deleted."""

from __future__ import annotations

from typing import Any, TypeVar

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import Incident, Preparation, Sample, Struck, Weighing
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

Record = TypeVar("Record", bound=Struck)


@writes(Role.REVIEWER)
def add_weighing(*, actor: User | None, sample: Sample, **values: Any) -> Weighing:
    """One reading of a scale."""
    mass = values["mass_g"]
    if not 0.5 <= mass <= 2000:
        hint = f"; did you mean {mass / 1000:g} g?" if 0.5 <= mass / 1000 <= 2000 else ""
        message = f"A small motor weighs 0.5 to 2000 g, not {mass:g} g{hint}"
        raise ServiceError(message, code="out_of_range", fields={"mass_g": [message]})
    return _added(Weighing(sample=sample, noted_by=actor, **values), "weighed_on")


@writes(Role.REVIEWER)
def add_preparation(*, actor: User | None, sample: Sample, **values: Any) -> Preparation:
    """Something irreversible that was done to a sample."""
    if values["kind"] == "leads_cut" and values.get("lead_length_mm") is None:
        message = "How long are the leads now, in mm?"
        raise ServiceError(message, code="length_needed", fields={"lead_length_mm": [message]})
    return _added(Preparation(sample=sample, noted_by=actor, **values), "done_on")


@writes(Role.REVIEWER)
def add_incident(*, actor: User | None, sample: Sample, **values: Any) -> Incident:
    """Something that went wrong with a sample."""
    return _added(Incident(sample=sample, noted_by=actor, **values), "happened_on")


def _added(record: Record, date_field: str) -> Record:
    if in_the_future(getattr(record, date_field)):
        message = "The date lies in the future."
        raise ServiceError(message, code="future", fields={date_field: [message]})
    record.save()
    return record


@writes(Role.REVIEWER)
def strike(*, actor: User, record: Record, reason: str, base: int | None) -> Record:
    """Strike a record, read at version ``base``, out as a mistake, or (with no reason) let it
    stand again."""
    row = locked(type(record), record.pk)
    write_fields(row, {"struck_reason": reason.strip()}, base=base)
    return row
