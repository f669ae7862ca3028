"""Profiles and sequences saved by name, with what they are for: set up once, run by everybody in
the same way."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction

from spindle_bench.profiles import profile_from_json
from spindle_core.reduction.kinds import KINDS
from spindle_server.accounts.models import Role, User
from spindle_server.bench.models import SavedProfile, SavedSequence
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
    _keep(row, "profile")
    return row


def _keep(row: SavedProfile | SavedSequence, what: str) -> None:
    """Save under a name that no other has.

    :raises ServiceError: the name is taken.
    """
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError as error:
        if not type(row).objects.filter(name=row.name).exists():
            raise
        message = f"There is a {what} named {row.name} already."
        raise ServiceError(message, code="name_taken", fields={"name": [message]}) from error


MOST_PARTS = 12


@writes(Role.REVIEWER)
def save_sequence(
    *, actor: User, name: str, purpose: str, parts: list[dict[str, Any]]
) -> SavedSequence:
    """Keep profiles in their order, each checked whole, under a name that no other has.

    :raises PlanError: an impossible profile, with its field. :raises ServiceError: fewer than two
        or too many parts, some that want another mounting than the others, or a name that is taken.
    """
    if not 2 <= len(parts) <= MOST_PARTS:
        raise _refused(f"A sequence has 2 to {MOST_PARTS} parts.")
    checked = [profile_from_json(part) for part in parts]
    mountings = {_mounting(one.kind) for one in checked}
    if len(mountings) > 1:
        raise _refused(
            "These want to be mounted differently (with a propeller, on a bare shaft, with a "
            "flywheel): make a sequence of each."
        )
    row = SavedSequence(
        name=name.strip(),
        purpose=purpose.strip(),
        parts=[one.as_json() for one in checked],
        made_by=actor,
    )
    _keep(row, "sequence")
    return row


def _mounting(kind: str) -> str:
    return "propeller" if KINDS[kind].needs_propeller else kind


def _refused(said: str) -> ServiceError:
    return ServiceError(said, code="sequence", fields={"parts": [said]})


@writes(Role.REVIEWER)
def drop_sequence(*, actor: User, saved: SavedSequence, base: int | None) -> None:
    """Drop a saved sequence; the profiles and runs stay."""
    row = locked(SavedSequence, saved.pk)
    refuse_stale(row, base, ["name", "purpose"])
    row.delete()


@writes(Role.REVIEWER)
def drop_profile(*, actor: User, saved: SavedProfile, base: int | None) -> None:
    """Drop a saved profile; runs keep the profile that they were made with."""
    row = locked(SavedProfile, saved.pk)
    refuse_stale(row, base, ["name", "purpose"])
    row.delete()
