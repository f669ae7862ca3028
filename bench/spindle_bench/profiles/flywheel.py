"""Flywheel: a wheel of known inertia is spun up at a set duty, and coasts down again.

A wheel that bursts throws its pieces through a wall: it is refused above the speed it is rated for,
and every run confirms its guard (:mod:`spindle_bench.plan`).
"""

from __future__ import annotations

from collections.abc import Iterator

from spindle_bench.errors import PlanError
from spindle_bench.profiles.following import Done, GiveUp, Next, Sample, Segment

LONGEST_SPIN_UP_S = 12.0
LONGEST_COAST_S = 60.0
STILL_RPM = 300.0
MOST_OF_RATED = 0.9
"""A spin-up ends here at the latest: what follows the cut still speeds the wheel up a little."""


def check(values: dict[str, float]) -> None:
    """A wheel that may be spun as wanted.

    :raises PlanError: the window lies above what the wheel is rated for, or does not go up.
    """
    rated, top = values["rated_speed_rpm"], values["spin_up_to_rpm"]
    if values["spin_up_from_rpm"] >= top:
        raise PlanError("The spin-up goes up: set its end above its beginning.", field=TOP)
    if top > MOST_OF_RATED * rated:
        raise PlanError(
            f"The wheel is rated for {rated:,.0f} rpm; it is spun to at most "
            f"{MOST_OF_RATED * rated:,.0f} rpm.",
            field=TOP,
        )


TOP = "spin_up_to_rpm"


def segments(duty_pct: float, spin_ups: float, rest_s: float) -> Iterator[Segment]:
    """The run at its longest."""
    count = round(spin_ups)
    yield Segment(0.0, 0.0, rest_s, "zero before")
    for number in range(1, count + 1):
        yield Segment(duty_pct, duty_pct, LONGEST_SPIN_UP_S, f"spin-up {number} of {count}")
        yield Segment(0.0, 0.0, LONGEST_COAST_S, f"coasting after {number} of {count}")
    yield Segment(0.0, 0.0, rest_s, "zero after")


class FlywheelFollower:
    """Spins the wheel up to the top of its window and lets it coast, several times."""

    def __init__(
        self, duty_pct: float, spin_ups: float, to_rpm: float, rated_rpm: float, rest_s: float
    ) -> None:
        self._duty, self._count = duty_pct, round(spin_ups)
        self._top = min(1.03 * to_rpm, MOST_OF_RATED * rated_rpm)
        self._rest_s = rest_s
        self._number = 0
        self._since_s: float | None = None
        self._up = False
        self.label = "zero before"

    def next(self, time_s: float, sample: Sample) -> Next:
        """Full duty until the window's top, then none until the wheel is slow."""
        if self._since_s is None:
            if time_s < self._rest_s:
                return 0.0
            return self._begin(time_s)
        speed = sample.get("speed_rpm")
        spent = time_s - self._since_s
        if self._up:
            if speed is not None and speed >= self._top:
                return self._coast(time_s)
            if spent >= LONGEST_SPIN_UP_S:
                shown = "no speed was read" if speed is None else f"it turned at {speed:,.0f} rpm"
                return GiveUp(
                    f"The wheel did not reach {self._top:,.0f} rpm within "
                    f"{LONGEST_SPIN_UP_S:g} s; {shown}."
                )
            return self._duty
        last = self._number >= self._count
        slow = speed is not None and speed < STILL_RPM
        if last and spent >= self._rest_s and (slow or spent >= LONGEST_COAST_S):
            return Done()
        if not last and (slow or spent >= LONGEST_COAST_S):
            return self._begin(time_s)
        return 0.0

    def _begin(self, time_s: float) -> float:
        self._number += 1
        self._since_s, self._up = time_s, True
        self.label = f"spin-up {self._number} of {self._count}"
        return self._duty

    def _coast(self, time_s: float) -> float:
        self._since_s, self._up = time_s, False
        self.label = f"coasting after {self._number} of {self._count}"
        return 0.0
