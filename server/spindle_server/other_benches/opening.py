"""Looking into a pack: what it is, and which of its motors and propellers are known here."""

from __future__ import annotations

import datetime
import hashlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings

from spindle_core.errors import CoreError
from spindle_core.formats.pack.quoting import day_of
from spindle_core.formats.pack.reading import DataPack, read_pack
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.other_benches.models import QuotedPack
from spindle_server.reading import read_apart
from spindle_server.rig.models import Propeller

MOST_RUNS = 300
LARGEST_BYTES = 36_000_000


@dataclass(frozen=True, slots=True)
class Opened:
    """A pack that was checked, with its digest; ``known``: keys in it → our row's number."""

    pack: DataPack
    digest: str
    size_bytes: int
    issued_on: datetime.date
    motors: Mapping[str, int | None]
    propellers: Mapping[str, int | None]


def quoted_path(digest: str) -> Path:
    """Where a pack that came lies, byte for byte."""
    return Path(settings.PACKS) / "quoted" / digest[:2] / f"{digest}.zip"


def open_pack(name: str, data: bytes) -> Opened:
    """Check a pack and propose what in it is known here; stores nothing.

    :raises ServiceError: too large, or no pack that can be read.
    :raises ConflictError: it was quoted already.
    """
    if len(data) > LARGEST_BYTES:
        raise _refused(
            f"{name} has {len(data) / 1e6:.0f} MB; a pack may have {LARGEST_BYTES / 1e6:.0f} MB.",
            "too_large",
        )
    try:
        pack: DataPack = read_apart(read_pack, data)
        issued_on = day_of(pack.index["publication"]["issued_on"], "publication/issued_on")
    except CoreError as error:
        raise _refused(f"{name}: {error.message}", error.code) from error
    runs = len(pack.index["runs"])
    if runs > MOST_RUNS:
        raise _refused(f"{name} holds {runs} runs; up to {MOST_RUNS} are taken.", "too_many")
    digest = hashlib.sha256(data).hexdigest()
    there = QuotedPack.objects.filter(digest=digest).select_related("bench").first()
    if there is not None:
        raise ConflictError(f"This pack is quoted already: {there}.", code="quoted_already")
    index = pack.index
    return Opened(
        pack,
        digest,
        len(data),
        issued_on,
        _known(index["motors"], MotorModel.objects.select_related("maker")),
        _known(index["propellers"], Propeller.objects.select_related("maker")),
    )


def _refused(message: str, code: str) -> ServiceError:
    return ServiceError(message, code=code, fields={"file": [message]})


def _known(listed: Iterable[Mapping[str, Any]], rows: Iterable[Any]) -> dict[str, int | None]:
    """By the whole name; capitals and spaces aside. Two of ours of one name are nobody's."""
    named: dict[str, int | None] = {}
    for row in rows:
        name = _plain(row.full_name)
        named[name] = None if name in named else row.pk
    return {one["key"]: named.get(_plain(one["full_name"])) for one in listed}


def _plain(name: str) -> str:
    return "".join(name.split()).casefold()
