"""Cells that are read later, from footage: what is still owed, and filling it in."""

from __future__ import annotations

import math

from django.db.models import QuerySet
from django.utils import timezone

from spindle_core.figures.quantities import CHANNELS
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.runs.models import LaterCell
from spindle_server.runs.reducing import reduce_run


def later_cells() -> QuerySet[LaterCell]:
    """All of them, the oldest run first."""
    return LaterCell.objects.select_related("run__sample__motor__maker").order_by(
        "run__started_at", "run", "row", "pk"
    )


def still_owed() -> QuerySet[LaterCell]:
    """Those that nobody has read yet, nor given up."""
    return later_cells().filter(value=None, dropped_reason="")


@writes(Role.REVIEWER)
def read_later(
    *, actor: User, cell: LaterCell, value: float | None, dropped_reason: str, base: int | None
) -> LaterCell:
    """Fill a cell in, or give it up with a reason, from version ``base``; its run's figures are
    made anew.

    :raises ServiceError: neither a value nor a reason, both, or a value no sensor reports.
    """
    reason = dropped_reason.strip()
    if (value is None) == (not reason):
        message = "Give the value, or say why it cannot be read."
        raise ServiceError(message, code="nothing_read", fields={"value": [message]})
    channel = CHANNELS[cell.channel]
    if value is not None and not (math.isfinite(value) and channel.low <= value <= channel.high):
        message = (
            f"{channel.label} lies between {channel.low:g} and {channel.high:g} {channel.unit}."
        )
        raise ServiceError(message, code="out_of_range", fields={"value": [message]})
    row = locked(LaterCell, cell.pk)
    write_fields(
        row,
        {
            "value": value,
            "dropped_reason": reason,
            "read_by": actor.shown_name,
            "read_at": timezone.now(),
        },
        base=base,
    )
    if value is not None:
        reduce_run(row.run)
    return row
