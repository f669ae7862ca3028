"""The quantities a maker claims, with unit and possible range."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True)
class ClaimQuantity:
    """One claimable quantity; ``low`` and ``high`` in ``unit``."""

    label: str
    unit: str
    low: float
    high: float


CLAIMS: Final[dict[str, ClaimQuantity]] = {
    "mass_g": ClaimQuantity("Mass", "g", 0.5, 2000),
    "max_current_a": ClaimQuantity("Rated current", "A", 0.5, 500),
    "max_power_w": ClaimQuantity("Rated power", "W", 1, 20_000),
    "cells_min": ClaimQuantity("Fewest cells", "cells", 1, 16),
    "cells_max": ClaimQuantity("Most cells", "cells", 1, 16),
    "max_thrust_gf": ClaimQuantity("Claimed thrust", "gf", 1, 50_000),
    "no_load_current_a": ClaimQuantity("No-load current", "A", 0.01, 20),
    "resistance_mohm": ClaimQuantity("Winding resistance", "mΩ", 1, 5000),
}
