"""A large log becomes a run: read block by block, stored part by part, whole or not at all."""

from __future__ import annotations

import hashlib
import json
import tempfile
from collections.abc import Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace
from itertools import chain
from pathlib import Path

import numpy as np
from django.conf import settings
from django.db import transaction
from django_tasks import task

from spindle_core.errors import CoreError, LogFormatError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.foreign.dialect import read_sheet
from spindle_core.formats.foreign.mapping import LogMapping, mapping_from_json
from spindle_core.formats.foreign.proposal import preamble_facts
from spindle_core.formats.large_log import (
    HEAD_BYTES,
    OneRun,
    line_blocks,
    log_block,
    log_head,
    parquet_block,
    parquet_shape,
)
from spindle_core.run.outline import Outline, outline
from spindle_server.errors import ServiceError
from spindle_server.imports.half_stored import undo
from spindle_server.imports.inbox import inbox_path
from spindle_server.imports.models import LargeFile
from spindle_server.imports.names import Belongs, remember
from spindle_server.imports.opening import is_parquet, with_facts
from spindle_server.imports.services import keep_mapping
from spindle_server.motors.models import Sample
from spindle_server.reading import read_apart
from spindle_server.records.writes import acting
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.as_core import MOST_AT_ONCE
from spindle_server.runs.drawn import keep_outlines
from spindle_server.runs.models import Run, SourceFile
from spindle_server.runs.services import end_import, rate_of, refuse_known, run_of, segment_of
from spindle_server.runs.stored_files import PART_BYTES, keep_part, pieces_of
from spindle_server.work.doing import Progress, StoppedError, TooLongError, doing

ROWS_PER_SEGMENT = 65_536
ROWS_PER_BUCKET = 128


@task()
def store_large(work: int) -> None:
    """Store one large file as a run."""
    file = LargeFile.objects.select_related("stored", "inbox", "asked_by").get(work=work)
    try:
        with doing(work) as progress:
            try:
                run = Storing(file, progress).store()
            except StoppedError:
                _stopped(file)
                raise
            except BaseException as error:
                said = _said(error, file.name)
                undo(actor=None, pk=file.pk, problem=said, state="refused")
                if isinstance(error, CoreError):
                    raise ServiceError(said) from error
                raise
            progress.say(f"It is run {run.pk}.")
    except StoppedError:
        # Before it had begun; what stops later ends with the work.
        _stopped(file)


def _stopped(file: LargeFile) -> None:
    undo(actor=None, pk=file.pk, problem="It was stopped.", state="arriving")


def _said(error: BaseException, name: str) -> str:
    if isinstance(error, LogFormatError):
        return error.describe(name)
    if isinstance(error, CoreError | ServiceError):
        return str(error)
    if isinstance(error, MemoryError):
        return "It needed more memory than it may have."
    if isinstance(error, TooLongError):
        return "It took longer than long work may."
    return f"It stopped over something unforeseen ({type(error).__name__}); nothing was stored."


