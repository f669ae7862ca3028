"""Hold: the throttle is trimmed until a wanted thrust is there, and then left alone.

A closed loop that may never pass a bound of current: it raises the throttle only as far as the
current, with what is still on its way, stays below it. What is held is the throttle, so that the
figures are those of a plateau; thrust that is out of reach is given up with the reason.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Final

from spindle_bench.profiles.following import Done, GiveUp, Next, Sample, Segment

SLEW_PCT_PER_S: Final = 18.0
GAIN_PER_S: Final = 1.4
SLOWEST_AT_PCT: Final = 8.0
"""Below this throttle the loop goes as fast as here, so that it gets off the ground."""

FILTER_S: Final = 0.08
NEAR_SHARE: Final = 0.012
NEAR_FOR_S: Final = 0.4
SEEK_S: Final = 15.0
BLIND_S: Final = 0.5
BOUND_SHARE: Final = 0.95
"""The loop keeps this far below the limit that would end the run."""

ON_ITS_WAY_S: Final = 0.3
"""How much throttle is commanded before its current shows."""

CURRENT_POWER: Final = 3.0
DOWN_PCT_PER_S: Final = 50.0


def segments(targets_gf: tuple[float, ...], dwell_s: float, rest_s: float) -> Iterator[Segment]:
    """The run at its longest; the throttle is not known beforehand."""
    yield Segment(0.0, 0.0, rest_s, "zero before")
    for target in targets_gf:
        yield Segment(0.0, 100.0, SEEK_S, f"seeking {target:g} gf")
        yield Segment(100.0, 100.0, dwell_s, f"holding {target:g} gf")
    yield Segment(100.0, 0.0, 100.0 / DOWN_PCT_PER_S, "down")
    yield Segment(0.0, 0.0, rest_s, "zero after")


class HoldFollower:
    """Seeks each target in its order and holds the throttle that gives it."""

    def __init__(
        self,
        targets_gf: tuple[float, ...],
        dwell_s: float,
        rest_s: float,
        most_current_a: float | None,
    ) -> None:
        self._targets, self._dwell_s, self._rest_s = targets_gf, dwell_s, rest_s
        self._bound_a = BOUND_SHARE * most_current_a if most_current_a else math.inf
        self._index = -1
        self._pct = 0.0
        self._thrust: float | None = None
        self._seen_s = 0.0
        self._last_s = 0.0
        self._phase = "rest"
        self._since_s = 0.0
        self._near_since_s: float | None = None
        self._bounded = False
        self.label = "zero before"

    def next(self, time_s: float, sample: Sample) -> Next:
        """One turn of the loop."""
        step_s = max(0.0, time_s - self._last_s)
        self._last_s = time_s
        self._see(time_s, step_s, sample)
        if self._phase == "rest":
            if time_s < self._rest_s:
                return 0.0
            self._seek(time_s)
        if self._phase in ("seek", "dwell") and time_s - self._seen_s > BLIND_S:
            return GiveUp(f"No thrust was read for {BLIND_S:g} s; the loop is blind.")
        if self._phase == "seek":
            return self._turn(time_s, step_s, sample)
        if self._phase == "dwell":
            if time_s - self._since_s < self._dwell_s:
                return self._pct
            if self._index + 1 < len(self._targets):
                self._seek(time_s)
                return self._pct
            self._phase, self._since_s, self.label = "down", time_s, "down"
        if self._phase == "down":
            self._pct = max(0.0, self._pct - DOWN_PCT_PER_S * step_s)
            if self._pct > 0:
                return round(self._pct, 2)
            self._phase, self._since_s, self.label = "after", time_s, "zero after"
        return Done() if time_s - self._since_s >= self._rest_s else 0.0

    def _see(self, time_s: float, step_s: float, sample: Sample) -> None:
        thrust = sample.get("thrust_gf")
        if thrust is None or not math.isfinite(thrust):
            return
        self._seen_s = time_s
        share = 1.0 if self._thrust is None else 1.0 - math.exp(-step_s / FILTER_S)
        self._thrust = (
            thrust if self._thrust is None else self._thrust + share * (thrust - self._thrust)
        )

    def _seek(self, time_s: float) -> None:
        self._index += 1
        self._phase, self._since_s, self._near_since_s = "seek", time_s, None
        self._seen_s = time_s
        self.label = f"seeking {self._targets[self._index]:g} gf"

    def _turn(self, time_s: float, step_s: float, sample: Sample) -> Next:
        target, thrust = self._targets[self._index], max(self._thrust or 0.0, 1.0)
        miss = math.log(target / thrust)
        if abs(miss) <= NEAR_SHARE:
            self._near_since_s = self._near_since_s or time_s
            if time_s - self._near_since_s >= NEAR_FOR_S:
                self._phase, self._since_s = "dwell", time_s
                self.label = f"holding {target:g} gf"
                self._pct = round(self._pct, 2)
                return self._pct
        else:
            self._near_since_s = None
        if time_s - self._since_s > SEEK_S:
            return GiveUp(self._why(target, thrust))
        pace = GAIN_PER_S * miss * max(self._pct, SLOWEST_AT_PCT)
        wanted = min(SLEW_PCT_PER_S, max(-SLEW_PCT_PER_S, pace))
        rate = self._below_bound(wanted, sample)
        self._bounded = rate < wanted
        self._pct = min(100.0, max(0.0, self._pct + rate * step_s))
        return round(self._pct, 2)

    def _below_bound(self, rate: float, sample: Sample) -> float:
        """The rate at which the current, with what is on its way, stays below its bound."""
        current = sample.get("current_a")
        if math.isinf(self._bound_a):
            return rate
        if current is None or not math.isfinite(current):
            return min(rate, 0.0)
        if current >= self._bound_a:
            return -SLEW_PCT_PER_S
        if rate <= 0 or current <= 0:
            return rate
        room = math.pow(self._bound_a / current, 1.0 / CURRENT_POWER) - 1.0
        return min(rate, room * max(self._pct, 1.0) / ON_ITS_WAY_S)

    def _why(self, target: float, thrust: float) -> str:
        there = f"at {self._pct:.1f} % throttle it was {thrust:,.0f} gf"
        if self._bounded:
            return (
                f"{target:,.0f} gf was not reached below {self._bound_a:.1f} A, where the loop "
                f"stays under the current limit; {there}."
            )
        return f"{target:,.0f} gf was not reached within {SEEK_S:g} s; {there}."
