"""Parquet files from outside as columns: counted before they are unpacked, typed before they are
taken for numbers."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from spindle_core.errors import LogFormatError
from spindle_core.figures.arrays import Floats
from spindle_core.formats.bench_log import check_expanded
from spindle_core.formats.outside import check_table_size, read_outside


def parquet_table(data: bytes) -> pa.Table:
    """The table in a Parquet file, each column once.

    :raises LogFormatError: no whole Parquet file, too large unpacked, or a name that stands twice.
    """
    with read_outside("Parquet file", "not_parquet"):
        file = pq.ParquetFile(pa.BufferReader(data))
        parts = file.metadata
        check_table_size(parts.num_rows, parts.num_columns)
        check_expanded(sum(parts.row_group(i).total_byte_size for i in range(parts.num_row_groups)))
        table = file.read()
        names = list(table.column_names)
        table.validate(full=True)
    refuse_doubled(names)
    return table


def refuse_doubled(names: Sequence[str]) -> None:
    """Refuse a table with a column that stands twice.

    :raises LogFormatError: with its name.
    """
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise LogFormatError(
            f"the column {twice!r} stands twice",
            code="duplicate_column",
            column=twice,
            expected="each column once",
        )


def numbers(table: pa.Table, name: str) -> Floats:
    """A column as doubles, nan where it holds nothing.

    :raises LogFormatError: it holds something else than numbers.
    """
    column = table[name]
    if pa.types.is_dictionary(column.type):
        column = column.cast(column.type.value_type)
    kind = column.type
    if not (
        pa.types.is_integer(kind)
        or pa.types.is_floating(kind)
        or pa.types.is_decimal(kind)
        or pa.types.is_null(kind)
    ):
        raise LogFormatError(
            f"it holds {kind}", code="not_a_number", column=name, expected="a column of numbers"
        )
    with read_outside("Parquet file", "not_parquet"):
        values: Any = column.cast(pa.float64(), safe=False).to_numpy()
    return np.asarray(values, dtype=np.float64)


def texts(table: pa.Table, name: str) -> tuple[str, ...]:
    """A column as text, empty where it holds nothing.

    :raises LogFormatError: text that is none.
    """
    with read_outside("Parquet file", "not_parquet"):
        return tuple("" if v is None else str(v) for v in table[name].to_pylist())
