"""Units that people write beside a number, and the way into the unit a field is kept in.

A reading in ounces stays one: what was typed is kept beside the grams it means.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from spindle_core.figures.constants import (
    GRAMS_PER_POUND,
    METRE_PER_INCH,
    STANDARD_GRAVITY_M_PER_S2,
)

_MM_PER_IN = 1000.0 * METRE_PER_INCH
_GF_PER_N = 1000.0 / STANDARD_GRAVITY_M_PER_S2
_HPA_PER_INHG = 33.86389
"""Inch of mercury at 0 °C and standard gravity."""


@dataclass(frozen=True, slots=True)
class EntryUnit:
    """value in the field's unit = (typed − ``offset``) × ``factor``."""

    name: str
    factor: float
    offset: float = 0.0
    spellings: tuple[str, ...] = ()

    def into(self, typed: float) -> float:
        """The typed number in the field's unit."""
        return (typed - self.offset) * self.factor


_OUNCE = EntryUnit("oz", GRAMS_PER_POUND / 16.0, spellings=("oz", "ounce", "ounces"))
_POUND = EntryUnit("lb", GRAMS_PER_POUND, spellings=("lb", "lbs", "pound", "pounds"))

ENTRY_UNITS: Final[Mapping[str, tuple[EntryUnit, ...]]] = {
    "mm": (
        EntryUnit("in", _MM_PER_IN, spellings=("in", "inch", "inches", '"', "″", "”")),
        EntryUnit("cm", 10.0, spellings=("cm",)),
        EntryUnit("µm", 1e-3, spellings=("µm", "μm", "um")),
    ),
    "in": (
        EntryUnit("mm", 1.0 / _MM_PER_IN, spellings=("mm",)),
        EntryUnit("cm", 10.0 / _MM_PER_IN, spellings=("cm",)),
    ),
    "g": (_OUNCE, _POUND, EntryUnit("kg", 1000.0, spellings=("kg",))),
    "gf": (
        EntryUnit("N", _GF_PER_N, spellings=("n", "newton")),
        EntryUnit("oz", _OUNCE.factor, spellings=("oz", "ozf", "ounce", "ounces")),
        EntryUnit("lb", _POUND.factor, spellings=("lb", "lbf", "lbs", "pound", "pounds")),
        EntryUnit("kgf", 1000.0, spellings=("kg", "kgf")),
    ),
    "°C": (
        EntryUnit("°F", 5.0 / 9.0, 32.0, spellings=("f", "°f", "ºf")),
        EntryUnit("K", 1.0, 273.15, spellings=("k",)),
    ),
    "m": (EntryUnit("ft", 12.0 * METRE_PER_INCH, spellings=("ft", "feet", "foot", "'")),),
    "hPa": (
        EntryUnit("inHg", _HPA_PER_INHG, spellings=("inhg",)),
        EntryUnit("kPa", 10.0, spellings=("kpa",)),
        EntryUnit("mbar", 1.0, spellings=("mbar", "mb")),
    ),
    "V": (EntryUnit("mV", 1e-3, spellings=("mv",)),),
    "A": (EntryUnit("mA", 1e-3, spellings=("ma",)),),
    "mAh": (EntryUnit("Ah", 1000.0, spellings=("ah",)),),
    "mΩ": (EntryUnit("Ω", 1000.0, spellings=("ω", "ohm", "ohms")),),
    "W": (EntryUnit("kW", 1000.0, spellings=("kw",)),),
}
"""Unit of a field → units that may be typed into it. Spellings are small letters without blanks."""
