"""Bench logs and results as XLSX workbooks (openpyxl), for people who work in a spreadsheet.

A spreadsheet keeps 16 digits of a number; the few doubles that need 17 are also written as text
on a hidden sheet, so that a log that is read back is the log that was written.
"""

from __future__ import annotations

import io
import math
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import numpy as np
from openpyxl import Workbook, load_workbook
from openpyxl.styles import Font

from spindle_core.errors import LogFormatError
from spindle_core.figures.measured import Absent, Figure
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.bench_log import FORMAT, BenchLog, check_expanded
from spindle_core.formats.bench_log_json import rebuilt
from spindle_core.formats.outside import check_table_size, read_outside
from spindle_core.reduction.result import Reduction

MOST_ROWS = 1_048_575
"""Rows a sheet holds below its header."""

_BOLD = Font(bold=True)


def write_bench_log_xlsx(log: BenchLog) -> bytes:
    """Sheets ``run`` (keys and values), ``samples`` (one row per sample) and, hidden, ``exact``.

    :raises LogFormatError: more samples than a sheet has rows.
    """
    if log.time_s.size > MOST_ROWS:
        raise LogFormatError(
            f"the run has {log.time_s.size} samples",
            code="too_long",
            expected=f"at most {MOST_ROWS} for XLSX; take CSV or Parquet",
        )
    book = Workbook(write_only=True)
    run = book.create_sheet("run")
    run.append(["key", "value"])
    run.append(["format", FORMAT])
    for key, value in log.header.items():
        if key != "format":
            run.append([key, _text(value)])
    samples = book.create_sheet("samples")
    numbers = {TIME_COLUMN: log.time_s, **log.channels}
    samples.append([*numbers, *log.extra])
    columns: list[Iterable[Any]] = [
        [None if value != value else value for value in values.tolist()]
        for values in numbers.values()
    ]
    columns += [[_text(text) for text in texts] for texts in log.extra.values()]
    for row in zip(*columns, strict=True):
        samples.append(row)
    exact = book.create_sheet("exact")
    exact.sheet_state = "hidden"
    exact.append(["row", "column", "value"])
    for name, values in numbers.items():
        for index, value in enumerate(values.tolist()):
            if value == value and float(f"{value:.16g}") != value:
                exact.append([index, name, repr(value)])
    return _saved(book)


def read_bench_log_xlsx(data: bytes) -> BenchLog:
    """The log that :func:`write_bench_log_xlsx` wrote, or one typed into the same sheets.

    :raises LogFormatError: no workbook, no sheet of that name, or a cell that is no number.
    """
    with read_outside("XLSX workbook", "not_xlsx"):
        book = opened_workbook(data)
        sheets = {name: sheet_rows(book[name]) for name in _SHEETS if name in book.sheetnames}
    if "samples" not in sheets:
        raise LogFormatError(
            "there is no sheet 'samples'",
            code="unknown_format",
            column="samples",
            expected="sheets 'run' and 'samples'",
        )
    header: dict[str, str] = {}
    for row in sheets.get("run", [])[1:]:
        if row and row[0] not in (None, "", "format"):
            header[str(row[0])] = _untext(row[1] if len(row) > 1 else None)
    rows = sheets["samples"]
    names = [str(cell) for cell in rows[0] if cell is not None] if rows else []
    if TIME_COLUMN not in names:
        raise LogFormatError(
            "no header row with time_s",
            code="no_time",
            line=1,
            column=TIME_COLUMN,
            expected="a header row that names time_s",
        )
    numbers, extra = _columns(names, rows[1:])
    _take_exact(numbers, sheets.get("exact", [])[1:])
    return rebuilt(header, numbers.pop(TIME_COLUMN), numbers, extra)


_SHEETS = ("run", "samples", "exact")


def opened_workbook(data: bytes) -> Any:
    """A workbook to be read row by row; inside :func:`read_outside`.

    :raises LogFormatError: too large unpacked.
    """
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        check_expanded(sum(item.file_size for item in packed.infolist()))
    return load_workbook(io.BytesIO(data), read_only=True, data_only=True)


def sheet_rows(sheet: Any) -> list[tuple[Any, ...]]:
    """The rows of a sheet, counted while they come; inside :func:`read_outside`.

    :raises LogFormatError: more cells than are taken.
    """
    # Some programs write how large the sheet is and are wrong; its rows say it.
    sheet.reset_dimensions()
    rows: list[tuple[Any, ...]] = []
    cells = 0
    for row in sheet.iter_rows(values_only=True):
        cells += len(row)
        check_table_size(cells, 1)
        rows.append(row)
    width = max((len(row) for row in rows), default=0)
    check_table_size(len(rows), width)
    return [row + (None,) * (width - len(row)) for row in rows]


