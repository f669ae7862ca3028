"""The drop folder: files that a logger's own software writes are noticed when they are complete."""

from __future__ import annotations

import hashlib
import logging
import threading
import time
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.db import close_old_connections
from django.db.models import Exists, OuterRef, QuerySet

from spindle_core.errors import CoreError
from spindle_core.formats.large_log import HEAD_BYTES
from spindle_server.errors import ServiceError
from spindle_server.imports.models import InboxFile
from spindle_server.imports.opening import is_parquet, open_file, open_large
from spindle_server.runs.models import SourceFile
from spindle_server.runs.services import LARGEST_FILE_BYTES

QUIET_S = 3.0
"""A file that has not changed for so long is complete."""

EVERY_S = 2.0
SUFFIXES = (".csv", ".txt", ".tsv", ".log", ".json", ".parquet", ".xlsx")

logger = logging.getLogger(__name__)


def inbox_folder() -> Path:
    """Where files are dropped; made where it is not there."""
    folder: Path = settings.INBOX
    folder.mkdir(parents=True, exist_ok=True)
    return folder


@dataclass(frozen=True, slots=True)
class Look:
    """What was seen of a file: its size [bytes], when it was written, since when it is so [s]."""

    size: int
    written_ns: int
    since_s: float


class Watch:
    """Looks into the folder again and again; each file is taken up once, by its content."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.seen: dict[str, Look] = {}
        self.taken: set[tuple[str, int, int]] = set()

    def look(self, now_s: float) -> list[InboxFile]:
        """Take up what is complete at ``now_s`` (a steady clock)."""
        found = []
        there = {path.name: path for path in self.folder.iterdir() if _is_one(path)}
        self.seen = {name: look for name, look in self.seen.items() if name in there}
        for name, path in sorted(there.items()):
            try:
                stat = path.stat()
            except OSError:
                continue
            before = self.seen.get(name)
            if before is None or (before.size, before.written_ns) != (
                stat.st_size,
                stat.st_mtime_ns,
            ):
                self.seen[name] = Look(stat.st_size, stat.st_mtime_ns, now_s)
                continue
            key = (name, before.size, before.written_ns)
            if now_s - before.since_s < QUIET_S or key in self.taken:
                continue
            self.taken.add(key)
            if (row := take_up(path)) is not None:
                found.append(row)
        return found


def _is_one(path: Path) -> bool:
    return path.suffix.lower() in SUFFIXES and not path.name.startswith(".") and path.is_file()


def take_up(path: Path) -> InboxFile | None:
    """A complete file as something that waits; None where its content was seen before."""
    size = path.stat().st_size
    with path.open("rb") as stream:
        digest = hashlib.file_digest(stream, "sha256").hexdigest()
    if (
        InboxFile.objects.filter(digest=digest).exists()
        or SourceFile.objects.filter(digest=digest).exists()
    ):
        return None
    row = InboxFile(name=path.name[:200], digest=digest, size=size)
    try:
        if is_large(size):
            part = telling_part(path)
            opened = open_large(name=path.name, size=size, part=part)
        else:
            opened = open_file(name=path.name, data=path.read_bytes())
    except (CoreError, ServiceError) as error:
        row.problem = str(error)[:300]
    else:
        row.runs, row.asks, row.known_as = len(opened.runs), opened.asks, opened.known_as
        row.problem = opened.problem[:300]
    row.save()
    return row


def is_large(size: int) -> bool:
    """Whether a file is read block by block, and not in one piece."""
    return size > LARGEST_FILE_BYTES


def telling_part(path: Path) -> bytes:
    """The part of a large file that tells what it is: its beginning, of Parquet its end."""
    with path.open("rb") as stream:
        if is_parquet(path.name):
            stream.seek(max(0, path.stat().st_size - HEAD_BYTES))
        return stream.read(HEAD_BYTES)


def inbox_path(row: InboxFile) -> Path | None:
    """Where a file of the inbox lies; None where it is gone or has another size. Who reads it
    compares what it read."""
    path = inbox_folder() / Path(row.name).name
    try:
        return path if path.stat().st_size == row.size else None
    except OSError:
        return None


def waiting() -> QuerySet[InboxFile]:
    """What was neither stored as a run nor put aside."""
    stored = SourceFile.objects.filter(digest=OuterRef("digest"))
    return InboxFile.objects.filter(~Exists(stored), put_aside=False)


def read_inbox_file(row: InboxFile) -> bytes | None:
    """Its content, None where the file is gone or has changed since."""
    path = inbox_folder() / Path(row.name).name
    try:
        data = path.read_bytes()
    except OSError:
        return None
    return data if hashlib.sha256(data).hexdigest() == row.digest else None


def watch_forever(stop: threading.Event) -> None:
    """Look until ``stop``; a database that is away for a while is waited for."""
    watch = Watch(inbox_folder())
    while not stop.wait(EVERY_S):
        close_old_connections()
        try:
            watch.look(time.monotonic())
        except Exception:
            logger.exception("the inbox could not be looked into; it is tried again")
            watch.taken.clear()
