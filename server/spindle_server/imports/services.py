"""Storing the runs of somebody's file, and keeping how it was read."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from typing import Any

from spindle_core.formats.foreign.mapping import LogMapping, mapping_from_json, mapping_to_json
from spindle_core.formats.foreign.proposal import SURE
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.imports.models import InboxFile, KnownMapping
from spindle_server.imports.names import Belongs, remember
from spindle_server.imports.opening import MOST_RUNS, fingerprint, foreign_logs
from spindle_server.records.versions import locked, refuse_stale
from spindle_server.records.writes import writes
from spindle_server.rig.models import Stand
from spindle_server.runs.models import Run
from spindle_server.runs.services import refuse_known, refuse_too_large, store_log


@writes(Role.REVIEWER)
def store_file(
    *,
    actor: User,
    name: str,
    data: bytes,
    mapping: Mapping[str, Any],
    belongs: Sequence[Belongs],
    stand: Stand | None = None,
    note: str = "",
    save_as: str = "",
) -> list[Run]:
    """The runs of somebody's file, all or none, each with whose it is; the file itself is kept with
    the first, byte for byte.

    :param belongs: one for each run, or one for all.
    :param save_as: the name under which the mapping is kept, and recognises the next such file.
    :raises ServiceError: a column nobody is sure of, or a run whose sample or propeller is missing.
    :raises ConflictError: the file was imported already. :raises CoreError: it does not fit.
    """
    refuse_too_large(name, data)
    digest = hashlib.sha256(data).hexdigest()
    refuse_known(digest)
    confirmed = mapping_from_json(json.dumps(dict(mapping)))
    refuse_guesses(confirmed)
    logs, names = foreign_logs(name, data, confirmed)
    if len(logs) > MOST_RUNS:
        raise ServiceError(f"{len(logs)} runs in one file are more than {MOST_RUNS}.", code="many")
    whose = list(belongs) * len(logs) if len(belongs) == 1 else list(belongs)
    if len(whose) != len(logs):
        message = f"The file holds {len(logs)} runs; {len(whose)} were named."
        raise ServiceError(message, code="belongs", fields={"belongs": [message]})
    made: list[Run] = []
    for number, (log, mine) in enumerate(zip(logs, whose, strict=True), start=1):
        if mine.sample is None:
            message = "Say which sample this was."
            where = f"belongs.{number - 1}.sample"
            raise ServiceError(message, code="not_named", fields={where: [message]})
        part = {} if len(logs) == 1 else {"part": f"{number} of {len(logs)}"}
        run = store_log(
            operator=actor,
            log=log,
            extra_header=part if not made else {**part, "file_of_run": str(made[0].pk)},
            name=name,
            source=(data, digest) if not made else None,
            sample=mine.sample,
            propeller=mine.propeller,
            supply=mine.supply,
            stand=stand,
            note=note,
            where=f"belongs.{number - 1}.propeller",
        )
        remember(log.header, mine)
        made.append(run)
    if save_as.strip():
        keep_mapping(save_as.strip(), confirmed, names)
    return made


def refuse_guesses(mapping: LogMapping) -> None:
    """A guess becomes a fact only by somebody saying so."""
    unsure = [name for name, column in mapping.columns.items() if column.certainty < SURE]
    if unsure:
        message = f"Say what {', '.join(unsure)} is, or leave it out."
        raise ServiceError(message, code="unsure", fields={"mapping": [message]})


def keep_mapping(name: str, mapping: LogMapping, names: Sequence[str]) -> None:
    """A confirmed mapping under its name, by which the next such file is recognised."""
    row = KnownMapping.objects.filter(name=name).first()
    if row is None:
        row = KnownMapping(name=name)
    else:
        row.version += 1
    row.fingerprint = fingerprint(names)
    row.mapping = json.loads(mapping_to_json(mapping))
    row.save()


@writes(Role.REVIEWER)
def drop_mapping(*, actor: User, pk: int, base: int | None) -> None:
    """Forget a mapping, from version ``base``; what was read by it stays.

    :raises ConflictError: somebody changed it meanwhile.
    """
    row = locked(KnownMapping, pk)
    refuse_stale(row, base, ["name"])
    row.delete()


@writes(Role.REVIEWER)
def put_aside(*, actor: User, row: InboxFile, aside: bool) -> InboxFile:
    """Take a file off the list of what waits, or put it back; the file itself stays where it is."""
    row.put_aside = aside
    row.save(update_fields=["put_aside"])
    return row
