"""The driver process: a serial device behind the stand's TCP protocol.

A device that speaks the protocol itself is passed through (:mod:`.switchboard`); of one that only
prints lines of numbers the readings are (:mod:`.printed_board`).
"""

from __future__ import annotations

import argparse
import asyncio
import contextlib
import itertools
import os
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

import serial

from spindle_bench.driver.printed_board import PrintedBoard
from spindle_bench.driver.switchboard import Out, Switchboard
from spindle_bench.errors import ProtocolError
from spindle_bench.protocol import LONGEST_LINE, Message, decode, encode
from spindle_core.errors import MappingError
from spindle_core.formats.foreign.printed import printed_lines

RETRY_S = 0.5
HELLO_AGAIN_S = 1.0
WRITE_WITHIN_S = 0.2
MOST_BUFFERED_BYTES = 4_000_000
READ_AT_ONCE = 65_536


class Driver:
    """Serves one serial device to any number of TCP partners."""

    def __init__(
        self, device: str, baud: int = 115_200, board: Switchboard | PrintedBoard | None = None
    ) -> None:
        self.device, self.baud = device, baud
        self.board = board if board is not None else Switchboard()
        self.port = 0
        self._line: serial.Serial | None = None
        self._rest = b""
        self._heard = 0.0
        self._gone = asyncio.Event()
        self._writers: dict[int, asyncio.StreamWriter] = {}
        self._ids = itertools.count(1)

    async def serve(self, host: str, port: int, ready: asyncio.Event | None = None) -> None:
        """Listen until cancelled; the device may come and go meanwhile."""
        server = await asyncio.start_server(self._client, host, port, limit=LONGEST_LINE)
        self.port = server.sockets[0].getsockname()[1]
        if ready is not None:
            ready.set()
        try:
            async with server:
                while True:
                    await self._session()
                    await asyncio.sleep(RETRY_S)
        finally:
            self._close()
            self._drop_partners()

    async def _session(self) -> None:
        """One connection to the device, from its opening until it is gone."""
        try:
            self._line = serial.Serial(
                self.device, self.baud, timeout=0, write_timeout=WRITE_WITHIN_S, exclusive=True
            )
        except (serial.SerialException, OSError, ValueError):
            return
        loop = asyncio.get_running_loop()
        self._gone.clear()
        self.board.opened()
        self._rest, self._heard = b"", loop.time()
        loop.add_reader(self._line.fileno(), self._readable)
        try:
            greeted = -HELLO_AGAIN_S
            while not self._gone.is_set():
                now = loop.time()
                if self.board.hello is None and now - greeted >= HELLO_AGAIN_S:
                    # A device that starts slowly misses the first greeting.
                    greeted = now
                    self._send(self.board.greet())
                if self.board.hello is not None and now - self._heard > self.board.silent_s:
                    break
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(self._gone.wait(), 0.1)
        finally:
            self._close()
            # To a partner a device that is gone is a lost link.
            self._drop_partners()

    def _close(self) -> None:
        line, self._line = self._line, None
        self.board.hello = None
        if line is not None:
            with contextlib.suppress(OSError, ValueError):
                asyncio.get_running_loop().remove_reader(line.fileno())
            with contextlib.suppress(OSError):
                line.close()

    def _drop_partners(self) -> None:
        for writer in list(self._writers.values()):
            writer.close()

    def _readable(self) -> None:
        assert self._line is not None
        try:
            chunk = os.read(self._line.fileno(), READ_AT_ONCE)
        except BlockingIOError:
            return
        except OSError:
            chunk = b""
        if not chunk:
            self._gone.set()
            return
        self._heard = asyncio.get_running_loop().time()
        *lines, self._rest = (self._rest + chunk).split(b"\n")
        if len(self._rest) > LONGEST_LINE:
            self._rest = b""
        for line in lines:
            self._device_said(line)

    def _device_said(self, line: bytes) -> None:
        if line.strip():
            self._send(self.board.line(line, asyncio.get_running_loop().time()))

    def _send(self, out: list[Out]) -> None:
        for client, message in out:
            if client is None:
                self._to_device(message)
            else:
                self._write_to(client, encode(message))

    def _to_device(self, message: Message) -> None:
        if self._line is None:
            return
        try:
            self._line.write(encode(message))
        except (serial.SerialException, OSError):
            self._gone.set()

    def _write_to(self, client: int, line: bytes) -> None:
        writer = self._writers.get(client)
        if writer is None or writer.is_closing():
            return
        if writer.transport.get_write_buffer_size() > MOST_BUFFERED_BYTES:
            writer.transport.abort()
        else:
            writer.write(line)

    async def _client(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        client = next(self._ids)
        self._writers[client] = writer
        try:
            while line := await reader.readline():
                try:
                    message = decode(line)
                except ProtocolError as error:
                    text = error.message
                    refusal = {"type": "refused", "seq": None, "code": error.code, "message": text}
                    writer.write(encode(refusal))
                    continue
                self._send(self.board.said(client, message))
                await writer.drain()
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # the other end left, sent an endless line, or the driver ends
        finally:
            self._writers.pop(client, None)
            self._send(self.board.left(client))
            writer.close()


def main(arguments: Sequence[str] | None = None) -> int:
    """Offer a serial stand over TCP until told to end."""
    parser = argparse.ArgumentParser(
        prog="spindle-serial-stand", description="A stand on a serial port, offered over TCP."
    )
    parser.add_argument("--device", required=True, help="its port, such as /dev/ttyACM0")
    parser.add_argument("--baud", type=int, default=115_200)
    parser.add_argument(
        "--printed",
        type=Path,
        metavar="MAPPING.json",
        help="it only prints lines of numbers: how they are read",
    )
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=7531)
    options = parser.parse_args(arguments)
    board: Switchboard | PrintedBoard = Switchboard()
    if options.printed is not None:
        try:
            board = PrintedBoard(printed_lines(options.printed.read_text(encoding="utf-8")))
        except (OSError, UnicodeDecodeError, MappingError) as error:
            sys.stderr.write(f"spindle-serial-stand: {options.printed}: {error}\n")
            return 2
    try:
        asyncio.run(_serve(options, board))
    except OSError as error:
        text = error.strerror or str(error)
        sys.stderr.write(f"spindle-serial-stand: cannot listen on port {options.port}: {text}\n")
        return 1
    return 0


async def _serve(options: argparse.Namespace, board: Switchboard | PrintedBoard) -> None:
    driver = Driver(options.device, options.baud, board)
    serving = asyncio.create_task(driver.serve(options.host, options.port))
    loop = asyncio.get_running_loop()
    for name in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(name, serving.cancel)
    with contextlib.suppress(asyncio.CancelledError):
        await serving


if __name__ == "__main__":
    raise SystemExit(main())
