"""The ways propellers are written, read with a confirmation in mind.

``5.1x4.3x3`` says diameter, pitch [in] and blades plainly. ``5043`` is 5.0 × 4.3 in tenths of an
inch, ``51433`` the same with its blades, ``1045`` a diameter of 10 inch, ``940`` one of 9, ``40mm``
a diameter and nothing else; ``6x3`` may be a pitch of 3 in or three blades. Where a text can mean
several propellers, each reading is given, and the motor in hand may tell which of them fit it.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import METRE_PER_INCH

_MM_PER_IN = 1000.0 * METRE_PER_INCH
_TIMES = r"\s*[x×*]\s*"
_NUMBER = r"(\d{1,2}(?:[.,]\d{1,2})?)"
_PLAIN = re.compile(rf"^{_NUMBER}{_TIMES}{_NUMBER}(?:{_TIMES}(\d))?$", re.IGNORECASE | re.ASCII)
_PACKED = re.compile(rf"^(\d{{3,5}})(?:{_TIMES}(\d))?$", re.IGNORECASE | re.ASCII)
_METRIC = re.compile(rf"^(\d{{2,3}}(?:[.,]\d)?)\s*mm(?:{_TIMES}(\d))?$", re.IGNORECASE | re.ASCII)
_INCHES = re.compile(r"^(\d{1,2}(?:[.,]\d{1,2})?)\s*(?:in|inch|\"|″)?$", re.IGNORECASE | re.ASCII)

STEEPEST = 1.7
"""Pitch over diameter beyond which a reading is no propeller."""

USUAL_STEEPEST = 1.1
"""Beyond this a reading is unusual, and comes after the others."""

FITS_FROM, FITS_TO = 0.12, 0.40
"""Inches of propeller for each millimetre of stator: from ducted to slow and large."""


@dataclass(frozen=True, slots=True)
class PropellerCode:
    """Diameter and pitch [in], blades; None where the text does not say.

    ``certain`` is False where digits had to be guessed. ``how``: the reading in words.
    """

    diameter_in: float
    pitch_in: float | None
    blades: int | None
    certain: bool
    how: str = ""


@dataclass(frozen=True, slots=True)
class PropellerSize:
    """Diameter and pitch [in], blades, all of them said or taken for usual."""

    diameter_in: float
    pitch_in: float
    blades: int
    certain: bool


def propeller_readings(text: str) -> tuple[PropellerCode, ...]:
    """Every propeller a text can mean, the likeliest first.

    :raises QuantityError: the text is no such code, or no reading of it is a propeller.
    """
    cleaned = text.strip()
    found: list[PropellerCode] = []
    if plain := _PLAIN.match(cleaned):
        found = list(_plain(plain))
    elif packed := _PACKED.match(cleaned):
        found = list(_packed(packed[1], int(packed[2]) if packed[2] else None))
    elif metric := _METRIC.match(cleaned):
        diameter = round(_number(metric[1]) / _MM_PER_IN, 3)
        blades = int(metric[2]) if metric[2] else None
        found = [PropellerCode(diameter, None, blades, True, f"{metric[1]} mm across")]
    elif inches := _INCHES.match(cleaned):
        found = [PropellerCode(_number(inches[1]), None, None, True, f"{inches[1]} inch across")]
    else:
        raise QuantityError(
            f"{text!r} is not a propeller code: write diameter x pitch x blades in inches "
            "(5.1x4.3x3), digits (51433) or a diameter (40mm).",
            code="propeller_code",
        )
    possible = [one for one in found if _possible(one)]
    if not possible:
        one = found[0] if found else None
        said = f" would be {_words(one)}, which is no propeller" if one else " is no propeller"
        raise QuantityError(
            f"{text!r}{said}; write diameter x pitch x blades.", code="propeller_code"
        )
    usual = [one for one in possible if (one.pitch_in or 0) <= USUAL_STEEPEST * one.diameter_in]
    return tuple(usual + [one for one in possible if one not in usual])


def fitting(readings: tuple[PropellerCode, ...], stator_mm: float) -> tuple[PropellerCode, ...]:
    """Those of the readings that a stator of this diameter [mm] turns in practice."""
    low, high = FITS_FROM * stator_mm, FITS_TO * stator_mm
    return tuple(one for one in readings if low <= one.diameter_in <= high)


def parse_propeller_code(text: str) -> PropellerSize:
    """The likeliest reading of a code that says a pitch; two blades where none are said.

    :raises QuantityError: the text is no such code, or tells a diameter alone.
    """
    for one in propeller_readings(text):
        if one.pitch_in is not None:
            return PropellerSize(one.diameter_in, one.pitch_in, one.blades or 2, one.certain)
    raise QuantityError(
        f"{text!r} says no pitch; write diameter x pitch x blades.", code="propeller_code"
    )


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _plain(match: re.Match[str]) -> list[PropellerCode]:
    first, second, third = match[1], match[2], match[3]
    diameter, pitch = _number(first), _number(second)
    blades = int(third) if third else None
    found = [PropellerCode(diameter, pitch, blades, True, f"{first} × {second} inch")]
    # A lone digit behind the last times can be blades as well: 6x3.
    if third is None and second in {"2", "3", "4"}:
        found = [
            PropellerCode(diameter, pitch, None, False, f"{first} × {second} inch"),
            PropellerCode(diameter, None, int(second), False, f"{first} inch, {second} blades"),
        ]
    return found


def _packed(digits: str, blades: int | None) -> list[PropellerCode]:
    tenths, pitch_tenths = int(digits[:2]) / 10.0, int(digits[2:4]) / 10.0
    if len(digits) == 3:
        inches, pitch = int(digits[0]), int(digits[1:3]) / 10.0
        return [_guess(inches, pitch, blades)]
    if len(digits) == 5:
        if blades is None:
            blades = int(digits[4])
            return [_guess(tenths, pitch_tenths, blades), _guess(10 * tenths, pitch_tenths, blades)]
        return []
    return [_guess(tenths, pitch_tenths, blades), _guess(10 * tenths, pitch_tenths, blades)]


def _guess(diameter: float, pitch: float, blades: int | None) -> PropellerCode:
    return PropellerCode(diameter, pitch, blades, False, f"{diameter:g} × {pitch:g} inch")


def _possible(one: PropellerCode) -> bool:
    pitch = one.pitch_in
    return (
        1.0 <= one.diameter_in <= 40.0
        and (pitch is None or 0.5 <= pitch <= STEEPEST * one.diameter_in)
        and (one.blades is None or 1 <= one.blades <= 8)
        # Three inches of pitch across thirty are no propeller of any motor on a bench.
        and (pitch is None or pitch >= 0.08 * one.diameter_in)
    )


def _words(one: PropellerCode) -> str:
    size = f"{one.diameter_in:g}" + ("" if one.pitch_in is None else f" × {one.pitch_in:g}")
    return f"{size} inch" + ("" if one.blades is None else f" with {one.blades} blades")
