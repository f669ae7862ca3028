"""A run whose throttle is in somebody's hand: recorded, prompted and warned of, never cut.

A transmitter or a servo tester commands; the stand only reads, or is not asked to drive. What ends
a run elsewhere is an alarm here, and the end record says that it was to be cut by hand.
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field
from typing import Any, Final

from spindle_bench.buckets import Bucket, Gathering
from spindle_bench.limits import KINDS, Breach, LimitMonitor, reading
from spindle_bench.plan import RunPlan
from spindle_bench.states import Outcome, RunEnd
from spindle_core.run.by_hand import HandFollower, nearing

CUT_SEEN_FOR_S: Final = 0.5
"""At rest for so long, it was cut."""

LONGEST_S: Final = 1800.0
SLOPE_OVER_S: Final = 1.0
SILENCE_S: Final = 3.0
"""A device that prints once a second may leave out a line; nothing is cut by its silence."""

TO_ZERO: Final = "Throttle to zero."
NOT_SEEN: Final = "it was not seen at zero before the record ended"


@dataclass(slots=True)
class HandWatch:
    """Watches one run. Told the stand's time [s] with every sample; sends nothing."""

    plan: RunPlan
    monitor: LimitMonitor
    follower: HandFollower = field(init=False)
    alarm: Breach | None = None
    begun_s: float | None = None
    _now_s: float = 0.0
    _rest_since_s: float | None = None
    _near: dict[str, str] = field(default_factory=dict)
    _behind: dict[str, deque[tuple[float, float]]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        values = self.plan.profile.values
        self.follower = HandFollower(
            tuple(values["levels_pct"]), values["dwell_s"], values["rest_s"]
        )

    def see(self, time_s: float, sample: dict[str, float | None]) -> RunEnd | None:
        """Take in a sample; how the record ends by it, or None."""
        self.begun_s = time_s if self.begun_s is None else self.begun_s
        self._now_s = time_s
        self.follower.see(time_s, sample)
        self._warn(time_s, sample)
        # A throttle that nobody reads may be anything: what is missing then is missing under it.
        breach = self.monitor.check(time_s, sample, by_hand=True)
        if breach is not None and self.alarm is None:
            self.alarm, self._rest_since_s = breach, None
        if self.alarm is not None:
            return self._after_alarm(time_s)
        if self.follower.done:
            return RunEnd(Outcome.COMPLETED, "completed", "Every position was held, by hand.")
        if time_s - self.begun_s > LONGEST_S:
            text = f"Not through after {LONGEST_S / 60:.0f} minutes; the record ended."
            return RunEnd(Outcome.GAVE_UP, "gave_up", text)
        return None

    def _after_alarm(self, time_s: float) -> RunEnd | None:
        assert self.alarm is not None
        if not self.follower.at_rest:
            self._rest_since_s = None
            return None
        if self._rest_since_s is None:
            self._rest_since_s = time_s
        if time_s - self._rest_since_s < CUT_SEEN_FOR_S:
            return None
        after_s = self._rest_since_s - self.alarm.time_s
        return self._cut(f"cut {after_s:.1f} s after it")

    def _cut(self, how: str) -> RunEnd:
        assert self.alarm is not None
        text = f"{self.alarm.message} To be cut by hand: {how}."
        return RunEnd(Outcome.LIMIT, self.alarm.code, text[:300])

    def ended(self, otherwise: RunEnd) -> RunEnd:
        """The end where somebody or something else ends the record; an alarm stays one."""
        if self.alarm is None or otherwise.outcome is Outcome.LIMIT:
            return otherwise
        end = self._cut(NOT_SEEN)
        reason = f"{end.reason} {otherwise.reason}"[:300] if otherwise.reason else end.reason
        return RunEnd(end.outcome, end.code, reason, otherwise.by)

    def _warn(self, time_s: float, sample: dict[str, float | None]) -> None:
        for name, kind in KINDS.items():
            limit, _ = self.monitor.effective(name)
            if limit is None or name.startswith("lost_"):
                continue
            value = reading(sample, kind.channel)
            if value is None:
                self._near.pop(name, None)
                continue
            value = abs(value) if kind.both_signs else value
            behind = self._behind.setdefault(name, deque())
            behind.append((time_s, value))
            while len(behind) > 2 and time_s - behind[1][0] >= SLOPE_OVER_S:
                behind.popleft()
            run_s = time_s - behind[0][0]
            slope = (value - behind[0][1]) / run_s if run_s >= 0.5 * SLOPE_OVER_S else 0.0
            self._near[name] = nearing(
                value, limit, slope_per_s=slope, below=name == "voltage_floor_v"
            )

    def gathered(self, gathering: Gathering, sample: dict[str, float | None]) -> Bucket | None:
        """The twentieth of a second that this sample ends, for the picture; None within one."""
        held = self.follower.held_pct or 0.0
        return gathering.add(self.elapsed_s or 0.0, sample, held, self.follower.phase)

    def asked_pct(self) -> float | None:
        """The position that is asked for now [%]; 0 once a limit was passed."""
        return 0.0 if self.alarm is not None else self.follower.prompt(self._now_s).asked_pct

    @property
    def elapsed_s(self) -> float | None:
        """How long it has been recorded [s]."""
        return None if self.begun_s is None else self._now_s - self.begun_s

    def as_json(self) -> dict[str, Any]:
        """What the screen shows."""
        prompt = self.follower.prompt(self._now_s)
        return {
            "phase": str(prompt.phase),
            # What is asked of a hand that has passed a limit is one thing.
            "says": prompt.says if self.alarm is None else TO_ZERO,
            "asked_pct": prompt.asked_pct,
            "at": prompt.at,
            "of": prompt.of,
            "held_s": round(prompt.held_s, 2),
            "hold_s": prompt.hold_s,
            "guide": prompt.guide,
            "alarm": self.alarm.message if self.alarm else "",
            "near": [
                {"name": name, "label": KINDS[name].label, "how": how}
                for name, how in self._near.items()
                if how
            ],
        }
