"""Guesses at what each column of a stranger's log holds, with the reason and how sure it is.

The name speaks first, a unit in it or below it second, the range of the values third. A guess is
never applied unseen: it is shown with the range it would give, and with the next best.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN
from spindle_core.formats.foreign.dialect import Sheet, number_in_cell
from spindle_core.formats.foreign.mapping import ColumnMapping, LogMapping, taken_together
from spindle_core.formats.foreign.units import UNITS, converted, plain_spelling, unit_named

# Words in a name, strongest first; a later word of the list is a weaker sign.
_WORDS: tuple[tuple[str, tuple[str, ...], tuple[str, ...]], ...] = (
    ("ambient_temp_c", ("ambient", "air temp", "room", "environment", "outside"), ()),
    (
        "motor_temp_c",
        ("motor temp", "case temp", "winding temp", "temperature", "temp"),
        ("ambient", "air", "room", "esc"),
    ),
    ("vibration_g", ("vibration", "vibr", "accel", "shake"), ()),
    ("speed_rpm", ("rpm", "erpm", "speed", "rotation", "revolutions", "rev/min"), ("air", "wind")),
    ("torque_nm", ("torque", "moment"), ()),
    ("thrust_gf", ("thrust", "force", "pull", "lift", "load cell", "loadcell", "weight"), ()),
    (
        "throttle_pct",
        ("throttle", "stick", "esc", "pwm", "signal", "command", "pulse"),
        ("temp", "voltage", "current", "rpm"),
    ),
    ("duty", ("duty",), ()),
    ("power_w", ("power", "watt"), ("mech", "shaft", "prop")),
    ("current_a", ("current", "amps", "ampere", "amp"), ()),
    (
        "voltage_v",
        ("voltage", "volts", "volt", "battery", "vbat", "supply"),
        ("current", "temp", "power"),
    ),
    (TIME_COLUMN, ("timestamp", "time", "elapsed", "seconds", "millis", "clock"), ("spin",)),
)
"""(channel, words in a name with the strongest first, words that speak against it)."""

_SHORT = {
    "t": TIME_COLUMN,
    "v": "voltage_v",
    "u": "voltage_v",
    "a": "current_a",
    "i": "current_a",
    "p": "power_w",
    "w": "power_w",
    "n": "speed_rpm",
    "f": "thrust_gf",
    "m": "torque_nm",
}

_UNIT_IN_NAME = re.compile(r"[\(\[]([^\)\]]+)[\)\]]|[_\s]([a-zA-Zµμ°%/·²]+)$")


@dataclass(frozen=True, slots=True)
class Preview:
    """What a mapping makes of a column: its range in the channel's unit, and what is odd in it."""

    column: str
    channel: str
    unit: str
    low: float | None
    high: float | None
    remark: str


def propose(sheet: Sheet, *, pole_count: int | None = None) -> LogMapping:
    """A mapping for a file that nobody has mapped yet.

    Columns nothing speaks for are left out. Time falls back to the first column that only rises.

    :param pole_count: of the motor, for electrical speed.
    """
    values = {name: column_values(sheet, i) for i, name in enumerate(sheet.names)}
    guesses: dict[str, list[tuple[float, str, str, str]]] = {}
    for position, name in enumerate(sheet.names):
        guesses[name] = _guesses(name, sheet.units[position], values[name])
    columns: dict[str, ColumnMapping] = {}
    taken: set[str] = set()
    ranked = sorted(
        (
            (sure, name, channel, unit, why)
            for name, found in guesses.items()
            for sure, channel, unit, why in found
        ),
        key=lambda item: -item[0],
    )
    for sure, name, channel, unit, why in ranked:
        if channel in taken or name in columns:
            continue
        others = tuple((c, u) for _, c, u, _ in guesses[name] if (c, u) != (channel, unit))[:3]
        columns[name] = ColumnMapping(channel, unit, certainty=sure, why=why, alternatives=others)
        taken.add(channel)
    names = _name_columns(sheet, values)
    columns = {name: column for name, column in columns.items() if name not in names}
    if TIME_COLUMN not in taken and not names:
        _add_time(sheet, values, columns)
    _check_electrical(values, columns, pole_count)
    ordered = {name: columns[name] for name in sheet.names if name in columns}
    timed = any(column.channel == TIME_COLUMN for column in ordered.values())
    header = {} if timed or not names else {"kind": "readings"}
    return LogMapping(ordered, sheet.dialect, pole_count, header, names=names)


