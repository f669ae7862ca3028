"""Every limit that a run has to keep, from the motor's rating to the meter's range, and which
of them binds."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from spindle_core.errors import QuantityError

Side = Literal["most", "least"]


@dataclass(frozen=True, slots=True)
class Bound:
    """A limit of one thing: ``channel`` at ``most`` or ``least`` this value [its unit].

    ``value`` None: the thing has such a limit, and nobody knows it.
    ``source``: whose limit it is, in words: "ESC Kilnby 45".
    """

    channel: str
    side: Side
    value: float | None
    source: str

    def __post_init__(self) -> None:
        if self.value is not None and not (math.isfinite(self.value) and self.value > 0):
            raise QuantityError(f"The limit of {self.source} is a number above 0.", code="bound")


@dataclass(frozen=True, slots=True)
class Bounds:
    """The limits of one channel, the binding one first; those that nobody knows by name."""

    channel: str
    side: Side
    known: tuple[Bound, ...]
    unknown: tuple[str, ...]

    @property
    def binding(self) -> Bound | None:
        """The tightest; None where none is known."""
        return self.known[0] if self.known else None


def tightest(bounds: Iterable[Bound]) -> tuple[Bounds, ...]:
    """Limits by channel and side in the order they first came, each from the tightest on."""
    by_kind: dict[tuple[str, Side], list[Bound]] = {}
    for bound in bounds:
        by_kind.setdefault((bound.channel, bound.side), []).append(bound)
    found = []
    for (channel, side), rows in by_kind.items():
        known = [row for row in rows if row.value is not None]
        known.sort(key=lambda row: row.value or 0.0, reverse=side == "least")
        unknown = tuple(row.source for row in rows if row.value is None)
        found.append(Bounds(channel, side, tuple(known), unknown))
    return tuple(found)
