"""How a stand's samples go wrong on the way: lost, late, doubled, without numbers, out of time."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

from spindle_bench.protocol import Message

KINDS = (
    "freeze",
    "late",
    "doubled",
    "nan",
    "short_row",
    "clock_forward",
    "clock_back",
    "clock_stuck",
)

LATE_S = 0.4
FORWARD_S = 5.0
BACK_S = 100.0


@dataclass(slots=True)
class Misbehaviour:
    """Changes samples messages while a fault is in force. ``failing``: kind → whether it is now."""

    failing: Callable[[str], bool]
    _held: list[tuple[float, Message]] = field(default_factory=list)
    _stuck_s: float | None = None

    def apply(self, message: Message, time_s: float) -> list[Message]:
        """What really goes out for one message, at the stand's own time [s]."""
        if self.failing("freeze"):
            return []
        message = self._out_of_time(message)
        if self.failing("nan"):
            message = {**message, "rows": [[math.nan, *row[1:]] for row in message["rows"]]}
        if self.failing("short_row"):
            message = {**message, "rows": [row[:-1] for row in message["rows"]]}
        if self.failing("doubled"):
            return [message, message]
        if self.failing("late"):
            self._held.append((time_s + LATE_S, message))
            return []
        due = [held for at, held in self._held if at <= time_s]
        self._held = [(at, held) for at, held in self._held if at > time_s]
        return [message, *due]

    def _out_of_time(self, message: Message) -> Message:
        times = message["t_s"]
        if self.failing("clock_forward"):
            return {**message, "t_s": [round(t + FORWARD_S, 6) for t in times]}
        if self.failing("clock_back"):
            return {**message, "t_s": [round(t - BACK_S, 6) for t in times]}
        if self.failing("clock_stuck"):
            if self._stuck_s is None:
                self._stuck_s = times[0]
            return {**message, "t_s": [self._stuck_s] * len(times)}
        self._stuck_s = None
        return message
