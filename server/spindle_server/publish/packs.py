"""Data packs as files: made from what was frozen with an edition, once, and kept."""

from __future__ import annotations

import hashlib
import tempfile
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any, BinaryIO, cast

import numpy as np
from django.conf import settings
from django.db.models import QuerySet
from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.pack.parts import parts_of
from spindle_core.formats.pack.writing import write_pack
from spindle_core.formats.trace_parquet import decode_segments
from spindle_server.errors import ServiceError
from spindle_server.photos.services import photo_path
from spindle_server.publish.models import EditionPack, PublishedPhoto
from spindle_server.publish.packing import thawed
from spindle_server.runs.models import TraceSegment

Say = Callable[[int, int], None]


def pack_path(digest: str) -> Path:
    """Where an archive lies."""
    return Path(settings.PACKS) / digest[:2] / f"{digest}.zip"


def waiting() -> QuerySet[EditionPack]:
    """Packs that are still to be made."""
    return EditionPack.objects.filter(digest="", problem="")


def make_waiting(say: Say | None = None, *, retry: bool = False) -> int:
    """Make every pack that waits; returns how many were made. What cannot be made says why, and
    holds up no other.

    :param retry: those that could not be made once, too.
    """
    missing = EditionPack.objects.filter(digest="") if retry else waiting()
    rows = list(missing.values_list("pk", flat=True))
    made = 0
    for at, pk in enumerate(rows):
        row = EditionPack.objects.select_related("edition__publication").get(pk=pk)
        try:
            make(row)
            made += 1
        except (CoreError, ServiceError, OSError) as error:
            row.problem = str(error)[:300]
            row.save(update_fields=["problem"])
        if say is not None:
            say(at + 1, len(rows))
    return made


def make(row: EditionPack) -> None:
    """Make the archive of one edition; the same edition gives the same bytes.

    :raises ServiceError: samples or a photo are gone.
    """
    frozen = thawed(bytes(row.frozen))
    content = row.edition.content
    index = frozen["index"]

    def log_of(number: int) -> BenchLog:
        return _log(number, frozen["headers"][number], frozen["later"][number])

    folder = Path(settings.PACKS)
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=folder, suffix=".part", delete=False) as target:
        part = Path(target.name)
        try:
            write_pack(
                cast(BinaryIO, target),
                index,
                parts_of(
                    index,
                    frozen["results"],
                    log_of,
                    verdict=_verdict(content),
                    verdict_text=verdict_text(content),
                    photos=_photos(row),
                ),
            )
            target.flush()
            target.seek(0)
            digest = hashlib.file_digest(target, "sha256").hexdigest()
            size = target.tell()
            path = pack_path(digest)
            path.parent.mkdir(exist_ok=True)
            part.chmod(0o644)
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)
    row.digest, row.size_bytes, row.made_at, row.problem = digest, size, timezone.now(), ""
    row.save(update_fields=["digest", "size_bytes", "made_at", "problem"])


def _log(number: int, header: Mapping[str, str], later: list[list[Any]]) -> BenchLog:
    blobs = list(
        TraceSegment.objects.filter(run=number).order_by("index").values_list("parquet", flat=True)
    )
    if not blobs:
        raise ServiceError(f"The samples of run {number} are gone.", code="samples_gone")
    time_s, channels = decode_segments([bytes(blob) for blob in blobs])
    for at, channel, value in later:
        values = channels.get(channel, np.full(time_s.size, np.nan)).copy()
        values[at - 1] = value
        channels[channel] = values
    known = {name: values for name, values in channels.items() if name in CHANNELS}
    return BenchLog(header, time_s, known)


def _photos(row: EditionPack) -> Iterator[tuple[str, bytes]]:
    for one in PublishedPhoto.objects.filter(edition=row.edition).select_related("photo"):
        try:
            yield f"photos/{one.name}", photo_path(one.photo, thumbnail=False).read_bytes()
        except FileNotFoundError as error:
            raise ServiceError(f"The photo {one.name} is gone.", code="photo_gone") from error


SAID = ("sentence", "grade", "disclosure", "sections", "figures", "table", "parts")


def _verdict(content: Mapping[str, Any]) -> dict[str, Any]:
    return {name: content[name] for name in SAID if name in content}


def verdict_text(content: Mapping[str, Any]) -> str:
    """The verdict to read, without mark-up; figures as somebody stood by them."""
    lines = [content["subject"], "=" * len(content["subject"]), "", content["sentence"], ""]
    lines += [content["grade"]["line"], ""]
    for section in content["sections"]:
        lines += [section["title"], "-" * len(section["title"]), ""]
        for block in section["blocks"]:
            for item in block["items"]:
                text = "".join(_words(one, content["figures"]) for one in item)
                lines.append(text if block["kind"] == "p" else f"- {text}")
            lines.append("")
    lines += ["Disclosure", "----------", "", *content["disclosure"]["lines"], ""]
    return "\n".join(lines)


def _words(part: Mapping[str, Any], figures: Mapping[str, Any]) -> str:
    if "figure" not in part:
        return str(part["text"])
    one = figures[part["figure"]]
    since = f" (since then {one['now']}; {one['word']})" if one["word"] else ""
    return f"{one['stated']}{since}"