class Storing:
    """One file on its way to a run."""

    def __init__(self, file: LargeFile, progress: Progress) -> None:
        self.file, self.progress = file, progress
        self.digest = hashlib.sha256()
        self.taken = 0
        said = file.asked["mapping"]
        self.mapping: LogMapping | None = None
        if said is not None:
            self.mapping = mapping_from_json(json.dumps(said))
        self.rows = OneRun(ROWS_PER_SEGMENT)
        self.run: Run | None = None
        self.belongs = Belongs()
        self.columns: tuple[str, ...] = ()
        self.segments = self.stored_rows = 0
        self.outlines: list[Outline] = []
        self.begin_s = 0.0
        self.last_s = 0.0

    def store(self) -> Run:
        """The run that the file becomes.

        :raises CoreError: the file is at fault. :raises ServiceError: it was imported already, or
            is not what it was. :raises StoppedError: somebody asked for a stop.
        """
        self.progress.of(-(-self.file.stored.size // 1_000_000), "MB")
        read = self._parquet if is_parquet(self.file.name) else self._text
        for log, line in read():
            for part in self.rows.take(log, line):
                self._keep(part)
        rest = self.rows.rest()
        if rest is not None:
            self._keep(rest)
        if self.run is None:
            raise ServiceError("There are no rows in it.", code="no_rows")
        return self._end(self.run)

    def _pieces(self) -> Iterator[bytes]:
        """The file's bytes, counted; what lies in the inbox is kept as it is read.

        :raises ServiceError: it is not as long as it was.
        """
        pieces = pieces_of(self.file.stored)
        if self.file.inbox is not None:
            pieces = self._from_inbox()
        for piece in pieces:
            self.digest.update(piece)
            self.taken += len(piece)
            yield piece
            # What grows while it is read is not what was announced, and said below.
            self.progress.step(min(self.taken, self.file.stored.size) // 1_000_000)
        if self.taken != self.file.stored.size:
            raise ServiceError(f"{self.file.name} is not as long as it was.", code="changed")

    def _from_inbox(self) -> Iterator[bytes]:
        path = None if self.file.inbox is None else inbox_path(self.file.inbox)
        if path is None:
            raise ServiceError(f"{self.file.name} is no longer in the inbox.", code="gone")
        with path.open("rb") as stream:
            index = 0
            while piece := stream.read(PART_BYTES):
                keep_part(self.file.stored, index, piece)
                index += 1
                yield piece

    def _text(self) -> Iterator[tuple[BenchLog, int]]:
        pieces = self._pieces()
        first = next(pieces, b"")
        start = first[:HEAD_BYTES]
        head = read_apart(log_head, start, self.mapping)
        facts: dict[str, str] = {}
        if self.mapping is not None:
            sheet = read_apart(read_sheet, head.text + b"\n", self.mapping.dialect)
            self.columns = sheet.names
            self.mapping = replace(self.mapping, dialect=sheet.dialect)
            facts = preamble_facts(sheet.preamble)
        with ThreadPoolExecutor(1) as ahead:
            # A block is read while the one before it is stored.
            reading: list[tuple[Future[BenchLog], int]] = []
            for block, line in chain(line_blocks(chain([first], pieces), head), [(b"", 0)]):
                if block:
                    log = ahead.submit(read_apart, log_block, head, block, line, self.mapping)
                    reading.append((log, line))
                if len(reading) > 1 or (reading and not block):
                    log, at = reading.pop(0)
                    yield with_facts([log.result()], facts)[0], at

    def _parquet(self) -> Iterator[tuple[BenchLog, int]]:
        folder = Path(settings.VAR) / "reading"
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=folder, suffix=".parquet") as whole:
            for piece in self._pieces():
                whole.write(piece)
            whole.flush()
            tail = min(self.taken, HEAD_BYTES)
            whole.seek(self.taken - tail)
            shape = read_apart(parquet_shape, self.taken, whole.read(tail))
            self.progress.of(max(1, sum(shape.group_rows)), "rows")
            first = 1
            for group, (rows, size) in enumerate(
                zip(shape.group_rows, shape.group_bytes, strict=True)
            ):
                if rows:
                    yield read_apart(parquet_block, whole.name, group, size=size), first
                first += rows
                self.progress.step(first - 1)

    def _keep(self, part: BenchLog) -> None:
        if self.run is None:
            self.run = self._begin(part)
            self.begin_s = float(part.time_s[0])
        time_s = part.time_s
        if self.mapping is not None:
            # A stranger's clock runs from anywhere.
            time_s = np.round(time_s - self.begin_s, 9)
        self.last_s = float(time_s[-1])
        self.outlines.append(outline(time_s, part.channels, ROWS_PER_BUCKET))
        segment_of(self.run, self.segments, self.stored_rows, time_s, part.channels).save()
        self.segments += 1
        self.stored_rows += time_s.size

    def _begin(self, part: BenchLog) -> Run:
        asked = self.file.asked
        sample = Sample.objects.get(pk=asked["sample"])
        self.belongs = Belongs(
            sample,
            Propeller.objects.filter(pk=asked["propeller"]).first(),
            Supply.objects.filter(pk=asked["supply"]).first(),
        )
        run = run_of(
            part,
            operator=self.file.asked_by,
            sample=sample,
            propeller=self.belongs.propeller,
            supply=self.belongs.supply,
            stand=Stand.objects.filter(pk=asked["stand"]).first(),
            note=asked["note"],
        )
        with transaction.atomic(), acting(self.file.asked_by):
            run.save()
            self.file.run = run
            self.file.save()
        return run

    def _end(self, run: Run) -> Run:
        digest = self.digest.hexdigest()
        refuse_known(digest)
        if self.file.inbox is not None and self.file.inbox.digest != digest:
            raise ServiceError(f"{self.file.name} is not what it was.", code="changed")
        begin_s = 0.0 if self.mapping is not None else self.begin_s
        with transaction.atomic(), acting(self.file.asked_by):
            run.rate_hz = rate_of(self.stored_rows, begin_s, self.last_s)
            run.header = dict(self.rows.header)
            run.save()
            SourceFile.objects.create(
                run=run, name=self.file.name, digest=digest, gzip=b"", stored=self.file.stored
            )
            end_import(run, self.file.name)
            remember(self.rows.header, self.belongs)
            if self.mapping is not None and self.file.asked["save_as"].strip():
                keep_mapping(self.file.asked["save_as"].strip(), self.mapping, self.columns)
            self.file.state = "stored"
            self.file.save()
        # What would be made when somebody draws or accepts it, and takes seconds of a long run.
        if self.stored_rows > MOST_AT_ONCE:
            keep_outlines(run, self.outlines)
        return run
