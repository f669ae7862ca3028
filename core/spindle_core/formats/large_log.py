"""Logs that are too large to be held: read block by block, put together row by row.

A text log is cut at line ends (:func:`line_blocks`); each block is read behind the file's own head,
strictly, by the reader that reads small files, so that nothing is understood in another way only
because a file is large. :class:`OneRun` checks that the blocks go together and cuts them into parts
of a fixed number of rows. A large Parquet file is read row group by row group.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import numpy as np
import pyarrow.parquet as pq

from spindle_core.errors import LogFormatError
from spindle_core.figures.arrays import Floats
from spindle_core.formats.bench_log import BenchLog, head_lines, read_bench_log
from spindle_core.formats.bench_log_parquet import log_of_table, parquet_head
from spindle_core.formats.foreign.dialect import decode, find_dialect
from spindle_core.formats.foreign.mapping import LogMapping
from spindle_core.formats.foreign.reader import foreign_rows
from spindle_core.formats.outside import check_table_size, read_outside

_LINE_FEED: Final = re.compile(rb"\n")
_LINE_END: Final = re.compile(rb"\r\n|\n|\r")
"""Of strangers' files; in a bench log a carriage return alone ends no line."""

BLOCK_BYTES: Final = 8_000_000
HEAD_BYTES: Final = 1_000_000
"""So much of the beginning tells what a file is; a head that is longer is none."""

LINES_OF_A_CELL: Final = 100
"""A quoted cell of more lines than this is none."""

GROUP_BYTES: Final = 400_000_000
"""A row group of a Parquet file that unpacks to more than this is not read."""


@dataclass(frozen=True, slots=True)
class LogHead:
    """What stands before the rows: its bytes with their line end, and how many lines that is."""

    text: bytes
    lines: int


def log_head(start: bytes, mapping: LogMapping | None) -> LogHead:
    """The head of a text log, found in the beginning of the file.

    :param mapping: None for a bench log.
    :raises LogFormatError: no head is in it, or the text is of two bytes a letter.
    """
    if start[:2] in (b"\xff\xfe", b"\xfe\xff"):
        raise LogFormatError(
            "a large file in UTF-16 is not read", code="utf16", line=1, expected="UTF-8"
        )
    whole = start[: start.rfind(b"\n") + 1]
    ends = _LINE_END if mapping is not None else _LINE_FEED
    if mapping is None:
        lines = head_lines(whole)
    else:
        text, encoding = decode(whole)
        dialect = mapping.dialect or find_dialect(text.splitlines(), encoding)
        lines = dialect.header_line + int(dialect.units_line)
    end = 0
    for _ in range(lines):
        found = ends.search(whole, end)
        end = found.end() if found else 0
        if end == 0:
            raise LogFormatError(
                f"the first {HEAD_BYTES / 1e6:g} MB hold no line {lines}",
                code="no_header",
                line=lines,
                expected="a header row near the beginning",
            )
    return LogHead(whole[:end], lines)


def line_blocks(
    pieces: Iterable[bytes], head: LogHead, most: int = BLOCK_BYTES
) -> Iterator[tuple[bytes, int]]:
    """The rows behind the head in blocks that end with a line, each with the number of its first
    line in the file.

    A line end inside a quoted cell ends no block. Line ends at the very end are left out.

    :param pieces: the bytes of the file, in pieces of any size.
    :raises LogFormatError: a line that is longer than a block.
    """
    held, line, skip = b"", head.lines + 1, len(head.text)
    for piece in pieces:
        if skip:
            skipped = min(skip, len(piece))
            piece, skip = piece[skipped:], skip - skipped
        held += piece
        while len(held) >= most:
            end = _line_end(held, most)
            if end == 0:
                raise LogFormatError(
                    f"the row has more than {most / 1e6:g} MB",
                    code="long_line",
                    line=line,
                    expected="rows that end in a line feed",
                )
            yield held[:end], line
            line += _lines_in(held[:end])
            held = held[end:]
    rest = held.rstrip(b"\r\n")
    if rest:
        yield rest + b"\n", line


