"""Where a bench log is at fault: the slow, exact second look after the fast reader refused."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

from spindle_core.errors import LogFormatError
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN


def find_fault(body: str, names: list[str], first_line: int) -> LogFormatError:
    """The first fault of a log's rows, in reading order.

    :param body: the file from its header row on.
    :param names: the header's column names.
    :param first_line: line number of the header row in the whole file.
    """
    reader = csv.reader(io.StringIO(body))
    try:
        return _first_fault(reader, names, first_line)
    except csv.Error as error:
        # A field of megabytes, or a quote that never ends: the reader itself gives up.
        return LogFormatError(
            f"the row cannot be read ({error})",
            code="unreadable",
            line=first_line + max(0, reader.line_num - 1),
            column="1",
            expected="comma-separated numbers, no field longer than a number",
        )


def _first_fault(reader: Any, names: list[str], first_line: int) -> LogFormatError:
    previous = -math.inf
    next(reader, None)
    for row in reader:
        line = first_line + reader.line_num - 1
        if len(row) != len(names):
            return _row_length(row, names, line)
        for name, cell in zip(names, row, strict=True):
            if name != TIME_COLUMN and name not in CHANNELS:
                continue
            fault = _cell(name, cell, line)
            if fault is not None:
                return fault
        time = float(row[names.index(TIME_COLUMN)].strip())
        if time < previous:
            return LogFormatError(
                f"time goes backward from {previous:g} s to {time:g} s",
                code="time_backward",
                line=line,
                column=TIME_COLUMN,
                expected="times that do not decrease",
            )
        previous = time
    return LogFormatError(
        "the rows could not be read",
        code="unreadable",
        line=first_line,
        expected="comma-separated rows of numbers",
    )


def _row_length(row: list[str], names: list[str], line: int) -> LogFormatError:
    short = len(row) < len(names)
    column = names[len(row)] if short else str(len(names) + 1)
    what = f"the row has {len(row)} cells" if row else "the row is blank"
    return LogFormatError(
        what,
        code="short_row" if short else "long_row",
        line=line,
        column=column,
        expected=f"{len(names)} cells as in the header",
    )


def _shown(text: str) -> str:
    """A cell as it is quoted in a message: a megabyte of it helps nobody."""
    return repr(text if len(text) <= LONGEST_SHOWN else text[:LONGEST_SHOWN] + "…")


LONGEST_SHOWN = 40


def _cell(name: str, cell: str, line: int) -> LogFormatError | None:
    text = cell.strip()
    if not text:
        if name == TIME_COLUMN:
            return LogFormatError(
                "the time is missing",
                code="no_time_value",
                line=line,
                column=name,
                expected="a time in seconds",
            )
        return None
    try:
        value = float(text)
    except ValueError:
        return LogFormatError(
            f"{_shown(text)} is not a number",
            code="not_a_number",
            line=line,
            column=name,
            expected="a number with a decimal point, or an empty cell",
        )
    if not math.isfinite(value):
        return LogFormatError(
            f"{_shown(text)} is not a finite number",
            code="not_finite",
            line=line,
            column=name,
            expected="a finite number, or an empty cell where it is missing",
        )
    return None
