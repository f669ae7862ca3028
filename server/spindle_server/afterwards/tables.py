"""Flights and letters from somebody's table: each column is said to be something; all or none."""

from __future__ import annotations

import csv
import datetime
import io
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from spindle_server.accounts.models import Role, User
from spindle_server.afterwards.models import LETTERS, WINDS
from spindle_server.afterwards.services import Matches, note_flight, note_letter
from spindle_server.errors import ServiceError
from spindle_server.match.models import Craft
from spindle_server.motors.models import INCIDENTS, MotorModel
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller

MOST_BYTES = 2_000_000
MOST_ROWS = 2_000
MOST_FAULTS = 8


@dataclass(frozen=True, slots=True)
class Field:
    """What a column may hold. ``needed``: no row without it."""

    name: str
    label: str
    read: str
    needed: bool = False
    spellings: tuple[str, ...] = ()


FLIGHT_FIELDS = (
    Field("flown_on", "Day", "day", True, ("date", "day", "flown")),
    Field("craft", "Craft", "craft", True, ("model", "quad", "aircraft")),
    Field("minutes", "Minutes", "number", True, ("min", "time", "duration")),
    Field("put_back_mah", "Put back, mAh", "number", False, ("mah", "charged", "putback")),
    Field("capacity_mah", "Pack, mAh", "number", False, ("pack", "capacity", "packmah")),
    Field("cells", "Cells", "whole", False, ("s",)),
    Field("mass_g", "All-up mass, g", "number", False, ("mass", "weight", "auw", "grams")),
    Field("distance_m", "Distance, m", "number", False, ("distance",)),
    Field("wind", "Wind", "wind"),
    Field("hover_share_pct", "Hovered, %", "number", False, ("hover", "hovershare")),
    Field("motor", "Motor", "motor"),
    Field("propeller", "Propeller", "propeller", False, ("prop",)),
    Field("motor_temp_c", "Motor after landing, °C", "number", False, ("motortemp", "temp")),
    Field("air_temp_c", "Air, °C", "number", False, ("air", "airtemp")),
    Field("impressions", "Impressions", "text", False, ("note", "notes", "remarks")),
    Field("flown_by", "Flown by", "text", False, ("pilot",)),
)
LETTER_FIELDS = (
    Field("received_on", "Day", "day", True, ("date", "day", "received")),
    Field("kind", "Kind", "letter", True, ("type",)),
    Field("text", "What was written", "text", True, ("message", "question", "body")),
    Field("person", "Who", "text", False, ("name", "from", "reader")),
    Field("motor", "Motor", "motor"),
    Field("readers", "Readers", "whole", False, ("count", "votes", "demand")),
    Field("wanted_by", "Wanted by", "day", False, ("deadline", "until")),
    Field("craft_words", "Craft", "text", False, ("craft", "quad")),
    Field("propeller_words", "Propeller", "text", False, ("propeller", "prop")),
    Field("temp_c", "Temperature, °C", "number", False, ("temperature", "temp")),
    Field("failure", "Failure", "failure"),
)
FIELDS: Mapping[str, Sequence[Field]] = {"flights": FLIGHT_FIELDS, "letters": LETTER_FIELDS}


@dataclass(frozen=True, slots=True)
class Table:
    """Heads and rows of a file, and which field each column seems to hold ('' for none)."""

    heads: list[str]
    rows: list[list[str]]
    proposed: list[str]


