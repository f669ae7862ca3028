"""The quantities makers claim, with unit and possible range, and the words they claim."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class ClaimQuantity:
    """One claimable thing: a number in ``unit`` from ``low`` to ``high``, or words."""

    label: str
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    words: bool = False


CLAIMS: Final[Mapping[str, ClaimQuantity]] = {
    "mass_g": ClaimQuantity("Mass", "g", 0.5, 2000),
    "max_current_a": ClaimQuantity("Rated current", "A", 0.5, 500),
    "max_power_w": ClaimQuantity("Rated power", "W", 1, 20_000),
    "cells_min": ClaimQuantity("Fewest cells", "cells", 1, 16),
    "cells_max": ClaimQuantity("Most cells", "cells", 1, 16),
    "max_thrust_gf": ClaimQuantity("Claimed thrust", "gf", 1, 50_000),
    "no_load_current_a": ClaimQuantity("No-load current", "A", 0.01, 20),
    "resistance_mohm": ClaimQuantity("Winding resistance", "mΩ", 1, 5000),
    "prop_min_in": ClaimQuantity("Smallest propeller", "in", 0.5, 40),
    "prop_max_in": ClaimQuantity("Largest propeller", "in", 0.5, 40),
    "kv_rpm_per_v": ClaimQuantity("kV", "rpm/V", 10, 99_999),
    "warranty_months": ClaimQuantity("Warranty", "months", 1, 240),
    "connector": ClaimQuantity("Connector on the leads", words=True),
    "magnet_grade": ClaimQuantity("Magnets", words=True),
    "bearings": ClaimQuantity("Bearings", words=True),
    "enamel_class": ClaimQuantity("Enamel class", words=True),
}
"""In the order of the sheet. Size code and the kV of the label are the motor's own name and stand
there; kV here is what a page, or the maker's later correction, says besides."""

EXPECTED: Final = ("max_current_a", "max_power_w", "cells_max", "mass_g")
"""Claims whose absence is itself worth a note: a rating never written down cannot be kept."""


def check_claim(quantity: str, value: float | None, words: str) -> None:
    """Whether a claim has the form and the range of its quantity.

    :raises QuantityError: unknown quantity, a number outside its range (most often a wrong
        unit), words where a number belongs or the other way round.
    """
    known = CLAIMS.get(quantity)
    if known is None:
        raise QuantityError(f"{quantity!r} is nothing that is claimed here.", code="quantity")
    if known.words:
        if value is not None or not words.strip():
            raise QuantityError(f"{known.label}: write the words of the label.", code="words")
        return
    if value is None or words:
        raise QuantityError(f"{known.label}: write a number in {known.unit}.", code="number")
    if not known.low <= value <= known.high:
        raise QuantityError(
            f"{known.label}: {value:g} {known.unit} is outside {known.low:g} to {known.high:g} "
            f"{known.unit}; check the unit.",
            code="out_of_range",
        )
