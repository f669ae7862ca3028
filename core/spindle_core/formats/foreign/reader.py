"""Applying a mapping: a stranger's file becomes one bench log per run in it."""

from __future__ import annotations

import re
from collections.abc import Mapping

import numpy as np

from spindle_core.errors import LogFormatError, MappingError
from spindle_core.figures.arrays import Floats, Ints
from spindle_core.figures.quantities import TIME_COLUMN
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.foreign.dialect import Sheet, number_in_cell, read_sheet
from spindle_core.formats.foreign.mapping import LogMapping, taken_together
from spindle_core.formats.foreign.split import run_spans
from spindle_core.formats.foreign.units import converted, unit_named


def read_foreign(data: bytes, mapping: LogMapping) -> list[BenchLog]:
    """The runs of a file, in the bench log's channels and units.

    Columns that are not mapped are carried through as text. Rows whose time is missing are an
    error; time starts at 0 in each run.

    :raises LogFormatError: a cell that is no number, or time that goes backward: line and column.
    :raises MappingError: a mapped column that the file does not have.
    """
    sheet = read_sheet(data, mapping.dialect)
    positions, channels = _channels(sheet, mapping)
    time = channels.pop(TIME_COLUMN, None)
    if time is None:
        # A table of points: its rows have an order, and no time.
        time = np.arange(float(len(sheet.rows)))
    else:
        _check_time(sheet, time, mapping)
    extra = {
        name: tuple(row[i] if i < len(row) else "" for row in sheet.rows)
        for name, i in positions.items()
        if name not in mapping.columns and name not in mapping.names
    }
    header = _header(mapping)
    logs = []
    for own, rows in _by_name(sheet, mapping, positions):
        spans = [(0, rows.size)]
        if header.get("kind") != "readings":
            spans = run_spans(
                time[rows], {n: v[rows] for n, v in channels.items()}, idle_s=mapping.idle_s
            )
        for start, stop in spans:
            part = rows[start:stop]
            logs.append(
                BenchLog(
                    {**header, **own},
                    np.round(time[part] - time[part[0]], 9),
                    {name: values[part] for name, values in channels.items()},
                    {_safe(name): tuple(texts[i] for i in part) for name, texts in extra.items()},
                )
            )
    return logs


def foreign_rows(data: bytes, mapping: LogMapping) -> BenchLog:
    """The rows of a part of a file, as one log with times as they stand there.

    Blank lines are passed over; a part of nothing else has no rows.

    :raises LogFormatError: as :func:`read_foreign`, or the part names more than one run, or has no
        time. :raises MappingError: a mapped column that the file does not have.
    """
    sheet = read_sheet(data, mapping.dialect)
    positions, channels = _channels(sheet, mapping)
    time = channels.pop(TIME_COLUMN, None)
    if time is None:
        raise LogFormatError(
            "no column is the time",
            code="no_time",
            line=sheet.first_row_line,
            expected="rows of numbers with their time",
        )
    _check_time(sheet, time, mapping)
    said: dict[str, str] = {}
    for own, rows in _by_name(sheet, mapping, positions):
        # A part may begin below the cell that names the run.
        if any(said.setdefault(key, word) != word for key, word in own.items()):
            raise LogFormatError(
                "another motor, propeller or supply is named from here on",
                code="another_run",
                line=sheet.first_row_line + int(rows[0]),
                expected="one run in a large file",
            )
    return BenchLog({**_header(mapping), **said}, time, channels)


def _header(mapping: LogMapping) -> dict[str, str]:
    header = dict(mapping.header)
    if mapping.pole_count:
        header.setdefault("pole_count", str(mapping.pole_count))
    return header


def _channels(sheet: Sheet, mapping: LogMapping) -> tuple[dict[str, int], dict[str, Floats]]:
    """Where each column stands, and the mapped ones in the bench log's units."""
    positions = {name: i for i, name in enumerate(sheet.names)}
    wanted = [*mapping.columns, *(one.other for one in mapping.columns.values() if one.other)]
    missing = [name for name in wanted if name not in positions]
    if missing:
        raise MappingError(
            f"The file has no column {missing[0]!r}; it has {', '.join(sheet.names)}.",
            code="missing_column",
        )
    channels: dict[str, Floats] = {}
    for name, column in mapping.columns.items():
        raw = _numbers(sheet, positions[name], name)
        if column.how:
            others = _numbers(sheet, positions[column.other], column.other)
            raw = taken_together(raw, others, column.how)
        unit = unit_named(column.channel, column.unit)
        sign = -1.0 if column.negate else 1.0
        channels[column.channel] = sign * converted(raw, unit, poles=mapping.pole_count)
    if "throttle_pct" in channels:
        # A signal a little beyond its ends is still none and all of it.
        throttle = channels["throttle_pct"]
        channels["throttle_pct"] = np.where(
            (throttle > -15.0) & (throttle < 115.0), np.clip(throttle, 0.0, 100.0), throttle
        )
    return positions, channels


