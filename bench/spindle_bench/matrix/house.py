"""All processes of the bench in virtual time, joined by queues as sockets would.

Engine, simulated stand, stop door, spool and delivery are the real ones; only sockets and clocks
are replaced. A frozen process reads nothing and what is sent to it waits; a killed one loses what
waited, its peers hear that the link is gone, and the launcher starts it again.
"""

from __future__ import annotations

import contextlib
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final

from spindle_bench.delivery import INTERRUPTED, Delivery, Segment
from spindle_bench.door.desk import Desk
from spindle_bench.door.token import sign
from spindle_bench.engine import Engine
from spindle_bench.errors import BenchError, RefusedError, StoreAwayError
from spindle_bench.plan import RunPlan
from spindle_bench.protocol import Message
from spindle_bench.spool import Spool, SpooledRun
from spindle_bench.stand.device import SimulatedStand

STEP_S: Final = 0.01
KEY: Final = "the house's key"
AGENT, DOOR = 1, 2
"""The stand's clients."""

STARTS_AGAIN_S: Final = {"stand": 1.0, "agent": 1.5, "door": 1.0, "web": 3.0, "database": 2.0}
"""How long a process that has ended is away."""

HUNG_S: Final = {"stand": 12.0, "agent": 6.5, "door": 3.0, "web": 10.0, "database": 30.0}
"""After this silence the launcher ends a frozen process and starts it again."""


@dataclass(slots=True)
class Process:
    """Whether one process runs; what waits for it."""

    name: str
    frozen_until: float = 0.0
    frozen_since: float = 0.0
    dead_until: float | None = None
    inbox: deque[Any] = field(default_factory=deque)

    def runs(self, now: float) -> bool:
        """Whether it does anything now."""
        return self.dead_until is None and now >= self.frozen_until


class MemoryStore:
    """A run store that can be away, as the database behind it may be."""

    def __init__(self, away: Callable[[], bool]) -> None:
        self.away = away
        self.segments: dict[str, list[Segment]] = {}
        self.ends: list[tuple[str, dict[str, Any]]] = []

    def _reach(self) -> None:
        if self.away():
            raise StoreAwayError("the database is away")

    def begin_run(self, plan: RunPlan, channels: list[str]) -> None:
        """Create the run."""
        self._reach()
        self.segments.setdefault(plan.run_id, [])

    def stored_rows(self, run_id: str) -> tuple[int, int]:
        """Segments and rows already held."""
        self._reach()
        held = self.segments[run_id]
        return len(held), sum(segment.row_count for segment in held)

    def add_segment(self, run_id: str, segment: Segment) -> None:
        """Keep one segment."""
        self._reach()
        self.segments[run_id].append(segment)

    def end_run(self, run_id: str, end: dict[str, Any]) -> None:
        """Write the end record."""
        self._reach()
        self.ends.append((run_id, end))


