"""A bench log as one Parquet file: columns as they are, the header in the file's metadata."""

from __future__ import annotations

import io
import json

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from spindle_core.errors import LogFormatError
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.bench_log import FORMAT, BenchLog
from spindle_core.formats.bench_log_json import rebuilt
from spindle_core.formats.parquet_table import numbers, parquet_table, refuse_doubled, texts
from spindle_core.formats.strict_json import JsonFaultError, strict_json

_HEADER_KEY = b"bench-log"


def write_bench_log_parquet(log: BenchLog) -> bytes:
    """Channels as doubles, extra columns as text, zstd; bit-exact."""
    arrays = {TIME_COLUMN: pa.array(log.time_s)}
    for name, values in log.channels.items():
        arrays[name] = pa.array(values, mask=np.isnan(values))
    for name, cells in log.extra.items():
        arrays[name] = pa.array(list(cells), pa.string())
    header = {key: value for key, value in log.header.items() if key != "format"}
    table = pa.table(arrays).replace_schema_metadata(
        {_HEADER_KEY: json.dumps({"format": FORMAT, "header": header}).encode()}
    )
    sink = io.BytesIO()
    pq.write_table(table, sink, compression="zstd")
    return sink.getvalue()


def read_bench_log_parquet(data: bytes) -> BenchLog:
    """The log that :func:`write_bench_log_parquet` wrote.

    :raises LogFormatError: not Parquet, or without the bench log's metadata.
    """
    return log_of_table(parquet_table(data))


def parquet_head(schema: pa.Schema) -> tuple[dict[str, str], tuple[str, ...]]:
    """The preamble and the channels of a bench log, by its schema.

    :raises LogFormatError: it is no bench log.
    """
    refuse_doubled(schema.names)
    metadata = schema.metadata or {}
    if _HEADER_KEY not in metadata or TIME_COLUMN not in schema.names:
        raise LogFormatError(
            "the Parquet file is no bench log",
            code="unknown_format",
            column=TIME_COLUMN,
            expected=f"a file written as {FORMAT}",
        )
    return _header(metadata[_HEADER_KEY]), tuple(n for n in schema.names if n in CHANNELS)


def log_of_table(table: pa.Table) -> BenchLog:
    """The log in a table that was read from such a file.

    :raises LogFormatError: it is no bench log.
    """
    header, channels = parquet_head(table.schema)
    columns = {name: numbers(table, name) for name in (TIME_COLUMN, *channels)}
    extra = {name: texts(table, name) for name in table.column_names if name not in columns}
    return rebuilt(header, columns.pop(TIME_COLUMN), columns, extra)


def _header(said: bytes) -> dict[str, str]:
    """The preamble in the file's metadata.

    :raises LogFormatError: it is none.
    """
    try:
        found = strict_json(said)
    except JsonFaultError as error:
        raise _no_header(error.message) from error
    header = found.get("header") if isinstance(found, dict) else None
    if not isinstance(header, dict):
        raise _no_header("no object 'header'")
    nested = [key for key, value in header.items() if isinstance(value, dict | list)]
    if nested:
        raise _no_header(f"the key {nested[0]!r} holds no single value")
    return {key: "" if value is None else str(value) for key, value in header.items()}


def _no_header(why: str) -> LogFormatError:
    return LogFormatError(
        f"the preamble in the file's metadata cannot be read: {why}",
        code="bad_header",
        column=_HEADER_KEY.decode(),
        expected=f"what {FORMAT} keeps there",
    )