def _lines_in(block: bytes) -> int:
    """Line ends of every kind; the two bytes of one kind are one."""
    if b"\r" not in block:
        return block.count(b"\n")
    return block.count(b"\n") + block.count(b"\r") - block.count(b"\r\n")


def _line_end(held: bytes, most: int) -> int:
    """Where the last whole row of the first ``most`` bytes ends; 0 where none does."""
    last = end = held.rfind(b"\n", 0, most) + 1
    open_quotes = held.count(b'"', 0, end) % 2
    for _ in range(LINES_OF_A_CELL):
        if not (end and open_quotes):
            return end
        before = held.rfind(b"\n", 0, end - 1) + 1
        open_quotes ^= held.count(b'"', before, end) % 2
        end = before
    # A quote that stands alone quotes nothing; who reads the rows says what is wrong with it.
    return last


def log_block(head: LogHead, block: bytes, first_line: int, mapping: LogMapping | None) -> BenchLog:
    """The rows of one block; times as they stand in the file.

    :param first_line: the number of the block's first line in the file.
    :raises LogFormatError: what the reader of small files raises, with the line in the file.
    """
    data = head.text + block
    try:
        log = read_bench_log(data) if mapping is None else foreign_rows(data, mapping)
    except LogFormatError as error:
        if error.line is not None and error.line > head.lines:
            error.line += first_line - head.lines - 1
        raise
    if log.kind == "readings":
        raise LogFormatError(
            "readings are points, and a file of them is small",
            code="large_readings",
            expected="a log of samples over time",
        )
    # Carried-through text stays in the file itself.
    return replace(log, extra={})


class OneRun:
    """The one run of a large file: blocks come in, parts of a fixed number of rows go out."""

    def __init__(self, rows_per_part: int) -> None:
        self.rows_per_part = rows_per_part
        self.header: dict[str, str] = {}
        self.channels: tuple[str, ...] = ()
        self.rows = 0
        self._held: list[BenchLog] = []
        self._held_rows = 0
        self._last_s = -np.inf

    def take(self, log: BenchLog, first_line: int) -> Iterator[BenchLog]:
        """Take a block, and give the parts that are full.

        :raises LogFormatError: it begins before the block ahead of it ended, or is another run.
        """
        if not self.channels:
            self.header, self.channels = dict(log.header), tuple(log.channels)
        elif tuple(log.channels) != self.channels:
            raise LogFormatError(
                "the columns change", code="columns_change", line=first_line, expected="one table"
            )
        self._refuse_another(log, first_line)
        if log.time_s.size == 0:
            return
        self._refuse_endless(log, first_line)
        if float(log.time_s[0]) < self._last_s:
            raise LogFormatError(
                f"time goes backward from {self._last_s:g} s to {log.time_s[0]:g} s",
                code="time_backward",
                line=first_line,
                column="time_s",
                expected="times that do not decrease",
            )
        self._last_s = float(log.time_s[-1])
        self.rows += log.time_s.size
        self._held.append(log)
        self._held_rows += log.time_s.size
        while self._held_rows >= self.rows_per_part:
            yield self._cut(self.rows_per_part)

    def rest(self) -> BenchLog | None:
        """What is left when all blocks were taken; None where nothing is."""
        return self._cut(self._held_rows) if self._held_rows else None

    def _refuse_another(self, log: BenchLog, first_line: int) -> None:
        """A cell that is empty repeats the one above it; another name is another run."""
        for key, word in log.header.items():
            if word and self.header.setdefault(key, word) != word:
                raise LogFormatError(
                    f"here it is {key} {word!r}, before it was {self.header[key]!r}",
                    code="another_run",
                    line=first_line,
                    expected="one run in a large file",
                )

    def _refuse_endless(self, log: BenchLog, first_line: int) -> None:
        """No sample is infinite; one that is missing is nan."""
        for name, values in (("time_s", log.time_s), *log.channels.items()):
            endless = np.flatnonzero(np.isinf(values))
            if endless.size:
                raise LogFormatError(
                    "the number is too large",
                    code="not_a_number",
                    line=first_line + int(endless[0]),
                    column=name,
                    expected="a finite number",
                )

    def _cut(self, rows: int) -> BenchLog:
        joined = np.concatenate([log.time_s for log in self._held])
        channels = {
            name: np.concatenate([log.channels[name] for log in self._held])
            for name in self.channels
        }
        left = joined.size - rows
        self._held = [BenchLog({}, joined[rows:], _from(channels, rows))] if left else []
        self._held_rows = left
        return BenchLog(
            self.header, joined[:rows], {name: values[:rows] for name, values in channels.items()}
        )


