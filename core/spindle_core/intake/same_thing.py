"""Whether two names or propellers may be one thing, and how the samples of two motors share marks.

A double is what was typed twice: another blank, a hyphen, small letters. That two entries may be
one is a proposal; a person says whether they are.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from string import ascii_uppercase

from spindle_core.errors import QuantityError

NEARLY_IN = 0.02
"""Diameters and pitches nearer than this are one number, rounded by somebody [in]."""

LONGEST_MARK = 12


def plain_name(text: str) -> str:
    """A name without what people write differently: case, accents, blanks and signs; a point
    between digits stays, since 5.1 is not 51."""
    flat = unicodedata.normalize("NFKD", text).casefold()
    kept = "".join(sign for sign in flat if not unicodedata.combining(sign))
    kept = re.sub(r"(?<!\d)\.|\.(?!\d)", "", kept)
    return re.sub(r"[^\w.]|_", "", kept)


Geometry = tuple[float, float | None, int | None]


def geometry_conflict(one: Geometry, other: Geometry) -> str:
    """What two propellers certainly differ in, diameter [in], pitch [in] or number of blades; blank
    where they may be one. What is not known of one is no difference."""
    if abs(one[0] - other[0]) > NEARLY_IN:
        return "diameter"
    if one[1] is not None and other[1] is not None and abs(one[1] - other[1]) > NEARLY_IN:
        return "pitch"
    if one[2] is not None and other[2] is not None and one[2] != other[2]:
        return "the number of blades"
    return ""


def merged_marks(taken: Sequence[str], coming: Sequence[str]) -> dict[str, str]:
    """New marks of samples whose own are taken: the next free letters, then numbers.

    :param taken: marks of the motor that stays. :param coming: marks of the other's samples.
    :returns: old mark → new mark, of those that have to change, in their order.
    :raises QuantityError: no mark is left.
    """
    used = {mark.casefold() for mark in (*taken, *coming)}
    found = {}
    own = {mark.casefold() for mark in taken}
    for mark in coming:
        if mark.casefold() in own:
            found[mark] = _next_free(used)
            used.add(found[mark].casefold())
    return found


def _next_free(used: set[str]) -> str:
    names: list[str] = [*ascii_uppercase, *(str(number) for number in range(1, 10_000))]
    for name in names:
        if name.casefold() not in used:
            return name
    raise QuantityError("No mark is left for the samples of a motor with ten thousand of them.")
