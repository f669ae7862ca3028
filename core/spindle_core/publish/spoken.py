"""Speaking notes: the verdict as short lines to be read aloud, with numbers as one says them."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from spindle_core.compare.delta import K_95
from spindle_core.figures.said import number
from spindle_core.publish.quotes import DIFFERENCES, LastSeen, Quote, QuoteKind

WORDS_PER_MINUTE: Final = 145.0
PAUSE_S: Final = 0.6
"""Between two lines."""

LONGEST_LINE: Final = 110
"""Characters that are read aloud in one breath."""

SPOKEN_UNITS: Final[Mapping[str, str]] = {
    "gf": "grams of thrust",
    "g": "grams",
    "A": "amps",
    "W": "watts",
    "V": "volts",
    "gf/W": "grams per watt",
    "rpm": "revs a minute",
    "rpm/V": "revs per volt",
    "%": "per cent",
    "°C": "degrees",
    "K": "degrees",
    "N·m": "newton metres",
    "mΩ": "milliohms",
    "s": "seconds",
    "min": "minutes",
}


@dataclass(frozen=True, slots=True)
class SpokenSection:
    """Lines of one section in order, and how long they take to say [s]."""

    title: str
    lines: tuple[str, ...]
    seconds: float


def spoken_number(value: float, u: float | None) -> str:
    """A number as one says it: to two or three digits, never finer than its 95 % interval."""
    if value == 0:
        return "zero"
    size = math.floor(math.log10(abs(value)))
    # Three digits where the first is 1, two otherwise: 1,180, 26, 0.45.
    digits = 3 if abs(value) / 10.0**size < 2 else 2
    place = size - digits + 1
    if u:
        place = max(place, math.floor(math.log10(2.0 * u)))
    place = min(place, size)
    rounded = round(value / 10.0**place) * 10.0**place
    text = number(abs(rounded), max(0, -place))
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"minus {text}" if rounded < 0 else text


def spoken(quote: Quote, seen: LastSeen) -> str:
    """A quoted figure as one says it: ``about 1,180 grams of thrust``."""
    if quote.kind is QuoteKind.RECORD:
        return quote.text
    if seen.value is None:
        return "a figure that is missing"
    unit = SPOKEN_UNITS.get(quote.unit, quote.unit)
    if quote.kind in DIFFERENCES and seen.u and abs(seen.value) <= K_95 * seen.u:
        # What nobody could tell apart is not said as if it had been.
        return f"to within {spoken_number(2.0 * seen.u, seen.u)} {unit}"
    if quote.kind in DIFFERENCES:
        more = "more" if seen.value > 0 else "less"
        return f"about {spoken_number(abs(seen.value), seen.u)} {unit} {more}"
    if quote.kind is QuoteKind.CLAIM:
        return f"a claimed {spoken_number(seen.value, None)} {unit}".strip()
    about = "about " if seen.u else ""
    return f"{about}{spoken_number(seen.value, seen.u)} {unit}".strip()


_ENDS: Final = re.compile(r"(?<=[.!?;])\s+")


def lines_of(text: str) -> list[str]:
    """Prose as lines of one breath: a line per sentence, a long one broken at its commas."""
    found: list[str] = []
    for paragraph in text.splitlines():
        for sentence in _ENDS.split(paragraph.removeprefix("\N{BULLET} ").strip()):
            found += _breaths(sentence.rstrip(";"))
    return [line for line in found if line]


def _breaths(sentence: str) -> list[str]:
    if len(sentence) <= LONGEST_LINE:
        return [sentence]
    lines = [""]
    for part in re.split(r"(?<=,)\s+", sentence):
        if lines[-1] and len(lines[-1]) + len(part) + 1 > LONGEST_LINE:
            lines.append(part)
        else:
            lines[-1] = f"{lines[-1]} {part}".strip()
    return lines


def seconds_of(lines: Sequence[str]) -> float:
    """How long lines take to say [s]; a number of four digits counts as the words it takes."""
    words = 0.0
    for line in lines:
        for word in line.split():
            digits = sum(char.isdigit() for char in word)
            words += max(1.0, 1.2 * digits)
    return words * 60.0 / WORDS_PER_MINUTE + PAUSE_S * len(lines)


def spoken_section(title: str, text: str) -> SpokenSection:
    """A section of prose, its figures said already, as speaking notes."""
    lines = tuple(lines_of(text))
    return SpokenSection(title, lines, seconds_of(lines))
