"""Reading and writing bench logs by the ending of their file: CSV, JSON, Parquet, XLSX."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import PurePath
from typing import Final

from spindle_core.errors import LogFormatError
from spindle_core.formats.bench_log import BenchLog, read_bench_log, write_bench_log
from spindle_core.formats.bench_log_json import read_bench_log_json, write_bench_log_json
from spindle_core.formats.bench_log_parquet import read_bench_log_parquet, write_bench_log_parquet


def _write_csv(log: BenchLog) -> bytes:
    return write_bench_log(log.header, log.time_s, log.channels, log.extra)


def _read_xlsx(data: bytes) -> BenchLog:
    # openpyxl takes longer to import than a log to reduce.
    from spindle_core.formats.workbook import read_bench_log_xlsx

    return read_bench_log_xlsx(data)


def _write_xlsx(log: BenchLog) -> bytes:
    from spindle_core.formats.workbook import write_bench_log_xlsx

    return write_bench_log_xlsx(log)


_READERS: Final[Mapping[str, Callable[[bytes], BenchLog]]] = {
    ".csv": read_bench_log,
    ".json": read_bench_log_json,
    ".parquet": read_bench_log_parquet,
    ".xlsx": _read_xlsx,
}
_WRITERS: Final[Mapping[str, Callable[[BenchLog], bytes]]] = {
    ".csv": _write_csv,
    ".json": write_bench_log_json,
    ".parquet": write_bench_log_parquet,
    ".xlsx": _write_xlsx,
}

SUFFIXES: Final = tuple(_READERS)


def read_log(name: str, data: bytes) -> BenchLog:
    """A bench log in the format its file name ends in; CSV for any other ending.

    :raises LogFormatError: with where and what was expected.
    """
    return _READERS.get(PurePath(name).suffix.lower(), read_bench_log)(data)


def write_log(name: str, log: BenchLog) -> bytes:
    """The log as bytes in the format a file name ends in.

    :raises LogFormatError: an ending no format has.
    """
    writer = _WRITERS.get(PurePath(name).suffix.lower())
    if writer is None:
        raise LogFormatError(
            f"{name!r} ends in no known format", code="unknown_suffix", expected=", ".join(SUFFIXES)
        )
    return writer(log)
