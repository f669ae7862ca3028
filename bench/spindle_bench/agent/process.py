"""One asyncio process that owns the stand.

The event loop carries stand link, engine, control socket and frames; delivery to the run store
runs in one worker thread, so a slow or absent database never slows a run.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
import signal
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from spindle_bench.agent.control import LONGEST_LINE, refusal
from spindle_bench.agent.frames import FRAMES_PER_S, FrameMaker
from spindle_bench.agent.link import StandLink
from spindle_bench.delivery import Delivery, RunStore
from spindle_bench.engine import Engine
from spindle_bench.errors import BenchError, RefusedError
from spindle_bench.plan import CHECKLIST, plan_from_json
from spindle_bench.protocol import Message
from spindle_bench.spool import Spool, spooled_runs
from spindle_bench.states import State

TICK_S = 0.02
DELIVER_EVERY_S = 0.5
MOST_FRAMES_WAITING = 40


class Agent:
    """The agent. ``folder`` holds spool and socket; ``store`` is where runs are kept."""

    def __init__(
        self, *, folder: Path, socket_path: Path, stand_port: int, store: RunStore
    ) -> None:
        self.folder, self.socket_path = folder, socket_path
        self.spool = Spool(folder / "spool")
        self.delivery = Delivery(self.spool.root, store)
        self.link = StandLink("127.0.0.1", stand_port, self._connected, self._received, self._lost)
        self.engine = Engine(self.link.send, self.spool)
        self.frames = FrameMaker()
        self._watchers: set[asyncio.Queue[bytes]] = set()
        self._worker = ThreadPoolExecutor(1, thread_name_prefix="delivery")
        self._problem = ""
        self._waiting = 0
        self._wake = asyncio.Event()

    async def run(self) -> None:
        """Run until cancelled; then make safe and deliver what can be delivered."""
        self.folder.mkdir(parents=True, exist_ok=True)
        self.delivery.recover()
        self.socket_path.unlink(missing_ok=True)
        server = await asyncio.start_unix_server(
            self._serve, str(self.socket_path), limit=LONGEST_LINE
        )
        self.socket_path.chmod(0o600)
        tasks = [
            asyncio.create_task(job)
            for job in (self.link.run(), self._tick(), self._show(), self._deliver())
        ]
        try:
            # Unlike gather, wait leaves the jobs running when this task is cancelled: the link
            # must still be there to make the stand safe.
            done, _ = await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
            for task in done:
                task.result()
        finally:
            await self._shut_down(server, tasks)

    async def _shut_down(self, server: asyncio.Server, tasks: list[asyncio.Task[None]]) -> None:
        self.engine.stop(time.monotonic(), reason="the bench agent was shut down")
        until = time.monotonic() + 1.5
        while self.engine.state is State.ABORTING and time.monotonic() < until:
            self.engine.tick(time.monotonic())
            await asyncio.sleep(TICK_S)
        for task in tasks:
            task.cancel()
        server.close()
        with contextlib.suppress(Exception):
            await asyncio.get_running_loop().run_in_executor(self._worker, self.delivery.deliver)
        self._worker.shutdown()
        self.socket_path.unlink(missing_ok=True)

    # ---- stand ------------------------------------------------------------------------------

    def _connected(self, hello: Message) -> None:
        self.engine.connected(hello, time.monotonic())

    def _received(self, message: Message) -> None:
        if message["type"] == "samples" and self.engine.hello is not None:
            names = [channel["name"] for channel in self.engine.hello["channels"]]
            self.frames.see(names, message["rows"])
        before = self.engine.state
        self.engine.received(message, time.monotonic())
        if before is not self.engine.state:
            self._wake.set()

    def _lost(self) -> None:
        self.engine.disconnected(time.monotonic())

    async def _tick(self) -> None:
        while True:
            self.engine.tick(time.monotonic())
            await asyncio.sleep(TICK_S)

    # ---- delivery ---------------------------------------------------------------------------

    async def _deliver(self) -> None:
        loop = asyncio.get_running_loop()
        pause = DELIVER_EVERY_S
        while True:
            try:
                await loop.run_in_executor(self._worker, self.delivery.deliver)
                self._problem, pause = "", DELIVER_EVERY_S
            except Exception as error:
                self._problem = (
                    f"The run store is away ({type(error).__name__}); runs stay on disk."
                )
                pause = min(10.0, 2 * pause)
            self._waiting = sum(1 for _ in spooled_runs(self.spool.root))
            self._wake.clear()
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self._wake.wait(), pause)

    # ---- frames -----------------------------------------------------------------------------

    async def _show(self) -> None:
        while True:
            frame = self.frames.frame(self.engine, self._waiting, self._problem)
            line = json.dumps(frame, separators=(",", ":")).encode() + b"\n"
            for queue in self._watchers:
                if queue.qsize() < MOST_FRAMES_WAITING:
                    queue.put_nowait(line)
            await asyncio.sleep(1.0 / FRAMES_PER_S)

    # ---- control ----------------------------------------------------------------------------

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            while line := await reader.readline():
                request = json.loads(line)
                if request.get("do") == "watch":
                    await self._stream(writer)
                    return
                writer.write(json.dumps(await self._answer(request)).encode() + b"\n")
                await writer.drain()
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # the other end left, sent no request, or the agent ends
        finally:
            writer.close()

    async def _stream(self, writer: asyncio.StreamWriter) -> None:
        queue: asyncio.Queue[bytes] = asyncio.Queue()
        self._watchers.add(queue)
        try:
            while True:
                writer.write(await queue.get())
                await writer.drain()
        finally:
            self._watchers.discard(queue)

    async def _answer(self, request: dict[str, Any]) -> dict[str, Any]:
        try:
            await self._do(request)
        except BenchError as error:
            return refusal(error)
        frame = self.frames.frame(self.engine, self._waiting, self._problem, peek=True)
        return {"ok": True, "frame": frame}

    async def _do(self, request: dict[str, Any]) -> None:
        now = time.monotonic()
        match request.get("do"):
            case "stop":
                self.engine.stop(now, reason=str(request.get("reason", "stopped by reviewer")))
            case "start":
                self.engine.start(now)
            case "reset":
                self.engine.reset(now)
            case "status":
                pass
            case "arm":
                await self._arm(request, now)
            case other:
                raise RefusedError(f"{other!r} is not a request.", code="unknown_request")

    async def _arm(self, request: dict[str, Any], now: float) -> None:
        missing = [item for item in CHECKLIST if item not in request.get("checklist", [])]
        if missing:
            raise RefusedError(
                f"Not confirmed on the checklist: {', '.join(missing).replace('_', ' ')}.",
                code="checklist",
            )
        plan = plan_from_json(request["plan"])
        answered: asyncio.Future[RefusedError | None] = asyncio.get_running_loop().create_future()
        self.engine.arm(plan, now, answered.set_result)
        error = await answered
        if error is not None:
            raise error


def run_agent(agent_folder: Path, socket_path: Path, stand_port: int, store: RunStore) -> None:
    """Run the agent in this process until SIGTERM or SIGINT."""

    async def serve() -> None:
        agent = Agent(
            folder=agent_folder, socket_path=socket_path, stand_port=stand_port, store=store
        )
        running = asyncio.create_task(agent.run())
        loop = asyncio.get_running_loop()
        for name in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(name, running.cancel)
        with contextlib.suppress(asyncio.CancelledError):
            await running

    asyncio.run(serve())
