"""The simulated stand behind TCP: ``spindle-stand``."""

from __future__ import annotations

import argparse
import asyncio
import contextlib
import itertools
import json
import signal
import sys
import time
from collections.abc import Sequence

from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import HEARTBEAT_LIMIT_S, LONGEST_LINE, Message, decode, encode
from spindle_bench.stand.device import SimulatedStand

TICK_S = 0.002
REST_TICK_S = 0.02
"""At rest samples go out in fours: two stands that nobody turns took an eighth of a core."""
MOST_BUFFERED_BYTES = 4_000_000
"""A client that does not read its samples is dropped rather than waited for."""


class StandServer:
    """Serves one simulated stand to any number of connections; one of them may own it."""

    def __init__(self, stand: SimulatedStand) -> None:
        self.stand = stand
        self._writers: dict[int, asyncio.StreamWriter] = {}
        self._streaming: set[int] = set()
        self._ids = itertools.count(1)

    async def serve(self, host: str, port: int, ready: asyncio.Event | None = None) -> None:
        """Listen until cancelled."""
        server = await asyncio.start_server(self._client, host, port, limit=LONGEST_LINE)
        self.port = server.sockets[0].getsockname()[1]
        if ready is not None:
            ready.set()
        ticking = asyncio.create_task(self._tick())
        try:
            async with server:
                await ticking
        finally:
            ticking.cancel()
            for writer in list(self._writers.values()):
                writer.close()

    async def _tick(self) -> None:
        while True:
            self._send_all(self.stand.advance(time.monotonic()))
            await asyncio.sleep(REST_TICK_S if self.stand.at_rest else TICK_S)

    def _send_all(self, messages: list[Message]) -> None:
        for message in messages:
            # A stand whose sensors give NaN is one of the faults it can make.
            line = json.dumps(message, separators=(",", ":")).encode() + b"\n"
            for client in list(self._streaming):
                writer = self._writers[client]
                if writer.transport.get_write_buffer_size() > MOST_BUFFERED_BYTES:
                    writer.transport.abort()
                    self._streaming.discard(client)
                else:
                    writer.write(line)

    async def _client(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        client = next(self._ids)
        self._writers[client] = writer
        try:
            while line := await reader.readline():
                self._answer(line, client, writer)
                await writer.drain()
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # the other end left, sent an endless line, or the stand is shut down
        finally:
            self._streaming.discard(client)
            self._writers.pop(client, None)
            self._send_all(self.stand.disconnected(client))
            writer.close()

    def _answer(self, line: bytes, client: int, writer: asyncio.StreamWriter) -> None:
        try:
            message = decode(line)
        except ProtocolError as error:
            refusal = {"type": "refused", "seq": None, "code": error.code, "message": error.message}
            writer.write(encode(refusal))
            return
        if message["type"] == "stream":
            if message.get("on"):
                self._streaming.add(client)
            else:
                self._streaming.discard(client)
            writer.write(encode({"type": "ack", "seq": message.get("seq")}))
            return
        for reply in self.stand.handle(message, client, time.monotonic()):
            writer.write(encode(reply))


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the simulated stand until it is told to end."""
    parser = argparse.ArgumentParser(prog="spindle-stand", description="The simulated stand.")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=7531)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument(
        "--heartbeat-ms",
        type=int,
        default=round(HEARTBEAT_LIMIT_S * 1000),
        help="patience with a silent owner; longer only on a machine that often stands still",
    )
    options = parser.parse_args(arguments)
    stand = SimulatedStand(options.seed, options.heartbeat_ms / 1000.0)
    try:
        asyncio.run(_serve(stand, options.host, options.port))
    except OSError as error:
        sys.stderr.write(f"spindle-stand: cannot listen on port {options.port}: {error.strerror}\n")
        return 1
    return 0


async def _serve(stand: SimulatedStand, host: str, port: int) -> None:
    serving = asyncio.create_task(StandServer(stand).serve(host, port))
    loop = asyncio.get_running_loop()
    for name in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(name, serving.cancel)
    with contextlib.suppress(asyncio.CancelledError):
        await serving


if __name__ == "__main__":
    raise SystemExit(main())
