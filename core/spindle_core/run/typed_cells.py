"""What stands in a cell that is no plain number: about 40, just under 900, 890 to 910, below 900.

Who reads a jumping display writes what he saw. An interval becomes a value with a half-width; a
bound has no value at all, and no figure is made of it. How wide "about" is nobody said, so that
width is assumed.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from spindle_core.errors import QuantityError

ABOUT: Final = 0.05
"""Half-width of "about", and width of "just under" and "just over" [relative]."""

WAYS: Final = ("about", "just_below", "just_above", "between", "below", "above")
"""How a cell can be said; ``between`` takes two numbers, the others one."""


@dataclass(frozen=True, slots=True)
class TypedCell:
    """A cell: its value and the half-width of what it may be, in the unit of its column.

    ``assumed``: nobody said the width. ``bound``: ``<`` or ``>`` where only that is known; then
    ``limit`` is the bound and there is no value.
    """

    value: float | None
    half_width: float = 0.0
    assumed: bool = False
    bound: str = ""
    limit: float = 0.0

    def scaled(self, ratio: float) -> TypedCell:
        """In another unit, or through a lever: widths only, the value is for the caller."""
        return replace(self, half_width=abs(ratio) * self.half_width, limit=ratio * self.limit)


def said(way: str, numbers: Sequence[float]) -> TypedCell:
    """The cell that somebody described in one of :data:`WAYS`.

    :raises QuantityError: another way, numbers that are none, a range the wrong way round, or
        about 0, which says nothing of how far off it may be.
    """
    wanted = 2 if way == "between" else 1
    if way not in WAYS or len(numbers) != wanted or not all(math.isfinite(n) for n in numbers):
        raise QuantityError("A cell is a number, about one, a range, or a bound.", code="cell")
    first = numbers[0]
    if way == "between":
        low, high = numbers
        if low >= high:
            raise QuantityError(
                f"A range goes from the smaller to the larger: {low:g} to {high:g} does not.",
                code="cell",
            )
        return TypedCell(0.5 * (low + high), 0.5 * (high - low))
    if way in ("below", "above"):
        return TypedCell(None, bound="<" if way == "below" else ">", limit=first)
    if first == 0:
        raise QuantityError("About 0 says nothing of how far: write a range.", code="cell")
    if way == "about":
        return TypedCell(first, ABOUT * abs(first), assumed=True)
    half = 0.5 * ABOUT * abs(first)
    return TypedCell(first - half if way == "just_below" else first + half, half, assumed=True)


@dataclass(frozen=True, slots=True)
class Doubt:
    """What a log says of one reading: channel, row from 1, and what of :class:`TypedCell`."""

    channel: str
    row: int
    half_width: float = 0.0
    assumed: bool = False
    bound: str = ""
    limit: float = 0.0


_DOUBT = re.compile(r"^([a-z][a-z0-9_]*)@([1-9]\d{0,5})([~±<>])(-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)$")


def doubts_text(doubts: Sequence[Doubt]) -> str:
    """As a log's preamble has them: ``current_a@3~2 thrust_gf@4±10 power_w@5<900``."""
    return " ".join(
        f"{d.channel}@{d.row}{d.bound}{d.limit!r}"
        if d.bound
        else f"{d.channel}@{d.row}{'~' if d.assumed else '±'}{d.half_width!r}"
        for d in doubts
    )


def read_doubts(text: str) -> tuple[Doubt, ...]:
    """The inverse of :func:`doubts_text`.

    :raises QuantityError: a part that is none.
    """
    found = []
    for part in text.split():
        match = _DOUBT.match(part)
        number = float(match[4]) if match else math.nan
        if match is None or not math.isfinite(number) or (match[3] in "~±" and number < 0):
            raise QuantityError(
                f"{part!r} is none of channel@row~width, channel@row±width, channel@row<bound.",
                code="cells",
            )
        channel, row, sign = match[1], int(match[2]), match[3]
        found.append(
            Doubt(channel, row, bound=sign, limit=number)
            if sign in "<>"
            else Doubt(channel, row, number, sign == "~")
        )
    return tuple(found)


LATER: Final = TypedCell(None, bound="?")
"""A cell that somebody will fill in later; nothing is known of it yet."""

_TIME_CODE = re.compile(r"(?<![\d:])(?:\d{1,2}:)?\d{1,2}:[0-5]\d(?![\d:])")


@dataclass(frozen=True, slots=True)
class Footage:
    """Where a reading can be seen: the clip by name and the time in it, as h:mm:ss or m:ss."""

    clip: str
    time_code: str


def footage(text: str) -> Footage:
    """Clip and time code of what was written: ``clip 3 at 04:12``; '' for what is not said."""
    match = _TIME_CODE.search(text)
    rest = text if match is None else text[: match.start()] + " " + text[match.end() :]
    words = [word for word in rest.split() if word.lower() not in ("at", "from", "@")]
    return Footage(" ".join(words).strip(" ,;"), match[0] if match else "")
