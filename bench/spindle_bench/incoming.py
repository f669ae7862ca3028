"""What comes from the stand and is not believed: unreadable lines, samples that are old."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field
from typing import Final

BAD_LINES: Final = 10
BAD_LINES_WITHIN_S: Final = 5.0

LATE_WITHIN_S: Final = 1.0
"""A sample older than the last by more than this is no late one: the clock was set back."""

Rows = list[list[float | None]]


@dataclass(slots=True)
class BadLines:
    """Lines that were refused: how many, the last reason, and whether there are too many."""

    count: int = 0
    last: str = ""
    _at: deque[float] = field(default_factory=deque)

    def forget(self) -> None:
        """A new connection is judged anew; what was counted stays counted."""
        self._at.clear()

    def add(self, reason: str, now: float) -> bool:
        """Count one; True when so many came within seconds that the link is as good as lost."""
        self.count += 1
        self.last = reason
        self._at.append(now)
        while now - self._at[0] > BAD_LINES_WITHIN_S:
            self._at.popleft()
        return len(self._at) >= BAD_LINES


@dataclass(frozen=True, slots=True)
class Fresh:
    """What is newer than the last sample; ``dropped`` is not. ``back_s``: a clock set back."""

    times_s: list[float]
    rows: Rows
    dropped: int = 0
    back_s: float | None = None


def newer_than(last_s: float | None, times_s: list[float], rows: Rows) -> Fresh:
    """Leave out late and doubled samples, and tell a clock that was set back."""
    kept_times: list[float] = []
    kept_rows: Rows = []
    back: float | None = None
    for time_s, row in zip(times_s, rows, strict=True):
        if last_s is not None and time_s <= last_s:
            if last_s - time_s > LATE_WITHIN_S:
                back = last_s - time_s
            continue
        last_s = time_s
        kept_times.append(time_s)
        kept_rows.append(row)
    return Fresh(kept_times, kept_rows, len(times_s) - len(kept_times), back)
