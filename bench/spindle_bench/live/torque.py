"""Flywheel: torque over speed, from how fast the wheel gains it."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket
from spindle_bench.live.picture import Row
from spindle_core.planning.underway import torque_so_far

WINDOW = 3
MOST_ROWS = 120


@dataclass(slots=True)
class TorqueCurve:
    """Torque over three buckets, a series a spin-up. ``inertia_kg_mm2``: wheel and rotor."""

    inertia_kg_mm2: float
    shape: str = "torque"
    _rows: list[Row] = field(default_factory=list)
    _last: deque[Bucket] = field(default_factory=lambda: deque(maxlen=WINDOW))

    def see(self, bucket: Bucket) -> None:
        """Only while it is spun up."""
        if not bucket.label.startswith("spin-up") or bucket.low_pct <= 0:
            self._last.clear()
            return
        if bucket.mean("speed_rpm") is None:
            return
        self._last.append(bucket)
        speeds = [one.mean("speed_rpm") or 0.0 for one in self._last]
        times = [one.begin_s for one in self._last]
        torque = torque_so_far(self.inertia_kg_mm2, times, speeds)
        if torque is not None:
            row = Row(sum(speeds) / len(speeds), {"torque_nm": torque}, bucket.label)
            self._rows = [*self._rows, row][-MOST_ROWS:]

    def rows(self) -> list[Row]:
        """Torque over speed."""
        return self._rows

    def says(self) -> str:
        """The largest so far."""
        if not self._rows:
            return ""
        best = max(self._rows, key=lambda row: row.values["torque_nm"])
        millis = 1000.0 * best.values["torque_nm"]
        return f"Largest torque so far {millis:.0f} mN·m at {best.x:,.0f} rpm."