_NAME_WORDS = {
    "motor": ("motor", "engine"),
    "sample": ("sample", "specimen", "unit no"),
    "propeller": ("propeller", "prop"),
    "supply": ("pack", "battery", "supply"),
    "voltage": ("cells", "nominal", "voltage", "supply", "battery", "pack"),
}


def _name_columns(sheet: Sheet, values: dict[str, Floats]) -> dict[str, str]:
    """Columns of words, or of cell counts, that say whose each row is."""
    found: dict[str, str] = {}
    for position, name in enumerate(sheet.names):
        cells = [row[position] for row in sheet.rows if position < len(row) and row[position]]
        if not cells or np.isfinite(values[name]).sum() > 0.5 * len(cells):
            continue
        lowered = re.sub(r"[_\-]+", " ", name).lower()
        counted = all(re.fullmatch(r"\d{1,2}\s*[sS]", cell) for cell in cells)
        for what, words in _NAME_WORDS.items():
            if (what == "voltage") != counted or what in found.values():
                continue
            if any(_says(word, lowered) for word in words):
                found[name] = what
                break
    return found


def column_values(sheet: Sheet, position: int) -> Floats:
    """A column's numbers, NaN where empty or not a number; shape (rows,)."""
    values = np.full(len(sheet.rows), np.nan)
    for i, row in enumerate(sheet.rows):
        if position < len(row):
            try:
                value = number_in_cell(row[position], sheet.dialect.decimal)
            except ValueError:
                continue
            if value is not None:
                values[i] = value
    return values


def _guesses(name: str, unit_below: str, values: Floats) -> list[tuple[float, str, str, str]]:
    """(certainty, channel, unit, why) of one column, best first."""
    finite = values[np.isfinite(values)]
    if finite.size < 0.2 * max(1, values.size):
        return []
    lowered = re.sub(r"[_\-]+", " ", name).lower()
    found = []
    exact = plain_spelling(name)
    for channel in (TIME_COLUMN, *CHANNELS):
        if exact == plain_spelling(channel):
            found.append((1.0, channel, UNITS[channel][0].name, "the channel's own name"))
    for channel, words, against in _WORDS:
        place = next((i for i, word in enumerate(words) if _says(word, lowered)), None)
        if place is None or any(_says(word, lowered) for word in against):
            continue
        sure = 0.9 - 0.05 * place
        unit, why = _unit_of(channel, name, unit_below, finite)
        if "efficiency" in lowered or "/w" in lowered:
            continue
        found.append(
            (
                sure if "range" not in why else sure - 0.2,
                channel,
                unit,
                f"“{words[place]}” in the name; {why}",
            )
        )
    bare = plain_spelling(re.sub(r"[\(\[].*", "", name))
    if bare in _SHORT:
        channel = _SHORT[bare]
        unit, why = _unit_of(channel, name, unit_below, finite)
        found.append((0.55, channel, unit, f"“{bare}” by itself; {why}"))
    if not found:
        found += _by_unit_alone(name, unit_below)
    return sorted(found, key=lambda item: -item[0])


def _says(word: str, name: str) -> bool:
    """Whether a word begins somewhere in a name (“amp” in “amps”, but not in “stamp”)."""
    return re.search(rf"(?<![a-z]){re.escape(word)}", name) is not None


def _unit_of(channel: str, name: str, unit_below: str, values: Floats) -> tuple[str, str]:
    """The unit of a column whose channel is known, and what says so."""
    if channel == "speed_rpm" and re.search(r"e[\s_-]?rpm|elec", name, re.IGNORECASE):
        unit = "electrical Hz" if "hz" in name.lower() else "electrical rpm"
        return unit, "electrical by its name"
    written = _written_unit(channel, unit_below, name)
    if written is not None:
        return written, f"written in {written}"
    unit = _unit_by_range(channel, values)
    return unit, f"{unit} by the range of its values"


