"""The whole bench in open formats, for whoever leaves: nothing of the record is held back."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.db import models

from spindle_core.formats.pack.tables import inert
from spindle_server.photos.models import Photo
from spindle_server.photos.services import photo_path
from spindle_server.publish.packing import log_header
from spindle_server.runs.as_core import SAID_OF_IT, StandsByDay
from spindle_server.runs.models import Run, SourceFile
from spindle_server.runs.selectors import bench_log_pieces
from spindle_server.runs.stored_files import source_pieces

OURS = "spindle_server."
SECRET = frozenset({"password"})
"""Fields that are nobody's to take along."""

README = """# The whole bench

Everything on record, in open formats. Nothing in it needs the program that wrote it.

- `tables/APP.MODEL.csv`: every table, UTF-8, a line of heads; an empty cell is a value that is not
  there, lists and objects are JSON, days and times are ISO 8601 in UTC. `…_id` names a row of
  another table. Tables `Historical…` are who changed what, and when.
- `logs/run-N.csv`: every sample of run N, as `bench-log/1` with all that its stand declares.
- `files/run-N/…`: the file that an imported run came from, byte for byte.
- `photos/`: pictures by their names in the table of photos.
- `packs/`: data packs of what was published, and under `packs/quoted/` those of other benches.

Passwords and sessions are not in it.
"""


def bench_path() -> Path:
    """Where the archive lies once it was made."""
    return Path(settings.VAR) / "export" / "whole-bench.zip"


def export_bench(say: Callable[[int, int], None] | None = None) -> int:
    """Write the whole bench into one archive; returns how many files are in it.

    :param say: told how many runs of how many are through.
    """
    path = bench_path()
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    count = 0
    try:
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
            for name, data in _files(say):
                with packed.open(name, "w", force_zip64=True) as member:
                    for piece in [data] if isinstance(data, bytes) else data:
                        member.write(piece)
                count += 1
        part.chmod(0o600)
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
    return count


def _files(say: Callable[[int, int], None] | None) -> Iterator[tuple[str, bytes | Iterator[bytes]]]:
    """Names, and what is in them: in pieces where it may be large."""
    yield "README.md", README.encode()
    for model in apps.get_models():
        if model.__module__.startswith(OURS):
            yield f"tables/{model._meta.app_label}.{model.__name__}.csv", table_of(model)
    numbers = list(Run.objects.order_by("pk").values_list("pk", flat=True))
    stands: StandsByDay = {}
    for at, number in enumerate(numbers):
        run = Run.objects.select_related(*SAID_OF_IT).get(pk=number)
        if run.segments.exists():
            yield f"logs/run-{number}.csv", bench_log_pieces(run, log_header(run, stands))
        source = SourceFile.objects.select_related("stored").filter(run=number).first()
        if source is not None:
            name = Path(source.name).name or "file"
            yield f"files/run-{number}/{name}", source_pieces(source)
        if say is not None:
            say(at + 1, len(numbers))
    for photo in Photo.objects.order_by("pk"):
        picture = photo_path(photo, thumbnail=False)
        if picture.exists():
            yield f"photos/{photo.name}.jpg", picture.read_bytes()
    packs = Path(settings.PACKS)
    for pack in sorted(packs.rglob("*.zip")) if packs.exists() else ():
        yield f"packs/{pack.relative_to(packs)}", pack.read_bytes()


def table_of(model: type[models.Model]) -> bytes:
    """A table as CSV; bytes and secrets are left out."""
    fields = [
        field
        for field in model._meta.concrete_fields
        if not isinstance(field, models.BinaryField) and field.name not in SECRET
    ]
    many = model._meta.many_to_many
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow([field.attname for field in fields] + [field.name for field in many])
    rows = model._default_manager.order_by("pk").only(*(field.attname for field in fields))
    for row in rows.iterator(chunk_size=500):
        cells = [_cell(getattr(row, field.attname)) for field in fields]
        for field in many:
            listed = getattr(row, field.name).order_by("pk").values_list("pk", flat=True)
            cells.append(json.dumps(list(listed)))
        writer.writerow(cells)
    return out.getvalue().encode()


def _cell(value: Any) -> Any:
    if value is None:
        return ""
    if isinstance(value, dict | list):
        return json.dumps(value, ensure_ascii=False)
    if hasattr(value, "isoformat"):
        return value.isoformat()
    return inert(value if isinstance(value, int | float | bool) else str(value))
