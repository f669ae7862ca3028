"""Lines of numbers that a device prints, one after the other, read through a mapping.

The mapping is that of a log file (``log-mapping/1``). Its columns are named by the device's own
line of names, by labels in each line (``T:12.5 A=3.1``), or by their place from 1 on. A column of
time is not needed: whoever listens knows when a line came.
"""

from __future__ import annotations

import json
import math
import re
from dataclasses import dataclass, field
from typing import Any, Final

import numpy as np

from spindle_core.errors import MappingError
from spindle_core.figures.quantities import TIME_COLUMN
from spindle_core.formats.foreign.mapping import (
    ColumnMapping,
    LogMapping,
    mapping_from_json,
    taken_together,
)
from spindle_core.formats.foreign.units import Unit, converted, plain_spelling, unit_named
from spindle_core.formats.strict_json import strict_json

LONGEST_LINE: Final = 1000
MISSING: Final = frozenset({"", "-", "--", "---", "nan", "null", "none", "n/a"})
"""What devices print where they have no reading."""

_LABELLED = re.compile(r"^\s*([^:=]+?)\s*[:=]\s*(.*?)\s*$")
_NUMBER = re.compile(r"^([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*([^\d\s+\-.]{0,6})$")
_PLACE = re.compile(r"[1-9][0-9]?$")


@dataclass(frozen=True, slots=True)
class PrintedRow:
    """A line's readings, one per channel, None where the device has none; ``time_s`` by the
    device's own clock [s], None where it prints none."""

    time_s: float | None
    values: tuple[float | None, ...]


@dataclass(slots=True)
class PrintedLines:
    """Reads one device's lines.

    ``channels``: what each row holds, in its order.
    """

    mapping: LogMapping
    channels: tuple[str, ...] = field(init=False)
    _names: list[str] | None = None

    def __post_init__(self) -> None:
        self.channels = tuple(
            column.channel
            for column in self.mapping.columns.values()
            if column.channel != TIME_COLUMN
        )
        if not self.channels:
            raise MappingError("Only the time is mapped; name a reading too.", code="no_channel")

    def read(self, line: str) -> PrintedRow | None:
        """One line; None where it holds no readings: blank, a comment, the line of names.

        :raises MappingError: a line that cannot be read through this mapping, with what is wrong.
        """
        if len(line) > LONGEST_LINE:
            raise MappingError(f"A line of {len(line)} characters is none of readings.")
        text = line.strip().lstrip("\ufeff")
        if not text or text.startswith("#"):
            return None
        cells = self._cells(text)
        labelled = [_LABELLED.match(cell) for cell in cells if cell.strip()]
        if labelled and all(labelled):
            return self._row({m.group(1): m.group(2) for m in labelled if m})
        if self._wanted() <= set(cells):
            self._names = cells
            return None
        return self._row(self._named(cells))

    def forget(self) -> None:
        """The device may have begun anew: its line of names has to come again."""
        self._names = None

    def _wanted(self) -> set[str]:
        others = {column.other for column in self.mapping.columns.values() if column.other}
        return set(self.mapping.columns) | others

    def _cells(self, text: str) -> list[str]:
        said = self.mapping.dialect.delimiter if self.mapping.dialect else ","
        cells = text.split() if said.isspace() and said != "\t" else text.split(said)
        return [cell.strip().strip('"') for cell in cells]

    def _named(self, cells: list[str]) -> dict[str, str]:
        if all(_PLACE.match(name) for name in self._wanted()):
            return {str(place): cell for place, cell in enumerate(cells, start=1)}
        if self._names is None:
            raise MappingError(
                "The device has printed no line of names yet; name the columns by their place, "
                "1 for the first, where it never does.",
                code="no_names",
            )
        if len(cells) != len(self._names):
            raise MappingError(
                f"A line has {len(cells)} cells where the names are {len(self._names)}.",
                code="cells",
            )
        return dict(zip(self._names, cells, strict=True))

    def _row(self, cells: dict[str, str]) -> PrintedRow:
        time_s: float | None = None
        values: list[float | None] = []
        for name, column in self.mapping.columns.items():
            value = self._value(name, column, cells)
            if column.channel == TIME_COLUMN:
                if value is None:
                    raise MappingError(f"{name}: a line without its time.", code="no_time")
                time_s = value
            else:
                values.append(value)
        return PrintedRow(time_s, tuple(values))

    def _value(self, name: str, column: ColumnMapping, cells: dict[str, str]) -> float | None:
        unit = unit_named(column.channel, column.unit)
        value = self._number(name, cells, unit)
        if column.how:
            other = self._number(column.other, cells, unit)
            if value is None or other is None:
                return None
            value = float(taken_together(np.array([value]), np.array([other]), column.how)[0])
        if value is None:
            return None
        found = float(converted(np.array([value]), unit, poles=self.mapping.pole_count)[0])
        if not math.isfinite(found):
            raise MappingError(f"{name}: {value:g} {unit.name} is no reading.", code="not_finite")
        return -found if column.negate else found

    def _number(self, name: str, cells: dict[str, str], unit: Unit) -> float | None:
        if name not in cells:
            raise MappingError(f"A line without {name!r}.", code="missing_column")
        text = cells[name]
        if text.lower() in MISSING:
            return None
        decimal = self.mapping.dialect.decimal if self.mapping.dialect else "."
        found = _NUMBER.match(text.replace(decimal, ".") if decimal != "." else text)
        behind = found.group(2) if found is not None else ""
        if found is None or (behind and plain_spelling(behind) not in unit.spellings):
            # A unit may stand behind the number, and only the one that the mapping says.
            raise MappingError(f"{name}: {text[:40]!r} is not a number.", code="not_a_number")
        value = float(found.group(1))
        if not math.isfinite(value):
            raise MappingError(f"{name}: {text[:40]!r} is too large.", code="not_finite")
        return value


def printed_lines(text: str) -> PrintedLines:
    """A reader from a mapping's JSON; a mapping without a column of time will do.

    :raises MappingError: it is no mapping, or contradicts itself.
    """
    try:
        data: Any = strict_json(text)
    except ValueError as error:
        raise MappingError(f"The mapping cannot be read: {error}.", code="unreadable") from error
    if isinstance(data, dict) and isinstance(data.get("columns"), dict):
        said = [c.get("channel") for c in data["columns"].values() if isinstance(c, dict)]
        if TIME_COLUMN not in said:
            # The mapping of a table of points asks for no time either.
            header = data.get("header") if isinstance(data.get("header"), dict) else {}
            text = json.dumps({**data, "header": {**(header or {}), "kind": "readings"}})
    mapping = mapping_from_json(text)
    for name, column in mapping.columns.items():
        unit = unit_named(column.channel, column.unit)
        if unit.poles and not mapping.pole_count:
            raise MappingError(
                f"{name}: electrical speed needs the motor's pole count.", code="no_pole_count"
            )
    return PrintedLines(mapping)
