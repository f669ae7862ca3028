"""The connection to the stand: connects, says hello, passes lines; reconnects when lost."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Callable
from dataclasses import dataclass

from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import LONGEST_LINE, VERSION, Message, decode, encode

RETRY_S = 0.5


@dataclass(slots=True)
class StandLink:
    """One connection at a time. The callbacks run in the event loop and must not block."""

    host: str
    port: int
    on_connected: Callable[[Message], None]
    on_message: Callable[[Message], None]
    on_lost: Callable[[], None]
    _writer: asyncio.StreamWriter | None = None

    def send(self, message: Message) -> None:
        """Send at once, or not at all: a command for a lost link is dropped, never kept."""
        if self._writer is not None and not self._writer.is_closing():
            self._writer.write(encode(message))

    async def run(self) -> None:
        """Keep the link up until cancelled."""
        while True:
            with contextlib.suppress(OSError, ProtocolError, asyncio.IncompleteReadError):
                await self._session()
            await asyncio.sleep(RETRY_S)

    async def _session(self) -> None:
        reader, writer = await asyncio.open_connection(self.host, self.port, limit=LONGEST_LINE)
        try:
            writer.write(encode({"type": "hello", "protocol": VERSION}))
            hello = decode(await reader.readline())
            if hello["type"] != "hello" or hello.get("protocol") != VERSION:
                raise ProtocolError(f"The stand does not speak {VERSION}.")
            writer.write(encode({"type": "stream", "seq": 0, "on": True}))
            self._writer = writer
            self.on_connected(hello)
            while line := await reader.readline():
                self.on_message(decode(line))
        finally:
            if self._writer is not None:
                self._writer = None
                self.on_lost()
            writer.close()
