"""A whole run in virtual time: the real engine against the simulated stand, without sockets.

Used by the tests, and to make demo data by the same path a live run takes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from spindle_bench.engine import Engine
from spindle_bench.errors import BenchError, RefusedError
from spindle_bench.guard import Question, judge
from spindle_bench.plan import RunPlan
from spindle_bench.protocol import Message
from spindle_bench.stand.device import SimulatedStand
from spindle_bench.states import RunEnd, State

CLIENT = 1


@dataclass(slots=True)
class MemoryRecorder:
    """Keeps a run in memory and insists on exactly one end."""

    times_s: list[float] = field(default_factory=list)
    rows: list[list[float | None]] = field(default_factory=list)
    channels: list[str] = field(default_factory=list)
    ends: list[RunEnd] = field(default_factory=list)
    begun: int = 0

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """A run starts."""
        self.begun += 1
        self.channels = channels

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Samples of the run in hand."""
        if len(self.ends) >= self.begun:
            raise BenchError("Samples after the end record.")
        self.times_s += times_s
        self.rows += rows

    def end(self, end: RunEnd) -> None:
        """The run has ended."""
        self.ends.append(end)


@dataclass(slots=True)
class VirtualBench:
    """Engine and stand joined directly; time moves only when :meth:`run_for` is called.

    ``link_up`` False drops everything between the two, in both directions; ``page_open`` is the
    page that could stop the run; ``guard_up`` False: nobody answers the guard's questions.
    """

    stand: SimulatedStand = field(default_factory=SimulatedStand)
    recorder: MemoryRecorder = field(default_factory=MemoryRecorder)
    now: float = 0.0
    link_up: bool = True
    page_open: bool = True
    guard_up: bool = True
    sent: list[tuple[float, Message]] = field(default_factory=list)
    engine: Engine = field(init=False)
    _inbox: list[Message] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.engine = Engine(self._send, self.recorder, self._judge)
        self.stand.advance(self.now)
        self.engine.connected(self.stand.hello(), self.now)
        self.engine.pages(self.now, ago_s=0.0)

    def _send(self, message: Message) -> None:
        self.sent.append((self.now, message))
        if self.link_up:
            self._inbox += self.stand.handle(message, CLIENT, self.now)

    def _judge(self, question: Question) -> None:
        plan = self.engine.plan
        if self.guard_up and plan is not None:
            self.engine.guard_says(judge(question), run_id=plan.run_id)

    def run_for(
        self,
        seconds: float,
        *,
        step_s: float = 0.01,
        until: Callable[[], bool] | None = None,
        agent_step_s: float = 0.0,
    ) -> None:
        """Let time pass in steps, or less when ``until`` becomes true.

        :param agent_step_s: an agent that comes to itself only this often [s], while the stand's
            time goes on.
        """
        end, agent_next = self.now + seconds, self.now + agent_step_s
        while self.now < end - 1e-9:
            self.now += step_s
            produced = self.stand.advance(self.now)
            if self.link_up:
                self._inbox += produced
            if self.now >= agent_next - 1e-9:
                agent_next = self.now + agent_step_s
                self._agent_turn()
            if until is not None and until():
                return

    def _agent_turn(self) -> None:
        inbox, self._inbox = self._inbox, []
        for message in inbox:
            self.engine.received(message, self.now)
        self.engine.pages(self.now, ago_s=0.0 if self.page_open else None)
        self.engine.tick(self.now)

    def arm(self, plan: RunPlan) -> None:
        """Arm and wait for the answer.

        :raises RefusedError: the engine or the stand refused.
        """
        answers: list[RefusedError | None] = []
        self.engine.arm(plan, self.now, answers.append)
        self.run_for(3.0, until=lambda: bool(answers))
        if not answers:
            raise RefusedError("The stand did not answer.")
        if answers[0] is not None:
            raise answers[0]

    def start(self) -> None:
        """Start what is armed, as who armed it.

        :raises RefusedError: nothing is armed.
        """
        plan = self.engine.plan
        if plan is None:
            raise RefusedError("Nothing is armed.", code="state")
        operator = plan.record.get("operator_id")
        self.engine.start(self.now, run_id=plan.run_id, operator_id=operator)

    def to_rest(self, seconds: float) -> None:
        """Let time pass until the bench is neither running nor on its way to rest."""
        busy = (State.RUNNING, State.ABORTING, State.COASTING)
        self.run_for(seconds, until=lambda: self.engine.state not in busy)


def rehearse(plan: RunPlan, stand: SimulatedStand, *, start_c: float | None = None) -> VirtualBench:
    """Run a plan to its end in virtual time; the recorder of the result holds the samples.

    :param start_c: case temperature at the start [°C]; the air's when None.
    """
    bench = VirtualBench(stand)
    bench.run_for(1.0)
    bench.arm(plan)
    if start_c is not None:
        stand.physics.warm_to(start_c)
        bench.run_for(2.0)
    bench.start()
    bench.to_rest(bench.engine.progress()["total_s"] + 60.0)
    return bench
