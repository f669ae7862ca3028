"""Soak: the case's temperature, where it is going, and when it is at the ceiling."""

from __future__ import annotations

from dataclasses import dataclass, field

from spindle_bench.buckets import Bucket
from spindle_bench.live.picture import Row
from spindle_core.planning.underway import Heating, heating_so_far

EVERY_S = 2.0
MOST_ROWS = 120


@dataclass(slots=True)
class HeatingForecast:
    """The case over time under load; ``ceiling_c``: what ends the load or the run [°C]."""

    ceiling_c: float | None
    shape: str = "heating"
    _rows: list[Row] = field(default_factory=list)
    _loaded: list[Row] = field(default_factory=list)
    _found: Heating | None = None

    def see(self, bucket: Bucket) -> None:
        """Every two seconds a point; under load it counts for the forecast."""
        case = bucket.mean("motor_temp_c")
        if case is None or (self._rows and bucket.begin_s - self._rows[-1].x < EVERY_S):
            return
        row = Row(bucket.begin_s, {"motor_temp_c": case}, "case")
        self._rows = _thinned([*self._rows, row])
        if bucket.label.startswith("under load"):
            self._loaded = _thinned([*self._loaded, row])
            # Once a point, not once a frame: this runs in the loop that owns the stand.
            self._found = self._forecast()

    def _forecast(self) -> Heating | None:
        return heating_so_far(
            [row.x for row in self._loaded],
            [row.values["motor_temp_c"] for row in self._loaded],
            ceiling_c=self.ceiling_c,
        )

    def rows(self) -> list[Row]:
        """The case so far and, as a series of its own, where it would settle."""
        heating = self._found
        if heating is None:
            return self._rows
        return [*self._rows, Row(self._rows[-1].x, {"motor_temp_c": heating.final_c}, "settles at")]

    def says(self) -> str:
        """Where it would settle, and when it is at the ceiling."""
        heating = self._found
        if heating is None:
            return ""
        text = f"It would settle near {heating.final_c:.0f} °C"
        if heating.reaches_in_s is not None:
            return f"{text}; {self.ceiling_c:g} °C in about {heating.reaches_in_s / 60.0:.1f} min."
        return f"{text}."


def _thinned(rows: list[Row]) -> list[Row]:
    """A long soak keeps every second of its points."""
    return rows if len(rows) <= MOST_ROWS else rows[::2]
