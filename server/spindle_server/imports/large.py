"""Logs that are too large for one request: announced, sent in parts (or found in the inbox), and
stored by long work."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.db.models import Prefetch, QuerySet

from spindle_core.formats.foreign.mapping import mapping_from_json
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.imports.inbox import inbox_path
from spindle_server.imports.large_tasks import store_large
from spindle_server.imports.models import InboxFile, LargeFile
from spindle_server.imports.opening import is_parquet, refuse_unread
from spindle_server.imports.services import refuse_guesses
from spindle_server.motors.models import Sample
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import StoredFile, StoredPart
from spindle_server.runs.stored_files import bytes_here, keep_part
from spindle_server.work.services import ask_for


def large_files() -> QuerySet[LargeFile]:
    """Large files with what has come of each, without a byte of them."""
    parts = StoredPart.objects.only("file", "index", "size")
    return LargeFile.objects.select_related("stored", "work", "asked_by").prefetch_related(
        Prefetch("stored__parts", parts)
    )


@writes(Role.REVIEWER)
def announce(
    *,
    actor: User,
    name: str,
    size: int,
    sameness: str,
    mapping: Mapping[str, Any] | None,
    sample: Sample,
    propeller: Propeller | None = None,
    supply: Supply | None = None,
    stand: Stand | None = None,
    inbox: InboxFile | None = None,
    note: str = "",
    save_as: str = "",
) -> LargeFile:
    """A large file that is to come. The same one again goes on where it stopped, read as it is
    asked for now.

    :param mapping: None for a bench log. :param inbox: where it lies; that says its name and size.
    :raises ServiceError: it is not read in parts, or a column is a guess.
    :raises ConflictError: it is being stored.
    """
    if inbox is not None:
        name, size, sameness = inbox.name, inbox.size, inbox.digest
    refuse_unread(name, size)
    if mapping is not None:
        if is_parquet(name):
            raise ServiceError(
                f"{name} is no bench log; of Parquet this large only a bench log is read. Save it "
                "as CSV.",
                code="foreign_parquet",
            )
        refuse_guesses(mapping_from_json(json.dumps(dict(mapping))))
    asked = {
        "mapping": None if mapping is None else dict(mapping),
        "sample": sample.pk,
        "propeller": propeller.pk if propeller else None,
        "supply": supply.pk if supply else None,
        "stand": stand.pk if stand else None,
        "note": note,
        "save_as": save_as,
    }
    known = LargeFile.objects.select_for_update().filter(
        name=name, sameness=sameness, stored__size=size, inbox=inbox
    )
    file = known.exclude(state="stored").first()
    if file is None:
        file = LargeFile(name=name, sameness=sameness, inbox=inbox, asked_by=actor)
        file.stored = StoredFile.objects.create(size=size)
    elif file.state == "storing":
        raise ConflictError(f"{name} is being stored.", code="being_stored")
    file.asked, file.asked_by, file.state, file.problem = asked, actor, "arriving", ""
    file.save()
    return file


@writes(Role.REVIEWER)
def take_part(*, actor: User, file: LargeFile, index: int, data: bytes) -> None:
    """One part of it; the same again changes nothing.

    :raises ServiceError: no such part. :raises ConflictError: it does not wait for parts.
    """
    if file.inbox_id or file.state not in ("arriving", "refused"):
        raise ConflictError(f"{file.name} does not wait for parts.", code="no_parts_wanted")
    keep_part(file.stored, index, data)


@writes(Role.REVIEWER)
def store_as_run(*, actor: User, file: LargeFile) -> LargeFile:
    """Have it stored, as long work.

    :raises ServiceError: not all of it is here. :raises ConflictError: it is, or is being, stored.
    """
    row = LargeFile.objects.select_for_update().get(pk=file.pk)
    if row.state in ("storing", "stored"):
        raise ConflictError(f"{row.name} is {row.get_state_display().lower()}.", code="stored")
    if row.inbox is not None:
        if inbox_path(row.inbox) is None:
            raise ServiceError(f"{row.name} is no longer in the inbox.", code="gone")
    elif (here := bytes_here(row.stored)) != row.stored.size:
        raise ServiceError(
            f"{here / 1e6:.0f} of {row.stored.size / 1e6:.0f} MB of {row.name} are here.",
            code="not_whole",
        )
    row.work = ask_for(actor=actor, title=f"Store {row.name[:90]} as a run", task=store_large)
    row.state, row.problem = "storing", ""
    row.save()
    return row


@writes(Role.REVIEWER)
def drop_large(*, actor: User, file: LargeFile) -> None:
    """Drop what came of a file that is not stored.

    :raises ConflictError: it is, or is being, stored.
    """
    row = LargeFile.objects.select_for_update().get(pk=file.pk)
    if row.state in ("storing", "stored"):
        raise ConflictError(f"{row.name} is {row.get_state_display().lower()}.", code="stored")
    stored = row.stored
    row.delete()
    stored.delete()
