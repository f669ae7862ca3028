"""What the stop door decides. No sockets and no clock: it is told the time with every call.

It lets pages in by their token, asks them twice a second whether they are there, tells the agent
when the last one answered, and passes a stop straight to the stand and to the agent. *Stopped* is
answered only when the stand's read-back says zero.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Final

from spindle_bench.dialogue import Dialogue
from spindle_bench.door.token import Pass, verify
from spindle_bench.errors import RefusedError
from spindle_bench.protocol import Message, is_number, is_whole, says_zero

PING_EVERY_S: Final = 0.5
STATUS_EVERY_S: Final = 0.25
TELL_EVERY_S: Final = 0.1
STOP_AGAIN_S: Final = 0.1
NOT_ARRIVED_S: Final = 0.7
GIVE_UP_S: Final = 15.0
STATUS_STALE_S: Final = 1.0

NOT_ARRIVED = "STOP did not arrive: cut the supply by hand."


@dataclass(slots=True)
class Seat:
    """One open page; nobody's until it has shown its pass."""

    send: Callable[[Message], None]
    admitted: Pass | None = None


@dataclass(slots=True)
class StopRequest:
    """A stop that the stand has not confirmed yet."""

    page: int
    number: int
    by: str
    asked: float
    sent: float
    told: bool = False


