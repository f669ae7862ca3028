"""Other people's files as text with a table in it, whatever they are written in.

A spreadsheet, a Parquet file or a list of JSON objects holds the same as a CSV: names, then rows.
It is turned into tab-separated text with decimal points, so that one reader serves all.
"""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable, Iterable, Mapping
from pathlib import PurePath
from typing import Any, Final

import pyarrow as pa
import pyarrow.parquet as pa_parquet

from spindle_core.errors import LogFormatError
from spindle_core.formats.bench_log import check_expanded

LARGEST_CELLS = 20_000_000
"""Cells of a table that is turned into text."""


def as_text_table(name: str, data: bytes) -> bytes:
    """The file as text; text stays as it is. Its ending says what it is.

    :raises LogFormatError: the file is not what its ending says, or too large unpacked.
    """
    turn = _TURNED.get(PurePath(name).suffix.lower())
    return data if turn is None else turn(data)


def _from_workbook(data: bytes) -> bytes:
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            check_expanded(sum(part.file_size for part in packed.infolist()))
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheets: list[list[tuple[Any, ...]]] = [
            list(sheet.iter_rows(values_only=True)) for sheet in book.worksheets
        ]
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, OSError) as error:
        raise _not_a("workbook") from error
    # The table is on the sheet with the most rows.
    most: list[tuple[Any, ...]] = []
    for rows in sheets:
        most = rows if len(rows) > len(most) else most
    return _joined(most)


def _from_parquet(data: bytes) -> bytes:
    try:
        file = pa_parquet.ParquetFile(pa.BufferReader(data))
        check_expanded(
            sum(
                file.metadata.row_group(i).total_byte_size
                for i in range(file.metadata.num_row_groups)
            )
        )
        table = file.read()
    except (pa.ArrowException, OSError) as error:
        raise _not_a("Parquet file") from error
    columns = [table[name].to_pylist() for name in table.column_names]
    return _joined([tuple(table.column_names), *zip(*columns, strict=True)])


def _from_json(data: bytes) -> bytes:
    try:
        found = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise _not_a("JSON file") from error
    if isinstance(found, Mapping):
        lists = {k: v for k, v in found.items() if isinstance(v, list)}
        inner = [v for v in lists.values() if v and all(isinstance(x, Mapping) for x in v)]
        if inner:
            found = max(inner, key=len)
        elif lists:
            longest = max(len(v) for v in lists.values())
            even = {k: v for k, v in lists.items() if len(v) == longest}
            return _joined([tuple(even), *zip(*even.values(), strict=True)])
    if not isinstance(found, list) or not all(isinstance(row, Mapping) for row in found):
        raise LogFormatError(
            "the JSON holds no table",
            code="no_table",
            expected="a list of objects, or an object of lists of one length",
        )
    names = list(dict.fromkeys(str(key) for row in found for key in row))
    return _joined([tuple(names), *(tuple(row.get(n) for n in names) for row in found)])


def _joined(rows: Iterable[tuple[Any, ...]]) -> bytes:
    lines, cells = [], 0
    for row in rows:
        cells += len(row)
        if cells > LARGEST_CELLS:
            raise LogFormatError(
                f"the table has more than {LARGEST_CELLS} cells", code="too_large", expected="less"
            )
        lines.append("\t".join(_cell(value) for value in row))
    return "\n".join(lines).encode()


def _cell(value: Any) -> str:
    if value is None or isinstance(value, bool):
        return "" if value is None else str(int(value))
    return str(value).replace("\t", " ").replace("\n", " ")


def _not_a(what: str) -> LogFormatError:
    return LogFormatError(f"this is no {what}", code="not_its_ending", expected=f"a {what}")


_TURNED: Final[Mapping[str, Callable[[bytes], bytes]]] = {
    ".xlsx": _from_workbook,
    ".parquet": _from_parquet,
    ".json": _from_json,
}
