"""A maker's table: what he states of a motor by propeller and cell count."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.intake.claimed_loads import ClaimedLoad as CoreLoad
from spindle_core.intake.claimed_loads import check_claimed_load
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import ClaimedLoad, MotorModel
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes

SAID = ("cells", "propeller", "thrust_gf", "current_a", "power_w")


def core_load(row: ClaimedLoad) -> CoreLoad:
    """A stored row as the core takes it."""
    return CoreLoad(**{name: getattr(row, name) for name in SAID})


@writes(Role.REVIEWER)
def add_claimed_load(*, actor: User | None, motor: MotorModel, **values: Any) -> ClaimedLoad:
    """Note a row of a source's table.

    :raises ServiceError: it says nothing, or something impossible. :raises ConflictError: the
        source's row for this propeller and cell count is there.
    """
    row = ClaimedLoad(motor=motor, **_tidy(values))
    _check(row)
    row.save()
    return row


@writes(Role.REVIEWER)
def change_claimed_load(
    *, actor: User, load: ClaimedLoad, base: int | None, **values: Any
) -> ClaimedLoad:
    """Correct a row, from version ``base``."""
    row = locked(ClaimedLoad, load.pk)
    values = _tidy(values)
    trial = ClaimedLoad(pk=row.pk, motor=row.motor)
    for name in (*SAID, "source", "stated_on"):
        setattr(trial, name, values.get(name, getattr(row, name)))
    _check(trial)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def remove_claimed_load(*, actor: User, load: ClaimedLoad, base: int | None) -> None:
    """Take a row off that was read at version ``base``; the history keeps it."""
    row = locked(ClaimedLoad, load.pk)
    refuse_stale(row, base, list(SAID))
    row.delete()


def _tidy(values: dict[str, Any]) -> dict[str, Any]:
    return {k: v.strip() if isinstance(v, str) else v for k, v in values.items()}


def _check(row: ClaimedLoad) -> None:
    try:
        check_claimed_load(core_load(row))
    except QuantityError as error:
        name = error.code if error.code in SAID else "thrust_gf"
        fields = {name: [error.message]}
        raise ServiceError(error.message, code=error.code, fields=fields) from error
    if in_the_future(row.stated_on):
        message = "That day has not come yet."
        raise ServiceError(message, code="future", fields={"stated_on": [message]})
    same = ClaimedLoad.objects.filter(
        motor=row.motor, source=row.source, cells=row.cells, propeller=row.propeller
    )
    if same.exclude(pk=row.pk).exists():
        message = f"{row.source} has its row of {row.propeller} on {row.cells} cells already."
        raise ConflictError(message, code="load_exists", fields={"propeller": [message]})
