"""A mapping of someone's columns and units to channels: confirmed once, saved, used again."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from spindle_core.errors import MappingError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import TIME_COLUMN
from spindle_core.formats.foreign.dialect import Dialect
from spindle_core.formats.foreign.units import UNITS, unit_named
from spindle_core.formats.strict_json import strict_json
from spindle_core.reduction.kinds import RUN_KINDS

FORMAT = "log-mapping/1"

HOWS = ("plus", "minus", "times")
"""How a second column is taken together with the first, in the unit that is said."""

NAMES = ("motor", "sample", "propeller", "supply", "voltage")
"""What a column can say of a whole run; ``voltage`` is the nominal one [V]."""


@dataclass(frozen=True, slots=True)
class ColumnMapping:
    """A column's channel and the unit it is written in; ``negate`` for a sensor mounted reversed.

    ``why`` says what the proposal rests on; ``certainty`` is 0 to 1, 1 once confirmed.
    ``how`` and ``other``: the channel is this column plus, minus or times another one: two cells
    that share the thrust, gross less tare, volts times amps.
    """

    channel: str
    unit: str
    negate: bool = False
    certainty: float = 1.0
    why: str = ""
    alternatives: tuple[tuple[str, str], ...] = ()
    how: str = ""
    other: str = ""

    def check(self, name: str) -> None:
        """Whether it can be read so, as column ``name``.

        :raises MappingError: no such unit, or a second column that makes no sense.
        """
        unit = unit_named(self.channel, self.unit)
        if not self.how and not self.other:
            return
        if self.how not in HOWS or not self.other or self.other == name:
            raise MappingError(
                f"Column {name!r} is taken together with another by one of {', '.join(HOWS)}.",
                code="combined",
            )
        if unit.offset or self.channel == TIME_COLUMN:
            raise MappingError(
                f"Column {name!r}: {self.unit} of two columns cannot be taken together.",
                code="combined",
            )


def taken_together(values: Floats, others: Floats, how: str) -> Floats:
    """Two columns taken together, shape (n,) each; a cell that is missing in either is missing."""
    if how == "times":
        return values * others
    return values + others if how == "plus" else values - others


@dataclass(frozen=True, slots=True)
class LogMapping:
    """Columns by name, the dialect, and what the file does not say of itself.

    ``header``: keys of the bench log to add (``kind``, ``motor``, ``propeller``, …).
    ``idle_s``: idle time that separates two runs of one file [s].
    ``names``: columns that say of each row whose it is, one of :data:`NAMES`; rows of one motor,
    propeller and supply are one run. A table of points (``kind`` ``readings``) needs no time.
    """

    columns: Mapping[str, ColumnMapping]
    dialect: Dialect | None = None
    pole_count: int | None = None
    header: Mapping[str, str] = field(default_factory=dict)
    idle_s: float = 8.0
    names: Mapping[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        channels = [column.channel for column in self.columns.values()]
        for name, column in self.columns.items():
            column.check(name)
            if channels.count(column.channel) > 1:
                raise MappingError(
                    f"Column {name!r}: two columns are mapped to {column.channel}.",
                    code="duplicate_channel",
                )
        for name, what in self.names.items():
            if what not in NAMES:
                raise MappingError(f"Column {name!r}: {what!r} is none of {', '.join(NAMES)}.")
            if name in self.columns or list(self.names.values()).count(what) > 1:
                raise MappingError(
                    f"Column {name!r} is taken for two things, or two for the {what}.",
                    code="duplicate_channel",
                )
        if not channels:
            raise MappingError("No column is mapped to anything.", code="nothing_mapped")
        if TIME_COLUMN not in channels and self.header.get("kind") != "readings":
            raise MappingError(f"No column is mapped to {TIME_COLUMN}.", code="no_time")
        if self.header.get("kind") and self.header["kind"] not in RUN_KINDS:
            raise MappingError(
                f"{self.header['kind']!r} is no kind of run; kinds are {', '.join(RUN_KINDS)}.",
                code="unknown_kind",
            )
        if self.idle_s <= 0:
            raise MappingError("Idle time between runs must be above 0 s.")

    def with_column(self, name: str, channel: str | None, unit: str | None = None) -> LogMapping:
        """The mapping with one column corrected; ``channel`` None leaves the column out.

        A channel that another column held goes to this one.
        """
        columns = {
            key: column
            for key, column in self.columns.items()
            if key != name and column.channel != channel
        }
        if channel is not None:
            if channel not in UNITS:
                raise MappingError(f"{channel!r} is not a channel.", code="unknown_channel")
            columns[name] = ColumnMapping(channel, unit or UNITS[channel][0].name)
        names = {key: what for key, what in self.names.items() if key != name}
        return replace(self, columns=columns, names=names)


def mapping_to_json(mapping: LogMapping) -> str:
    """The mapping as JSON that a person can edit."""
    data: dict[str, Any] = {
        "format": FORMAT,
        "columns": {
            name: {
                "channel": column.channel,
                "unit": column.unit,
                **({"negate": True} if column.negate else {}),
                **({"how": column.how, "other": column.other} if column.how else {}),
                "certainty": round(column.certainty, 2),
                "why": column.why,
                "alternatives": [list(pair) for pair in column.alternatives],
            }
            for name, column in mapping.columns.items()
        },
        "pole_count": mapping.pole_count,
        "header": dict(mapping.header),
        "idle_s": mapping.idle_s,
        "names": dict(mapping.names),
    }
    if mapping.dialect is not None:
        dialect = mapping.dialect
        data["dialect"] = {
            "encoding": dialect.encoding,
            "delimiter": dialect.delimiter,
            "decimal": dialect.decimal,
            "header_line": dialect.header_line,
            "units_line": dialect.units_line,
        }
    return json.dumps(data, ensure_ascii=False, indent=2)


def mapping_from_json(text: str) -> LogMapping:
    """The mapping that :func:`mapping_to_json` wrote, edited or not.

    :raises MappingError: not such a file, or a mapping that contradicts itself.
    """
    try:
        data = strict_json(text)
        if data.get("format") != FORMAT:
            raise MappingError(f"This is no mapping; expected format {FORMAT!r}.", code="format")
        columns = {
            str(name): ColumnMapping(
                str(item["channel"]),
                str(item["unit"]),
                bool(item.get("negate", False)),
                float(item.get("certainty", 1.0)),
                str(item.get("why", "")),
                tuple((str(a), str(b)) for a, b in item.get("alternatives", [])),
                str(item.get("how", "")),
                str(item.get("other", "")),
            )
            for name, item in data["columns"].items()
        }
        dialect = _dialect(data["dialect"]) if data.get("dialect") else None
        poles = data.get("pole_count")
        header = {str(k): str(v) for k, v in (data.get("header") or {}).items()}
        idle_s = float(data.get("idle_s", 8.0))
        names = {str(k): str(v) for k, v in (data.get("names") or {}).items()}
        poles = None if poles is None else int(poles)
    except MappingError:
        raise
    except (AttributeError, LookupError, TypeError, ValueError, ArithmeticError) as error:
        raise MappingError(f"The mapping cannot be read: {error}.", code="unreadable") from error
    if not (math.isfinite(idle_s) and idle_s > 0):
        raise MappingError("A rest between runs takes seconds above 0.", code="idle_s")
    return LogMapping(columns, dialect, poles, header, idle_s, names)


def _dialect(said: dict[str, Any]) -> Dialect:
    """How a file is written, as somebody or a program says.

    :raises MappingError: a dialect that no file has. :raises TypeError: other fields than it has.
    """
    dialect = Dialect(**said)
    for name in ("delimiter", "decimal"):
        value = getattr(dialect, name)
        if not (isinstance(value, str) and len(value) == 1 and value not in '\r\n"0123456789'):
            raise MappingError(f"The {name} is one character, not {value!r}.", code="dialect")
    if dialect.delimiter == dialect.decimal:
        raise MappingError("Delimiter and decimal sign are the same.", code="dialect")
    if type(dialect.header_line) is not int or dialect.header_line < 1:
        raise MappingError(
            f"The header's line counts from 1, not {dialect.header_line!r}.", code="dialect"
        )
    if type(dialect.units_line) is not bool:
        raise MappingError("There is a line of units, or there is none.", code="dialect")
    try:
        "".encode(dialect.encoding)
    except (LookupError, TypeError, ValueError) as error:
        raise MappingError(f"There is no encoding {dialect.encoding!r}.", code="dialect") from error
    return dialect
