"""No load: kV as it settles."""

from __future__ import annotations

from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket
from spindle_bench.live.picture import Row
from spindle_core.planning.underway import kv_so_far, spread_so_far

FULL_PCT = 99.0
LATE = 20
MOST_ROWS = 120


@dataclass(slots=True)
class Converging:
    """Speed over voltage at full throttle, over the time since it was reached."""

    shape: str = "converging"
    _rows: list[Row] = field(default_factory=list)
    _since_s: float | None = None

    def see(self, bucket: Bucket) -> None:
        """Only full throttle counts."""
        kv = kv_so_far(bucket.mean("speed_rpm"), bucket.mean("voltage_v"))
        if bucket.low_pct < FULL_PCT or kv is None:
            return
        self._since_s = bucket.begin_s if self._since_s is None else self._since_s
        row = Row(bucket.begin_s - self._since_s, {"kv_raw_rpm_per_v": kv})
        self._rows = [*self._rows, row][-MOST_ROWS:]

    def rows(self) -> list[Row]:
        """kV over time."""
        return self._rows

    def says(self) -> str:
        """Mean of the last second, and what it scatters by."""
        spread = spread_so_far([row.values["kv_raw_rpm_per_v"] for row in self._rows[-LATE:]])
        if spread is None:
            return ""
        s = f", scatter {spread.s:.0f} rpm/V" if spread.s is not None else ""
        return f"Raw kV {spread.mean:,.0f} rpm/V{s}; not corrected for I·R."
