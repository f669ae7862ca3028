"""The connection to the stand: connects, says hello, passes lines; reconnects when lost."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Callable
from dataclasses import dataclass

from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import LONGEST_LINE, VERSION, Message, check_hello, decode, encode

RETRY_S = 0.5
HELLO_WITHIN_S = 3.0


@dataclass(slots=True)
class StandLink:
    """One connection at a time. The callbacks run in the event loop and must not block.

    ``on_malformed`` gets the reason of a line that is not believed; ``on_refused`` the reason why
    a stand cannot be worked with at all.
    """

    host: str
    port: int
    on_connected: Callable[[Message], None]
    on_message: Callable[[Message], None]
    on_malformed: Callable[[str], None]
    on_lost: Callable[[], None]
    on_refused: Callable[[str], None] = lambda reason: None
    stream: bool = True
    retry_s: float = RETRY_S
    _writer: asyncio.StreamWriter | None = None

    def send(self, message: Message) -> None:
        """Send at once, or not at all: a command for a lost link is dropped, never kept."""
        if self._writer is not None and not self._writer.is_closing():
            self._writer.write(encode(message))

    @property
    def connected(self) -> bool:
        """Whether the stand has said hello and is there."""
        return self._writer is not None

    def move(self, port: int) -> None:
        """To another stand: this one is let go, the other is reached for."""
        self.port = port
        if self._writer is not None:
            self._writer.close()

    async def run(self) -> None:
        """Keep the link up until cancelled."""
        while True:
            try:
                await self._session()
            except ProtocolError as error:
                self.on_refused(error.message)
            except (OSError, ValueError, TimeoutError, asyncio.IncompleteReadError):
                pass  # not there, gone, or a line without an end
            await asyncio.sleep(self.retry_s)

    async def _session(self) -> None:
        async with asyncio.timeout(HELLO_WITHIN_S):
            reader, writer = await asyncio.open_connection(self.host, self.port, limit=LONGEST_LINE)
        try:
            writer.write(encode({"type": "hello", "protocol": VERSION}))
            async with asyncio.timeout(HELLO_WITHIN_S):
                hello = check_hello(decode(await reader.readline()))
            if self.stream:
                writer.write(encode({"type": "stream", "seq": 0, "on": True}))
            self._writer = writer
            self.on_connected(hello)
            while line := await reader.readline():
                try:
                    message = decode(line)
                except ProtocolError as error:
                    self.on_malformed(error.message)
                else:
                    self.on_message(message)
        finally:
            if self._writer is not None:
                self._writer = None
                self.on_lost()
            with contextlib.suppress(OSError):
                writer.close()
