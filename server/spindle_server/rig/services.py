"""Propellers, and what the bench declares once."""

from __future__ import annotations

from typing import Any

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.models import Maker
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Declaration, Propeller


@writes(Role.REVIEWER)
def add_propeller(
    *, actor: User | None, maker: str, diameter_in: float, name: str = "", **values: Any
) -> Propeller:
    """A propeller; its maker is created when it is new. Pitch and blades may be unknown."""
    maker_row = Maker.objects.filter(name=maker.strip()).first()
    if maker_row is None:
        maker_row = Maker(name=maker.strip())
        maker_row.save()
    propeller = Propeller(maker=maker_row, diameter_in=diameter_in, name=name.strip(), **values)
    _refuse_twin(propeller)
    propeller.save()
    return propeller


def _refuse_twin(propeller: Propeller) -> None:
    twins = Propeller.objects.filter(
        maker=propeller.maker,
        name=propeller.name,
        diameter_in=propeller.diameter_in,
        pitch_in=propeller.pitch_in,
        blades=propeller.blades,
    )
    if twins.exclude(pk=propeller.pk).exists():
        raise ConflictError(f"{propeller.full_name} is there already.", code="propeller_exists")


@writes(Role.REVIEWER)
def change_propeller(
    *, actor: User, propeller: Propeller, base: int | None, **values: Any
) -> Propeller:
    """Change what is known of a propeller or its hub [mm], from version ``base``."""
    bore, circle = values.get("bore_mm"), values.get("hole_circle_mm")
    if bore is not None and circle is not None and bore >= circle:
        message = f"The bore ({bore:g} mm) must be below the circle of holes ({circle:g} mm)."
        raise ServiceError(message, code="does_not_fit", fields={"bore_mm": [message]})
    row = locked(Propeller, propeller.pk)
    if any(values.get(name, getattr(row, name)) != getattr(row, name) for name in GEOMETRY):
        _refuse_run_already(row)
        changed = Propeller(pk=row.pk, maker=row.maker)
        for name in GEOMETRY:
            setattr(changed, name, values.get(name, getattr(row, name)))
        _refuse_twin(changed)
    write_fields(row, values, base=base)
    return row


GEOMETRY = ("name", "diameter_in", "pitch_in", "blades")


def _refuse_run_already(propeller: Propeller) -> None:
    """What ran keeps the geometry it ran with."""
    count = propeller.runs.count()
    if count:
        message = (
            f"{count} runs were made with {propeller.full_name}: its geometry stays. Add another "
            "propeller and retire this one."
        )
        raise ServiceError(message, code="was_run", fields={"diameter_in": [message]})


@writes(Role.REVIEWER)
def declare(*, actor: User, base: int | None, **values: float | None) -> Declaration:
    """What the bench declares, from version ``base``: lead length, usual arm, room round the
    propeller."""
    row = Declaration.objects.select_for_update().first() or Declaration()
    write_fields(row, values, base=base)
    return row
