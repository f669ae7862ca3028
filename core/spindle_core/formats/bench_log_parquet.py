"""A bench log as one Parquet file: columns as they are, the header in the file's metadata."""

from __future__ import annotations

import io
import json

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from spindle_core.errors import LogFormatError
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.bench_log import FORMAT, BenchLog, check_expanded
from spindle_core.formats.bench_log_json import rebuilt

_HEADER_KEY = b"bench-log"


def write_bench_log_parquet(log: BenchLog) -> bytes:
    """Channels as doubles, extra columns as text, zstd; bit-exact."""
    arrays = {TIME_COLUMN: pa.array(log.time_s)}
    for name, values in log.channels.items():
        arrays[name] = pa.array(values, mask=np.isnan(values))
    for name, texts in log.extra.items():
        arrays[name] = pa.array(list(texts), pa.string())
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
    try:
        file = pq.ParquetFile(io.BytesIO(data))
        parts = file.metadata
        check_expanded(sum(parts.row_group(i).total_byte_size for i in range(parts.num_row_groups)))
        table = file.read()
    except pa.ArrowException as error:
        raise LogFormatError(
            "the file is not Parquet", code="not_parquet", expected="a Parquet bench log"
        ) from error
    metadata = table.schema.metadata or {}
    if _HEADER_KEY not in metadata or TIME_COLUMN not in table.column_names:
        raise LogFormatError(
            "the Parquet file is no bench log",
            code="unknown_format",
            column=TIME_COLUMN,
            expected=f"a file written as {FORMAT}",
        )
    header = json.loads(metadata[_HEADER_KEY])["header"]
    columns = {
        name: np.asarray(table[name].to_numpy(zero_copy_only=False), dtype=np.float64)
        for name in table.column_names
        if name == TIME_COLUMN or name in CHANNELS
    }
    extra = {
        name: tuple("" if v is None else str(v) for v in table[name].to_pylist())
        for name in table.column_names
        if name not in columns
    }
    return rebuilt(header, columns.pop(TIME_COLUMN), columns, extra)
