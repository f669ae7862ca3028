"""The engine with a stand that is played by hand: every message in, every message out."""

from typing import Any

from spindle_bench.engine import Engine
from spindle_bench.rehearsal import MemoryRecorder
from spindle_bench.states import State

CHANNELS = (
    "throttle_pct",
    "thrust_gf",
    "voltage_v",
    "current_a",
    "speed_rpm",
    "motor_temp_c",
    "vibration_g",
)
CALM = {
    "throttle_pct": 0.0,
    "thrust_gf": 0.0,
    "voltage_v": 16.0,
    "current_a": 0.0,
    "speed_rpm": 0.0,
    "motor_temp_c": 25.0,
    "vibration_g": 0.0,
}


def hello(**changed: Any) -> dict[str, Any]:
    return {
        "type": "hello",
        "protocol": "stand/1",
        "channels": [{"name": name} for name in CHANNELS],
        "heartbeat_ms": 300,
        "limits": {},
        **changed,
    }


class ByHand:
    """Engine, what it sent and when; the stand's clock is the caller's plus a hundred seconds."""

    def __init__(self, **said: Any) -> None:
        self.now = 10.0
        self.sent: list[tuple[float, dict[str, Any]]] = []
        self.recorder = MemoryRecorder()
        self.engine = Engine(lambda m: self.sent.append((self.now, m)), self.recorder)
        self.answers: list[Any] = []
        self.connect(**said)

    def connect(self, **said: Any) -> None:
        self.engine.connected(hello(**said), self.now)
        self.engine.pages(self.now, ago_s=0.0)

    def kinds(self, since: int = 0) -> list[str]:
        return [message["type"] for _, message in self.sent[since:]]

    def last(self, kind: str) -> dict[str, Any]:
        return next(message for _, message in reversed(self.sent) if message["type"] == kind)

    def reply(self, kind: str = "ack", **values: Any) -> None:
        """Answer the last message that was sent."""
        seq = self.sent[-1][1]["seq"]
        self.engine.received({"type": kind, "seq": seq, **values}, self.now)

    def zero(self, **values: Any) -> None:
        """Answer the last question with a read-back of zero."""
        seq = self.last("status")["seq"]
        body = {"type": "status", "seq": seq, "armed": False, "throttle_pct": 0, **values}
        self.engine.received(body, self.now)

    def samples(self, *rows: dict[str, Any], at: float | None = None) -> None:
        """Samples a hundredth apart, the last of them now."""
        last = (self.now if at is None else at) + 100.0
        times = [last - 0.01 * back for back in range(len(rows) - 1, -1, -1)]
        cells = [[{**CALM, **row}[name] for name in CHANNELS] for row in rows]
        self.engine.received({"type": "samples", "t_s": times, "rows": cells}, self.now)

    def tick(self, seconds: float = 0.02, *, page: bool = True) -> None:
        self.now = round(self.now + seconds, 6)
        if page:
            self.engine.pages(self.now, ago_s=0.0)
        self.engine.tick(self.now)

    def arm(self, plan: Any) -> None:
        self.answers.clear()
        self.engine.arm(plan, self.now, self.answers.append)
        for _ in range(6):
            if self.answers:
                break
            self.reply()
        assert self.answers == [None], self.answers
        assert self.engine.state is State.ARMED

    def start(self, plan: Any, *, operator_id: int | None) -> None:
        self.arm(plan)
        self.engine.start(self.now, run_id=plan.run_id, operator_id=operator_id)

    def spinning(self, plan: Any, *, operator_id: int | None, seconds: float = 4.0) -> None:
        """Started, and followed for a while by a stand that does as it is told."""
        self.start(plan, operator_id=operator_id)
        until = self.now + seconds
        while self.now < until:
            self.follow()
        assert self.engine.state is State.RUNNING

    def follow(self, **changed: Any) -> None:
        """A step of time with a sample of a stand that obeys."""
        self.tick()
        pct = next((m["pct"] for _, m in reversed(self.sent) if m["type"] == "throttle"), 0.0)
        obeys = {"throttle_pct": pct, "speed_rpm": 200.0 * pct, "thrust_gf": 10.0 * pct}
        self.samples({**obeys, **changed})
