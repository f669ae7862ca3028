"""The watch after a stop: the case goes on warming, and somebody waits for it to cool."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from spindle_bench.states import State
from spindle_core.planning.underway import after_stop

EVERY_S = 0.5
MOST = 1200
TURNING = (State.RUNNING, State.ABORTING, State.WATCHING)


@dataclass(slots=True)
class Aftermath:
    """Keeps the case's temperature from the stop on, by the stand's time; thinned as it grows.

    It begins with the run's end and ends with the next one's begin.
    """

    _times_s: list[float] = field(default_factory=list)
    _cases_c: list[float] = field(default_factory=list)
    _air_c: float | None = None
    _watching: bool = False
    _every_s: float = EVERY_S

    def see(self, state: State, time_s: float | None, values: dict[str, float]) -> None:
        """The means of one frame."""
        case, air = values.get("motor_temp_c"), values.get("ambient_temp_c")
        if air is not None:
            self._air_c = air
        if state in TURNING:
            self._times_s, self._cases_c = [], []
            self._every_s, self._watching = EVERY_S, True
            return
        if time_s is None or case is None or not self._watching:
            return
        if self._times_s and time_s < self._times_s[-1]:
            self._times_s, self._cases_c = [], []  # the stand began anew
        if self._times_s and time_s - self._times_s[-1] < self._every_s:
            return
        self._times_s.append(time_s)
        self._cases_c.append(case)
        if len(self._times_s) > MOST:
            self._times_s, self._cases_c = self._times_s[::2], self._cases_c[::2]
            self._every_s *= 2.0

    def as_json(self) -> dict[str, Any] | None:
        """Where the case is; None before a run, while one turns, or without its readings."""
        if not self._times_s or self._air_c is None:
            return None
        found = after_stop(self._times_s, self._cases_c, air_c=self._air_c)
        if found is None:
            return None
        return {
            "phase": found.phase,
            "highest_c": round(found.highest_c, 1),
            "ready_in_s": round(found.ready_in_s, 0),
        }
