"""The engine: owns the state of the bench, follows the profile and makes it safe.

``idle → armed → running → aborting → coasting → safe``; ``zeroed`` in place of ``safe`` where no
speed is known; ``faulted`` when the stand cannot be confirmed to be at zero, which only a person
leaves. With the throttle in somebody's hand: ``watching → watched``, of which none is safe. The
engine is synchronous and has no clock of its own: it is told the time with every call, follows the
profile by the *stand's* time (so commands and recording share one clock), holds that clock against
the caller's and watches link and pages by the caller's. It is the only thing that raises a
throttle; a throttle is sent once and never buffered, retried or replayed. Stopping comes before
recording, everywhere.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from spindle_bench.arming import arming_messages, check_arming
from spindle_bench.buckets import Bucket, Gathering
from spindle_bench.by_hand import SILENCE_S, HandWatch
from spindle_bench.course import Course
from spindle_bench.dialogue import Dialogue
from spindle_bench.errors import BenchError, PlanError, ProtocolError, RefusedError
from spindle_bench.guard import GuardWatch, Question, Verdict, rises
from spindle_bench.incoming import BadLines, newer_than
from spindle_bench.limits import LimitMonitor
from spindle_bench.live import Picture, picture_of
from spindle_bench.overdue import LINK_SILENCE_S, Heard
from spindle_bench.plan import RunPlan
from spindle_bench.progress import progress_of
from spindle_bench.protocol import (
    LONGEST_HEARTBEAT_S,
    Message,
    check_hello,
    check_samples,
    declared_heartbeat_s,
    is_number,
    says_zero,
)
from spindle_bench.states import AT_REST, Outcome, Recorder, RunEnd, State, stopped_by
from spindle_bench.stillness import Stillness
from spindle_bench.watches import ClockWatch, StallWatch

HEARTBEAT_EVERY_S = 0.08
BEAT_SILENCE_S = 0.15
READ_BACK_EVERY_S = 0.05
READ_BACK_WITHIN_S = 1.0
CLEAN_UP_S = 3.0

UNCONFIRMED = "The stand did not confirm zero throttle: cut its supply by hand."
LINK_GONE = "Link lost: the stand cuts by itself; check that it is still."
COASTING = "Throttle zero, rotor still turning."
SPEED_UNKNOWN = "Throttle zero, speed unknown: look before you reach in."
IN_YOUR_HAND = "The throttle is in your hand: take it to zero and unplug before you reach in."

Done = Callable[[RefusedError | None], None]


@dataclass(slots=True)
class Engine:
    """The state table. ``send`` passes one message to the stand; ``ask_guard`` passes a question
    to whoever judges it elsewhere, and :meth:`guard_says` takes the answer."""

    send: Callable[[Message], None]
    recorder: Recorder
    ask_guard: Callable[[Question], None] | None = None
    state: State = State.IDLE
    message: str = "Waiting for the stand."
    hello: Message | None = None
    plan: RunPlan | None = None
    end: RunEnd | None = None
    last_time_s: float | None = None
    last_sample: dict[str, float | None] = field(default_factory=dict)
    course: Course | None = None
    monitor: LimitMonitor | None = None
    guard: GuardWatch | None = None
    hand: HandWatch | None = None
    picture: Picture | None = None
    still: Stillness = field(default_factory=Stillness)
    bad_lines: BadLines = field(default_factory=BadLines)
    dropped_samples: int = 0
    recording_problem: str = ""
    fresh_rows: deque[list[float | None]] = field(default_factory=lambda: deque(maxlen=2000))
    _dialogue: Dialogue = field(init=False)
    _gathering: Gathering = field(default_factory=Gathering)
    _channels: list[str] = field(default_factory=list)
    _sent_pct: float = 0.0
    _heard: Heard = field(default_factory=Heard)
    _clock: ClockWatch = field(default_factory=ClockWatch)
    _stall: StallWatch = field(default_factory=StallWatch)
    _beat: float = 0.0
    _asked: float = 0.0
    _safe_by: float = 0.0
    _clean_until_s: float | None = None
    _ending: RunEnd | None = None
    _confirmed: bool = False
    _recording: bool = False
    _arming: Done | None = None
    _now: float = 0.0
    _reason: str = ""

    def __post_init__(self) -> None:
        self._dialogue = Dialogue(self.send)

    # ---- what the outside asks ----------------------------------------------------------------

    def arm(self, plan: RunPlan, now: float, done: Done) -> None:
        """Mount, tare and arm; ``done`` is called once, with None or with the refusal."""
        try:
            self._check_arming(plan, now)
        except (RefusedError, PlanError) as error:
            done(RefusedError(error.message, code=error.code, field=error.field))
            return
        assert self.hello is not None
        self._arming = done
        self.plan, self.end, self.picture, self.guard, self.hand = plan, None, None, None, None
        self.message = "Mounting and taring." if plan.by_hand else "Mounting, taring and arming."
        self._arm_next(arming_messages(plan, self.hello), now, done)

    def _check_arming(self, plan: RunPlan, now: float) -> None:
        if self.hello is None:
            raise RefusedError("The stand is not connected.", code="no_stand")
        if self._arming is not None or self.state not in AT_REST:
            raise RefusedError(f"The bench is {self.state}; it cannot be armed.", code="state")
        check_arming(plan, self.hello, page_age_s=self.page_age_s(now))

    def _arm_next(self, queue: list[Message], now: float, done: Done) -> None:
        def answered(reply: Message | None) -> None:
            if self._arming is not done:
                return  # stopped meanwhile
            if reply is None or reply["type"] != "ack":
                silent = "The stand did not answer."
                text = silent if reply is None else str(reply.get("message") or "Refused.")
                # An arm whose answer was lost may have armed the stand: never leave it so.
                self._command({"type": "stop"})
                self._give_up_arming(text, code="stand_refused")
            elif queue:
                self._arm_next(queue, now, done)
            elif self.plan is not None and self.plan.by_hand:
                self._arming = None
                done(self._begin_watching(now))
            else:
                self._arming = None
                self._enter(State.ARMED, "Armed. Start, or stop to disarm.")
                self._heard.armed = self._heard.sample = self._beat = now
                self._heard.begun = None
                done(None)

        self._dialogue.ask(queue.pop(0), now, answered)

    def _begin_watching(self, now: float) -> RefusedError | None:
        """Record with the throttle in somebody's hand; the refusal where that cannot be done."""
        assert self.plan is not None
        assert self.hello is not None
        monitor = LimitMonitor.on_stand(self.plan.limits, self.hello)
        try:
            self.hand, self.monitor = HandWatch(self.plan, monitor), monitor
            self.recorder.begin(self.plan, self._channels)
        except Exception as error:
            text = f"The run cannot be recorded: {_said(error)}"
            self.message = text
            return RefusedError(text, code="recording")
        self._recording, self.recording_problem = True, ""
        self._gathering = Gathering()
        self.picture = picture_of(self.plan.profile, self.plan.limits)
        self._heard.sample = now
        self._enter(State.WATCHING, "Recording. Nothing here cuts: the throttle is in your hand.")
        return None

    def _end_watching(self, ending: RunEnd) -> None:
        """The record ends; what the hand does with the throttle nobody here knows."""
        assert self.hand is not None
        self._close(self.hand.ended(ending))
        self._enter(State.WATCHED, f"{self._reason} {IN_YOUR_HAND}")

    def _give_up_arming(self, text: str, *, code: str) -> None:
        done, self._arming = self._arming, None
        if done is not None:
            self.message = text
            done(RefusedError(text, code=code))

    def start(self, now: float, *, run_id: str, operator_id: int | None = None) -> None:
        """Start the armed run.

        :raises RefusedError: not armed, armed with another run, or by somebody else.
        """
        if self.state is not State.ARMED or self.plan is None:
            raise RefusedError(f"The bench is {self.state}; arm it first.", code="state")
        if run_id != self.plan.run_id:
            raise RefusedError(
                "Another run is armed than the one to start; look at the bench again.",
                code="other_run",
            )
        if operator_id != self.plan.record.get("operator_id"):
            who = self.plan.operator or "Somebody else"
            raise RefusedError(f"{who} armed this run; only they start it.", code="other_person")
        try:
            self.recorder.begin(self.plan, self._channels)
        except Exception as error:
            self.stop(now, by="")
            raise RefusedError(
                f"The run cannot be recorded: {_said(error)} The bench was disarmed.",
                code="recording",
            ) from error
        self._recording, self.recording_problem = True, ""
        self.course, self._heard.begun, self._sent_pct = (
            Course(self.plan.profile, self.plan.limits),
            now,
            0.0,
        )
        self._enter(State.RUNNING, "Running.")
        self.guard, self._gathering = self._guarded(self.plan), Gathering()
        self.picture = picture_of(self.plan.profile, self.plan.limits)

    def _guarded(self, plan: RunPlan) -> GuardWatch | None:
        found = rises(plan.profile) if plan.guarded else []
        if not found or self.monitor is None:
            return None
        # A plan that is to be guarded, and nobody there to judge it: nothing will be answered.
        ask = self.ask_guard or (lambda question: None)
        return GuardWatch(found, plan.curve, self.monitor, ask)

    def guard_says(self, verdict: Verdict, *, run_id: str) -> None:
        """The guard answers a question of the run in hand."""
        if self.guard is not None and self.plan is not None and self.plan.run_id == run_id:
            self.guard.answered(verdict)

    def stop(self, now: float, *, by: str = "", ending: RunEnd | None = None) -> None:
        """The stop key: cuts at once in every state, skips the clean-up, never the safe state."""
        self._command({"type": "stop", "by": by})
        ending = ending or stopped_by(by)
        if self._arming is not None:
            self._give_up_arming(f"Not armed: {ending.reason.lower()}", code="stopped")
            if self.plan is None or not self.plan.by_hand:
                # Nothing is armed by hand; and who only reads cannot say that it is at zero.
                self._make_safe(now, ending, clean_up=False)
        elif self.state in (State.ARMED, State.RUNNING, State.ABORTING):
            self._make_safe(now, self._ending or ending, clean_up=False)
        elif self.state is State.WATCHING:
            self._end_watching(ending)

    def reset(self, now: float) -> None:
        """Back from ``faulted`` to ``idle``, only once the stand reports itself safe.

        :raises RefusedError: not faulted, or no stand.
        """
        if self.state is not State.FAULTED:
            raise RefusedError(f"The bench is {self.state}; nothing to reset.", code="state")
        if self.hello is None:
            raise RefusedError("The stand is not connected.", code="no_stand")
        self._command({"type": "stop"})

        def answered(reply: Message | None) -> None:
            if reply is not None and says_zero(reply) and self.state is State.FAULTED:
                self._enter(State.IDLE, "Reset; the stand reports zero throttle.")

        self._dialogue.ask({"type": "status"}, now, answered)

    def move_hand(self, pct: float) -> None:
        """Move the transmitter of a simulated stand, while it is watched or to bring it to zero.

        :raises RefusedError: there is none, or nothing is watched.
        """
        if self.hello is None or "hand" not in self.hello.get("capabilities", []):
            raise RefusedError("This stand has no simulated transmitter.", code="no_hand")
        if self.state is not State.WATCHING and pct > 0:
            raise RefusedError("It is moved while its run is recorded.", code="state")
        self._command({"type": "hand", "pct": pct})

    def pages(self, now: float, *, ago_s: float | None) -> None:
        """The stop door says how long ago a page answered [s]; None: no page is open."""
        self._heard.door = now
        if ago_s is not None and ago_s >= 0:
            self._heard.page = max(self._heard.page, now - ago_s)

    def page_age_s(self, now: float) -> float:
        """How long ago a page answered [s]."""
        return now - self._heard.page

    def failed(self, error: BaseException, now: float) -> None:
        """Something in this process broke: stop first, then say so."""
        self._command({"type": "stop"})
        text = f"The bench agent failed ({type(error).__name__}: {error})."
        ending = RunEnd(Outcome.FAULT, "defect", text[:300])
        if self.state in (State.ARMED, State.RUNNING):
            self._make_safe(now, ending, clean_up=False)
        elif self.state is State.WATCHING:
            self._end_watching(ending)
        elif self.state is not State.ABORTING:
            self.message = ending.reason

    # ---- what the stand says --------------------------------------------------------------------

    def connected(self, hello: Message, now: float) -> None:
        """The stand said hello.

        :raises ProtocolError: a hello that cannot be worked with.
        """
        self.hello = check_hello(hello)
        self._channels = [channel["name"] for channel in hello["channels"]]
        self._heard.sample, self.last_time_s = now, None
        self._clock.forget()
        self.bad_lines.forget()
        if self.state is State.IDLE and self.end is None:
            self.message = "Ready."

    def disconnected(self, now: float) -> None:
        """The link is gone; the stand cuts by itself, and that cannot be confirmed."""
        self.hello = None
        self._dialogue.lost()
        lost = RunEnd(Outcome.FAULT, "link_lost", "The link to the stand was lost.")
        if self.state in (State.ARMED, State.RUNNING, State.ABORTING):
            self._fault(self._ending or lost, LINK_GONE, now)
        elif self.state is State.WATCHING:
            self._end_watching(lost)
        elif self.state is State.COASTING:
            self._enter(State.ZEROED, SPEED_UNKNOWN)
        elif self.state is State.IDLE and self.end is None:
            self.message = "Waiting for the stand."

    def let_go(self, now: float) -> None:
        """Another stand is to be driven: nothing of this one is believed any more.

        :raises RefusedError: it is armed, turns, is recorded, or cannot be confirmed to be safe.
        """
        if self._arming is not None or self.state not in AT_REST:
            raise RefusedError(
                f"The bench is {self.state}; another stand is taken at rest.", code="state"
            )
        self._command({"type": "stop"})
        self.plan = self.end = self.picture = self.guard = self.hand = self.monitor = None
        self.still, self.last_sample, self.last_time_s = Stillness(), {}, None
        self._enter(State.IDLE, "Waiting for the stand.")

    def received(self, message: Message, now: float) -> None:
        """One message from the stand."""
        self._now = now
        kind = message["type"]
        if kind == "samples":
            try:
                check_samples(message, len(self._channels))
            except ProtocolError as error:
                self.malformed(error.message, now)
                return
            self._samples(message, now)
        elif kind == "malformed":
            self.malformed(str(message.get("message") or "no reason given")[:300], now)
        elif kind == "event":
            self._event(message, now)
        elif kind in ("ack", "refused", "status"):
            if self._dialogue.answer(message):
                return
            if kind == "refused" and self.state is State.RUNNING:
                text = f"The stand refused: {message.get('message', '')}"
                self._make_safe(now, RunEnd(Outcome.FAULT, "refused", text[:300]), clean_up=False)

    def malformed(self, reason: str, now: float) -> None:
        """A line that is not believed: counted and shown; too many of them are a lost link."""
        too_many = self.bad_lines.add(reason, now)
        if too_many:
            text = f"Lines of the stand could not be read; the last: {reason}"
            self._fail_run(RunEnd(Outcome.FAULT, "bad_lines", text[:300]), now)

    # ---- time passes ----------------------------------------------------------------------------

    def tick(self, now: float) -> None:
        """Time passes: heartbeat, watchdogs, read-back. The socket has been read before."""
        self._now = now
        excused = self._stall.tick(now)
        if not excused:
            self._dialogue.expire(now)
        self._clock.skip() if excused else self._judge_clock(now)
        if self.state in (State.ARMED, State.RUNNING):
            assert self.plan is not None
            ending = None
            if not excused:
                ending = self._heard.overdue(self.plan, now, self._patience_s)
            if ending is not None:
                self._make_safe(now, ending, clean_up=False)
            elif now - self._beat >= HEARTBEAT_EVERY_S and self._may_beat(now):
                self._beat = now
                self._command({"type": "heartbeat"})
        elif self.state is State.WATCHING and not excused:
            if now - self._heard.sample > SILENCE_S:
                text = f"No new sample for {SILENCE_S:g} s; the record ended."
                self._end_watching(RunEnd(Outcome.FAULT, "no_samples", text))
        elif self.state is State.ABORTING:
            self._watch_read_back(now)
        elif self.state in (State.COASTING, State.ZEROED):
            self._settle(now)

    def _may_beat(self, now: float) -> bool:
        """No heartbeat goes out while the stand is silent: it shall cut by itself then."""
        period = 1.0 / self.plan.rate_hz if self.plan else 0.0
        return now - self._heard.sample <= max(BEAT_SILENCE_S, 1.5 * period)

    def _judge_clock(self, now: float) -> None:
        behind = self._clock.judge(now)
        if behind is not None:
            self._clock_apart(-behind, now)

    def _clock_apart(self, ahead_s: float, now: float) -> None:
        self._clock.forget()
        way = "ahead of" if ahead_s > 0 else "behind"
        cut = "the record ended" if self.state is State.WATCHING else "throttle cut"
        text = f"The stand's clock is {abs(ahead_s):.1f} s {way} ours; {cut}."
        self._fail_run(RunEnd(Outcome.FAULT, "clock", text), now)

    def _fail_run(self, ending: RunEnd, now: float) -> None:
        """End what is armed, runs or is watched."""
        if self.state in (State.ARMED, State.RUNNING):
            self._make_safe(now, ending, clean_up=False)
        elif self.state is State.WATCHING:
            self._end_watching(ending)

    @property
    def _patience_s(self) -> float:
        """How long samples may stay away: as long as the stand itself would wait, within reason."""
        declared = declared_heartbeat_s(self.hello) if self.hello else None
        return min(LONGEST_HEARTBEAT_S, max(LINK_SILENCE_S, declared or 0.0))

    # ---- inside ---------------------------------------------------------------------------------

    def _samples(self, message: Message, now: float) -> None:
        fresh = newer_than(self.last_time_s, message["t_s"], message["rows"])
        times, rows = fresh.times_s, fresh.rows
        self.dropped_samples += fresh.dropped
        if fresh.back_s is not None:
            self._clock_apart(-fresh.back_s, now)
        for index, (time_s, row) in enumerate(zip(times, rows, strict=True)):
            self.last_time_s, self._heard.sample = time_s, now
            self.last_sample = dict(zip(self._channels, row, strict=True))
            self.fresh_rows.append(row)
            self.still.see(self.last_sample.get("speed_rpm"), now)
            ahead = self._clock.see(time_s, now)
            if ahead is not None:
                self._clock_apart(ahead, now)
            if self.state is State.WATCHING:
                ending = self._watch(time_s)
                if ending is not None:
                    self._record(times[: index + 1], rows[: index + 1], now)
                    self._end_watching(ending)
                    return
            if self.state is not State.RUNNING:
                continue
            assert self.monitor is not None
            breach = self.monitor.check(time_s, self.last_sample, self._sent_pct)
            if breach is not None:
                self._command({"type": "stop"})
                if breach.code == "lost_rpm":
                    self.still.trusted = False
                ending = RunEnd(Outcome.LIMIT, breach.code, breach.message)
                # Everything up to and including the sample that crossed is recorded first.
                self._make_safe(now, ending, clean_up=True)
                self._record(times[: index + 1], rows[: index + 1], now)
                self._record(times[index + 1 :], rows[index + 1 :], now)
                return
            self._follow(time_s, now)
        self._record(times, rows, now)
        if self.state is State.ABORTING:
            self._finish_if_zero(now)

    def _record(self, times: list[float], rows: list[list[float | None]], now: float) -> None:
        if not self._recording or not times:
            return
        try:
            self.recorder.add(times, rows)
        except Exception as error:
            text = f"The recording failed ({_words(error)}); the data up to here is kept."
            ending = RunEnd(Outcome.FAULT, "recording", text[:300])
            self.recording_problem = text
            if self.state is not State.ARMED:
                self._fail_run(ending, now)
            self._clean_until_s = None

    def _watch(self, time_s: float) -> RunEnd | None:
        """What the hand is seen to do at this stand time; how the record ends by it, or None."""
        assert self.hand is not None
        alarmed = self.hand.alarm is not None
        ending = self.hand.see(time_s, self.last_sample)
        if self.hand.alarm is not None and not alarmed:
            # A stand that can cut after all shall; nobody relies on it.
            self._command({"type": "stop"})
        self._show(self.hand.gathered(self._gathering, self.last_sample))
        return ending

    def _follow(self, time_s: float, now: float) -> None:
        """Command what the profile wants at this stand time."""
        assert self.course is not None
        since_s = time_s - (time_s if self.course.begun_s is None else self.course.begun_s)
        self._look(since_s)
        if self.guard is not None:
            held = self.guard.at(since_s)
            if held is not None:
                self._make_safe(now, held, clean_up=True)
                return
        wanted = self.course.wanted_pct(time_s, self.last_sample)
        if wanted is None:
            ending = RunEnd(Outcome.COMPLETED, "completed", "The profile ran to its end.")
            if self.course.gave_up:
                ending = RunEnd(Outcome.GAVE_UP, "gave_up", self.course.gave_up[:300])
            self._make_safe(now, ending, clean_up=False)
            return
        if wanted != self._sent_pct:
            self._sent_pct = wanted
            self._beat = now
            self._command({"type": "throttle", "pct": wanted})

    def _look(self, since_s: float) -> None:
        """What guard and picture see, by twentieths of a second."""
        assert self.course is not None
        whole = self._gathering.add(since_s, self.last_sample, self._sent_pct, self.course.label)
        if whole is not None and self.guard is not None:
            self.guard.see(whole)
        self._show(whole)

    def _show(self, whole: Bucket | None) -> None:
        if whole is not None and self.picture is not None:
            self.picture.see(whole)

    def _event(self, message: Message, now: float) -> None:
        """The stand cut by itself, or was stopped by somebody else."""
        if self._arming is not None:
            self._give_up_arming("Not armed: the stand was stopped.", code="stopped")
            self._make_safe(now, stopped_by(str(message.get("by") or "")), clean_up=False)
        elif self.state in (State.ARMED, State.RUNNING):
            code, text = str(message.get("code")), str(message.get("message"))
            ending = RunEnd(Outcome.FAULT, code[:40], text[:300])
            if code == "stopped":
                ending = stopped_by(str(message.get("by") or ""), where=" at the stand")
                if message.get("by"):
                    ending = stopped_by(str(message["by"]))
            self._make_safe(now, ending, clean_up=False)

    def _make_safe(self, now: float, ending: RunEnd, *, clean_up: bool) -> None:
        """Zero throttle, disarm, and confirm by read-back before anything is called safe."""
        if self.state is not State.ABORTING:
            self._command({"type": "stop"})
            self._safe_by = now + READ_BACK_WITHIN_S
            self._confirmed, self._sent_pct = False, 0.0
        self._ending = ending
        tail = clean_up and self._recording and self.last_time_s is not None
        self._clean_until_s = (self.last_time_s or 0.0) + CLEAN_UP_S if tail else None
        self._enter(State.ABORTING, ending.reason)
        self._read_back(now)

    def _watch_read_back(self, now: float) -> None:
        if not self._confirmed and now > self._safe_by:
            assert self._ending is not None
            self._fault(self._ending, UNCONFIRMED, now)
        elif not self._confirmed and now - self._asked >= READ_BACK_EVERY_S:
            self._command({"type": "stop"})
            self._read_back(now)
        elif self._confirmed and now - self._heard.sample > self._patience_s:
            self._clean_until_s = None
            self._finish_if_zero(now)

    def _read_back(self, now: float) -> None:
        self._asked = now

        def answered(reply: Message | None) -> None:
            if reply is not None and says_zero(reply) and self.state is State.ABORTING:
                self._confirmed = True
                self._finish_if_zero(now)

        self._dialogue.ask({"type": "status"}, now, answered)

    def _finish_if_zero(self, now: float) -> None:
        if not self._confirmed or self.state is not State.ABORTING:
            return
        if self._clean_until_s is not None and (self.last_time_s or 0.0) < self._clean_until_s:
            return
        assert self._ending is not None
        self._close(self._ending)
        self._enter(State.COASTING, COASTING)
        self._settle(now)

    def _settle(self, now: float) -> None:
        """Zero is confirmed; safe is called only what is still as well."""
        if now - self._heard.sample > self._patience_s and now - self._asked >= READ_BACK_EVERY_S:
            self._asked = now
            self._dialogue.ask({"type": "status"}, now, self._ask_speed)
        if self.still.still(now):
            self._enter(State.SAFE, self._reason or "At rest.")
        elif self.still.known(now):
            self._enter(State.COASTING, COASTING)
        else:
            self._enter(State.ZEROED, SPEED_UNKNOWN)

    def _ask_speed(self, reply: Message | None) -> None:
        """Where no samples come, the read-back may still know the speed."""
        speed = reply.get("speed_rpm") if reply is not None else None
        if is_number(speed):
            self.still.see(speed, self._now)

    def _fault(self, ending: RunEnd, message: str, now: float) -> None:
        self._close(ending)
        self._enter(State.FAULTED, f"{ending.reason} {message}")

    def _close(self, ending: RunEnd) -> None:
        self._reason = ending.reason
        if self._recording:
            self._recording, self.end = False, ending
            try:
                self.recorder.end(ending)
            except Exception as error:
                self.recording_problem = f"The end record waits for the disk ({_words(error)})."
        self._ending, self._clean_until_s, self._heard.begun = None, None, None

    def _enter(self, state: State, message: str) -> None:
        if state is State.ARMED and self.plan is not None and self.hello is not None:
            self.monitor = LimitMonitor.on_stand(self.plan.limits, self.hello)
        self.state, self.message = state, message

    def _command(self, message: Message) -> None:
        if self.hello is not None:
            self._dialogue.command(message)

    # ---- what is shown --------------------------------------------------------------------------

    def take_rows(self) -> list[list[float | None]]:
        """The samples since the last call, for the screen."""
        rows = list(self.fresh_rows)
        self.fresh_rows.clear()
        return rows

    @property
    def channels(self) -> list[str]:
        """The stand's channels, in the order of its rows."""
        return self._channels

    def progress(self) -> dict[str, Any]:
        """Elapsed and total time [s], what is done in hand, and all that is done in its order."""
        watching = self.hand if self.state is State.WATCHING else None
        course = self.course if self.state is State.RUNNING else None
        guard = self.guard if self.state is State.RUNNING else None
        return progress_of(
            self.plan, hand=watching, course=course, guard=guard, last_time_s=self.last_time_s
        )


def _said(error: Exception) -> str:
    return error.message if isinstance(error, BenchError) else str(error)


def _words(error: Exception) -> str:
    return str(getattr(error, "strerror", None) or error or type(error).__name__)
