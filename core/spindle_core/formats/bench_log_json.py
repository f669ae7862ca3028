"""A bench log as JSON: the same header, channels and extra columns, for other programs."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from spindle_core.errors import LogFormatError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.bench_log import FORMAT, BenchLog, write_bench_log
from spindle_core.formats.bench_log import read_bench_log as read_csv
from spindle_core.formats.strict_json import JsonFaultError, strict_json


def write_bench_log_json(log: BenchLog) -> bytes:
    """``{"format", "header", "time_s", "channels", "extra"}``; a missing sample is null.

    Numbers are written with the fewest digits that read back as the same double.
    """
    data = {
        "format": FORMAT,
        "header": {key: value for key, value in log.header.items() if key != "format"},
        TIME_COLUMN: log.time_s.tolist(),
        "channels": {name: _with_nulls(values) for name, values in log.channels.items()},
        "extra": {name: list(texts) for name, texts in log.extra.items()},
    }
    return json.dumps(data, ensure_ascii=False, allow_nan=False).encode()


def read_bench_log_json(data: bytes) -> BenchLog:
    """The log that :func:`write_bench_log_json` wrote.

    :raises LogFormatError: not JSON, or not of that shape; the same checks as for a CSV log.
    """
    try:
        parsed = strict_json(data.decode("utf-8"))
    except UnicodeDecodeError as error:
        raise LogFormatError(
            "the file is not UTF-8", code="not_utf8", line=1, column="1", expected="UTF-8 JSON"
        ) from error
    except JsonFaultError as error:
        raise LogFormatError(
            f"not JSON: {error.message}",
            code="not_json",
            line=error.line,
            column=None if error.character is None else str(error.character),
            expected="a JSON bench log",
        ) from error
    return rebuilt(*_parts(parsed))


def _with_nulls(values: Floats) -> list[float | None]:
    return [None if value != value else value for value in values.tolist()]


def _parts(
    parsed: Any,
) -> tuple[dict[str, str], Floats, dict[str, Floats], dict[str, tuple[str, ...]]]:
    if not isinstance(parsed, dict) or parsed.get("format") != FORMAT:
        raise LogFormatError(
            "the JSON is no bench log",
            code="unknown_format",
            line=1,
            column="format",
            expected=FORMAT,
        )
    header = {}
    for key, value in _object(parsed, "header").items():
        if isinstance(value, dict | list):
            raise _refused(f"the key {key!r} holds no single value", key, "text or a number")
        header[key] = "" if value is None else str(value)
    channels = {name: _column(name, values) for name, values in _object(parsed, "channels").items()}
    extra = {
        name: tuple("" if text is None else str(text) for text in _list(name, texts))
        for name, texts in _object(parsed, "extra").items()
    }
    return header, _column(TIME_COLUMN, parsed.get(TIME_COLUMN)), channels, extra


def _refused(message: str, column: str, expected: str) -> LogFormatError:
    return LogFormatError(message, code="not_a_number", line=1, column=column, expected=expected)


def _object(parsed: dict[str, Any], name: str) -> dict[str, Any]:
    found = parsed.get(name) or {}
    if not isinstance(found, dict):
        raise _refused(f"{name!r} is no object", name, "an object: name, then what it holds")
    return found


def _list(name: str, values: Any) -> list[Any]:
    if not isinstance(values, list):
        raise _refused(f"{name!r} is no list", name, "a list with one value per time")
    return values


def _column(name: str, values: Any) -> Floats:
    """Numbers of a column; numbers written as text are taken as such, as in a CSV."""
    try:
        return np.array(
            [np.nan if v is None else float(v) for v in _list(name, values)], dtype=np.float64
        )
    except (TypeError, ValueError, OverflowError) as error:
        raise _refused(
            f"a column does not hold numbers: {error}",
            name,
            "a list of numbers, null where missing",
        ) from error


def rebuilt(
    header: dict[str, str],
    time_s: Floats,
    channels: dict[str, Floats],
    extra: dict[str, tuple[str, ...]],
) -> BenchLog:
    """A log from its parts, through the same checks a CSV log passes.

    :raises LogFormatError: columns of different lengths, unknown channels, or any other fault.
    """
    lengths = {name: len(c) for name, c in channels.items()}
    lengths |= {name: len(c) for name, c in extra.items()}
    for name, length in lengths.items():
        if length != time_s.size:
            raise LogFormatError(
                f"{name} has {length} samples, {TIME_COLUMN} has {time_s.size}",
                code="short_row",
                column=name,
                expected="one value per time",
            )
    unknown = [name for name in channels if name not in CHANNELS]
    if unknown:
        raise LogFormatError(
            f"{unknown[0]!r} is not a channel",
            code="unknown_channel",
            column=unknown[0],
            expected=", ".join(CHANNELS),
        )
    # A file that passes as CSV is a bench log; whatever is wrong is said in the same words.
    return read_csv(write_bench_log(header, time_s, channels, extra))
