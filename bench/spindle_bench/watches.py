"""What the engine keeps an eye on beside the limits: its own stalls, and the stand's clock.

Both are plain objects that are told the time.
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field
from typing import Final

STALL_S: Final = 0.10
"""A tick that comes this late is a stall of our own process."""

CLOCK_APART_S: Final = 0.5
CLOCK_RATE: Final = 0.01
CLOCK_WINDOW_S: Final = 10.0
CLOCK_POINT_S: Final = 0.2


@dataclass(slots=True)
class StallWatch:
    """Tells a stall of our own from silence of the other side.

    After a stall, what arrived meanwhile is read before it is judged missing: one judgement is
    skipped. Only one: a process that stalls at every tick still judges at every second.
    """

    _ticked: float | None = None
    _excused: bool = False

    def tick(self, now: float) -> bool:
        """Whether this tick's judgement is to be skipped."""
        stalled = self._ticked is not None and now - self._ticked > STALL_S
        self._ticked = now
        self._excused = stalled and not self._excused
        return self._excused


@dataclass(slots=True)
class ClockWatch:
    """Holds the stand's clock against the caller's: a steady rate error of 1 % is taken off.

    A message that is read late makes the stand's clock look slow, never fast. So a clock that runs
    ahead is seen at once, with the message that shows it; one that falls behind is judged from
    :meth:`judge`, which the engine calls when the socket has been drained.
    """

    _points: deque[tuple[float, float]] = field(default_factory=deque)
    _least: float = 0.0
    """The smallest of offset − rate·time in the window; a forward jump is measured from it."""
    _most: float = 0.0
    """The largest of offset + rate·time in the window; what falls behind is measured from it."""
    _best: float | None = None
    _best_at: float = 0.0

    def forget(self) -> None:
        """Begin anew, as after a new connection."""
        self._points.clear()
        self._best = None

    def see(self, stand_s: float, now: float) -> float | None:
        """Take in a sample's time; returns how far it is ahead [s] when that is too far."""
        offset = stand_s - now
        if self._points:
            ahead = offset - CLOCK_RATE * now - self._least
            if ahead > CLOCK_APART_S:
                return ahead
        if self._best is None or offset > self._best:
            self._best, self._best_at = offset, now
        return None

    def judge(self, now: float) -> float | None:
        """How far the stand's clock has fallen behind [s] when that is too far."""
        if self._best is None:
            return None
        offset, at = self._best, self._best_at
        while self._points and at - self._points[0][0] > CLOCK_WINDOW_S:
            self._points.popleft()
        if self._points:
            behind = self._most - offset - CLOCK_RATE * at
            if behind > CLOCK_APART_S:
                return behind
        if not self._points or at - self._points[-1][0] >= CLOCK_POINT_S:
            self._points.append((at, offset))
            self._least = min(o - CLOCK_RATE * t for t, o in self._points)
            self._most = max(o + CLOCK_RATE * t for t, o in self._points)
        self._best = None
        return None

    def skip(self) -> None:
        """Leave what was just read out of the reckoning: it was read late."""
        self._best = None
