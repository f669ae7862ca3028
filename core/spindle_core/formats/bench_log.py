"""The bench log, version 1: one run as CSV with a preamble of ``# key: value`` lines.

docs/formats.md describes it for users. Reading is strict: a file is understood whole or refused
with the line and column at fault; nothing is guessed here.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np
import pyarrow as pa
import pyarrow.csv as pa_csv

from spindle_core.errors import LogFormatError, QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.instruments import INSTRUMENTS
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.bench_log_faults import find_fault
from spindle_core.reduction.kinds import RUN_KINDS
from spindle_core.run.facts import WORD_KEYS, facts_from_header
from spindle_core.run.stand import (
    CALIBRATION_SUFFIX,
    INSTRUMENT_SUFFIX,
    LEVER_IS_KEY,
    LEVER_KEY,
    REPEATABILITY_KEY,
    RESOLUTION_SUFFIX,
    stand_from_header,
)
from spindle_core.run.trace import Trace
from spindle_core.run.typed_cells import read_doubts

FORMAT = "bench-log/1"

NUMBER_KEYS = frozenset(
    {
        "prop_diameter_in",
        "prop_pitch_in",
        "prop_blades",
        "nominal_voltage_v",
        "air_temp_c",
        "air_pressure_hpa",
        "air_humidity_pct",
        "inertia_kg_mm2",
        "inertia_u_kg_mm2",
        "resistance_u_ohm",
        "pole_count",
        "resistance_ohm",
        "no_load_current_a",
        "winding_ceiling_c",
        "spin_up_from_rpm",
        "spin_up_to_rpm",
        "lead_length_mm",
        REPEATABILITY_KEY,
        LEVER_KEY,
        "local_gravity_m_per_s2",
    }
)
HEADER_RANGES = {
    "air_temp_c": (-45.0, 60.0),
    "air_pressure_hpa": (500.0, 1100.0),
    "air_humidity_pct": (0.0, 100.0),
    "local_gravity_m_per_s2": (9.7, 9.9),
}
ABOVE_ZERO_KEYS = frozenset(
    {
        "prop_diameter_in",
        "prop_pitch_in",
        "prop_blades",
        "nominal_voltage_v",
        "inertia_kg_mm2",
        "pole_count",
        "resistance_ohm",
        "spin_up_from_rpm",
        "spin_up_to_rpm",
    }
)
CHOICE_KEYS = {
    "supply": ("pack", "psu"),
    "esc_linear": ("yes", "no"),
    "kind": RUN_KINDS,
    "readings_are": ("held", "maxima"),
    "readings_averaged": ("yes", "no"),
    LEVER_IS_KEY: ("measured", "assumed"),
}
LAG_SUFFIX = "_lag_s"
NUMBER_SUFFIXES = (
    LAG_SUFFIX,
    *(name + suffix for name in CHANNELS for suffix in (CALIBRATION_SUFFIX, RESOLUTION_SUFFIX)),
)


def is_understood(key: str) -> bool:
    """Whether a preamble key says something that a reduction or a reader of figures needs; others
    are carried through, whatever somebody wrote there."""
    channel = key.removesuffix(INSTRUMENT_SUFFIX)
    return (
        key in NUMBER_KEYS
        or key in CHOICE_KEYS
        or key in WORD_KEYS
        or key in ("format", "target_thrust_gf", "cells")
        or key.endswith(NUMBER_SUFFIXES)
        or (channel != key and channel in CHANNELS)
    )


@dataclass(frozen=True, slots=True)
class BenchLog:
    """A bench log that was read: preamble, numeric channels and carried-through columns.

    ``header`` holds every preamble line in order, unknown ones too; ``extra`` holds columns that
    are not channels, as text.
    """

    header: Mapping[str, str]
    time_s: Floats
    channels: Mapping[str, Floats]
    extra: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    @property
    def kind(self) -> str:
        """The kind of run; ``steps`` when the log does not say."""
        return self.header.get("kind", "steps")

    def number(self, key: str) -> float | None:
        """A numeric preamble value, None when absent."""
        text = self.header.get(key, "")
        return float(text) if text else None

    def trace(self) -> Trace:
        """The log as a trace for reduction."""
        lags = {
            key.removesuffix(LAG_SUFFIX): float(value)
            for key, value in self.header.items()
            if key.endswith(LAG_SUFFIX) and value
        }
        return Trace(
            self.time_s,
            self.channels,
            self.kind,
            lags,
            facts_from_header(self.header),
            stand_from_header(self.header),
        )


LARGEST_EXPANDED_BYTES = 800_000_000
"""A packed file that says it is larger than this is not unpacked."""


def check_expanded(size: int) -> None:
    """Refuse a packed log that would fill the memory.

    :raises LogFormatError: ``size`` [bytes] is beyond the limit.
    """
    if size > LARGEST_EXPANDED_BYTES:
        raise LogFormatError(
            f"the file unpacks to {size / 1e6:.0f} MB",
            code="too_large",
            expected=f"at most {LARGEST_EXPANDED_BYTES / 1e6:.0f} MB",
        )


def read_bench_log(data: bytes) -> BenchLog:
    """Read a bench log from its bytes.

    :raises LogFormatError: with line, column and what was expected.
    """
    data = _checked(data)
    preamble_end, header, key_lines = _read_preamble(data)
    body = _Body(data, preamble_end, data.count(b"\n", 0, preamble_end) + 1)
    first_line = body.first_line
    names = _read_names(body)
    _check_header(header, key_lines, first_line)
    table = _read_rows(body, names)
    columns = {name: _numbers(table[name]) for name in names if _is_numeric(name)}
    if table.num_rows == 0:
        raise LogFormatError(
            "the header is followed by no rows",
            code="no_rows",
            line=first_line,
            expected="at least one row of numbers",
        )
    time = columns.pop(TIME_COLUMN)
    bad = not np.isfinite(time).all() or bool(np.any(np.diff(time) < 0))
    infinite = any(bool(np.isinf(values).any()) for values in columns.values())
    if bad or infinite or _holds_written_nan(table, {TIME_COLUMN: time, **columns}):
        raise find_fault(body.text(), names, first_line)
    extra = {
        name: tuple("" if v is None else str(v) for v in table[name].to_pylist())
        for name in names
        if not _is_numeric(name)
    }
    return BenchLog(header, time, columns, extra)


def head_lines(start: bytes) -> int:
    """How many lines the preamble and the header row take, by the beginning of a log.

    :raises LogFormatError: no header row that names the time, or a preamble that is at fault.
    """
    start = _checked(start)
    preamble_end, header, key_lines = _read_preamble(start)
    body = _Body(start, preamble_end, start.count(b"\n", 0, preamble_end) + 1)
    _read_names(body)
    _check_header(header, key_lines, body.first_line)
    return body.first_line


@dataclass(frozen=True, slots=True)
class _Body:
    """The header row and the rows of a log: ``data`` from ``start`` on, its first line's number."""

    data: bytes
    start: int
    first_line: int

    def text(self) -> str:
        """Header row and rows as text, for finding a fault."""
        return self.data[self.start :].decode()

    @property
    def rows_start(self) -> int:
        """Where the rows begin, the end of the data where there are none."""
        end = self.data.find(b"\n", self.start)
        return len(self.data) if end < 0 else end + 1


