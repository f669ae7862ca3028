"""Profiles saved by name, with what they are for: set up once, run by everybody in the same way."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction

from spindle_bench.profiles import profile_from_json
from spindle_server.accounts.models import Role, User
from spindle_server.bench.models import SavedProfile
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked, refuse_stale
from spindle_server.records.writes import writes


@writes(Role.REVIEWER)
def save_profile(*, actor: User, name: str, purpose: str, profile: dict[str, Any]) -> SavedProfile:
    """Keep a profile, checked whole, under a name that no other has.

    :raises PlanError: an impossible profile, with its field. :raises ServiceError: a name that is
        taken.
    """
    checked = profile_from_json(profile)
    row = SavedProfile(
        name=name.strip(), purpose=purpose.strip(), profile=checked.as_json(), made_by=actor
    )
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError as error:
        if not SavedProfile.objects.filter(name=row.name).exists():
            raise
        message = f"There is a profile named {row.name} already."
        raise ServiceError(message, code="name_taken", fields={"name": [message]}) from error
    return row


@writes(Role.REVIEWER)
def drop_profile(*, actor: User, saved: SavedProfile, base: int | None) -> None:
    """Drop a saved profile; runs keep the profile that they were made with."""
    row = locked(SavedProfile, saved.pk)
    refuse_stale(row, base, ["name", "purpose"])
    row.delete()
