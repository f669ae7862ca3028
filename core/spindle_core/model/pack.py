"""Packs by their chemistry, what is assumed of their resistance, and several as one supply."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class Chemistry:
    """Volts of one cell: nominal, full, and the floor below which a run is cut under load."""

    label: str
    nominal_v: float
    full_v: float
    floor_v: float


CHEMISTRIES: Mapping[str, Chemistry] = {
    "lipo": Chemistry("lithium polymer", 3.7, 4.2, 3.3),
    "lihv": Chemistry("lithium polymer, high voltage", 3.8, 4.35, 3.3),
    "liion": Chemistry("lithium ion", 3.6, 4.2, 2.8),
    "life": Chemistry("lithium iron phosphate", 3.2, 3.6, 2.6),
}
"""Usual figures; the maker's come first."""

OHM_MAH_PER_CELL = 6.0
"""Resistance of a cell times its capacity [Ω·mAh]: 4.6 mΩ at 1,300 mAh, warm and not old."""

LEADS_OHM = 0.002
"""Leads and connector of a pack [Ω]."""

RESISTANCE_HALF_WIDTH = 0.5
"""The assumed resistance may be off by half of itself either way (cold or old cells: more)."""


@dataclass(frozen=True, slots=True)
class AssumedResistance:
    """Resistance of a pack that nobody measured [Ω], its standard u, and the words for it."""

    ohm: float
    u_ohm: float
    words: str


def assumed_resistance(cells: int, capacity_mah: float) -> AssumedResistance:
    """What is assumed of a pack by cells and capacity.

    :raises QuantityError: no cells or no capacity.
    """
    if cells < 1 or not (math.isfinite(capacity_mah) and capacity_mah > 0):
        raise QuantityError("A pack has cells and a capacity above 0 mAh.", code="pack")
    ohm = cells * OHM_MAH_PER_CELL / capacity_mah + LEADS_OHM
    return AssumedResistance(
        ohm,
        RESISTANCE_HALF_WIDTH * ohm / math.sqrt(3.0),
        f"{1000 * ohm:.2g} mΩ ± {100 * RESISTANCE_HALF_WIDTH:g} % (assumed from {cells} cells of "
        f"{capacity_mah:g} mAh)",
    )


@dataclass(frozen=True, slots=True)
class PackFacts:
    """A pack as one knows it. ``rate_c``: amperes for each Ah it may give; None: nobody says."""

    name: str
    chemistry: str
    cells: int
    capacity_mah: float
    resistance_ohm: float
    rate_c: float | None = None

    @property
    def limit_a(self) -> float | None:
        """What it may give [A]."""
        return None if self.rate_c is None else self.rate_c * self.capacity_mah / 1000.0


@dataclass(frozen=True, slots=True)
class ComposedSupply:
    """Several packs as one. ``limited_by``: the pack that sets the limit; '' where none says."""

    cells: int
    capacity_mah: float
    resistance_ohm: float
    limit_a: float | None
    limited_by: str


def compose(packs: Sequence[PackFacts], way: Literal["series", "parallel"]) -> ComposedSupply:
    """Packs in series or in parallel.

    In series all carry the same current, and the smallest is empty first. In parallel they share
    it as their resistances let them; one part-used must not be tied to a fresh one, which this
    cannot see: it is asked at the run.

    :raises QuantityError: fewer than two, unlike chemistry, or unlike cells in parallel.
    """
    if len(packs) < 2:
        raise QuantityError("A composed supply needs two packs or more.", code="compose")
    if len({pack.chemistry for pack in packs}) > 1:
        raise QuantityError("Packs of different chemistry must not be joined.", code="compose")
    if way == "series":
        limits = [(pack.limit_a, pack.name) for pack in packs]
        ohm = math.fsum(pack.resistance_ohm for pack in packs)
        cells = sum(pack.cells for pack in packs)
        capacity = min(pack.capacity_mah for pack in packs)
        return ComposedSupply(cells, capacity, ohm, *_weakest(limits))
    if len({pack.cells for pack in packs}) > 1:
        raise QuantityError(
            "Packs of different cells must not be connected in parallel: the one with more charges "
            "the other without limit.",
            code="compose",
        )
    if any(pack.resistance_ohm <= 0 for pack in packs):
        raise QuantityError("A pack's resistance is above 0 Ω.", code="compose")
    siemens = math.fsum(1.0 / pack.resistance_ohm for pack in packs)
    # A pack of share q of the current reaches its own limit at limit ÷ q of the whole.
    limits = [
        (None if pack.limit_a is None else pack.limit_a * pack.resistance_ohm * siemens, pack.name)
        for pack in packs
    ]
    capacity = math.fsum(pack.capacity_mah for pack in packs)
    return ComposedSupply(packs[0].cells, capacity, 1.0 / siemens, *_weakest(limits))


def _weakest(limits: Sequence[tuple[float | None, str]]) -> tuple[float | None, str]:
    """The smallest limit; None where one of them is not known, since that one may be it."""
    known = [(limit, name) for limit, name in limits if limit is not None]
    if len(known) < len(limits):
        return None, ""
    return min(known)


PACK_STATES: Mapping[str, str] = {
    "fresh": "freshly charged",
    "part_used": "part-used",
    "storage": "at storage charge",
}
"""How a pack stood when a run began; what nobody noted is not said."""

DEEPEST, FULLEST = 0.7, 1.03
"""A resting cell lies between these shares of its floor and of its full voltage."""


def rest_voltage_v(typed_v: float, *, cells: int, chemistry: str = "lipo") -> float:
    """The pack's voltage at rest [V] of what was typed: of the whole pack, or of one cell.

    One cell is meant where the number can be that of a cell and not that of the pack.

    :raises QuantityError: it can be neither.
    """
    cell = CHEMISTRIES[chemistry]
    low, high = DEEPEST * cell.floor_v, FULLEST * cell.full_v
    if low * cells <= typed_v <= high * cells:
        return typed_v
    if low <= typed_v <= high:
        return typed_v * cells
    raise QuantityError(
        f"{typed_v:g} V is neither a pack of {cells} cells ({low * cells:.1f} to "
        f"{high * cells:.1f} V) nor one of its cells ({low:.1f} to {high:.1f} V).",
        code="pack_rest",
    )