def _written_unit(channel: str, unit_below: str, name: str) -> str | None:
    # A name can be its unit: Amps, Volts, millis.
    candidates = [unit_below, name]
    for match in _UNIT_IN_NAME.finditer(name):
        candidates += [part for part in match.groups() if part]
    for text in candidates:
        for unit in UNITS[channel]:
            if plain_spelling(text) and plain_spelling(text) in unit.spellings:
                return unit.name
    return None


def _by_unit_alone(name: str, unit_below: str) -> list[tuple[float, str, str, str]]:
    """A unit that only one channel is written in speaks for the channel."""
    found = []
    for channel in ("voltage_v", "current_a", "power_w", "speed_rpm", "torque_nm", "thrust_gf"):
        unit = _written_unit(channel, unit_below, name)
        if unit is not None:
            found.append((0.5, channel, unit, f"only its unit, {unit}"))
    return found


def _unit_by_range(channel: str, values: Floats) -> str:
    """The unit in which the values are those of a small-motor bench."""
    low, high = float(np.percentile(values, 1)), float(np.percentile(values, 99))
    size = max(abs(low), abs(high))
    if channel == TIME_COLUMN:
        steps = np.diff(values)
        step = float(np.median(steps[steps > 0])) if (steps > 0).any() else 1.0
        if step >= 500.0:
            return "µs"
        return "ms" if step >= 0.9 and step == round(step) and high - low > 600 else "s"
    if channel == "throttle_pct":
        if high > 700.0:
            return "µs"
        return "0–1" if high <= 1.001 else "%"
    if channel == "duty":
        return "%" if high > 1.5 else "0–1"
    if channel == "thrust_gf":
        return "gf" if size > 60.0 else ("N" if size > 8.0 else "kgf")
    if channel == "torque_nm":
        return "N·m" if size < 5.0 else "mN·m"
    if channel in ("motor_temp_c", "ambient_temp_c"):
        start = float(np.median(values[: max(1, values.size // 20)]))
        if start > 250.0:
            return "K"
        return "°F" if 55.0 < start < 110.0 and low > 50.0 else "°C"
    if channel == "voltage_v":
        return "mV" if size > 200.0 else "V"
    if channel == "current_a":
        return "mA" if size > 500.0 else "A"
    return UNITS[channel][0].name


def _add_time(sheet: Sheet, values: dict[str, Floats], columns: dict[str, ColumnMapping]) -> None:
    for name in sheet.names:
        data = values[name]
        finite = data[np.isfinite(data)]
        if name in columns or finite.size < 3 or finite.size < data.size:
            continue
        if np.all(np.diff(finite) >= 0) and finite[-1] > finite[0]:
            unit = _unit_by_range(TIME_COLUMN, finite)
            columns[name] = ColumnMapping(
                TIME_COLUMN, unit, certainty=0.4, why=f"the first column that only rises; {unit}"
            )
            return


def _check_electrical(
    values: dict[str, Floats], columns: dict[str, ColumnMapping], pole_count: int | None
) -> None:
    """A speed that no motor of any kV reaches at its voltage is electrical, and marked unsure."""
    named = {column.channel: name for name, column in columns.items()}
    name = named.get("speed_rpm")
    if name is None or columns[name].unit != "rpm":
        return
    fastest = float(np.nanpercentile(values[name], 99))
    if fastest > 70_000.0 and pole_count:
        column = columns[name]
        columns[name] = ColumnMapping(
            "speed_rpm",
            "electrical rpm",
            certainty=min(column.certainty, 0.5),
            why=f"{fastest:.0f} rpm is beyond any propeller: electrical, {pole_count} poles",
            alternatives=(("speed_rpm", "rpm"),),
        )


def speed_is_electrical(
    speed_rpm: float, *, kv_rpm_per_v: float, voltage_v: float, duty: float, pole_count: int
) -> bool | None:
    """Whether a logged speed is electrical, from rpm ÷ (kV·V·d).

    A loaded motor turns at 0.5 to 1.02 of kV·V·d. When only the speed ÷ (poles/2) lies there the
    log is electrical; None when neither or both do.
    """
    free = kv_rpm_per_v * voltage_v * duty
    mechanical = 0.4 <= speed_rpm / free <= 1.03
    electrical = 0.4 <= speed_rpm * 2.0 / pole_count / free <= 1.03
    return None if mechanical == electrical else electrical


def previews(sheet: Sheet, mapping: LogMapping) -> list[Preview]:
    """What each mapped column would give, so that a wrong guess is seen before it is used."""
    positions = {name: i for i, name in enumerate(sheet.names)}
    shown = []
    for name, column in mapping.columns.items():
        if name not in positions:
            shown.append(Preview(name, column.channel, column.unit, None, None, "not in the file"))
            continue
        unit = unit_named(column.channel, column.unit)
        data = column_values(sheet, positions[name])
        if column.how:
            if column.other not in positions:
                said = f"{column.other!r} is not in the file"
                shown.append(Preview(name, column.channel, column.unit, None, None, said))
                continue
            others = column_values(sheet, positions[column.other])
            data = taken_together(data, others, column.how)
        data = data[np.isfinite(data)]
        if unit.poles and not mapping.pole_count:
            shown.append(
                Preview(name, column.channel, column.unit, None, None, "needs the pole count")
            )
            continue
        data = converted(data, unit, poles=mapping.pole_count) * (-1.0 if column.negate else 1.0)
        if data.size == 0:
            shown.append(Preview(name, column.channel, column.unit, None, None, "holds no numbers"))
            continue
        low, high = float(data.min()), float(data.max())
        shown.append(
            Preview(name, column.channel, column.unit, low, high, _odd(column.channel, low, high))
        )
    return shown


def _odd(channel: str, low: float, high: float) -> str:
    """A word about a range that a bench does not have."""
    if channel == TIME_COLUMN:
        return "longer than a day" if high - low > 86_400 else ""
    bounds = CHANNELS[channel]
    if low < bounds.low or high > bounds.high:
        return f"outside {bounds.low:g} to {bounds.high:g} {bounds.unit}: wrong unit?"
    if channel == "thrust_gf" and high < -low:
        return "mostly negative: the load cell is mounted reversed?"
    return ""


def least_certain(mapping: LogMapping) -> Sequence[tuple[str, ColumnMapping]]:
    """Columns in the order a person should look at them, the least sure first."""
    return sorted(mapping.columns.items(), key=lambda item: item[1].certainty)


SURE = 0.75
"""A guess below this is asked about before it is used."""


def to_ask(mapping: LogMapping, shown: Sequence[Preview]) -> dict[str, str]:
    """Columns that somebody has to look at before anything is stored, each with the reason: the
    unit or the channel is a guess, or the range it would give is odd."""
    odd = {preview.column: preview.remark for preview in shown if preview.remark}
    asked = {}
    for name, column in mapping.columns.items():
        if name in odd:
            asked[name] = odd[name]
        elif column.certainty < SURE:
            asked[name] = column.why or "a guess"
    return asked


_FACT = re.compile(r"^[#;%/\s]*([A-Za-z][A-Za-z ]{1,24}?)\s*[:=]\s*(\S.*?)\s*$")
_FACTS = {
    "motor": "motor",
    "engine": "motor",
    "sample": "sample",
    "prop": "propeller",
    "propeller": "propeller",
    "battery": "supply",
    "pack": "supply",
    "supply": "supply",
    "power supply": "supply",
    "esc": "esc",
    "stand": "stand",
}


def preamble_facts(preamble: Sequence[str]) -> dict[str, str]:
    """What lines before the table say in the way ``Motor: …``; key → words, the first of each."""
    found: dict[str, str] = {}
    for line in preamble:
        match = _FACT.match(line.strip().strip(";,\t"))
        key = _FACTS.get(match[1].strip().lower()) if match else None
        if match and key:
            found.setdefault(key, match[2].strip(' ";,'))
    return found


def sample_values(sheet: Sheet, position: int, most: int = 4) -> list[str]:
    """A few cells of a column as they are written, spread over the file."""
    filled = [row[position] for row in sheet.rows if position < len(row) and row[position]]
    if len(filled) <= most:
        return filled
    return [filled[(len(filled) - 1) * i // (most - 1)] for i in range(most)]
