"""The engine: owns the state of the bench, follows the profile and makes it safe.

``idle → armed → running → aborting → safe`` (→ ``idle`` on the next arm), and ``faulted`` when the
stand cannot be confirmed safe. The engine is synchronous and has no clock of its own: it is told
the time with every call, follows the profile by the *stand's* time (so commands and recording
share one clock) and watches the link by the caller's. It is the only thing that raises a
throttle; a throttle is sent once and never buffered, retried or replayed.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from spindle_bench.errors import RefusedError
from spindle_bench.limits import LimitMonitor
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import Segment, duration_s, segments
from spindle_bench.protocol import Message
from spindle_bench.states import Outcome, Recorder, RunEnd, State

HEARTBEAT_EVERY_S = 0.08
LINK_SILENCE_S = 0.30
STALL_S = 0.10
READ_BACK_EVERY_S = 0.05
READ_BACK_WITHIN_S = 1.0
REPLY_WITHIN_S = 1.5
ARMED_FOR_S = 90.0
CLEAN_UP_S = 3.0
STILL_BELOW_RPM = 200.0


Done = Callable[[RefusedError | None], None]


@dataclass(slots=True)
class Engine:
    """The state table. ``send`` passes one message to the stand."""

    send: Callable[[Message], None]
    recorder: Recorder
    state: State = State.IDLE
    message: str = "Waiting for the stand."
    hello: Message | None = None
    plan: RunPlan | None = None
    end: RunEnd | None = None
    last_time_s: float | None = None
    last_sample: dict[str, float | None] = field(default_factory=dict)
    segment: Segment | None = None
    _seq: int = 0
    _replies: dict[int, tuple[float, Callable[[Message | None], None]]] = field(
        default_factory=dict
    )
    _channels: list[str] = field(default_factory=list)
    _monitor: LimitMonitor | None = None
    _schedule: list[Segment] = field(default_factory=list)
    _begun_s: float | None = None
    _segment_begun_s: float = 0.0
    _sent_pct: float = 0.0
    _heard: float = 0.0
    _ticked: float = 0.0
    _beat: float = 0.0
    _asked: float = 0.0
    _safe_by: float = 0.0
    _armed_at: float = 0.0
    _clean_until_s: float | None = None
    _ending: RunEnd | None = None
    _confirmed: bool = False
    _recording: bool = False
    _arming: bool = False

    # ---- what the outside asks ----------------------------------------------------------------

    def arm(self, plan: RunPlan, now: float, done: Done) -> None:
        """Mount, tare and arm; ``done`` is called with None, or with the refusal."""
        if self.hello is None:
            done(RefusedError("The stand is not connected.", code="no_stand"))
            return
        if self._arming or self.state not in (State.IDLE, State.SAFE):
            done(RefusedError(f"The bench is {self.state}; it cannot be armed.", code="state"))
            return
        self._arming = True
        self.plan, self.end = plan, None
        queue: list[Message] = [{"type": "rate", "rate_hz": plan.rate_hz}]
        if "mount" in self.hello.get("capabilities", []):
            queue.append({"type": "mount", "facts": plan.facts})
        queue += [{"type": "tare"}, {"type": "arm"}]
        self._arm_next(queue, now, done)

    def _arm_next(self, queue: list[Message], now: float, done: Done) -> None:
        def answered(reply: Message | None) -> None:
            if reply is None or reply["type"] != "ack":
                text = "The stand did not answer." if reply is None else reply["message"]
                self._arming = False
                # An arm whose answer was lost may have armed the stand: never leave it so.
                self._command({"type": "stop"}, now)
                self.message = text
                done(RefusedError(text, code="stand_refused"))
            elif queue:
                self._arm_next(queue, now, done)
            else:
                self._arming = False
                self._enter(State.ARMED, "Armed. Start, or stop to disarm.")
                self._armed_at = self._heard = self._beat = now
                done(None)

        self._ask(queue.pop(0), now, answered)

    def start(self, now: float) -> None:
        """Start the armed run.

        :raises RefusedError: not armed.
        """
        if self.state is not State.ARMED or self.plan is None:
            raise RefusedError(f"The bench is {self.state}; arm it first.", code="state")
        self.recorder.begin(self.plan, self._channels)
        self._recording = True
        self._monitor = LimitMonitor(self.plan.limits)
        self._schedule = list(segments(self.plan.profile))
        self._begun_s, self.segment, self._sent_pct = None, None, 0.0
        self._enter(State.RUNNING, "Running.")

    def stop(self, now: float, *, reason: str = "stopped by reviewer") -> None:
        """The stop key: cuts at once in every state, skips the clean-up, never the safe state."""
        self._command({"type": "stop"}, now)
        if self.state in (State.ARMED, State.RUNNING, State.ABORTING):
            ending = RunEnd(Outcome.STOPPED, "stopped", reason)
            self._make_safe(now, self._ending or ending, clean_up=False)

    def reset(self, now: float) -> None:
        """Back from ``faulted`` to ``idle``, only once the stand reports itself safe.

        :raises RefusedError: not faulted, or no stand.
        """
        if self.state is not State.FAULTED:
            raise RefusedError(f"The bench is {self.state}; nothing to reset.", code="state")
        if self.hello is None:
            raise RefusedError("The stand is not connected.", code="no_stand")
        self._command({"type": "stop"}, now)

        def answered(reply: Message | None) -> None:
            if reply is not None and _is_safe(reply):
                self._enter(State.IDLE, "Reset; the stand reports zero throttle.")

        self._ask({"type": "status"}, now, answered)

    # ---- what the stand says --------------------------------------------------------------------

    def connected(self, hello: Message, now: float) -> None:
        """The stand said hello."""
        self.hello = hello
        self._channels = [channel["name"] for channel in hello["channels"]]
        self._heard = now
        if self.state is State.IDLE:
            self.message = "Ready."

    def disconnected(self, now: float) -> None:
        """The link is gone; the stand cuts by itself, and that cannot be confirmed."""
        self.hello = None
        self._replies.clear()
        self._arming = False
        if self.state in (State.ARMED, State.RUNNING, State.ABORTING):
            ending = self._ending or RunEnd(
                Outcome.FAULT, "link_lost", "The link to the stand was lost."
            )
            self._fault(ending, "Link lost: the stand cuts by itself; check that it is still.")
        elif self.state is State.IDLE:
            self.message = "Waiting for the stand."

    def received(self, message: Message, now: float) -> None:
        """One message from the stand."""
        kind = message["type"]
        if kind == "samples":
            self._heard = now
            self._samples(message, now)
        elif kind == "event":
            self._event(message, now)
        elif kind in ("ack", "refused", "status"):
            waiting = self._replies.pop(message.get("seq") or 0, None)
            if waiting is not None:
                waiting[1](message)
            elif kind == "refused" and self.state is State.RUNNING:
                ending = RunEnd(
                    Outcome.FAULT, "refused", f"The stand refused: {message['message']}"
                )
                self._make_safe(now, ending, clean_up=False)

    def tick(self, now: float) -> None:
        """Time passes: heartbeat, watchdogs, read-back."""
        for seq, (deadline, callback) in list(self._replies.items()):
            if now > deadline:
                del self._replies[seq]
                callback(None)
        # After a stall of this process, what arrived meanwhile is read before it is judged missing.
        stalled, self._ticked = now - self._ticked > STALL_S, now
        if self.state in (State.ARMED, State.RUNNING):
            if now - self._heard > self._patience_s and not stalled:
                ending = RunEnd(
                    Outcome.FAULT, "no_samples",
                    f"No sample for {self._patience_s * 1000:.0f} ms; throttle cut.",
                )  # fmt: skip
                self._make_safe(now, ending, clean_up=False)
            elif now - self._beat >= HEARTBEAT_EVERY_S:
                self._beat = now
                self._command({"type": "heartbeat"}, now)
            if self.state is State.ARMED and now - self._armed_at > ARMED_FOR_S:
                self.stop(now, reason=f"armed for {ARMED_FOR_S:.0f} s without a start")
        elif self.state is State.ABORTING:
            self._watch_read_back(now)

    @property
    def _patience_s(self) -> float:
        """How long samples may stay away: as long as the stand itself would wait."""
        declared = (self.hello or {}).get("heartbeat_ms", 0) / 1000.0
        return max(LINK_SILENCE_S, float(declared))

    # ---- inside ---------------------------------------------------------------------------------

    def _samples(self, message: Message, now: float) -> None:
        times, rows = message["t_s"], message["rows"]
        for index, (time_s, row) in enumerate(zip(times, rows, strict=True)):
            self.last_time_s = time_s
            self.last_sample = dict(zip(self._channels, row, strict=True))
            if self.state is not State.RUNNING:
                continue
            assert self._monitor is not None
            breach = self._monitor.check(time_s, self.last_sample)
            if breach is not None:
                self._command({"type": "stop"}, now)
                ending = RunEnd(Outcome.LIMIT, breach.code, breach.message)
                # Everything up to and including the sample that crossed is recorded first.
                self._record(times[: index + 1], rows[: index + 1])
                self._make_safe(now, ending, clean_up=True)
                self._record(times[index + 1 :], rows[index + 1 :])
                return
            self._follow(time_s, now)
        self._record(times, rows)
        if self.state is State.ABORTING:
            self._finish_if_safe(now)

    def _record(self, times: list[float], rows: list[list[float | None]]) -> None:
        if self._recording and times:
            self.recorder.add(times, rows)

    def _follow(self, time_s: float, now: float) -> None:
        """Command what the profile wants at this stand time."""
        if self._begun_s is None:
            self._begun_s = self._segment_begun_s = time_s
            self.segment = self._schedule.pop(0)
        assert self.segment is not None
        while time_s - self._segment_begun_s >= self.segment.seconds - 1e-9:
            if not self._schedule:
                ending = RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end.")
                self._command({"type": "stop"}, now)
                self._make_safe(now, ending, clean_up=False)
                return
            self._segment_begun_s += self.segment.seconds
            self.segment = self._schedule.pop(0)
        part = self.segment
        share = (time_s - self._segment_begun_s) / part.seconds
        wanted = round(part.start_pct + share * (part.end_pct - part.start_pct), 1)
        if wanted != self._sent_pct:
            self._sent_pct = wanted
            self._beat = now
            self._command({"type": "throttle", "pct": wanted}, now)

    def _event(self, message: Message, now: float) -> None:
        """The stand cut by itself, or was stopped by somebody else."""
        if self.state in (State.ARMED, State.RUNNING):
            own = message.get("code") == "stopped"
            outcome = Outcome.STOPPED if own else Outcome.FAULT
            ending = RunEnd(outcome, str(message.get("code")), str(message.get("message")))
            self._make_safe(now, ending, clean_up=False)

    def _make_safe(self, now: float, ending: RunEnd, *, clean_up: bool) -> None:
        """Zero throttle, disarm, and confirm by read-back before anything is called safe."""
        if self.state is not State.ABORTING:
            self._command({"type": "stop"}, now)
            self._safe_by = now + READ_BACK_WITHIN_S
            self._confirmed = False
        self._ending = ending
        tail = clean_up and self._recording and self.last_time_s is not None
        self._clean_until_s = (self.last_time_s or 0.0) + CLEAN_UP_S if tail else None
        self._enter(State.ABORTING, ending.reason)
        self._read_back(now)

    def _watch_read_back(self, now: float) -> None:
        if not self._confirmed and now > self._safe_by:
            assert self._ending is not None
            self._fault(
                self._ending, "The stand did not confirm zero throttle: cut its supply by hand."
            )
        elif not self._confirmed and now - self._asked >= READ_BACK_EVERY_S:
            self._command({"type": "stop"}, now)
            self._read_back(now)
        elif self._confirmed and now - self._heard > self._patience_s:
            self._clean_until_s = None
            self._finish_if_safe(now)

    def _read_back(self, now: float) -> None:
        self._asked = now

        def answered(reply: Message | None) -> None:
            if reply is not None and _is_safe(reply) and self.state is State.ABORTING:
                self._confirmed = True
                self._finish_if_safe(now)

        self._ask({"type": "status"}, now, answered)

    def _finish_if_safe(self, now: float) -> None:
        if not self._confirmed or self.state is not State.ABORTING:
            return
        if self._clean_until_s is not None and (self.last_time_s or 0.0) < self._clean_until_s:
            return
        assert self._ending is not None
        ending = self._ending
        self._close(ending)
        self._enter(State.SAFE, ending.reason)

    def _fault(self, ending: RunEnd, message: str) -> None:
        self._close(ending)
        self._enter(State.FAULTED, f"{ending.reason} {message}")

    def _close(self, ending: RunEnd) -> None:
        if self._recording:
            self._recording = False
            self.end = ending
            self.recorder.end(ending)
        self._ending, self._monitor, self.segment = None, None, None
        self._schedule, self._clean_until_s = [], None

    def _enter(self, state: State, message: str) -> None:
        self.state, self.message = state, message

    def _command(self, message: Message, now: float) -> None:
        if self.hello is not None:
            self._seq += 1
            self.send({**message, "seq": self._seq})

    def _ask(
        self, message: Message, now: float, callback: Callable[[Message | None], None]
    ) -> None:
        self._command(message, now)
        self._replies[self._seq] = (now + REPLY_WITHIN_S, callback)

    # ---- what is shown --------------------------------------------------------------------------

    def progress(self) -> dict[str, Any]:
        """Elapsed and total time [s] and the label of the segment in hand."""
        if self.plan is None:
            return {"elapsed_s": None, "total_s": None, "label": ""}
        begun, last = self._begun_s, self.last_time_s
        running = self.state is State.RUNNING and begun is not None and last is not None
        return {
            "elapsed_s": round(last - begun, 3) if running else None,  # type: ignore[operator]
            "total_s": round(duration_s(self.plan.profile), 3),
            "label": self.segment.label if self.segment else "",
        }


def _is_safe(reply: Message) -> bool:
    return (
        reply["type"] == "status" and reply.get("armed") is False and reply.get("throttle_pct") == 0
    )
