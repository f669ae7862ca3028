"""Beginning, changing and closing campaigns."""

from __future__ import annotations

from typing import Any

from spindle_server.accounts.models import Role, User
from spindle_server.plan.models import Campaign
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

LISTS = ("samples", "motors", "propellers", "supplies")


@writes(Role.REVIEWER)
def begin_campaign(*, actor: User, **values: Any) -> Campaign:
    """A new campaign with what it names."""
    lists = {name: values.pop(name, []) for name in LISTS}
    campaign = Campaign(begun_by=actor, **values)
    campaign.save()
    for name, rows in lists.items():
        getattr(campaign, name).set(rows)
    return campaign


@writes(Role.REVIEWER)
def change_campaign(
    *, actor: User, campaign: Campaign, base: int | None, **values: Any
) -> Campaign:
    """Change what is asked or named, from version ``base``; a list that is sent is whole."""
    row = locked(Campaign, campaign.pk)
    lists = {name: values.pop(name) for name in LISTS if name in values}
    write_fields(row, values, base=base)
    for name, rows in lists.items():
        getattr(row, name).set(rows)
    return row