def _checked(data: bytes) -> bytes:
    """The bytes as UTF-8 text without a byte-order mark, with line ends of one byte.

    :raises LogFormatError: not UTF-8, or zero bytes.
    """
    data = data.removeprefix(b"\xef\xbb\xbf")
    if not data.isascii():
        try:
            data.decode("utf-8")
        except UnicodeDecodeError as error:
            line = data.count(b"\n", 0, error.start) + 1
            column = error.start - (data.rfind(b"\n", 0, error.start) + 1) + 1
            raise LogFormatError(
                f"byte 0x{data[error.start]:02x} is not UTF-8",
                code="not_utf8",
                line=line,
                column=str(column),
                expected="a UTF-8 text file",
            ) from error
    if b"\x00" in data:
        raise LogFormatError(
            "the file holds zero bytes",
            code="not_text",
            line=data.count(b"\n", 0, data.index(b"\x00")) + 1,
            column="1",
            expected="a text file",
        )
    return data.replace(b"\r\n", b"\n") if b"\r" in data else data


def _read_preamble(data: bytes) -> tuple[int, dict[str, str], dict[str, int]]:
    header: dict[str, str] = {}
    key_lines: dict[str, int] = {}
    position, line = 0, 0
    while position < len(data):
        end = data.find(b"\n", position)
        end = len(data) if end < 0 else end
        row = data[position:end].decode().strip()
        line += 1
        if row and not row.startswith("#"):
            break
        if row:
            key, colon, value = row[1:].partition(":")
            key = key.strip()
            if colon and key:
                if key in header:
                    raise LogFormatError(
                        f"the key {key!r} stands twice",
                        code="duplicate_key",
                        line=line,
                        column=key,
                        expected="each key once",
                    )
                header[key] = value.strip()
                key_lines[key] = line
        position = end + 1
    return min(position, len(data)), header, key_lines


