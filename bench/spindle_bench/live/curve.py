"""Steps and sweep: points on the curve over the throttle as they come."""

from __future__ import annotations

from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket, means_of
from spindle_bench.live.picture import Row

LATE_S = 1.0
"""A plateau is read over its last second."""

LEAST_S = 0.4
PART_PCT = 2.0
MOST_ROWS = 110


@dataclass(slots=True)
class PlateauCurve:
    """A point a plateau: its last second so far."""

    shape: str = "curve"
    _rows: list[Row] = field(default_factory=list)
    _held: list[Bucket] = field(default_factory=list)

    def see(self, bucket: Bucket) -> None:
        """A plateau is what is commanded without change."""
        if bucket.low_pct != bucket.high_pct or bucket.pct <= 0:
            self._close()
            return
        if self._held and self._held[-1].pct != bucket.pct:
            self._close()
        self._held.append(bucket)

    def _close(self) -> None:
        row = self._row()
        self._held = []
        if row is not None:
            self._rows = [*self._rows, row][-MOST_ROWS:]

    def _row(self) -> Row | None:
        if not self._held or self._held[-1].begin_s - self._held[0].begin_s < LEAST_S:
            return None
        last = self._held[-1].begin_s
        late = [one for one in self._held if last - one.begin_s < LATE_S]
        return Row(self._held[0].pct, means_of(late), "plateau")

    def rows(self) -> list[Row]:
        """The plateaus so far, the one in hand last."""
        row = self._row()
        return [*self._rows, row] if row is not None else self._rows

    def says(self) -> str:
        """The newest point."""
        return _newest(self.rows())


@dataclass(slots=True)
class SweepCurve:
    """A point every two per cent, on the way up and on the way down."""

    shape: str = "curve"
    _rows: list[Row] = field(default_factory=list)
    _held: list[Bucket] = field(default_factory=list)
    _before_pct: float = 0.0
    _way: str = "up"

    def see(self, bucket: Bucket) -> None:
        """A sweep is read in parts of the throttle."""
        if bucket.pct <= 0:
            return
        way = "up" if bucket.pct >= self._before_pct else "down"
        part = int(bucket.pct / PART_PCT)
        if self._held and (way != self._way or int(self._held[0].pct / PART_PCT) != part):
            at = sum(one.pct for one in self._held) / len(self._held)
            self._rows = [*self._rows, Row(at, means_of(self._held), self._way)][-MOST_ROWS:]
            self._held = []
        self._held.append(bucket)
        self._way, self._before_pct = way, bucket.pct

    def rows(self) -> list[Row]:
        """The parts that are through."""
        return self._rows

    def says(self) -> str:
        """The newest point."""
        return _newest(self._rows)


def _newest(rows: list[Row]) -> str:
    if not rows:
        return ""
    last = rows[-1]
    told = [
        f"{last.values[name]:,.{places}f} {unit}"
        for name, unit, places in (("thrust_gf", "gf", 0), ("current_a", "A", 1))
        if name in last.values
    ]
    return f"At {last.x:.0f} %: {', '.join(told)}." if told else ""