class FullDisk(Spool):
    """A spool whose disk can be full."""

    full = False

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Append samples, where there is room."""
        if type(self).full:
            raise OSError(28, "No space left on device")
        super().add(times_s, rows)


@dataclass(slots=True)
class Page:
    """A page of the application that is open: it answers pings and can stop."""

    name: str
    number: int
    token: str
    open: bool = True
    linked: bool = True
    seated: bool = False
    stopped_at: float | None = None
    inbox: deque[Message] = field(default_factory=deque)


class House:
    """The bench with everything around it. ``folder`` holds the spool."""

    def __init__(self, folder: Path, seed: int = 5) -> None:
        self.now = 0.0
        self.folder = folder
        self.processes = {name: Process(name) for name in STARTS_AGAIN_S}
        self.stand_link_up = True
        self.store = MemoryStore(lambda: not self.runs("database"))
        self._spool_type = type("HouseDisk", (FullDisk,), {})
        self._seed = seed
        self.pages: list[Page] = []
        self.cut_at_s: float | None = None
        self.throttle_seen = 0.0
        self._delivered = 0.0
        self._start_stand()
        self._start_agent()
        self._start_door()
        self.open_page("Ilse")

    # ---- starting and ending ------------------------------------------------------------------

    def runs(self, name: str) -> bool:
        """Whether a process runs now."""
        return self.processes[name].runs(self.now)

    def _start_stand(self) -> None:
        self.stand = SimulatedStand(seed=self._seed)
        self.stand.advance(self.now)

    def _start_agent(self) -> None:
        self.spool: FullDisk = self._spool_type(self.folder)
        self.delivery = Delivery(self.folder, self.store)
        found = self.delivery.recover()
        self.engine = Engine(lambda message: self._to_stand(AGENT, message), self.spool)
        self._tell(found)
        if self.runs("stand") and self.stand_link_up:
            self.engine.connected(self.stand.hello(), self.now)

    def _tell(self, found: list[SpooledRun]) -> None:
        if found:
            self.engine.plan, self.engine.end = found[-1].plan, INTERRUPTED
            self.engine.message = INTERRUPTED.reason

    def _start_door(self) -> None:
        self.desk = Desk(
            KEY, lambda message: self._to_stand(DOOR, message), self._to_agent, lambda: self.now
        )
        if self.runs("stand"):
            self.desk.stand_connected(self.now)
        for page in self.pages:
            page.seated = False

    def freeze(self, name: str, seconds: float) -> None:
        """Stop a process without ending it, as SIGSTOP does."""
        process = self.processes[name]
        process.frozen_since, process.frozen_until = self.now, self.now + seconds

    def kill(self, name: str) -> None:
        """End a process without warning."""
        process = self.processes[name]
        process.inbox.clear()
        process.frozen_until = 0.0
        process.dead_until = self.now + STARTS_AGAIN_S[name]
        if name == "stand":
            self._lose_stand()
        elif name == "agent":
            self.spool.close()
            if self.runs("stand") and self.stand_link_up:
                self.stand.disconnected(AGENT)
        elif name == "door":
            if self.runs("stand"):
                self.stand.disconnected(DOOR)
            for page in self.pages:
                page.seated = False
                page.inbox.clear()

    def _lose_stand(self) -> None:
        for name, lost in (("agent", self._agent_lost), ("door", self._door_lost)):
            # A frozen process hears of it when it comes to itself.
            self.processes[name].inbox.append(lost) if not self.runs(name) else lost()

    def _agent_lost(self) -> None:
        self.engine.disconnected(self.now)

    def _door_lost(self) -> None:
        self.desk.stand_lost()

    def fill_disk(self) -> None:
        """From now on the disk takes no sample."""
        self._spool_type.full = True  # type: ignore[attr-defined]

    # ---- links --------------------------------------------------------------------------------

    def _to_stand(self, client: int, message: Message) -> None:
        if client == AGENT and not self.stand_link_up:
            return
        if self.processes["stand"].dead_until is None:
            self.processes["stand"].inbox.append((client, message))

    def _to_agent(self, message: Message) -> None:
        if self.processes["agent"].dead_until is None:
            self.processes["agent"].inbox.append(lambda: self._asked(message))

    def _asked(self, message: Message) -> None:
        if message["do"] == "stop":
            self.engine.stop(self.now, by=str(message.get("by", "")))
        else:
            self.engine.pages(self.now, ago_s=message["ago_s"])

    # ---- pages --------------------------------------------------------------------------------

    def open_page(self, name: str) -> Page:
        """A page is opened by somebody who is logged in."""
        page = Page(name, len(self.pages) + 1, sign(name, key=KEY, now=self.now))
        self.pages.append(page)
        return page

    def press_stop(self, page: Page) -> None:
        """Space: through the door, and by the ordinary request through the web process."""
        page.stopped_at = None
        if page.seated and page.linked and self.processes["door"].dead_until is None:
            message = {"type": "stop", "id": 1}
            self.processes["door"].inbox.append(
                lambda: self.desk.said(page.number, message, self.now)
            )
        # The ordinary request looks its session up in the database.
        if page.linked and self.runs("web") and self.runs("database"):
            self._to_agent({"do": "stop", "by": page.name})

    def _hear(self, page: Page) -> None:
        while page.inbox:
            message = page.inbox.popleft()
            if message["type"] == "stopped" and page.stopped_at is None:
                page.stopped_at = self.now
            elif message["type"] == "ping":
                answer = {"type": "pong", "n": message["n"]}
                self.processes["door"].inbox.append(
                    lambda answer=answer: self.desk.said(page.number, answer, self.now)
                )

    # ---- time ---------------------------------------------------------------------------------

    def run_for(self, seconds: float, *, until: Callable[[], bool] | None = None) -> None:
        """Let time pass, or less when ``until`` becomes true."""
        end = self.now + seconds
        while self.now < end - 1e-9:
            self.step()
            if until is not None and until():
                return

    def step(self) -> None:
        """A hundredth of a second of everything."""
        self.now = round(self.now + STEP_S, 6)
        self._launcher()
        if self.runs("stand"):
            self._stand_turn()
        if self.runs("agent"):
            self._agent_turn()
        if self.runs("door"):
            self._door_turn()
        for page in self.pages:
            if page.open and page.linked and self.processes["door"].dead_until is None:
                if not page.seated and self.runs("door"):
                    page.seated = True
                    self.desk.opened(page.number, page.inbox.append)
                    self.desk.said(page.number, {"type": "token", "token": page.token}, self.now)
                self._hear(page)
        self.throttle_seen = max(self.throttle_seen, self.stand.throttle_pct)

    def close_page(self, page: Page) -> None:
        """The page is closed, or its link is gone."""
        page.open = page.linked = page.seated = False
        self.desk.closed(page.number)

    def _launcher(self) -> None:
        for name, process in self.processes.items():
            if process.dead_until is not None and self.now >= process.dead_until:
                process.dead_until = None
                start = getattr(self, f"_start_{name}", None)
                if start is not None:
                    start()
                    if name == "stand":
                        self._stand_is_back()
            hung = self.now < process.frozen_until
            if hung and self.now - process.frozen_since > HUNG_S[name]:
                self.kill(name)

    def _stand_is_back(self) -> None:
        if self.runs("agent") and self.stand_link_up:
            self.engine.connected(self.stand.hello(), self.now)
        if self.runs("door"):
            self.desk.stand_connected(self.now)

    def _stand_turn(self) -> None:
        inbox = self.processes["stand"].inbox
        while inbox:
            client, message = inbox.popleft()
            for reply in self.stand.handle(message, client, self.now):
                self._from_stand(client, reply)
        for message in self.stand.advance(self.now):
            self._from_stand(AGENT, message)

    def _from_stand(self, client: int, message: Message) -> None:
        if client == DOOR:
            if self.processes["door"].dead_until is None:
                inbox = self.processes["door"].inbox
                inbox.append(lambda: self.desk.stand_said(message, self.now))
        elif self.stand_link_up and self.processes["agent"].dead_until is None:
            inbox = self.processes["agent"].inbox
            inbox.append(lambda: self.engine.received(message, self.now))

    def _agent_turn(self) -> None:
        inbox = self.processes["agent"].inbox
        while inbox:
            inbox.popleft()()
        self.engine.tick(self.now)
        if self.now - self._delivered >= 0.5:
            self._delivered = self.now
            self.spool.flush()
            # While the store is away, runs wait on disk.
            with contextlib.suppress(StoreAwayError):
                self.delivery.deliver()

    def _door_turn(self) -> None:
        inbox = self.processes["door"].inbox
        while inbox:
            # A page may have left meanwhile.
            with contextlib.suppress(RefusedError, KeyError):
                inbox.popleft()()
        self.desk.tick(self.now)

    # ---- the bench ------------------------------------------------------------------------------

    def arm(self, plan: RunPlan) -> RefusedError | None:
        """Arm, and wait for the answer."""
        answers: list[RefusedError | None] = []
        try:
            self.spool.prepare(plan, self.engine.channels)
        except BenchError as error:
            return RefusedError(error.message, code=error.code)
        self.engine.arm(plan, self.now, answers.append)
        self.run_for(3.0, until=lambda: bool(answers))
        return answers[0] if answers else RefusedError("no answer", code="unreachable")

    def start(self, plan: RunPlan) -> RefusedError | None:
        """Start, as who armed it."""
        try:
            operator = plan.record.get("operator_id")
            self.engine.start(self.now, run_id=plan.run_id, operator_id=operator)
        except RefusedError as error:
            return error
        return None
