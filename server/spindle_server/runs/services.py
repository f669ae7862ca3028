"""Importing logs and reviewing runs."""

from __future__ import annotations

import gzip
import hashlib
import logging
from collections.abc import Mapping
from pathlib import PurePath
from typing import Any

from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_core.figures.arrays import Floats
from spindle_core.formats.apart import reduce_log
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.log_files import read_log
from spindle_core.formats.trace_parquet import encode_segment
from spindle_core.reduction import KINDS
from spindle_core.run.noticed import check_noticed
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.models import Sample
from spindle_server.reading import read_apart
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.runs.models import Reduction, Run, RunEnd, SourceFile, TraceSegment
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.signals import evidence_changed

LARGEST_FILE_BYTES = 30_000_000
"""What is read in the request that brings it; a larger log comes in parts and is long work."""

ROWS_PER_SEGMENT = 16_384
BYTES_AT_ONCE = 8_000_000
"""Segments that are written by one statement; with the last of them it stays well below what the
database takes at once (64 MB of text, two letters a byte)."""
AIR = ("air_temp_c", "air_pressure_hpa", "air_humidity_pct")

logger = logging.getLogger(__name__)


def understand_log(*, name: str, data: bytes) -> tuple[BenchLog, Any]:
    """Read and reduce an uploaded log without storing anything; its ending says its format.

    :raises ServiceError: too large. :raises CoreError: the file or its trace is at fault.
    """
    refuse_too_large(name, data)
    try:
        log = read_apart(read_log, name, data)
        return log, read_apart(reduce_log, log)
    except CoreError:
        raise
    except Exception as problem:
        logger.exception("%s could not be understood", name)
        raise ServiceError(
            f"{name} was not understood ({type(problem).__name__}); nothing was stored. Please "
            "report it with the file.",
            code="not_understood",
        ) from problem


@writes(Role.REVIEWER)
def import_log(
    *,
    actor: User,
    name: str,
    data: bytes,
    sample: Sample,
    propeller: Propeller | None = None,
    supply: Supply | None = None,
    stand: Stand | None = None,
    note: str = "",
) -> Run:
    """Store a bench log as a run; the same file twice is refused and names the first run."""
    log, _ = understand_log(name=name, data=data)
    digest = hashlib.sha256(data).hexdigest()
    refuse_known(digest)
    return store_log(
        operator=actor,
        log=log,
        name=name,
        source=(data, digest),
        sample=sample,
        propeller=propeller,
        supply=supply,
        stand=stand,
        note=note,
    )


def store_log(
    *,
    operator: User | None,
    log: BenchLog,
    name: str,
    source: tuple[bytes, str] | None,
    sample: Sample,
    propeller: Propeller | None,
    supply: Supply | None,
    stand: Stand | None,
    note: str,
    extra_header: Mapping[str, str] | None = None,
    where: str = "propeller",
) -> Run:
    """A log that was read as a run; part of a write.

    :param source: the file and its digest; None where another run of the file keeps it.
    :param where: the field that a missing propeller is said beside.
    :raises ServiceError: its kind needs a propeller, and none is named.
    """
    run = run_of(
        log,
        operator=operator,
        sample=sample,
        propeller=propeller,
        supply=supply,
        stand=stand,
        note=note,
        where=where,
    )
    run.header |= extra_header or {}
    run.save()
    store_segments(run, log)
    if source is not None:
        keep_source(run, name, *source)
    end_import(run, name)
    return run


def run_of(
    log: BenchLog,
    *,
    operator: User | None,
    sample: Sample,
    propeller: Propeller | None,
    supply: Supply | None,
    stand: Stand | None,
    note: str,
    where: str = "propeller",
) -> Run:
    """A log as a run that is not stored yet.

    :raises ServiceError: its kind needs a propeller, and none is named.
    """
    if propeller is None and KINDS[log.kind].needs_propeller:
        message = f"A {log.kind} run turns a propeller; say which."
        raise ServiceError(message, code="no_propeller", fields={where: [message]})
    nominal = log.number("nominal_voltage_v")
    if nominal is None and supply is not None:
        nominal = supply.nominal_voltage_v
    rate = rate_of(log.time_s.size, float(log.time_s[0]), float(log.time_s[-1]))
    return Run(
        kind=log.kind,
        origin="import",
        sample=sample,
        propeller=propeller,
        supply=supply,
        stand=stand,
        nominal_voltage_v=nominal,
        **{name: log.number(name) for name in AIR},
        # Points have an order and no time, so no rate either.
        rate_hz=None if log.kind == "readings" else rate,
        channels=list(log.channels),
        header=dict(log.header),
        note=note,
        operator=operator,
        started_at=timezone.now(),
    )


