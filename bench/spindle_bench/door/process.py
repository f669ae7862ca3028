"""The stop door's process: ``python -m spindle_bench.door.process``.

Pages come by WebSocket; the stand is a TCP connection, the agent a Unix socket. Each of them may be
frozen or gone without the others noticing.
"""

from __future__ import annotations

import argparse
import asyncio
import contextlib
import http
import itertools
import json
import os
import signal
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from websockets.asyncio.server import Server, ServerConnection, serve
from websockets.exceptions import ConnectionClosed
from websockets.http11 import Request, Response
from websockets.protocol import State

from spindle_bench.agent.link import StandLink
from spindle_bench.door.desk import Desk
from spindle_bench.errors import RefusedError
from spindle_bench.known_stands import KnownStand, read_driven, stand_from
from spindle_bench.protocol import Message

TICK_S = 0.02
RETRY_S = 0.1
LONGEST_MESSAGE = 4096
MOST_PAGES = 200
TOKEN_WITHIN_S = 3.0
MOST_BUFFERED_BYTES = 65_536
BAD_TOKEN = 4401


class Door:
    """Serves one desk."""

    def __init__(
        self,
        *,
        key: str,
        agent_socket: Path,
        stand_port: int | None = None,
        stands: Sequence[KnownStand] = (),
        driven: Path | None = None,
        health: Path | None = None,
    ) -> None:
        self.agent_socket, self.health, self._driven_file = agent_socket, health, driven
        only = [KnownStand(stand_port, "stand")] if stand_port is not None else []
        self.stands = [*stands, *only]
        self.stand = read_driven(driven, self.stands)
        self.links = {one.port: self._link(one.port) for one in self.stands}
        self.desk = Desk(key, self._to_stands, self._to_agent, time.time, self._troubles)
        self._agent: asyncio.StreamWriter | None = None
        self._ids = itertools.count(1)
        self._seen_troubles: list[str] = []

    def _link(self, port: int) -> StandLink:
        """A link to one stand; only of the one that is driven anything is believed."""

        def of_driven(act: Callable[[float], None]) -> None:
            if port == self.stand.port:
                act(time.monotonic())

        return StandLink(
            "127.0.0.1",
            port,
            on_connected=lambda hello: of_driven(self.desk.stand_connected),
            on_message=lambda message: of_driven(lambda now: self.desk.stand_said(message, now)),
            on_malformed=lambda reason: None,
            on_lost=lambda: of_driven(lambda now: self.desk.stand_lost()),
            stream=False,
            retry_s=RETRY_S,
        )

    def _to_stands(self, message: Message) -> None:
        """A stop goes to every stand that is known, anything else to the one that is driven."""
        for port, link in self.links.items():
            if port == self.stand.port or message["type"] == "stop":
                link.send(message)

    def _follow(self) -> None:
        """See which stand is driven now."""
        now = read_driven(self._driven_file, self.stands)
        if now == self.stand:
            return
        self.stand = now
        self.desk.stand_lost()
        if self.links[now.port].connected:
            self.desk.stand_connected(time.monotonic())

    async def run(
        self, host: str, port: int, origins: Sequence[str], ready: asyncio.Event | None = None
    ) -> None:
        """Listen until cancelled."""
        async with serve(
            self._page,
            host,
            port,
            origins=[*origins],  # type: ignore[list-item]
            process_request=self._health,
            max_size=LONGEST_MESSAGE,
            ping_interval=None,
            compression=None,
            close_timeout=1,
        ) as server:
            self.port = _port_of(server)
            if ready is not None:
                ready.set()
            async with asyncio.TaskGroup() as tasks:
                links = [link.run() for link in self.links.values()]
                for job in (*links, self._keep_agent(), self._tick(), self._read_health()):
                    tasks.create_task(job)

    # ---- pages --------------------------------------------------------------------------------

    def _health(self, connection: ServerConnection, request: Request) -> Response | None:
        """``/health`` for the launcher; anything else is a page's WebSocket."""
        if request.path == "/health":
            return connection.respond(http.HTTPStatus.OK, "open\n")
        if len(self.desk.pages) >= MOST_PAGES:
            return connection.respond(http.HTTPStatus.SERVICE_UNAVAILABLE, "too many pages\n")
        return None

    async def _page(self, connection: ServerConnection) -> None:
        page = next(self._ids)
        self.desk.opened(page, lambda message: _post(connection, message))
        try:
            async with asyncio.timeout(TOKEN_WITHIN_S):
                self.desk.said(page, _message(await connection.recv()), time.monotonic())
            async for text in connection:
                self.desk.said(page, _message(text), time.monotonic())
        except RefusedError as error:
            await connection.close(BAD_TOKEN, error.message[:120])
        except (TimeoutError, ConnectionClosed):
            pass
        finally:
            self.desk.closed(page)

    # ---- agent and time -------------------------------------------------------------------------

    def _to_agent(self, message: Message) -> None:
        writer = self._agent
        if writer is None or writer.is_closing():
            return
        # A frozen agent reads nothing; what it would read later would be old by then.
        if writer.transport.get_write_buffer_size() < MOST_BUFFERED_BYTES:
            writer.write(json.dumps(message, separators=(",", ":")).encode() + b"\n")

    async def _keep_agent(self) -> None:
        while True:
            with contextlib.suppress(OSError, ValueError):
                reader, writer = await asyncio.open_unix_connection(str(self.agent_socket))
                self._agent = writer
                try:
                    while await reader.read(65_536):
                        pass  # answers; nobody waits for them
                finally:
                    self._agent = None
                    writer.close()
            await asyncio.sleep(RETRY_S)

    async def _tick(self) -> None:
        while True:
            self.desk.tick(time.monotonic())
            await asyncio.sleep(TICK_S)

    def _troubles(self) -> list[str]:
        return self._seen_troubles

    async def _read_health(self) -> None:
        """What the launcher says of the other processes, and the agent of the stands."""
        while True:
            self._follow()
            found: list[str] = []
            if self.health is not None:
                with contextlib.suppress(OSError, ValueError):
                    data = json.loads(self.health.read_text())
                    found = [str(item)[:200] for item in data.get("troubles", [])][:8]
            self._seen_troubles = found
            await asyncio.sleep(0.5)


