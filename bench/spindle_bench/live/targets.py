"""Hold: each wanted thrust, what is there, and by how much it misses."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket, means_of
from spindle_bench.live.picture import Row

LATEST = 10
_TARGET = re.compile(r"([\d.,]+) gf")


@dataclass(slots=True)
class Targets:
    """A row a target: wanted and the last half second of what is there."""

    shape: str = "targets"
    _held: dict[str, list[Bucket]] = field(default_factory=dict)

    def see(self, bucket: Bucket) -> None:
        """What the profile is after stands in its label."""
        target = _TARGET.search(bucket.label)
        if target is not None:
            kept = self._held.get(target[0], [])
            self._held[target[0]] = [*kept, bucket][-LATEST:]

    def rows(self) -> list[Row]:
        """The targets so far, in their order."""
        found = []
        for name, kept in self._held.items():
            wanted = float(name.split()[0].replace(",", ""))
            throttle = kept[-1].pct
            found.append(Row(wanted, {**means_of(kept), "throttle_pct": throttle}, name))
        return found

    def says(self) -> str:
        """The target in hand."""
        rows = self.rows()
        if not rows or "thrust_gf" not in rows[-1].values:
            return ""
        there = rows[-1].values["thrust_gf"]
        off = there - rows[-1].x
        return f"Wanted {rows[-1].x:,.0f} gf, there {there:,.0f} gf: off by {_signed(off)} gf."


def _signed(value: float) -> str:
    text = f"{value:+.0f}"
    return "0" if text in ("+0", "-0") else text.replace("-", "−")
