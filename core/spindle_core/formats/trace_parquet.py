"""Segments of a trace as Parquet: what the bench records and the database keeps."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from spindle_core.errors import CoreError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import TIME_COLUMN


def encode_segment(time_s: Floats, channels: Mapping[str, Floats]) -> bytes:
    """One segment as Parquet bytes, bit-exact; NaN stays NaN.

    Byte-stream split with zstd suits smooth floating-point signals; dictionaries do not.

    :param time_s: shape (n,) [s]; ``channels``: name → shape (n,).
    """
    table = pa.table({TIME_COLUMN: time_s, **channels})
    sink = io.BytesIO()
    pq.write_table(
        table, sink, compression="zstd", use_dictionary=False, use_byte_stream_split=True
    )
    return sink.getvalue()


def decode_segments(
    blobs: Sequence[bytes], columns: Sequence[str] | None = None
) -> tuple[Floats, dict[str, Floats]]:
    """Time [s] and channels of segments in order, joined; shape (n,) each.

    :param columns: only these channels (and time); all when None.
    :raises CoreError: no segments.
    """
    if not blobs:
        raise CoreError("The run holds no recorded samples.", code="no_segments")
    wanted = None if columns is None else [TIME_COLUMN, *columns]
    tables = [pq.read_table(io.BytesIO(blob), columns=wanted) for blob in blobs]
    joined = pa.concat_tables(tables, promote_options="default")
    arrays = {
        name: np.asarray(joined[name].to_numpy(zero_copy_only=False), dtype=np.float64)
        for name in joined.column_names
    }
    return arrays.pop(TIME_COLUMN), arrays