def rate_of(rows: int, begin_s: float, end_s: float) -> float:
    """Samples a second [Hz] between the first and the last."""
    return (rows - 1) / ((end_s - begin_s) or 1.0)


def end_import(run: Run, name: str) -> None:
    """All of it is there: its end, and its figures."""
    RunEnd.objects.create(
        run=run,
        outcome="completed",
        code="imported",
        reason=f"Imported from {PurePath(name).name}."[:300],
    )
    reduce_run(run)


def refuse_known(digest: str) -> None:
    """Refuse a file that was imported already.

    :raises ConflictError: with the run it became.
    """
    earlier = SourceFile.objects.filter(digest=digest).first()
    if earlier is not None:
        raise ConflictError(
            f"This file was imported already, as run {earlier.run_id}.", code="imported_already"
        )


def refuse_too_large(name: str, data: bytes) -> None:
    """Refuse a file beyond the limit.

    :raises ServiceError: with both sizes.
    """
    if len(data) > LARGEST_FILE_BYTES:
        raise ServiceError(
            f"{name} has {len(data) / 1e6:.0f} MB; what is sent at once may have "
            f"{LARGEST_FILE_BYTES / 1e6:.0f} MB. A larger log comes in parts.",
            code="too_large",
        )


def keep_source(run: Run, name: str, data: bytes, digest: str) -> None:
    """Keep what a run came from, byte for byte."""
    SourceFile.objects.create(
        run=run, name=PurePath(name).name[:200], digest=digest, gzip=gzip.compress(data, mtime=0)
    )


def store_segments(run: Run, log: BenchLog) -> None:
    """Keep the samples of a log, once and for ever."""
    segments: list[TraceSegment] = []
    for index, first in enumerate(range(0, log.time_s.size, ROWS_PER_SEGMENT)):
        part = slice(first, first + ROWS_PER_SEGMENT)
        channels = {name: values[part] for name, values in log.channels.items()}
        segments.append(segment_of(run, index, first, log.time_s[part], channels))
        if sum(len(one.parquet) for one in segments) >= BYTES_AT_ONCE:
            TraceSegment.objects.bulk_create(segments)
            segments = []
    TraceSegment.objects.bulk_create(segments)


def segment_of(
    run: Run, index: int, first_row: int, time_s: Floats, channels: Mapping[str, Floats]
) -> TraceSegment:
    """Some rows of a run as a segment that is not stored yet."""
    parquet = encode_segment(time_s, channels)
    return TraceSegment(
        run=run,
        index=index,
        first_row=first_row,
        row_count=time_s.size,
        begin_s=float(time_s[0]),
        end_s=float(time_s[-1]),
        parquet=parquet,
        digest=hashlib.sha256(parquet).hexdigest(),
    )


@writes(Role.REVIEWER)
def review_run(*, actor: User, run: Run, review: str, reason: str = "", base: int | None) -> Run:
    """Accept or reject a run, or take that back, from version ``base``; a rejection
    needs its reason."""
    if review == "rejected" and not reason.strip():
        message = "Say why the run is rejected."
        raise ServiceError(message, code="reason_needed", fields={"review_reason": [message]})
    row = locked(Run, run.pk)
    write_fields(row, {"review": review, "review_reason": reason.strip()}, base=base)
    evidence_changed.send(Run, run=row, reduced=False)
    return row


@writes(Role.REVIEWER)
def rereduce(*, actor: User | None, run: Run) -> Reduction:
    """Rebuild the figures of a run; where that cannot be done, the reason stands in their place."""
    return reduce_run(run)


@writes(Role.REVIEWER)
def note_noticed(
    *, actor: User, run: Run, noticed: dict[str, Any], note: str, base: int | None
) -> Run:
    """What was noticed of a run that is no figure, and its note, from version ``base``.

    :raises ServiceError: a key or a value that the core does not know, named.
    """
    try:
        checked = check_noticed(noticed)
    except CoreError as error:
        raise ServiceError(
            error.message, code="noticed", fields={f"noticed.{error.code}": [error.message]}
        ) from error
    row = locked(Run, run.pk)
    write_fields(row, {"noticed": checked, "note": note}, base=base)
    return row