def _by_name(
    sheet: Sheet, mapping: LogMapping, positions: Mapping[str, int]
) -> list[tuple[dict[str, str], Ints]]:
    """Header keys and rows of each motor, propeller and supply, in the order they first come; an
    empty cell repeats the one above, as people leave it."""
    rows = np.arange(len(sheet.rows))
    if not mapping.names:
        return [({}, rows)]
    missing = [name for name in mapping.names if name not in positions]
    if missing:
        raise MappingError(f"The file has no column {missing[0]!r}.", code="missing_column")
    groups: dict[tuple[str, ...], list[int]] = {}
    current = [""] * len(mapping.names)
    for index, row in enumerate(sheet.rows):
        for place, name in enumerate(mapping.names):
            cell = row[positions[name]].strip() if positions[name] < len(row) else ""
            current[place] = cell or current[place]
        groups.setdefault(tuple(current), []).append(index)
    return [
        (_own_header(mapping, key, sheet, found[0]), np.array(found))
        for key, found in groups.items()
    ]


def _own_header(
    mapping: LogMapping, words: tuple[str, ...], sheet: Sheet, row: int
) -> dict[str, str]:
    own: dict[str, str] = {}
    for (column, what), word in zip(mapping.names.items(), words, strict=True):
        if not word:
            continue
        if what == "voltage":
            try:
                own["nominal_voltage_v"] = str(_voltage(word, sheet.dialect.decimal))
            except ValueError as error:
                raise LogFormatError(
                    f"{word!r} is no voltage",
                    code="not_a_number",
                    line=sheet.first_row_line + row,
                    column=column,
                    expected="volts, or a count of cells such as 4S",
                ) from error
        else:
            # ``supply`` in a log is its kind; a name of one stands under a key of its own.
            own["supply_name" if what == "supply" else what] = word
    return own


_CELLS = re.compile(r"^(\d{1,2})\s*[sS]$")
_VOLTS = re.compile(r"^([\d.,]+)\s*[vV]?$")
NOMINAL_CELL_V = 3.7


def _voltage(word: str, decimal: str) -> float:
    cells = _CELLS.match(word)
    if cells:
        return round(int(cells[1]) * NOMINAL_CELL_V, 3)
    volts = _VOLTS.match(word)
    value = number_in_cell(volts[1], decimal) if volts else None
    if value is None or not 0 < value <= 120:
        raise ValueError(word)
    return value


def _safe(name: str) -> str:
    """A carried-through column under a name that a bench log's header can hold."""
    return name.replace(",", " ").replace('"', "").strip()


def _numbers(sheet: Sheet, position: int, name: str) -> Floats:
    values = np.full(len(sheet.rows), np.nan)
    for i, row in enumerate(sheet.rows):
        if position >= len(row):
            continue
        try:
            value = number_in_cell(row[position], sheet.dialect.decimal)
        except ValueError as error:
            raise LogFormatError(
                f"{row[position]!r} is not a number",
                code="not_a_number",
                line=sheet.first_row_line + i,
                column=name,
                expected=f"a number with decimal sign {sheet.dialect.decimal!r}, or an empty cell",
            ) from error
        if value is not None:
            values[i] = value
    return values


def _check_time(sheet: Sheet, time: Floats, mapping: LogMapping) -> None:
    name = next(n for n, c in mapping.columns.items() if c.channel == TIME_COLUMN)
    bad = np.flatnonzero(~np.isfinite(time))
    if bad.size:
        raise LogFormatError(
            "the time is missing",
            code="no_time_value",
            line=sheet.first_row_line + int(bad[0]),
            column=name,
            expected="a time in every row",
        )
    back = np.flatnonzero(np.diff(time) < 0)
    if back.size:
        i = int(back[0])
        raise LogFormatError(
            f"time goes backward from {time[i]:g} s to {time[i + 1]:g} s",
            code="time_backward",
            line=sheet.first_row_line + i + 1,
            column=name,
            expected="times that do not decrease",
        )