def open_table(of: str, name: str, data: bytes) -> Table:
    """A CSV file with a line of heads.

    :raises ServiceError: too large, no text, or no rows.
    """
    if len(data) > MOST_BYTES:
        raise _refused(f"{name} is larger than {MOST_BYTES / 1e6:.0f} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise _refused(f"{name} is no UTF-8 text; save it as CSV, UTF-8.") from error
    # The line of heads says what divides it; later lines may be short or hold commas in words.
    first = text.lstrip().partition("\n")[0]
    divider = max(",;\t", key=first.count)
    try:
        reader = csv.reader(io.StringIO(text), delimiter=divider)
        rows = [row for row in reader if any(cell.strip() for cell in row)]
    except csv.Error as error:
        raise _refused(f"{name} is no table: {error}.") from error
    if len(rows) < 2:
        raise _refused(f"{name} has no rows below a line of heads.")
    if len(rows) > MOST_ROWS + 1:
        raise _refused(f"{name} has {len(rows) - 1} rows; up to {MOST_ROWS} are taken.")
    heads = [head.strip() for head in rows[0]]
    return Table(heads, rows[1:], _proposed(of, heads))


def _proposed(of: str, heads: Sequence[str]) -> list[str]:
    left = list(FIELDS[of])
    found = []
    for head in heads:
        word = _plain(head)
        match = next(
            (
                field
                for field in left
                if word in {_plain(field.name), _plain(field.label), *field.spellings}
            ),
            None,
        )
        if match is not None:
            left.remove(match)
        found.append(match.name if match else "")
    return found


def _plain(words: str) -> str:
    return "".join(one for one in words.casefold() if one.isalnum())


@writes(Role.REVIEWER)
def note_table(
    *, actor: User | None, of: str, name: str, data: bytes, mapping: Sequence[str]
) -> int:
    """Note every row of a table, or none.

    :param mapping: the field of each column, '' for a column that is left out.
    :raises ServiceError: with every fault, by line and column.
    """
    table = open_table(of, name, data)
    fields = {one.name: one for one in FIELDS[of]}
    if len(mapping) != len(table.heads):
        raise _refused(f"{name} has {len(table.heads)} columns; {len(mapping)} were named.")
    strange = [one for one in mapping if one and one not in fields]
    twice = {one for one in mapping if one and list(mapping).count(one) > 1}
    if strange or twice:
        raise _refused(f"{(strange or sorted(twice))[0]} is no field, or is named twice.")
    missing = [one.label for one in fields.values() if one.needed and one.name not in mapping]
    if missing:
        raise _refused(f"Say which column is: {', '.join(missing)}.")
    known = _Known()
    faults: list[str] = []
    rows: list[dict[str, Any]] = []
    for at, row in enumerate(table.rows, start=2):
        values: dict[str, Any] = {}
        for column, cell in zip(mapping, row, strict=False):
            if not column or (not cell.strip() and not fields[column].needed):
                continue
            try:
                values[column] = known.read(fields[column], cell.strip())
            except ValueError as error:
                faults.append(f"line {at}, {fields[column].label}: {error}")
        lost = [one for one in fields.values() if one.needed and one.name not in values]
        if lost and len(row) < len(mapping):
            faults.append(f"line {at} has {len(row)} of {len(mapping)} columns")
        rows.append(values)
    if not faults:
        faults += _noted(of, actor, rows)
    if faults:
        more = f"; and {len(faults) - MOST_FAULTS} more" if len(faults) > MOST_FAULTS else ""
        said = "; ".join(faults[:MOST_FAULTS])
        raise _refused(f"Nothing was noted. {said}{more}.", code="rows")
    return len(rows)


def _noted(of: str, actor: User | None, rows: Sequence[dict[str, Any]]) -> list[str]:
    """Note the rows; what is wrong with some of them. The caller's transaction takes all back."""
    seen: Matches = {}
    note: Callable[..., Any] = partial(note_flight, seen=seen) if of == "flights" else note_letter
    faults = []
    for at, values in enumerate(rows, start=2):
        try:
            note(actor=actor, **values)
        except ServiceError as error:
            faults.append(f"line {at}: {error.message}".rstrip("."))
    return faults


class _Known:
    """What the cells of a table name, looked up once."""

    def __init__(self) -> None:
        self.craft = {_plain(row.name): row for row in Craft.objects.all()}
        self.motors = {
            _plain(row.full_name): row for row in MotorModel.objects.select_related("maker")
        }
        self.propellers = {
            _plain(row.full_name): row for row in Propeller.objects.select_related("maker")
        }
        choices = {"wind": WINDS, "letter": LETTERS, "failure": INCIDENTS}
        self.words = {name: _by_word(rows) for name, rows in choices.items()}
        self.said = {
            name: ", ".join(str(words) for _, words in rows) for name, rows in choices.items()
        }

    def read(self, field: Field, cell: str) -> Any:
        """A cell as what its column holds.

        :raises ValueError: it is none, in words.
        """
        if field.read == "text":
            if not cell:
                raise ValueError("it is empty")
            return cell
        if field.read == "day":
            return _day(cell)
        if field.read in ("number", "whole"):
            return _number(cell, whole=field.read == "whole")
        known: dict[str, Mapping[str, Any]] = {
            "craft": self.craft,
            "motor": self.motors,
            "propeller": self.propellers,
            **self.words,
        }
        rows = known[field.read]
        found = rows.get(_plain(cell))
        if found is None:
            some = f" ({self.said[field.read]})" if field.read in self.said else ""
            raise ValueError(f"“{cell[:60]}” is not known here{some}")
        return found


def _by_word(choices: Sequence[tuple[str, Any]]) -> dict[str, str]:
    return {
        **{_plain(str(words)): key for key, words in choices},
        **{_plain(key): key for key, _ in choices},
    }


def _day(cell: str) -> datetime.date:
    for form in ("%Y-%m-%d", "%d.%m.%Y"):
        try:
            return datetime.datetime.strptime(cell, form).date()
        except ValueError:
            continue
    raise ValueError(f"“{cell[:30]}” is no day; write 2026-10-05 or 5.10.2026")


def _number(cell: str, *, whole: bool) -> float | int:
    text = cell.replace("\N{THIN SPACE}", "").replace(" ", "")
    if "," in text and "." not in text and text.count(",") == 1:
        # 1,300 is a thousand and 4,5 a half: which of the two, three digits leave open.
        if len(text.partition(",")[2]) == 3:
            raise ValueError(f"“{cell[:20]}” may be two numbers; write it without the comma")
        text = text.replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        raise ValueError(f"“{cell[:30]}” is no number") from None
    if not math.isfinite(value):
        raise ValueError(f"“{cell[:30]}” is no number")
    if whole:
        if value != int(value):
            raise ValueError(f"“{cell[:30]}” is no whole number")
        return int(value)
    return value


def _refused(message: str, code: str = "table") -> ServiceError:
    return ServiceError(message, code=code, fields={"file": [message]})
