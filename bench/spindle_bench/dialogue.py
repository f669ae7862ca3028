"""Commands to the stand and the answers that belong to them, told apart by their numbers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Final

from spindle_bench.protocol import Message, is_whole

REPLY_WITHIN_S: Final = 1.5

Answered = Callable[[Message | None], None]
"""Called once: with the answer, or with None when none came."""


@dataclass(slots=True)
class Dialogue:
    """One side of the line protocol. ``send`` passes a message on at once or drops it."""

    send: Callable[[Message], None]
    _seq: int = 0
    _waiting: dict[int, tuple[float, Answered]] = field(default_factory=dict)

    def command(self, message: Message) -> int:
        """Send with the next number; returns it."""
        self._seq += 1
        self.send({**message, "seq": self._seq})
        return self._seq

    def ask(self, message: Message, now: float, answered: Answered) -> None:
        """Send, and call back with the answer."""
        self._waiting[self.command(message)] = (now + REPLY_WITHIN_S, answered)

    def answer(self, message: Message) -> bool:
        """Hand an answer to who asked; False when nobody did."""
        seq = message.get("seq")
        found = self._waiting.pop(seq, None) if is_whole(seq) else None
        if found is not None:
            found[1](message)
        return found is not None

    def expire(self, now: float) -> None:
        """Call back with None where an answer is overdue."""
        for seq, (deadline, answered) in list(self._waiting.items()):
            if now > deadline and self._waiting.pop(seq, None) is not None:
                answered(None)

    def lost(self) -> None:
        """The link is gone: nobody will be answered."""
        waiting, self._waiting = self._waiting, {}
        for _, answered in waiting.values():
            answered(None)
