"""A whole run in virtual time: the real engine against the simulated stand, without sockets.

Used by the tests, and to make demo data by the same path a live run takes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

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


HAND_STEP_S = 0.05
HAND_PCT_PER_S = 30.0
HAND_MISSES_PCT = 1.5
HAND_WAITS_S = 0.8
LONGEST_BY_HAND_S = 600.0


def follow_by_hand(bench: VirtualBench, seed: int) -> None:
    """A hand on the simulated transmitter does what is asked, a little late and a little off.

    :raises BenchError: it was not through with it after ten minutes.
    """
    rng = np.random.default_rng(seed)
    asked: float | None = None
    goal, wait_s, until = 0.0, 0.0, bench.now + LONGEST_BY_HAND_S
    while bench.engine.state is State.WATCHING:
        if bench.now > until or bench.engine.hand is None:
            raise BenchError("The hand came to no end.")
        now_asked = bench.engine.hand.asked_pct()
        if now_asked != asked:
            asked, wait_s = now_asked, HAND_WAITS_S * float(rng.uniform(0.5, 1.5))
            off = HAND_MISSES_PCT * float(rng.uniform(-1.0, 1.0))
            goal = 0.0 if not now_asked else min(100.0, now_asked + off)
        wait_s -= HAND_STEP_S
        at = bench.stand.hand_pct
        if wait_s <= 0 and at != goal:
            most = HAND_PCT_PER_S * HAND_STEP_S
            bench.engine.move_hand(at + min(most, max(-most, goal - at)))
        bench.run_for(HAND_STEP_S)


def rehearse(
    plan: RunPlan, stand: SimulatedStand, *, start_c: float | None = None, seed: int = 0
) -> VirtualBench:
    """Run a plan to its end in virtual time; the recorder of the result holds the samples.

    :param start_c: case temperature at the start [°C]; the air's when None.
    :param seed: of the hand, where the throttle is in one.
    """
    bench = VirtualBench(stand)
    bench.run_for(1.0)
    bench.arm(plan)
    if start_c is not None:
        stand.physics.warm_to(start_c)
        bench.run_for(2.0)
    if plan.by_hand:
        follow_by_hand(bench, seed)
        return bench
    bench.start()
    bench.to_rest(bench.engine.progress()["total_s"] + 60.0)
    return bench
