"""Other people's files as text with a table in it, whatever they are written in.

A spreadsheet, a Parquet file or a list of JSON objects holds the same as a CSV: names, then rows.
It is turned into tab-separated text with decimal points, so that one reader serves all.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import PurePath
from typing import Any, Final

from spindle_core.errors import LogFormatError
from spindle_core.formats.outside import check_table_size, read_outside
from spindle_core.formats.parquet_table import parquet_table
from spindle_core.formats.strict_json import JsonFaultError, strict_json


def as_text_table(name: str, data: bytes) -> bytes:
    """The file as text; text stays as it is. Its ending says what it is.

    :raises LogFormatError: the file is not what its ending says, or too large unpacked.
    """
    turn = _TURNED.get(PurePath(name).suffix.lower())
    return data if turn is None else turn(data)


def _from_workbook(data: bytes) -> bytes:
    # openpyxl takes longer to import than a log to read.
    from spindle_core.formats.workbook import opened_workbook, sheet_rows

    with read_outside("workbook", "not_its_ending"):
        book = opened_workbook(data)
        sheets = [sheet_rows(sheet) for sheet in book.worksheets]
    # The table is on the sheet with the most rows.
    most: list[tuple[Any, ...]] = []
    for rows in sheets:
        most = rows if len(rows) > len(most) else most
    return _joined(most)


def _from_parquet(data: bytes) -> bytes:
    table = parquet_table(data)
    with read_outside("Parquet file", "not_its_ending"):
        columns = [table[name].to_pylist() for name in table.column_names]
    return _joined([tuple(table.column_names), *zip(*columns, strict=True)])


def _from_json(data: bytes) -> bytes:
    try:
        found = strict_json(data)
    except JsonFaultError as error:
        raise LogFormatError(
            f"this is no JSON file: {error.message}",
            code="not_its_ending",
            line=error.line,
            column=None if error.character is None else str(error.character),
            expected="a JSON file",
        ) from error
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
        check_table_size(cells, 1)
        lines.append("\t".join(_cell(value) for value in row))
    return "\n".join(lines).encode()


def _cell(value: Any) -> str:
    if value is None or isinstance(value, bool):
        return "" if value is None else str(int(value))
    return str(value).replace("\t", " ").replace("\n", " ")


_TURNED: Final[Mapping[str, Callable[[bytes], bytes]]] = {
    ".xlsx": _from_workbook,
    ".parquet": _from_parquet,
    ".json": _from_json,
}
