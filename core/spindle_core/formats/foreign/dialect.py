"""How a text file writes its table: encoding, delimiter, decimal sign, and where it begins."""

from __future__ import annotations

import re
from dataclasses import dataclass

from spindle_core.errors import LogFormatError

DELIMITERS = (",", ";", "\t", "|")
LONGEST_PREAMBLE = 400
LONGEST_LINE = 100_000
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")


@dataclass(frozen=True, slots=True)
class Dialect:
    """``delimiter`` ' ' stands for any run of blanks. ``header_line`` counts from 1.

    ``units_line``: whether the line below the header holds units instead of numbers.
    """

    encoding: str
    delimiter: str
    decimal: str
    header_line: int
    units_line: bool = False


@dataclass(frozen=True, slots=True)
class Sheet:
    """A file taken apart: lines before the header, column names, units below them, rows."""

    dialect: Dialect
    preamble: tuple[str, ...]
    names: tuple[str, ...]
    units: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    first_row_line: int


def decode(data: bytes) -> tuple[str, str]:
    """Text and its encoding: UTF-8 or UTF-16 where it is, else Windows' Western encoding.

    :raises LogFormatError: the file is binary.
    """
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return data.decode("utf-16"), "utf-16"
    if b"\x00" in data[:4096]:
        raise LogFormatError(
            "the file is not text", code="not_text", line=1, expected="a table as text"
        )
    try:
        return data.decode("utf-8-sig"), "utf-8"
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace"), "cp1252"


def read_sheet(data: bytes, dialect: Dialect | None = None) -> Sheet:
    """Take a file apart, by a known dialect or by one that is found.

    :raises LogFormatError: no table of at least two rows of numbers was found.
    """
    text, encoding = decode(data)
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    long = next((at for at, line in enumerate(lines, 1) if len(line) > LONGEST_LINE), None)
    if long is not None:
        raise LogFormatError(
            f"the line has more than {LONGEST_LINE:,} characters",
            code="long_line",
            line=long,
            expected="one row of a table in each line",
        )
    found = dialect or find_dialect(lines, encoding)
    head = found.header_line - 1
    if head >= len(lines):
        raise LogFormatError(
            f"the file has {len(lines)} lines",
            code="no_header",
            line=found.header_line,
            expected="a header row there",
        )
    names = _unique(split_line(lines[head], found.delimiter))
    first = head + 1 + int(found.units_line)
    units = split_line(lines[head + 1], found.delimiter) if found.units_line else []
    units = (units + [""] * len(names))[: len(names)]
    rows = [
        tuple(cells) for line in lines[first:] if any(cells := split_line(line, found.delimiter))
    ]
    return Sheet(found, tuple(lines[:head]), tuple(names), tuple(units), tuple(rows), first + 1)


def split_line(line: str, delimiter: str) -> list[str]:
    """Cells of a line, without quotes and outer blanks."""
    if delimiter == " ":
        cells = line.split()
    elif '"' in line:
        # Every second stretch between quotes is quoted: a delimiter in it is part of a cell.
        pieces: list[list[str]] = [[]]
        for at, stretch in enumerate(line.split('"')):
            first, *others = [stretch] if at % 2 else stretch.split(delimiter)
            pieces[-1].append(first)
            pieces.extend([one] for one in others)
        cells = ["".join(parts) for parts in pieces]
    else:
        cells = line.split(delimiter)
    cells = [cell.strip().strip('"').strip() for cell in cells]
    # Many loggers end each row with a delimiter.
    return cells[:-1] if len(cells) > 1 and cells[-1] == "" else cells


def find_dialect(lines: list[str], encoding: str = "utf-8") -> Dialect:
    """The dialect under which the most lines in a row are rows of numbers of one width.

    :raises LogFormatError: no delimiter gives a table.
    """
    best: tuple[float, Dialect] | None = None
    for delimiter in (*DELIMITERS, " "):
        for decimal in (".", ","):
            if decimal == delimiter:
                continue
            found = _table(lines, delimiter, decimal)
            if found is None:
                continue
            start, width, count, share = found
            header = start - 1
            units_line = False
            if (
                header >= 1
                and _looks_like_units(split_line(lines[header], delimiter))
                and (len(split_line(lines[header - 1], delimiter)) == width)
            ):
                header, units_line = header - 1, True
            # More numbers read, in more columns, make the better guess; blanks come last.
            worth = count * width * share - (0.5 if delimiter == " " else 0.0)
            guess = Dialect(encoding, delimiter, decimal, header + 1, units_line)
            if header >= 0 and (best is None or worth > best[0]):
                best = (worth, guess)
    if best is None:
        raise LogFormatError(
            "no table of numbers with a header row was found",
            code="no_table",
            line=1,
            expected="a header row followed by rows of numbers",
        )
    return best[1]


def _table(lines: list[str], delimiter: str, decimal: str) -> tuple[int, int, int, float] | None:
    """First line, width and length of the first stretch of number rows, and share of numbers."""
    for start in range(1, min(len(lines), LONGEST_PREAMBLE)):
        cells = split_line(lines[start], delimiter)
        width = len(cells)
        if width < 2 or _numbers(cells, decimal) < max(2, 0.5 * sum(c != "" for c in cells)):
            continue
        header = split_line(lines[start - 1], delimiter)
        if len(header) != width:
            continue
        rows, numbers, filled = 0, 0, 0
        for line in lines[start : start + 60]:
            row = split_line(line, delimiter)
            if len(row) != width:
                break
            rows += 1
            numbers += _numbers(row, decimal)
            filled += sum(cell != "" for cell in row)
        if rows >= 2 or start + rows >= len(lines) - 1:
            return start, width, rows, numbers / max(1, filled)
    return None


def _numbers(cells: list[str], decimal: str) -> int:
    other = "," if decimal == "." else "."
    return sum(bool(_NUMBER.match(cell)) and other not in cell for cell in cells)


def _looks_like_units(cells: list[str]) -> bool:
    """Short words without digits, most of them units: a row of units below the names."""
    from spindle_core.formats.foreign.units import UNITS, plain_spelling

    spellings = {s for units in UNITS.values() for unit in units for s in unit.spellings}
    filled = [plain_spelling(cell) for cell in cells if plain_spelling(cell)]
    return bool(filled) and sum(cell in spellings for cell in filled) >= 0.7 * len(filled)


def number_in_cell(cell: str, decimal: str) -> float | None:
    """A cell as a number; None for an empty cell.

    :raises ValueError: neither.
    """
    text = cell.strip()
    if text == "" or text.lower() in ("nan", "null", "n/a", "na", "-", "--"):
        return None
    if decimal == ",":
        text = text.replace(".", "").replace(",", ".") if "," in text else text
    return float(text.replace("\u2212", "-").replace("\u00a0", ""))


def _unique(names: list[str]) -> list[str]:
    """Column names, numbered where empty or repeated, so that each can be mapped."""
    seen: dict[str, int] = {}
    unique = []
    for position, name in enumerate(names):
        base = name or f"column {position + 1}"
        seen[base] = seen.get(base, 0) + 1
        unique.append(base if seen[base] == 1 else f"{base} #{seen[base]}")
    return unique
