"""A device that only prints lines of numbers, as a stand that reads and never drives.

No input or output here and no clock: lines go in with the time they came, messages with who sent
them. It refuses every command that would move a throttle, and a stop as well: nothing here can cut.
"""

from __future__ import annotations

import itertools
from collections import deque
from dataclasses import dataclass, field
from statistics import fmean, median
from typing import Any, ClassVar, Final

from spindle_bench.driver.switchboard import Out
from spindle_bench.protocol import VERSION, Message, is_whole
from spindle_core.errors import MappingError
from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.foreign.printed import PrintedLines

KNOWN_AFTER: Final = 4
"""So many rows, and the device is known: what came before may have been half a line."""

TARE_OVER: Final = 20
TURNING_RPM: Final = 60.0
ONLY_READS: Final = "This stand only reads: cut by hand."
APART_S: Final = 0.001
"""Lines that came together are told apart by this."""


@dataclass(slots=True)
class PrintedBoard:
    """One printing device, any number of partners. ``hello``: None before rows have come."""

    silent_s: ClassVar[float] = 5.0
    """A device that prints slowly is gone later than one that streams."""

    lines: PrintedLines
    hello: Message | None = None
    _times: deque[float] = field(default_factory=lambda: deque(maxlen=KNOWN_AFTER))
    _rows: deque[tuple[float | None, ...]] = field(default_factory=lambda: deque(maxlen=TARE_OVER))
    _tare_gf: float = 0.0
    _last_s: float | None = None
    _streaming: set[int] = field(default_factory=set)

    def opened(self) -> None:
        """The port was opened: what comes first may be half a line, of a device that began anew."""
        self.hello, self._last_s, self._tare_gf = None, None, 0.0
        self._times.clear()
        self._rows.clear()
        self.lines.forget()

    def greet(self) -> list[Out]:
        """Nothing is said to a device that only prints."""
        return []

    # ---- from the device ------------------------------------------------------------------------

    def line(self, raw: bytes, now: float) -> list[Out]:
        """A line of the device's."""
        try:
            row = self.lines.read(raw.decode("utf-8", errors="replace"))
        except MappingError as error:
            # Before it is known, a line may be half of one, or a greeting.
            told: Message = {"type": "malformed", "message": error.message}
            return self._to_listeners(told) if self.hello is not None else []
        if row is None:
            return []
        time_s = row.time_s
        if time_s is None:
            time_s = now if self._last_s is None else max(now, self._last_s + APART_S)
        self._last_s = time_s
        self._times.append(time_s)
        self._rows.append(row.values)
        if self.hello is None:
            if len(self._times) == KNOWN_AFTER:
                self._known()
            return []
        shown = [
            round(value - self._tare_gf, 6) if name == "thrust_gf" and value is not None else value
            for name, value in zip(self.lines.channels, row.values, strict=True)
        ]
        return self._to_listeners({"type": "samples", "t_s": [time_s], "rows": [shown]})

    def _known(self) -> None:
        times = list(self._times)
        apart = median(b - a for a, b in itertools.pairwise(times))
        self.hello = {
            "type": "hello",
            "protocol": VERSION,
            "stand": "a device that prints",
            "driver": "printed",
            "simulated": False,
            "drives": False,
            "channels": [
                {"name": name, "unit": CHANNELS[name].unit} for name in self.lines.channels
            ],
            "rate_hz": round(min(1000.0, 1.0 / max(apart, APART_S)), 2),
            "limits": {},
            "capabilities": [],
        }

    def _to_listeners(self, message: Message) -> list[Out]:
        return [(client, message) for client in self.listeners()]

    def listeners(self) -> list[int]:
        """Partners that asked for samples."""
        return sorted(self._streaming)

    # ---- from a partner -------------------------------------------------------------------------

    def said(self, client: int, message: Message) -> list[Out]:
        """A partner's message."""
        kind, seq = message["type"], message.get("seq")
        if kind == "hello":
            if message.get("protocol") != VERSION:
                return [_refused(client, None, "version", f"This stand speaks {VERSION}.")]
            if self.hello is None:
                return [_refused(client, None, "no_device", "The device has printed no row yet.")]
            return [(client, self.hello)]
        if not is_whole(seq):
            return [_refused(client, None, "stale", "The sequence number is missing.")]
        if kind == "stream":
            (self._streaming.add if message.get("on") else self._streaming.discard)(client)
        elif kind == "tare":
            return [self._tare(client, seq)]
        elif kind == "status":
            return [(client, self._status(seq))]
        elif kind != "rate":
            return [_refused(client, seq, "only_reads", ONLY_READS)]
        return [(client, {"type": "ack", "seq": seq})]

    def left(self, client: int) -> list[Out]:
        """A partner is gone; the device prints on."""
        self._streaming.discard(client)
        return []

    def _tare(self, client: int, seq: int) -> Out:
        speed = self._now("speed_rpm")
        if speed is not None and speed > TURNING_RPM:
            return _refused(client, seq, "turning", "The stand can be tared only at rest.")
        if "thrust_gf" in self.lines.channels:
            place = self.lines.channels.index("thrust_gf")
            read = [value for row in self._rows if (value := row[place]) is not None]
            if read:
                self._tare_gf = fmean(read)
        return client, {"type": "ack", "seq": seq, "tare_gf": round(self._tare_gf, 3)}

    def _now(self, name: str) -> float | None:
        if name not in self.lines.channels or not self._rows:
            return None
        return self._rows[-1][self.lines.channels.index(name)]

    def _status(self, seq: int) -> dict[str, Any]:
        """What is read of the throttle, which may be nothing: then it is not called zero."""
        return {
            "type": "status",
            "seq": seq,
            "armed": False,
            "throttle_pct": self._now("throttle_pct"),
            "speed_rpm": self._now("speed_rpm"),
            "owner": False,
            "t_s": self._last_s,
            "last_cut": None,
        }


def _refused(client: int, seq: Any, code: str, text: str) -> Out:
    return client, {"type": "refused", "seq": seq, "code": code, "message": text}
