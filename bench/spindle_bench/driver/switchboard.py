"""Many partners on one line: whose command it is, whose answer, and who owns the stand.

No input or output here and no clock. Messages go in with who sent them; what comes out says where
it goes: to the device (``None``) or to a partner.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar, Final

from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import VERSION, Message, decode, is_whole

OWNERS_OWN: Final = ("throttle", "heartbeat")
"""Commands that only who armed the stand may give."""

ANSWERS: Final = ("ack", "refused", "status")
MOST_WAITING: Final = 500

Out = tuple[int | None, Message]
"""A partner, or None for the device, and what goes there."""


@dataclass(frozen=True, slots=True)
class Asked:
    """A command that waits for the device's answer."""

    client: int
    seq: Any
    kind: str


@dataclass(slots=True)
class Switchboard:
    """One device, any number of partners. ``hello``: what the device said of itself; None before.

    The device sees one partner with rising numbers; each partner gets its own numbers back.
    """

    silent_s: ClassVar[float] = 2.0
    """A device that streams and says nothing for this long is gone."""

    hello: Message | None = None
    owner: int | None = None
    _seq: int = 0
    _arming: int | None = None
    _asked: dict[int, Asked] = field(default_factory=dict)
    _last_seq: dict[int, int] = field(default_factory=dict)
    _streaming: set[int] = field(default_factory=set)

    def opened(self) -> None:
        """The port was opened: what was heard before counts for nothing."""
        self.hello = None

    def greet(self) -> list[Out]:
        """What opens the conversation with a device, whatever it was doing: stop, then hello."""
        self.hello, self.owner, self._arming = None, None, None
        self._asked.clear()
        return [self._pass(None, {"type": "stop", "by": "driver"}), self._greeting()]

    @staticmethod
    def _greeting() -> Out:
        return None, {"type": "hello", "protocol": VERSION}

    # ---- from a partner -------------------------------------------------------------------------

    def said(self, client: int, message: Message) -> list[Out]:
        """A partner's message."""
        kind = message["type"]
        if kind == "hello":
            return self._hello_to(client, message)
        seq = message.get("seq")
        stops = kind in ("stop", "disarm")
        newer = seq if is_whole(seq) and seq > self._last_seq.get(client, -1) else None
        if newer is None and not stops:
            return [_refused(client, seq, "stale", "The sequence number is missing or not newer.")]
        if newer is not None:
            self._last_seq[client] = newer
        if kind == "stream":
            (self._streaming.add if message.get("on") else self._streaming.discard)(client)
            return [(client, {"type": "ack", "seq": seq})]
        if kind in OWNERS_OWN and client != self.owner:
            code = "not_armed" if self.owner is None else "not_owner"
            return [_refused(client, seq, code, "Who arms the stand commands it.")]
        if kind == "arm":
            taken = self.owner if self.owner is not None else self._arming
            if taken is not None and taken != client:
                return [_refused(client, seq, "not_owner", "Another controller holds the stand.")]
            self._arming = client
        if len(self._asked) >= MOST_WAITING and not stops:
            return [_refused(client, seq, "busy", "The device does not answer.")]
        return [self._pass(client, message)]

    def _hello_to(self, client: int, message: Message) -> list[Out]:
        if message.get("protocol") != VERSION:
            return [_refused(client, None, "version", f"This stand speaks {VERSION}.")]
        if self.hello is None:
            return [_refused(client, None, "no_device", "The device has not said hello.")]
        return [(client, self.hello)]

    def _pass(self, client: int | None, message: Message) -> Out:
        self._seq += 1
        if client is not None:
            self._asked[self._seq] = Asked(client, message.get("seq"), message["type"])
        return None, {**message, "seq": self._seq}

    def left(self, client: int) -> list[Out]:
        """A partner is gone. The owner's going is a lost link: the stand is stopped at once."""
        self._streaming.discard(client)
        self._last_seq.pop(client, None)
        self._asked = {n: asked for n, asked in self._asked.items() if asked.client != client}
        if client not in (self.owner, self._arming):
            return []
        self.owner = self._arming = None
        event = {
            "type": "event",
            "code": "link_lost",
            "message": "The controller disconnected while the stand was armed.",
        }
        return [
            self._pass(None, {"type": "stop", "by": ""}),
            *((other, event) for other in self.listeners()),
        ]

    def listeners(self) -> list[int]:
        """Partners that asked for samples."""
        return sorted(self._streaming)

    # ---- from the device ------------------------------------------------------------------------

    def line(self, raw: bytes, now: float) -> list[Out]:
        """A line of the device's; one that cannot be read is told to who listens, who counts it."""
        try:
            message = decode(raw)
        except ProtocolError as error:
            told: Message = {"type": "malformed", "message": error.message}
            return [(client, told) for client in self.listeners()] if self.hello else []
        return self.heard(message)

    def heard(self, message: Message) -> list[Out]:
        """The device's message."""
        kind = message["type"]
        if kind == "hello":
            self.hello = {**message, "driver": "serial"}
            return [self._pass(None, {"type": "stream", "on": True})]
        if kind in ANSWERS:
            return self._answer(message)
        if kind == "event" and self.owner is not None:
            self.owner = None
        return [(client, message) for client in self.listeners()]

    def _answer(self, message: Message) -> list[Out]:
        seq = message.get("seq")
        asked = self._asked.pop(seq, None) if is_whole(seq) else None
        if asked is None:
            return []
        if asked.kind == "arm" and self._arming == asked.client:
            self._arming = None
            self.owner = asked.client if message["type"] == "ack" else self.owner
        if asked.kind in ("stop", "disarm") and message["type"] == "ack":
            was, self.owner = self.owner, None
            told: list[Out] = [(asked.client, {**message, "seq": asked.seq})]
            # The device tells one partner; the owner hears from here that somebody else stopped.
            if was is not None and was != asked.client:
                told.append((was, _stopped(message)))
            return told
        if message["type"] == "status":
            message = {**message, "owner": asked.client == self.owner}
        return [(asked.client, {**message, "seq": asked.seq})]


def _stopped(ack: Mapping[str, Any]) -> Message:
    by = str(ack.get("by") or "")
    return {
        "type": "event",
        "code": "stopped",
        "message": f"Stopped by {by or 'somebody else'}.",
        "by": by,
    }


def _refused(client: int, seq: Any, code: str, text: str) -> Out:
    return client, {"type": "refused", "seq": seq, "code": code, "message": text}
