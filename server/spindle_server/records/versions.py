"""Two people at one fact: a write names the version it was made from, and is refused when somebody
else has written since; the refusal carries what stands there now, so that nothing is lost."""

from __future__ import annotations

from typing import Any, TypeVar

from django.db import models

from spindle_server.errors import ConflictError


class Versioned(models.Model):
    """A row that counts its own writes."""

    version = models.PositiveIntegerField(default=1)

    class Meta:
        abstract = True


Row = TypeVar("Row", bound=Versioned)


def write_fields(row: Versioned, values: dict[str, Any], *, base: int | None) -> bool:
    """Set fields of a locked row made from version ``base``; returns whether anything changed.

    Writing what stands there already changes nothing, so a repeated request does no harm.

    :raises ConflictError: somebody wrote since ``base``; it carries the present values.
    """
    if all(getattr(row, name) == value for name, value in values.items()):
        return False
    refuse_stale(row, base, list(values))
    for name, value in values.items():
        setattr(row, name, value)
    row.version += 1
    row.save()
    return True


def refuse_stale(row: Versioned, base: int | None, names: list[str]) -> None:
    """Refuse a write that was made from another version than the row's.

    :raises ConflictError: somebody wrote since ``base``.
    """
    if base != row.version:
        raise changed_meanwhile(row, names)


def locked(model: type[Row], pk: int) -> Row:
    """The row, held against other writers until the transaction ends."""
    row: Row = model._default_manager.select_for_update().get(pk=pk)
    return row


def changed_meanwhile(row: Any, names: list[str]) -> ConflictError:
    """The refusal: who wrote, when, and the present value of each field."""
    last = row.history.select_related("history_user").first()
    who = last.history_user.shown_name if last and last.history_user else "somebody"
    return ConflictError(
        f"{who} changed this while you were writing. Nothing of yours is lost: choose what is to "
        "stand, field by field.",
        code="changed_meanwhile",
        current={
            "version": row.version,
            "who": who,
            "at": last.history_date.isoformat() if last else None,
            "values": {name: _plain(getattr(row, name)) for name in names},
        },
    )


def _plain(value: Any) -> Any:
    """A field's value as JSON would carry it."""
    if isinstance(value, models.Model):
        return value.pk
    return value.isoformat() if hasattr(value, "isoformat") else value
