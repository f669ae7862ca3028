"""Keeping craft."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction

from spindle_core.errors import CoreError
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.match.as_core import core_craft
from spindle_server.match.models import Craft
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes


@writes(Role.REVIEWER)
def add_craft(*, actor: User | None, **values: Any) -> Craft:
    """A craft under a name that no other has.

    :raises ServiceError: an impossible craft, or a name that is taken.
    """
    row = Craft(made_by=actor, **values)
    _check(row)
    _save_named(row, row.save)
    return row


@writes(Role.REVIEWER)
def change_craft(*, actor: User, craft: Craft, base: int | None, **values: Any) -> Craft:
    """Change a craft from version ``base``; lists that are sent are whole."""
    row = locked(Craft, craft.pk)
    trial = Craft.objects.get(pk=craft.pk)
    for name, value in values.items():
        setattr(trial, name, value)
    _check(trial)
    _save_named(trial, lambda: write_fields(row, values, base=base))
    return row


def _save_named(row: Craft, save: Any) -> None:
    try:
        with transaction.atomic():
            save()
    except IntegrityError as error:
        if not Craft.objects.filter(name=row.name).exclude(pk=row.pk).exists():
            raise
        message = f"There is a craft named {row.name} already."
        raise ServiceError(message, code="name_taken", fields={"name": [message]}) from error


def _check(row: Craft) -> None:
    """What no field can see by itself, said beside its field."""
    faults: dict[str, list[str]] = {}
    coaxial = row.layout == "coaxial"
    if coaxial and row.motors % 2:
        faults["motors"] = ["Coaxial motors come in pairs: give an even number."]
    for half in ("carries", "lower"):
        if (getattr(row, f"{half}_motor_id") is None) != (
            getattr(row, f"{half}_propeller_id") is None
        ):
            faults[f"{half}_propeller"] = ["A motor goes with a propeller: name both or neither."]
    if row.lower_motor_id is not None and not coaxial:
        faults["lower_motor"] = ["Only coaxial pairs have a lower motor."]
    low, high = row.less_current_from_pct, row.less_current_to_pct
    if (low is None) != (high is None) or (low is not None and high is not None and low > high):
        faults["less_current_to_pct"] = ["Give both ends of the range, the smaller first."]
    if not row.items:
        faults["items"] = ["Name what flies: frame, pack, electronics."]
    if not faults:
        try:
            core_craft(row)
            return
        except CoreError as error:
            faults["items"] = [error.message]
    first = next(iter(faults.values()))[0]
    raise ServiceError(first, code="craft", fields=faults)
