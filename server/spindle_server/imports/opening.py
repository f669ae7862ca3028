"""A file looked at before anything of it is stored: what its columns were taken for, how sure, what
they would give, and the runs in it."""

from __future__ import annotations

import hashlib
import json
import logging
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from pathlib import PurePath
from typing import Any

import numpy as np

from spindle_core.errors import CoreError, LogFormatError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Measured
from spindle_core.formats.apart import reduce_log
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.foreign.dialect import Sheet, read_sheet
from spindle_core.formats.foreign.mapping import LogMapping, mapping_from_json, mapping_to_json
from spindle_core.formats.foreign.proposal import (
    column_values,
    preamble_facts,
    previews,
    propose,
    sample_values,
    to_ask,
)
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.foreign.tables import as_text_table
from spindle_core.formats.large_log import parquet_shape
from spindle_core.formats.log_files import read_log
from spindle_core.reduction import KINDS
from spindle_server.errors import ServiceError
from spindle_server.imports.models import KnownMapping
from spindle_server.imports.names import Belongs, belongs_to
from spindle_server.reading import TOOK_TOO_MUCH, read_apart
from spindle_server.runs.models import SourceFile
from spindle_server.runs.services import LARGEST_FILE_BYTES, refuse_too_large

MOST_RUNS = 200
TRACE_POINTS = 48

LARGEST_LOG_BYTES = 4_000_000_000
"""What is read in parts."""

logger = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class OpenedColumn:
    """A column: what it was taken for, why, what is asked, what it holds and would give.

    ``channel`` '' where it is carried through as text; ``names`` what it says of whole runs.
    ``trace``: its numbers thinned, None where missing.
    """

    name: str
    channel: str = ""
    unit: str = ""
    negate: bool = False
    certainty: float | None = None
    why: str = ""
    ask: str = ""
    names: str = ""
    low: float | None = None
    high: float | None = None
    samples: Sequence[str] = ()
    trace: Sequence[float | None] = ()
    others: Sequence[tuple[str, str]] = ()


@dataclass(frozen=True, slots=True)
class OpenedRun:
    """A run in the file, with whose it seems to be; ``problem`` says why it has no figures."""

    log: BenchLog
    belongs: Belongs
    points: int | None = None
    best: Mapping[str, float] = field(default_factory=dict)
    warnings: Sequence[str] = ()
    problem: str = ""
    needs_propeller: bool = True
    rows: int | None = None
    """How many there are where not all of them were looked at; about, in a text."""

    @property
    def row_count(self) -> int:
        """How many rows, as far as that is known."""
        return self.log.time_s.size if self.rows is None else self.rows


@dataclass(frozen=True, slots=True)
class Opened:
    """A file that was looked at. ``bench_log``: it says by itself what it holds.

    ``known_as``: the saved mapping that recognised it. ``stored_as``: the run it already is.
    """

    file_name: str
    bench_log: bool
    known_as: str
    stored_as: int | None
    mapping: dict[str, Any] | None
    columns: Sequence[OpenedColumn]
    preamble: Sequence[str]
    runs: Sequence[OpenedRun]
    problem: str = ""
    large: bool = False
    """Whether only its beginning or its end was looked at."""

    @property
    def asks(self) -> int:
        """How many columns somebody has to look at."""
        return sum(bool(column.ask) for column in self.columns)


def open_file(*, name: str, data: bytes, mapping: Mapping[str, Any] | None = None) -> Opened:
    """What a file holds; nothing is stored.

    :param mapping: as somebody has corrected it; else a known one, else a proposal.
    :raises ServiceError: too large, or not understood. :raises CoreError: no table of any kind.
    """
    refuse_too_large(name, data)
    with understanding(name):
        return _opened(name, data, mapping, _run)