@dataclass(slots=True)
class Desk:
    """The door's state. ``send_stand`` and ``send_agent`` pass one message on at once, or drop it.

    ``wall`` tells the wall clock's time [s since 1970], for the tokens.
    """

    key: str
    send_stand: Callable[[Message], None]
    send_agent: Callable[[Message], None]
    wall: Callable[[], float]
    troubles: Callable[[], list[str]] = list
    pages: dict[int, Seat] = field(default_factory=dict)
    stops: list[StopRequest] = field(default_factory=list)
    stand: Message | None = None
    _stand_at: float = -math.inf
    _stand_up: bool = False
    _dialogue: Dialogue = field(init=False)
    _pinged: float = -math.inf
    _asked: float = -math.inf
    _told: float | None = None
    """The answer that the agent heard of last [s]."""
    _answered: float | None = None
    _number: int = 0

    def __post_init__(self) -> None:
        self._dialogue = Dialogue(self.send_stand)

    # ---- pages --------------------------------------------------------------------------------

    def opened(self, page: int, send: Callable[[Message], None]) -> None:
        """A page has connected; it is nobody until it shows its token."""
        self.pages[page] = Seat(send)

    def closed(self, page: int) -> None:
        """A page is gone. What it asked to stop is still stopped."""
        self.pages.pop(page, None)

    def said(self, page: int, message: Message, now: float) -> None:
        """One message of a page.

        :raises RefusedError: no valid token, or a message that is not known; close the connection.
        """
        seat, kind = self.pages[page], message.get("type")
        if kind == "token":
            seat.admitted = verify(message.get("token"), key=self.key, now=self.wall())
            self._seen(now)
            seat.send(self._ping())
            return
        if seat.admitted is None:
            raise RefusedError("Show the token first.", code="token")
        if seat.admitted.until <= self.wall():
            raise RefusedError("This page was open for too long; log in again.", code="token_old")
        if kind == "pong":
            self._seen(now)
        elif kind == "stop":
            number = message.get("id")
            self.stop(page, number if is_whole(number) else 0, seat.admitted.name, now)
        else:
            raise RefusedError("The door knows token, pong and stop.", code="unknown_message")

    def _seen(self, now: float) -> None:
        self._answered = now
        # At once, since the two seconds count from here; many pages together are one news.
        if self._told is None or now - self._told >= TELL_EVERY_S:
            self._tell_agent(now)

    @property
    def open_pages(self) -> int:
        """Pages that are logged in."""
        return sum(1 for seat in self.pages.values() if seat.admitted is not None)

    # ---- stop ---------------------------------------------------------------------------------

    def stop(self, page: int, number: int, by: str, now: float) -> None:
        """Cut now: to the stand and to the agent, at once."""
        request = StopRequest(page, number, by, now, now)
        self.stops.append(request)
        self._cut(by, now)
        self.send_agent({"do": "stop", "by": by})

    def _cut(self, by: str, now: float) -> None:
        self._dialogue.command({"type": "stop", "by": by})
        # Whoever was waiting when this was asked is answered by its read-back.
        waiting = list(self.stops)

        def answered(reply: Message | None) -> None:
            if reply is not None:
                self._status(reply, now)
                if says_zero(reply):
                    self._confirm(waiting, reply)

        self._dialogue.ask({"type": "status"}, now, answered)

    def _confirm(self, requests: list[StopRequest], reply: Message) -> None:
        for request in requests:
            if request not in self.stops:
                continue
            self.stops.remove(request)
            seat = self.pages.get(request.page)
            if seat is not None:
                speed = _number(reply, "speed_rpm")
                seat.send({"type": "stopped", "id": request.number, "speed_rpm": speed})

    # ---- stand --------------------------------------------------------------------------------

    def stand_connected(self, now: float) -> None:
        """The stand is reachable (again); a stop that waits goes out first."""
        self._stand_up = True
        if self.stops:
            self._cut(self.stops[-1].by, now)

    def stand_lost(self) -> None:
        """The connection to the stand is gone."""
        self._stand_up = False
        self.stand = None
        self._dialogue.lost()

    def stand_said(self, message: Message, now: float) -> None:
        """One message of the stand."""
        if message["type"] in ("ack", "refused", "status"):
            self._stand_at = now
            self._dialogue.answer(message)

    def _status(self, reply: Message, now: float) -> None:
        if reply["type"] == "status":
            self.stand = reply

    # ---- time passes --------------------------------------------------------------------------

    def tick(self, now: float) -> None:
        """Pings, read-back of the stand, and stops that wait for theirs."""
        self._dialogue.expire(now)
        for request in list(self.stops):
            if now - request.asked > GIVE_UP_S:
                self.stops.remove(request)
            elif now - request.asked > NOT_ARRIVED_S and not request.told:
                request.told = True
                seat = self.pages.get(request.page)
                if seat is not None:
                    seat.send({"type": "not_stopped", "id": request.number, "message": NOT_ARRIVED})
        if self.stops and now - max(request.sent for request in self.stops) >= STOP_AGAIN_S:
            for request in self.stops:
                request.sent = now
            self._cut(self.stops[-1].by, now)
        if now - self._asked >= STATUS_EVERY_S:
            self._asked = now
            self._dialogue.ask({"type": "status"}, now, lambda reply: self._polled(reply, now))
        if now - self._pinged >= PING_EVERY_S:
            self._pinged = now
            for seat in list(self.pages.values()):
                if seat.admitted is not None:
                    seat.send(self._ping())
            self._tell_agent(now)
        if now - self._stand_at > STATUS_STALE_S:
            self.stand = None

    def _polled(self, reply: Message | None, now: float) -> None:
        if reply is not None:
            self._status(reply, now)

    def _ping(self) -> Message:
        self._number += 1
        return {
            "type": "ping",
            "n": self._number,
            "stand": self.stand_now(),
            "troubles": self.troubles(),
        }

    def stand_now(self) -> dict[str, Any] | None:
        """What the stand last said of itself, None where it does not answer."""
        if self.stand is None or not self._stand_up:
            return None
        return {
            "armed": self.stand.get("armed") is not False,
            "throttle_pct": _number(self.stand, "throttle_pct"),
            "speed_rpm": _number(self.stand, "speed_rpm"),
        }

    def _tell_agent(self, now: float) -> None:
        self._told = self._answered
        ago = None if self._answered is None else round(now - self._answered, 3)
        self.send_agent({"do": "pages", "ago_s": ago, "open": self.open_pages})


def _number(reply: Message, name: str) -> float | None:
    """A number that the stand says; None where it says something else."""
    value = reply.get(name)
    return value if is_number(value) else None