def _post(connection: ServerConnection, message: Message) -> None:
    """Send without waiting; a page that does not read is cut off rather than waited for."""
    transport = connection.transport
    if connection.state is not State.OPEN or transport.is_closing():
        return
    if transport.get_write_buffer_size() > MOST_BUFFERED_BYTES:
        transport.abort()
        return
    connection.protocol.send_text(json.dumps(message, separators=(",", ":")).encode())
    connection.send_data()


def _message(text: str | bytes) -> Message:
    """:raises RefusedError: no JSON object."""
    try:
        message = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RefusedError("The door speaks JSON.", code="not_json") from error
    if not isinstance(message, dict):
        raise RefusedError("The door speaks JSON objects.", code="not_json")
    return message


def _port_of(server: Server) -> int:
    port: int = next(iter(server.sockets)).getsockname()[1]
    return port


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the stop door until it is told to end."""
    parser = argparse.ArgumentParser(prog="spindle-door", description="The stop door.")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8140)
    parser.add_argument(
        "--stand", type=stand_from, action="append", required=True, metavar="PORT=NAME"
    )
    parser.add_argument("--driven", type=Path, help="the file that says which stand is driven")
    parser.add_argument("--agent-socket", type=Path, required=True)
    parser.add_argument("--health", type=Path)
    parser.add_argument("--origin", action="append", default=[], help="page address let in")
    options = parser.parse_args(arguments)
    key = os.environ.get("SPINDLE_DOOR_KEY", "")
    if not key:
        sys.stderr.write("spindle-door: SPINDLE_DOOR_KEY is not set.\n")
        return 2
    door = Door(
        key=key,
        stands=options.stand,
        driven=options.driven,
        agent_socket=options.agent_socket,
        health=options.health,
    )
    try:
        asyncio.run(_serve(door, options.host, options.port, options.origin))
    except OSError as error:
        sys.stderr.write(f"spindle-door: cannot listen on {options.port}: {error.strerror}\n")
        return 1
    return 0


async def _serve(door: Door, host: str, port: int, origins: list[str]) -> None:
    running = asyncio.create_task(door.run(host, port, origins))
    loop = asyncio.get_running_loop()
    for name in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(name, running.cancel)
    with contextlib.suppress(asyncio.CancelledError):
        await running


if __name__ == "__main__":
    raise SystemExit(main())