def open_large(
    *, name: str, size: int, part: bytes, mapping: Mapping[str, Any] | None = None
) -> Opened:
    """What a file of ``size`` bytes holds, by a part of it: its beginning, of Parquet its end.

    :raises ServiceError: too large, a form that is not read in parts, or not understood.
    :raises CoreError: no table of any kind.
    """
    refuse_unread(name, size)
    if not part:
        raise ServiceError(f"No part of {name} was sent.", code="no_part")
    with understanding(name):
        if is_parquet(name):
            shape = read_apart(parquet_shape, size, part)
            run = replace(_looked_at(shape.log), rows=sum(shape.group_rows))
            found = Opened(name, True, "", None, None, _channels(shape.log), (), [run])
        else:
            cut = part[: part.rfind(b"\n") + 1] or part
            found = _opened(name, cut, mapping, _looked_at)
            times = size / len(cut)
            runs = [replace(run, rows=_about(run.log.time_s.size * times)) for run in found.runs]
            problem = found.problem
            if len(runs) > 1:
                problem = f"{len(runs)} runs are in its beginning; a large file is one run."
            found = replace(found, stored_as=None, runs=runs[:1], problem=problem)
    return replace(found, large=True)


def refuse_unread(name: str, size: int) -> None:
    """Refuse a file that is not read in parts.

    :raises ServiceError: too large, or of a form that only makes sense whole.
    """
    if size > LARGEST_LOG_BYTES:
        raise ServiceError(
            f"{name} has {size / 1e9:.1f} GB; a log may have {LARGEST_LOG_BYTES / 1e9:g} GB.",
            code="too_large",
        )
    if PurePath(name).suffix.lower() in (".xlsx", ".json"):
        raise ServiceError(
            f"{name} has {size / 1e6:.0f} MB; a workbook or a JSON file may have "
            f"{LARGEST_FILE_BYTES / 1e6:.0f} MB. Save it as CSV or Parquet.",
            code="too_large",
        )


def is_parquet(name: str) -> bool:
    """Whether a file's name says that it is Parquet."""
    return PurePath(name).suffix.lower() == ".parquet"


def _about(rows: float) -> int:
    """A guess in two digits."""
    return int(float(f"{rows:.1e}"))


@contextmanager
def understanding(name: str) -> Iterator[None]:
    """Whatever a file or its mapping stumbles over ends in a sentence; the log has its trace."""
    try:
        yield
    except CoreError:
        raise
    except Exception as problem:
        logger.exception("%s could not be read", name)
        raise ServiceError(
            f"{name} was not understood ({type(problem).__name__}); nothing was stored. Please "
            "report it with the file.",
            code="not_understood",
        ) from problem


def _opened(
    name: str, data: bytes, given: Mapping[str, Any] | None, look: Callable[[BenchLog], OpenedRun]
) -> Opened:
    stored = SourceFile.objects.filter(digest=hashlib.sha256(data).hexdigest()).first()
    stored_as = stored.run_id if stored else None
    if given is None:
        log = as_bench_log(name, data)
        if log is not None:
            runs = [look(log)]
            return Opened(name, True, "", stored_as, None, _channels(log), (), runs)
    text = read_apart(as_text_table, name, data)
    sheet = read_apart(read_sheet, text)
    known = None
    if given is not None:
        mapping = mapping_from_json(json.dumps(given))
    else:
        known = known_for(sheet)
        mapping = propose(sheet) if known is None else mapping_from_json(json.dumps(known.mapping))
    facts = preamble_facts(sheet.preamble)
    runs, problem = _runs(text, mapping, facts, look)
    return Opened(
        name,
        False,
        known.name if known else "",
        stored_as,
        json.loads(mapping_to_json(mapping)),
        _columns(sheet, mapping),
        sheet.preamble[:12],
        runs,
        problem,
    )


def as_bench_log(name: str, data: bytes) -> BenchLog | None:
    """The file as a bench log; None where it is somebody else's. A bench log at fault is refused,
    not taken for a stranger's.

    :raises LogFormatError: a bench log with a fault.
    """
    try:
        found: BenchLog = read_apart(read_log, name, data)
        return found
    except LogFormatError as error:
        own = b"bench-log" in data[:4096] or b"time_s" in data[:4096]
        if own or error.code in TOOK_TOO_MUCH:
            raise
        return None


def known_for(sheet: Sheet) -> KnownMapping | None:
    """The saved mapping of files with these columns; the newest where there are several."""
    return KnownMapping.objects.filter(fingerprint=fingerprint(sheet.names)).order_by("-pk").first()


