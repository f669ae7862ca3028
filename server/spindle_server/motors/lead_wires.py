"""The bench's own table of leads: what a metre of one weighs, by gauge and insulation."""

from __future__ import annotations

from typing import Any

from spindle_core.motor.lead_wire import INSULATIONS
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError
from spindle_server.motors.models import LeadWire
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes

SAID = ("g_per_m", "u_g_per_m", "note")


@writes(Role.REVIEWER)
def add_lead_wire(*, actor: User | None, gauge: int, insulation: str, **values: Any) -> LeadWire:
    """Note what a metre of a kind of lead weighs.

    :raises ConflictError: its row is there.
    """
    if LeadWire.objects.filter(gauge=gauge, insulation=insulation).exists():
        message = f"AWG {gauge} in {INSULATIONS[insulation]} is in the table: change it there."
        raise ConflictError(message, code="lead_exists", fields={"gauge": [message]})
    row = LeadWire(gauge=gauge, insulation=insulation, **values)
    row.save()
    return row


@writes(Role.REVIEWER)
def change_lead_wire(*, actor: User, lead: LeadWire, base: int | None, **values: Any) -> LeadWire:
    """Correct a row, from version ``base``; its gauge and insulation stay."""
    row = locked(LeadWire, lead.pk)
    write_fields(row, {name: values[name] for name in SAID if name in values}, base=base)
    return row


@writes(Role.REVIEWER)
def remove_lead_wire(*, actor: User, lead: LeadWire, base: int | None) -> None:
    """Take a row off that was read at version ``base``: what is usual by its gauge is taken again,
    where something is. The history keeps it."""
    row = locked(LeadWire, lead.pk)
    refuse_stale(row, base, list(SAID))
    row.delete()
