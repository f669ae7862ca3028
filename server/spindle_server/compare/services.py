"""Keeping comparisons by name."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import ProtectedError

from spindle_server.accounts.models import Role, User
from spindle_server.compare.models import Pick, SavedComparison
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller


@writes(Role.REVIEWER)
def save_comparison(
    *,
    actor: User,
    name: str,
    asked: dict[str, str],
    marks: list[dict[str, Any]] | None = None,
    note: str = "",
) -> SavedComparison:
    """A comparison under a name that no other has.

    :param asked: the address's query. :param marks: on its charts.
    :raises ServiceError: a name that is taken.
    """
    row = SavedComparison(
        name=name.strip(), asked=asked, marks=marks or [], note=note, saved_by=actor
    )
    _save(row)
    return row


@writes(Role.REVIEWER)
def change_comparison(
    *, actor: User, saved: SavedComparison, values: dict[str, Any], base: int | None
) -> SavedComparison:
    """Another name, question, note or other marks.

    :raises ServiceError: a name that is taken.
    """
    row = locked(SavedComparison, saved.pk)
    if "name" in values:
        values = {**values, "name": values["name"].strip()}
        if SavedComparison.objects.filter(name=values["name"]).exclude(pk=row.pk).exists():
            raise _taken(values["name"])
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def drop_comparison(*, actor: User, saved: SavedComparison, base: int | None) -> None:
    """Forget it; what was frozen from it stays."""
    row = locked(SavedComparison, saved.pk)
    refuse_stale(row, base, ["name", "asked", "marks", "note"])
    try:
        with transaction.atomic():
            row.delete()
    except ProtectedError as error:
        raise ServiceError(
            f"{row.name} has a verdict, which rests on it; it stays.", code="has_verdict"
        ) from error


@writes(Role.REVIEWER)
def pick(
    *, actor: User, motor: MotorModel, propeller: Propeller, supply: str, voltage_v: float, why: str
) -> Pick:
    """Mark what one would take at a voltage; picked again, its reason is the new one."""
    place = {"motor": motor, "propeller": propeller, "supply": supply, "voltage_v": voltage_v}
    own = {"why": why, "picked_by": actor}
    # Two who pick the same at once have picked it once.
    row, made = Pick.objects.select_for_update().get_or_create(**place, defaults=own)
    if made:
        return row
    write_fields(row, own, base=row.version)
    return row


@writes(Role.REVIEWER)
def drop_pick(*, actor: User, picked: Pick, base: int | None) -> None:
    """It is picked no more."""
    row = locked(Pick, picked.pk)
    refuse_stale(row, base, ["why"])
    row.delete()


def _taken(name: str) -> ServiceError:
    message = f"There is a comparison named {name} already."
    return ServiceError(message, code="name_taken", fields={"name": [message]})


def _save(row: SavedComparison) -> None:
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError as error:
        if not SavedComparison.objects.filter(name=row.name).exists():
            raise
        raise _taken(row.name) from error