def _take_exact(numbers: Mapping[str, np.ndarray], rows: Sequence[Sequence[Any]]) -> None:
    """The doubles that a cell cannot hold, in place.

    :raises LogFormatError: a row that names no sample or no number.
    """
    for line, row in enumerate(rows, start=2):
        index, name, text = (*row, None, None, None)[:3]
        values = numbers.get(str(name))
        try:
            number = float(str(text))
        except ValueError:
            number = math.nan
        if (
            values is None
            or type(index) is not int
            or not 0 <= index < len(values)
            or not math.isfinite(number)
        ):
            raise LogFormatError(
                "a row names no sample or no number",
                code="bad_value",
                line=line,
                column="exact",
                expected="row, column and number as they were written",
            )
        values[index] = number


def _columns(
    names: Sequence[str], rows: Sequence[Sequence[Any]]
) -> tuple[dict[str, np.ndarray], dict[str, tuple[str, ...]]]:
    numbers: dict[str, np.ndarray] = {}
    extra: dict[str, tuple[str, ...]] = {}
    for position, name in enumerate(names):
        cells = [row[position] if position < len(row) else None for row in rows]
        if name != TIME_COLUMN and name not in CHANNELS:
            extra[name] = tuple(_untext(cell) for cell in cells)
            continue
        values = np.full(len(cells), np.nan)
        for index, cell in enumerate(cells):
            if cell is None or cell == "":
                continue
            if isinstance(cell, bool) or not isinstance(cell, int | float):
                raise LogFormatError(
                    f"{cell!r} is not a number",
                    code="not_a_number",
                    line=index + 2,
                    column=name,
                    expected="a number, or an empty cell where it is missing",
                )
            try:
                values[index] = float(cell)
            except OverflowError:
                values[index] = math.inf
        numbers[name] = values
    return numbers, extra


def _text(value: str) -> str:
    """Text as a cell: an apostrophe keeps '=…' from being a formula and '' from vanishing."""
    return "'" + value if value == "" or value[:1] in "='" else value


def _untext(cell: Any) -> str:
    text = "" if cell is None else str(cell)
    return text[1:] if text[:1] == "'" else text


def write_reduction_xlsx(reduction: Reduction, facts: Mapping[str, object] | None = None) -> bytes:
    """A result as a workbook: ``summary``, ``points`` and ``remarks``; absent cells say why.

    :param facts: what is known of the run, written above the summary.
    """
    book = Workbook()
    summary = book.active
    summary.title = "summary"
    for key, value in (facts or {}).items():
        summary.append([key, str(value)])
    summary.append(["figure", "value", "u (k = 1)", "n", "origin", "absent because"])
    for cell in summary[summary.max_row]:
        cell.font = _BOLD
    for name, figure in reduction.summary.items():
        summary.append(_figure_row(name, figure))
    _points_sheet(book.create_sheet("points"), reduction)
    remarks = book.create_sheet("remarks")
    remarks.append(["code", "remark"])
    for warning in reduction.warnings:
        remarks.append([warning.code, warning.message])
    for outlier in reduction.outliers:
        remarks.append(
            ["outlier", f"{outlier.channel} {outlier.value:g} at {outlier.time_s:.3f} s"]
        )
    summary.column_dimensions["A"].width = 34
    remarks.column_dimensions["B"].width = 90
    return _saved(book)


def _figure_row(name: str, figure: Figure) -> list[Any]:
    if isinstance(figure, Absent):
        return [name, None, None, None, None, figure.note or figure.reason]
    return [name, figure.value, figure.u, figure.n, str(figure.origin), None]


def _points_sheet(sheet: Any, reduction: Reduction) -> None:
    names = list(dict.fromkeys(name for point in reduction.points for name in point.figures))
    marks = list(dict.fromkeys(name for point in reduction.points for name in point.marks))
    heads = ["start_s", "used_from_s", "end_s", "settled", *marks]
    sheet.append([*heads, *(head for name in names for head in (name, f"u_{name}"))])
    for point in reduction.points:
        row: list[Any] = [point.start_s, point.used_from_s, point.end_s, point.settled]
        row += [point.marks.get(mark) for mark in marks]
        for name in names:
            figure = point.figures.get(name)
            known = figure is not None and not isinstance(figure, Absent)
            row += [figure.value, figure.u] if known else [None, None]  # type: ignore[union-attr]
        sheet.append([None if isinstance(v, float) and not math.isfinite(v) else v for v in row])
    for cell in sheet[1]:
        cell.font = _BOLD
    sheet.freeze_panes = "A2"


def _saved(book: Workbook) -> bytes:
    sink = io.BytesIO()
    book.save(sink)
    return sink.getvalue()
