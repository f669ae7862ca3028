"""Segments of a trace as Parquet: what the bench records and the database keeps."""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping, Sequence

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


def averaged_segments(
    blobs: Iterable[bytes], rows: int, names: Sequence[str], over: int = 1
) -> tuple[Floats, dict[str, Floats]]:
    """Time [s] and channels of segments that are taken in one after the other, each ``over`` rows
    in a row averaged to one; shape (ceil(rows / over),) each.

    A missing sample (nan) counts in no mean, and is a mean only of nothing else. A channel that a
    segment does not have is missing there. The last mean may be of fewer rows.

    :param rows: how many rows the segments hold together.
    :raises CoreError: they hold another number of rows.
    """
    wanted = [TIME_COLUMN, *names]
    found = {name: np.full(-(-rows // over), np.nan) for name in wanted}
    held: dict[str, Floats] = {name: np.empty(0) for name in wanted}
    filled = taken = 0
    for blob in blobs:
        table = pq.read_table(io.BytesIO(blob))
        taken += table.num_rows
        if taken > rows:
            break
        whole = (held[TIME_COLUMN].size + table.num_rows) // over
        for name in wanted:
            new = (
                np.asarray(table[name].to_numpy(zero_copy_only=False), dtype=np.float64)
                if name in table.column_names
                else np.full(table.num_rows, np.nan)
            )
            values = np.concatenate([held[name], new]) if held[name].size else new
            found[name][filled : filled + whole] = _means(values[: whole * over], over)
            held[name] = values[whole * over :]
        filled += whole
    if taken != rows:
        raise CoreError(
            f"The run's segments hold another number of rows than {rows:,}.", code="other_rows"
        )
    for name, left in held.items():
        if left.size:
            found[name][filled] = _means(left, left.size)[0]
    return found.pop(TIME_COLUMN), found


def _means(values: Floats, over: int) -> Floats:
    if over == 1:
        return values
    grouped = values.reshape(-1, over)
    there = np.isfinite(grouped)
    if there.all():
        means: Floats = grouped.mean(axis=1)
        return means
    count = there.sum(axis=1)
    total = np.where(there, grouped, 0.0).sum(axis=1)
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)