def _read_names(body: _Body) -> list[str]:
    line = body.first_line
    first = body.data[body.start : body.rows_start].decode().rstrip("\n")
    names = [name.strip().strip('"').strip() for name in first.split(",")] if first else []
    if TIME_COLUMN not in names:
        raise LogFormatError(
            "no header row with time_s" if names else "no header row",
            code="no_time",
            line=line,
            column=TIME_COLUMN,
            expected="a header row that names time_s",
        )
    for position, name in enumerate(names):
        if not name:
            raise LogFormatError(
                "a column has no name",
                code="unnamed_column",
                line=line,
                column=str(position + 1),
                expected="a name for each column",
            )
        if name in names[:position]:
            raise LogFormatError(
                f"the column {name!r} stands twice",
                code="duplicate_column",
                line=line,
                column=name,
                expected="each column once",
            )
    return names


def _check_header(header: Mapping[str, str], key_lines: Mapping[str, int], header_row: int) -> None:
    def refuse(key: str, message: str, expected: str, code: str) -> LogFormatError:
        line = key_lines.get(key, header_row)
        return LogFormatError(message, code=code, line=line, column=key, expected=expected)

    declared = header.get("format", FORMAT)
    if declared != FORMAT:
        raise refuse("format", f"format {declared!r} is not known", FORMAT, "unknown_format")
    for key, allowed in CHOICE_KEYS.items():
        if header.get(key) and header[key] not in allowed:
            code = "unknown_kind" if key == "kind" else "bad_value"
            raise refuse(key, f"{header[key]!r} is not a {key}", ", ".join(allowed), code)
    for key, value in header.items():
        channel = key.removesuffix(INSTRUMENT_SUFFIX)
        if key != channel and channel in CHANNELS and value and value not in INSTRUMENTS:
            raise refuse(
                key, f"{value!r} is no kind of instrument", ", ".join(INSTRUMENTS), "bad_value"
            )
        is_number = key in NUMBER_KEYS or key.endswith(NUMBER_SUFFIXES)
        if is_number and value and not _is_finite_number(value):
            raise refuse(key, f"{value!r} is not a number", "a number", "not_a_number")
        if is_number and value and not _is_possible(key, float(value)):
            low, high = HEADER_RANGES.get(key, (0.0, math.inf))
            expected = f"{low:g} to {high:g}" if key in HEADER_RANGES else "a number of at least 0"
            raise refuse(key, f"{value} is impossible", expected, "out_of_range")
        if key == "target_thrust_gf" and value:
            parts = value.replace(",", " ").split()
            if not all(_is_finite_number(part) for part in parts):
                raise refuse(key, f"{value!r} is not a list", "numbers", "not_a_number")
        if key == "cells":
            try:
                read_doubts(value)
            except QuantityError as error:
                raise refuse(key, error.message, "channel@row~width", "bad_value") from error
    if header.get("kind") == "flywheel" and not header.get("inertia_kg_mm2"):
        raise refuse(
            "inertia_kg_mm2",
            "a flywheel run needs its inertia",
            "a line '# inertia_kg_mm2: <number>'",
            "no_inertia",
        )