def fingerprint(names: Sequence[str]) -> str:
    """Of the names of a file's columns, in any order."""
    return hashlib.sha256("\n".join(sorted(names)).encode()).hexdigest()


def foreign_logs(
    name: str, data: bytes, mapping: LogMapping
) -> tuple[list[BenchLog], tuple[str, ...]]:
    """The runs in somebody's file, with what its preamble says of them, and its columns' names.

    :raises CoreError: the file does not fit the mapping.
    """
    with understanding(name):
        text = read_apart(as_text_table, name, data)
        sheet = read_apart(read_sheet, text, mapping.dialect)
        logs = with_facts(read_apart(read_foreign, text, mapping), preamble_facts(sheet.preamble))
    return logs, sheet.names


def with_facts(logs: Sequence[BenchLog], facts: Mapping[str, str]) -> list[BenchLog]:
    own = {("supply_name" if key == "supply" else key): words for key, words in facts.items()}
    return [replace(log, header={**own, **log.header}) for log in logs]


def _runs(
    text: bytes,
    mapping: LogMapping,
    facts: Mapping[str, str],
    look: Callable[[BenchLog], OpenedRun],
) -> tuple[list[OpenedRun], str]:
    try:
        logs = with_facts(read_apart(read_foreign, text, mapping), facts)
    except CoreError as error:
        return [], error.message
    problem = ""
    if len(logs) > MOST_RUNS:
        problem = f"{len(logs)} runs were found; at most {MOST_RUNS} are taken from one file."
    return [look(log) for log in logs[:MOST_RUNS]], problem


def _looked_at(log: BenchLog) -> OpenedRun:
    """A run of which only a part was read: no figures."""
    return OpenedRun(log, belongs_to(log.header), needs_propeller=KINDS[log.kind].needs_propeller)


def _run(log: BenchLog) -> OpenedRun:
    belongs = belongs_to(log.header)
    needs = KINDS[log.kind].needs_propeller
    try:
        reduction = read_apart(reduce_log, log)
    except CoreError as error:
        return OpenedRun(log, belongs, problem=error.message, needs_propeller=needs)
    best = {
        name: figure.value
        for name in KINDS[log.kind].headline
        if isinstance(figure := reduction.summary.get(name), Measured)
    }
    return OpenedRun(
        log,
        belongs,
        len(reduction.points),
        best,
        [warning.message for warning in reduction.warnings],
        needs_propeller=needs,
    )


def _columns(sheet: Sheet, mapping: LogMapping) -> list[OpenedColumn]:
    shown = previews(sheet, mapping)
    asked = to_ask(mapping, shown)
    ranges = {preview.column: preview for preview in shown}
    found = []
    for position, name in enumerate(sheet.names):
        values = column_values(sheet, position)
        own: dict[str, Any] = {"samples": sample_values(sheet, position), "trace": thinned(values)}
        column = mapping.columns.get(name)
        if column is not None:
            own |= {
                "channel": column.channel,
                "unit": column.unit,
                "negate": column.negate,
                "certainty": column.certainty,
                "why": column.why,
                "ask": asked.get(name, ""),
                "low": ranges[name].low,
                "high": ranges[name].high,
                "others": column.alternatives,
            }
        found.append(OpenedColumn(name, names=mapping.names.get(name, ""), **own))
    return found


def _channels(log: BenchLog) -> list[OpenedColumn]:
    found = [OpenedColumn(name) for name in log.extra]
    for name, values in log.channels.items():
        finite = values[np.isfinite(values)]
        low, high = (float(finite.min()), float(finite.max())) if finite.size else (None, None)
        found.append(
            OpenedColumn(
                name, channel=name, certainty=1.0, low=low, high=high, trace=thinned(values)
            )
        )
    return found


def thinned(values: Floats) -> list[float | None]:
    """A column for a small picture: at most so many means; None where nothing is there."""
    if values.size == 0:
        return []
    parts = np.array_split(values, min(TRACE_POINTS, values.size))
    means = [
        float(part[np.isfinite(part)].mean()) if np.isfinite(part).any() else None for part in parts
    ]
    return [] if all(mean is None for mean in means) else means