def _from(channels: dict[str, Floats], first: int) -> dict[str, Floats]:
    return {name: values[first:] for name, values in channels.items()}


@dataclass(frozen=True, slots=True)
class ParquetShape:
    """What the end of a bench log in Parquet tells: its preamble and channels without a row, how
    many rows each of its row groups has and what it unpacks to [bytes]."""

    log: BenchLog
    group_rows: tuple[int, ...]
    group_bytes: tuple[int, ...]


class _Tail(io.RawIOBase):
    """A file of which only the end is here; the rest reads as zeros."""

    def __init__(self, size: int, tail: bytes) -> None:
        self.size, self.tail, self.at = size, tail, 0

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def tell(self) -> int:
        return self.at

    def seek(self, offset: int, whence: int = 0) -> int:
        self.at = offset + {0: 0, 1: self.at, 2: self.size}[whence]
        return self.at

    def read(self, count: int = -1) -> bytes:
        count = self.size - self.at if count is None or count < 0 else count
        begin = self.size - len(self.tail)
        count = max(0, min(count, self.size - self.at))
        zeros = max(0, min(begin - self.at, count))
        if zeros > len(self.tail) + HEAD_BYTES:
            raise OSError("only the end of the file is here")
        start = max(0, self.at - begin)
        found = bytes(zeros) + self.tail[start : start + count - zeros]
        self.at += len(found)
        return found


def parquet_shape(size: int, tail: bytes) -> ParquetShape:
    """What a Parquet file of ``size`` bytes is, by its end.

    :raises LogFormatError: no Parquet, no bench log, or row groups that are too large to be read.
    """
    with read_outside("Parquet file", "not_parquet"):
        file = pq.ParquetFile(_Tail(size, tail))
        parts = [file.metadata.row_group(at) for at in range(file.metadata.num_row_groups)]
        rows = tuple(int(part.num_rows) for part in parts)
        sizes = tuple(int(part.total_byte_size) for part in parts)
        schema = file.schema_arrow
    if any(one > GROUP_BYTES for one in sizes):
        raise LogFormatError(
            f"a row group unpacks to {max(sizes) / 1e6:.0f} MB",
            code="too_large",
            expected="row groups of at most a million rows",
        )
    for one in rows:
        check_table_size(one, len(schema))
    header, channels = parquet_head(schema)
    nothing = np.empty(0)
    return ParquetShape(BenchLog(header, nothing, dict.fromkeys(channels, nothing)), rows, sizes)


def parquet_block(path: str, group: int) -> BenchLog:
    """The rows of one row group of a bench log in Parquet.

    :raises LogFormatError: it is damaged.
    """
    with read_outside("Parquet file", "not_parquet"), Path(path).open("rb") as stream:
        file = pq.ParquetFile(stream)
        part = file.metadata.row_group(group)
        check_table_size(part.num_rows, part.num_columns)
        table = file.read_row_group(group)
        table.validate(full=True)
    return replace(log_of_table(table), extra={})