def _is_possible(key: str, value: float) -> bool:
    if key in HEADER_RANGES:
        low, high = HEADER_RANGES[key]
        return low <= value <= high
    return value > 0 if key in ABOVE_ZERO_KEYS else value >= 0


def _is_finite_number(text: str) -> bool:
    try:
        return math.isfinite(float(text))
    except ValueError:
        return False


def _is_numeric(name: str) -> bool:
    return name == TIME_COLUMN or name in CHANNELS


def _read_rows(body: _Body, names: list[str]) -> pa.Table:
    types = {name: pa.float64() if _is_numeric(name) else pa.string() for name in names}
    start, stop = body.rows_start, len(body.data)
    if not body.data[start : start + 4096].strip() and not body.data[start:].strip():
        return pa.table({name: pa.array([], types[name]) for name in names})
    while stop > start and body.data[stop - 1 : stop] == b"\n":
        stop -= 1
    try:
        return pa_csv.read_csv(
            pa.BufferReader(pa.py_buffer(memoryview(body.data)[start:stop])),
            read_options=pa_csv.ReadOptions(column_names=names),
            # A blank line inside the rows is skipped by no rule; the fault finder says where.
            parse_options=pa_csv.ParseOptions(ignore_empty_lines=False),
            convert_options=pa_csv.ConvertOptions(
                column_types=types, null_values=[""], strings_can_be_null=True
            ),
        )
    except pa.ArrowInvalid as error:
        raise find_fault(body.text(), names, body.first_line) from error


def _numbers(column: pa.ChunkedArray) -> Floats:
    values = column.to_numpy()
    return np.asarray(values, dtype=np.float64)


def _holds_written_nan(table: pa.Table, columns: Mapping[str, Floats]) -> bool:
    """A cell that says nan is not an empty cell: missing is written as nothing."""
    return any(
        int(np.isnan(values).sum()) != table[name].null_count for name, values in columns.items()
    )


def write_bench_log(
    header: Mapping[str, object],
    time_s: Floats,
    channels: Mapping[str, Floats],
    extra: Mapping[str, Iterable[str]] | None = None,
) -> bytes:
    """A bench log as bytes: what :func:`read_bench_log` reads back without loss.

    Numbers are written with the fewest digits that read back as the same double.
    """
    return bench_log_head(header, [*channels, *(extra or {})]) + bench_log_rows(
        time_s, channels, extra
    )


def bench_log_head(header: Mapping[str, object], names: Iterable[str]) -> bytes:
    """What stands before the rows: the preamble, and the names of the columns behind the time."""
    lines = ["# format: " + FORMAT]
    lines += [
        f"# {key}: {_one_line(value)}"
        for key, value in header.items()
        if key != "format" and value is not None and value != ""
    ]
    return ("\n".join([*lines, ",".join([TIME_COLUMN, *names])]) + "\n").encode()


def bench_log_rows(
    time_s: Floats, channels: Mapping[str, Floats], extra: Mapping[str, Iterable[str]] | None = None
) -> bytes:
    """Rows behind such a head; a long log is written part by part."""
    arrays = {TIME_COLUMN: pa.array(time_s)}
    for name, values in channels.items():
        arrays[name] = pa.array(values, mask=np.isnan(values))
    for name, texts in (extra or {}).items():
        arrays[name] = pa.array(list(texts))
    sink = io.BytesIO()
    options = pa_csv.WriteOptions(include_header=False, quoting_style="needed")
    pa_csv.write_csv(pa.table(arrays), sink, write_options=options)
    return sink.getvalue()


def _one_line(value: object) -> str:
    return " ".join(str(value).split())
