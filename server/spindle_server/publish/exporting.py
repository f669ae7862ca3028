"""The pages as a folder of files: only what changed is written, only what was ours is removed."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from spindle_server.errors import ServiceError
from spindle_server.publish.packs import make_waiting
from spindle_server.publish.readers import Site

MANIFEST = ".taut-spindle-pages.json"
"""What was written the last time: path → sha256. Files without it are not ours."""


@dataclass(frozen=True, slots=True)
class Exported:
    """How many files there are, were written and were removed."""

    files: int
    written: int
    removed: int


def export(
    folder: Path,
    *,
    pdf: bool = False,
    packs: bool = True,
    say: Callable[[int, int], None] | None = None,
) -> Exported:
    """Write everything that is published into a folder.

    :param pdf: with each page as PDF. :param packs: with the data; those that wait are made first.
    :param say: told how many of how many files are through.
    :raises ServiceError: the folder holds files that this never wrote.
    """
    manifest = folder / MANIFEST
    before: dict[str, str] = {}
    if manifest.exists():
        before = json.loads(manifest.read_text())
    elif folder.exists() and any(folder.iterdir()):
        raise ServiceError(
            f"{folder} holds files that were not published from here; name an empty folder.",
            code="foreign_folder",
        )
    if packs:
        make_waiting(retry=True)
    site = Site(pdf=pdf, packs=packs)
    paths = list(site.paths())
    now: dict[str, str] = {}
    written = 0
    for at, path in enumerate(paths):
        data = site.file(path)
        if data is None:
            raise ServiceError(f"{path} is listed and is not there.", code="missing_page")
        now[path] = hashlib.sha256(data).hexdigest()
        target = folder / path
        if before.get(path) != now[path] or not target.exists():
            target.parent.mkdir(parents=True, exist_ok=True)
            # A server that reads the folder meanwhile finds the old file or the new one.
            part = target.with_name(f"{target.name}.part")
            part.write_bytes(data)
            part.replace(target)
            written += 1
        if say is not None:
            say(at + 1, len(paths))
    gone = sorted(set(before) - set(now))
    for path in gone:
        (folder / path).unlink(missing_ok=True)
    _prune(folder, gone)
    folder.mkdir(parents=True, exist_ok=True)
    manifest.write_text(json.dumps(now, indent=0, sort_keys=True))
    return Exported(len(paths), written, len(gone))


def _prune(folder: Path, gone: list[str]) -> None:
    """Folders that were emptied by it."""
    for path in gone:
        for parent in (folder / path).parents:
            if parent == folder or not parent.is_dir() or any(parent.iterdir()):
                break
            parent.rmdir()
