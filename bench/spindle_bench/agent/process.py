"""One asyncio process that owns the stand.

The event loop carries stand link, engine, control socket and frames; delivery to the run store
runs in one worker thread, so a slow or absent database never slows a run.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
import signal
import time
import uuid
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path
from typing import Any

from spindle_bench.agent.control import LONGEST_LINE, refusal
from spindle_bench.agent.frames import (
    FRAMES_PER_S,
    FRAMES_PER_S_AT_REST,
    Delivered,
    FrameMaker,
    in_hand,
    is_quiet,
)
from spindle_bench.agent.link import StandLink
from spindle_bench.delivery import INTERRUPTED, Delivery, RunStore
from spindle_bench.engine import Engine
from spindle_bench.errors import BenchError, RefusedError, StoreAwayError
from spindle_bench.guard import Question, Verdict, judge
from spindle_bench.known_stands import KnownStand, read_driven, write_driven
from spindle_bench.plan import RunPlan, check_checklist, plan_from_json
from spindle_bench.protocol import Message, drives, is_number
from spindle_bench.spool import Spool, SpooledRun
from spindle_bench.states import AT_REST, Outcome, RunEnd, State
from spindle_bench.watches import STALL_S
from spindle_core.figures import numerics

TICK_S = 0.02
DELIVER_EVERY_S = 0.5
MOST_FRAMES_WAITING = 40
DRAIN_TURNS = 8
PAGE_HEARD_WITHIN_S = 1.5

logger = logging.getLogger(__name__)


class Agent:
    """The agent. ``folder`` holds spool and socket; ``store`` is where runs are kept; ``stands``
    are those that it may drive, one at a time, and ``driven`` the file that says which."""

    def __init__(
        self,
        *,
        folder: Path,
        socket_path: Path,
        store: RunStore,
        stand_port: int | None = None,
        stands: Sequence[KnownStand] = (),
        driven: Path | None = None,
    ) -> None:
        only = [KnownStand(stand_port, "stand")] if stand_port is not None else []
        self.stands, self._driven_file = [*stands, *only], driven
        self.stand = read_driven(driven, self.stands)
        self.folder, self.socket_path = folder, socket_path
        self.spool = Spool(folder / "spool")
        self.delivery = Delivery(self.spool.root, store)
        self.link = StandLink(
            "127.0.0.1",
            self.stand.port,
            self._connected,
            self._received,
            self._malformed,
            self._lost,
            self._refused,
        )
        self.engine = Engine(self.link.send, self.spool, self._ask_guard)
        self.frames = FrameMaker()
        self._watchers: set[asyncio.Queue[bytes]] = set()
        self._worker = ThreadPoolExecutor(1, thread_name_prefix="delivery")
        self._disk = ThreadPoolExecutor(1, thread_name_prefix="disk")
        self._guard = ThreadPoolExecutor(1, thread_name_prefix="guard")
        self._delivered = Delivered()
        self._frame_due = 0.0
        self._wake = asyncio.Event()

    async def run(self) -> None:
        """Run until cancelled; then make safe and deliver what can be delivered."""
        self.folder.mkdir(parents=True, exist_ok=True)
        self._tell_interrupted(self.delivery.recover())
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

    def _tell_interrupted(self, runs: list[SpooledRun]) -> None:
        """A run that ended with an earlier agent is said, not passed over as *Ready*."""
        if runs:
            last = runs[-1]
            self.engine.plan, self.engine.end = last.plan, INTERRUPTED
            self.engine.message = f"{INTERRUPTED.reason} Look at the stand before you arm."

    async def _shut_down(self, server: asyncio.Server, tasks: list[asyncio.Task[None]]) -> None:
        ending = RunEnd(Outcome.STOPPED, "shut_down", "The bench agent was shut down.")
        self.engine.stop(time.monotonic(), ending=ending)
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
        self._disk.shutdown()
        self._guard.shutdown(wait=False, cancel_futures=True)
        self.socket_path.unlink(missing_ok=True)

    # ---- stand ------------------------------------------------------------------------------

    def _guarded(self, act: Callable[[float], None]) -> None:
        """Whatever breaks in here, the throttle goes to zero first."""
        now, before = time.monotonic(), self.engine.state
        try:
            act(now)
        except Exception as error:
            logger.exception("the bench agent failed")
            self.engine.failed(error, now)
        if before is not self.engine.state:
            self._wake.set()

    def _ask_guard(self, question: Question) -> None:
        """Judge elsewhere; an answer that never comes ends the run when it is due."""
        plan = self.engine.plan
        run_id = plan.run_id if plan is not None else ""
        loop = asyncio.get_running_loop()

        def answered(future: asyncio.Future[Verdict]) -> None:
            if future.cancelled():
                return
            error = future.exception()
            if error is not None:
                logger.error("the guard failed", exc_info=error)
                return
            self.engine.guard_says(future.result(), run_id=run_id)

        loop.run_in_executor(self._guard, judge, question).add_done_callback(answered)

    def _connected(self, hello: Message) -> None:
        self._guarded(lambda now: self.engine.connected(hello, now))

    def _received(self, message: Message) -> None:
        self._guarded(lambda now: self.engine.received(message, now))

    def _malformed(self, reason: str) -> None:
        self._guarded(lambda now: self.engine.malformed(reason, now))

    def _refused(self, reason: str) -> None:
        if self.engine.state is State.IDLE:
            self.engine.message = f"The stand cannot be worked with: {reason}"

    def _lost(self) -> None:
        self._guarded(self.engine.disconnected)

    async def _tick(self) -> None:
        last = time.monotonic()
        while True:
            if time.monotonic() - last > STALL_S:
                # After a stall of ours, read what waits in the sockets before judging anybody.
                for _ in range(DRAIN_TURNS):
                    await asyncio.sleep(0)
            last = time.monotonic()
            self._guarded(self.engine.tick)
            await asyncio.sleep(TICK_S)

    # ---- delivery ---------------------------------------------------------------------------

    async def _deliver(self) -> None:
        loop = asyncio.get_running_loop()
        pause = DELIVER_EVERY_S
        while True:
            problem = ""
            try:
                await loop.run_in_executor(self._worker, self.delivery.deliver)
                pause = DELIVER_EVERY_S
            except StoreAwayError:
                problem = "The run store is away; runs stay on disk and are brought later."
                pause = min(5.0, 2 * pause)
            except OSError as error:
                problem = (
                    f"The disk of the bench fails ({error.strerror}); runs stay where they are."
                )
                pause = min(5.0, 2 * pause)
            except Exception as error:
                logger.exception("delivery failed")
                problem = f"Runs stay on disk: {type(error).__name__}: {error}"
                pause = min(5.0, 2 * pause)
            aside = [run.as_json() for run in self.delivery.set_aside]
            self._delivered = Delivered(self.delivery.waiting, problem, aside)
            if self.spool.flush() and self.engine.state is not State.RUNNING:
                self.engine.recording_problem = ""
            self._wake.clear()
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self._wake.wait(), pause)

    # ---- frames -----------------------------------------------------------------------------

    async def _show(self) -> None:
        said: tuple[object, ...] = ()
        while True:
            now, says = time.monotonic(), self._says()
            if now >= self._frame_due or says != said:
                frame = self._frame()
                rest_s = 1.0 / FRAMES_PER_S_AT_REST if is_quiet(frame) else 0.0
                said, self._frame_due = says, now + rest_s
                line = json.dumps(frame, separators=(",", ":")).encode() + b"\n"
                for queue in self._watchers:
                    if queue.qsize() < MOST_FRAMES_WAITING:
                        queue.put_nowait(line)
            await asyncio.sleep(1.0 / FRAMES_PER_S)

    def _says(self) -> tuple[object, ...]:
        """What is shown within a twentieth of a second even where all is quiet."""
        engine = self.engine
        link, plan = engine.hello is not None, engine.plan.run_id if engine.plan else None
        problem = engine.recording_problem
        return engine.state, engine.message, link, plan, engine.end, problem, self._delivered

    def _frame(self, *, peek: bool = False) -> dict[str, Any]:
        frame = self.frames.frame(self.engine, self._delivered, peek=peek)
        known = [one.words for one in self.stands]
        return {**frame, "stand": self.stand.words, "stands": known}

    # ---- control ----------------------------------------------------------------------------

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            while line := await reader.readline():
                request = json.loads(line)
                if not isinstance(request, dict):
                    raise ValueError("a request is a JSON object")
                if request.get("do") == "watch":
                    await self._stream(writer)
                    return
                if request.get("do") == "pages":
                    self._pages(request)  # ten a second, and nobody waits for an answer
                    continue
                writer.write(json.dumps(await self._answer(request)).encode() + b"\n")
                await writer.drain()
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # the other end left, sent no request, or the agent ends
        finally:
            writer.close()

    async def _stream(self, writer: asyncio.StreamWriter) -> None:
        queue: asyncio.Queue[bytes] = asyncio.Queue()
        self._watchers.add(queue)
        self._frame_due = 0.0  # who has just come is not kept waiting
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
        if request.get("do") == "in_hand":
            return {"ok": True, "in_hand": in_hand(self.engine)}
        return {"ok": True, "frame": self._frame(peek=True)}

    def _pages(self, request: dict[str, Any]) -> None:
        ago = request.get("ago_s")
        if ago is None or is_number(ago):
            self.engine.pages(time.monotonic(), ago_s=ago)

    async def _do(self, request: dict[str, Any]) -> None:
        now = time.monotonic()
        match request.get("do"):
            case "stop":
                self.engine.stop(now, by=str(request.get("by") or ""))
            case "start":
                run_id, operator = str(request.get("run_id") or ""), request.get("operator_id")
                self.engine.start(now, run_id=run_id, operator_id=operator)
            case "stand":
                self._drive(str(request.get("words") or ""), now)
            case "hand":
                pct = request.get("pct")
                if not is_number(pct) or not 0 <= pct <= 100:
                    raise RefusedError("A throttle is 0 to 100 %.", code="bad_value")
                self.engine.move_hand(pct)
            case "reset":
                self.engine.reset(now)
            case "status" | "in_hand":
                pass
            case "arm":
                await self._arm(request)
            case "retry":
                self.delivery.retry(str(request.get("run_id") or ""))
                self._wake.set()
            case other:
                raise RefusedError(f"{other!r} is not a request.", code="unknown_request")

    async def _page_answers(self, grace_s: float) -> None:
        """A page that has just been opened is given a moment to be heard of through the door."""
        until = time.monotonic() + PAGE_HEARD_WITHIN_S
        while time.monotonic() < until and self.engine.page_age_s(time.monotonic()) > grace_s:
            await asyncio.sleep(TICK_S)

    def _drive(self, words: str, now: float) -> None:
        """Let go of the stand in hand and reach for another one.

        :raises RefusedError: it is not known, or something is armed, turns or is recorded.
        """
        wanted = next((one for one in self.stands if one.words == words), None)
        if wanted is None:
            raise RefusedError(f"{words!r} is no stand of this bench.", code="no_stand")
        if wanted == self.stand:
            return
        self.engine.let_go(now)
        try:
            write_driven(self._driven_file, wanted)
        except OSError as error:
            raise RefusedError(
                f"Which stand is driven cannot be written down ({error.strerror}); it stays.",
                code="disk",
            ) from error
        self.stand = wanted
        self.link.move(wanted.port)

    def _rate_of(self, plan: RunPlan) -> float:
        """The plan's rate [Hz]; that of a stand that only reads is what it prints."""
        hello = self.engine.hello or {}
        own = hello.get("rate_hz")
        if drives(hello) or not is_number(own):
            return plan.rate_hz
        return min(1000.0, max(0.5, own))

    async def _arm(self, request: dict[str, Any]) -> None:
        data = request.get("plan")
        plan = plan_from_json(data if isinstance(data, dict) else {})
        check_checklist(plan, [str(item) for item in request.get("checklist") or []])
        plan = replace(plan, arming=str(uuid.uuid4()), rate_hz=self._rate_of(plan))
        if self.engine.hello is not None and self.engine.state in AT_REST:
            # Forcing the plan to disk may take a while; nothing is armed yet.
            loop, channels = asyncio.get_running_loop(), list(self.engine.channels)
            await loop.run_in_executor(self._disk, self.spool.prepare, plan, channels)
        await self._page_answers(plan.page_grace_s)
        answered: asyncio.Future[RefusedError | None] = asyncio.get_running_loop().create_future()

        def done(error: RefusedError | None) -> None:
            if not answered.done():
                answered.set_result(error)

        self._guarded(lambda now: self.engine.arm(plan, now, done))
        error = await answered
        if error is not None:
            raise error


def run_agent(
    agent_folder: Path,
    socket_path: Path,
    stands: Sequence[KnownStand],
    store: RunStore,
    driven: Path | None = None,
) -> None:
    """Run the agent in this process until SIGTERM or SIGINT."""
    # What a run computes is there before one begins: to fetch it holds the loop up.
    numerics.load()

    async def serve() -> None:
        agent = Agent(
            folder=agent_folder, socket_path=socket_path, stands=stands, store=store, driven=driven
        )
        running = asyncio.create_task(agent.run())
        loop = asyncio.get_running_loop()
        for name in (signal.SIGTERM, signal.SIGINT):
            loop.add_signal_handler(name, running.cancel)
        with contextlib.suppress(asyncio.CancelledError):
            await running

    asyncio.run(serve())
