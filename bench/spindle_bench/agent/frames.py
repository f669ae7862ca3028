"""What the screen gets: the means since the frame before, never the whole stream.

A twentieth of a second while something is armed, turns or is recorded; a fifth where all rests and
only thermometers move, since every page that is open draws each frame.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from spindle_bench.agent.aftermath import Aftermath
from spindle_bench.curve import curve_as_json
from spindle_bench.engine import Engine
from spindle_bench.guard import rises
from spindle_bench.limits import reading, states
from spindle_bench.plan import RunPlan
from spindle_bench.protocol import drives
from spindle_bench.states import AT_REST, State
from spindle_core.figures.measured import Absent
from spindle_core.model.thermal import DEFAULT_CASE_TIME_CONSTANT_S, cooling_time_s

FRAMES_PER_S = 20.0
FRAMES_PER_S_AT_REST = 5.0
READY_RISE_K = 5.0


@dataclass(slots=True)
class Delivered:
    """What the delivery has to say: runs on their way, runs set aside, and why none goes."""

    waiting: int = 0
    problem: str = ""
    set_aside: list[dict[str, str]] = field(default_factory=list)


@dataclass(slots=True)
class FrameMaker:
    """Builds frames from an engine. Values are means since the last frame; the recording
    keeps every sample."""

    _sums: dict[str, tuple[float, int]] = field(default_factory=dict)
    _number: int = 0
    _after: Aftermath = field(default_factory=Aftermath)

    def see(self, channels: list[str], rows: list[list[float | None]]) -> None:
        """Take in samples for the next frame."""
        for row in rows:
            if len(row) != len(channels):
                continue  # a row of the connection before this one
            sample = dict(zip(channels, row, strict=True))
            # Power is the mean of V·A of the same instants, where no meter gives it.
            sample.setdefault("power_w", reading(sample, "power_w"))
            for name, value in sample.items():
                if value is not None:
                    total, count = self._sums.get(name, (0.0, 0))
                    self._sums[name] = (total + value, count + 1)

    def frame(self, engine: Engine, delivered: Delivered, *, peek: bool = False) -> dict[str, Any]:
        """One frame. Clears the means unless it is only a peek."""
        self.see(engine.channels, engine.take_rows())
        values = {name: round(total / count, 4) for name, (total, count) in self._sums.items()}
        if not peek:
            self._sums = {}
            self._number += 1
            self._after.see(engine.state, engine.last_time_s, values)
        after = self._after.as_json()
        plan = engine.plan
        return {
            "type": "frame",
            "number": self._number,
            "state": str(engine.state),
            "message": engine.message,
            "link": engine.hello is not None,
            "drives": engine.hello is None or drives(engine.hello),
            "has_hand": "hand" in (engine.hello or {}).get("capabilities", []),
            "by_hand": hand_of(engine),
            "simulated": bool(engine.hello and engine.hello.get("simulated")),
            "time_s": engine.last_time_s,
            "values": values,
            "progress": engine.progress(),
            "run_id": plan.run_id if plan else None,
            "kind": plan.profile.kind if plan else "",
            "picture": picture(engine),
            "expected": expected(plan),
            "title": plan.record.get("title", "") if plan else "",
            "operator": plan.operator if plan else "",
            "operator_id": plan.record.get("operator_id") if plan else None,
            "page_grace_s": plan.page_grace_s if plan else None,
            "limits": limit_states(engine),
            "end": engine.end.as_json() if engine.end else None,
            "after": after,
            "ready_in_s": after["ready_in_s"] if after else ready_in_s(values),
            "waiting_runs": delivered.waiting,
            "delivery_problem": delivered.problem or engine.recording_problem,
            "set_aside": delivered.set_aside,
            "bad_lines": engine.bad_lines.count,
            "bad_line": engine.bad_lines.last,
            "dropped_samples": engine.dropped_samples,
        }


def is_quiet(frame: dict[str, Any]) -> bool:
    """Whether a frame shows a bench at rest: nothing armed, commanded, turning or recorded.

    A stand that tells neither throttle nor speed may be turned by somebody's hand, and is not.
    """
    values = frame["values"]
    told = [values[name] for name in ("throttle_pct", "speed_rpm") if name in values]
    known = bool(told) or not frame["link"]
    return frame["state"] in AT_REST and known and not any(value > 0.0 for value in told)


def expected(plan: RunPlan | None) -> list[dict[str, Any]]:
    """What was expected of the run in hand: name, value and u of each figure."""
    kept = plan.record.get("predicted") if plan is not None else None
    return [{key: one[key] for key in ("name", "value", "u")} for one in kept or []]


def picture(engine: Engine) -> dict[str, Any] | None:
    """The live picture of the run in hand; None before its first point."""
    drawn = engine.picture
    rows = drawn.rows() if drawn is not None else []
    if drawn is None or not rows:
        return None
    return {"shape": drawn.shape, "rows": [row.as_json() for row in rows], "says": drawn.says()}


def hand_of(engine: Engine) -> dict[str, Any] | None:
    """What is asked of the hand that has the throttle; None where none has."""
    watching = engine.state is State.WATCHING and engine.hand is not None
    return engine.hand.as_json() if watching and engine.hand is not None else None


def in_hand(engine: Engine) -> dict[str, Any]:
    """The run in hand with the curve that is expected of it, which frames do not carry."""
    plan = engine.plan
    return {
        "run_id": plan.run_id if plan else None,
        "guarded": engine.guard is not None or bool(plan and plan.guarded and rises(plan.profile)),
        "curve": curve_as_json(plan.curve) if plan else [],
    }


def limit_states(engine: Engine) -> list[dict[str, Any]]:
    """Every limit of the run in hand and the stand's own, with what became of each."""
    plan, hello = engine.plan, engine.hello
    values = engine.last_sample if hello is not None and engine.last_sample else None
    return states(
        plan.limits.as_json() if plan else None,
        plan.limits_off if plan else {},
        (hello or {}).get("limits") or {},
        values,
    )


def ready_in_s(values: dict[str, float]) -> float | None:
    """Estimated time until the motor is within 5 K of the air [s]; None when not known."""
    motor, air = values.get("motor_temp_c"), values.get("ambient_temp_c")
    if motor is None or air is None:
        return None
    time = cooling_time_s(
        motor, air + READY_RISE_K, ambient_c=air, time_constant_s=DEFAULT_CASE_TIME_CONSTANT_S
    )
    return None if isinstance(time, Absent) else round(time, 0)
