"""What a live picture is made of, and what its rows are."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from spindle_bench.buckets import Bucket


@dataclass(frozen=True, slots=True)
class Row:
    """A point, bar or cycle: its place, its values by name, and the series it belongs to."""

    x: float
    values: Mapping[str, float]
    series: str = ""

    def as_json(self) -> dict[str, Any]:
        """The row as plain data."""
        rounded = {name: float(f"{value:.5g}") for name, value in self.values.items()}
        return {"x": round(self.x, 3), "values": rounded, "series": self.series}


class Picture(Protocol):
    """One picture of a run in hand. ``shape`` says how it is drawn."""

    shape: str

    def see(self, bucket: Bucket) -> None:
        """A twentieth of a second of the run."""

    def rows(self) -> list[Row]:
        """What there is to draw."""

    def says(self) -> str:
        """What it shows in one sentence; empty while it shows nothing."""


@dataclass(slots=True)
class Plain:
    """Where a kind has nothing to draw besides its channels."""

    shape: str = "none"
    _nothing: list[Row] = field(default_factory=list)

    def see(self, bucket: Bucket) -> None:
        """Nothing is drawn."""

    def rows(self) -> list[Row]:
        """None."""
        return self._nothing

    def says(self) -> str:
        """Nothing."""
        return ""
