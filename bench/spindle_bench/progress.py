"""How far a run has come, for the screen; nothing here decides anything."""

from __future__ import annotations

from typing import Any

from spindle_bench.by_hand import HandWatch
from spindle_bench.course import Course
from spindle_bench.guard import GuardWatch
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import duration_s


def progress_of(
    plan: RunPlan | None,
    *,
    hand: HandWatch | None,
    course: Course | None,
    guard: GuardWatch | None,
    last_time_s: float | None,
) -> dict[str, Any]:
    """Elapsed and total time [s], what is done in hand, all that is done in its order, and what
    the guard foresees.

    :param hand: what watches the hand, while the throttle is in one.
    :param course: what is followed, while the run turns.
    """
    if plan is None:
        nothing: dict[str, Any] = {"elapsed_s": None, "total_s": None, "label": "", "steps": []}
        return {**nothing, "step": 0, "next": None}
    if plan.by_hand:
        return {**_by_hand(plan, hand), "next": None}
    elapsed = None
    if course is not None and course.begun_s is not None and last_time_s is not None:
        elapsed = round(last_time_s - course.begun_s, 3)
    return {
        "elapsed_s": elapsed,
        "total_s": round(duration_s(plan.profile), 3),
        "label": course.label if course else "",
        "steps": course.steps() if course else [],
        "step": course.step if course else 0,
        "next": _next_step(guard),
    }


def _by_hand(plan: RunPlan, hand: HandWatch | None) -> dict[str, Any]:
    """Elapsed time [s] and what is asked of the hand; the hand takes its time."""
    levels = plan.profile.values["levels_pct"]
    elapsed = hand.elapsed_s if hand is not None else None
    return {
        "elapsed_s": None if elapsed is None else round(elapsed, 3),
        "total_s": None,
        "label": hand.follower.prompt().says if hand is not None else "",
        "steps": [f"{n} of {len(levels)}: {level:g} %" for n, level in enumerate(levels, 1)],
        "step": hand.follower.at if hand is not None else 0,
    }


def _next_step(guard: GuardWatch | None) -> dict[str, Any] | None:
    """What the guard foresees of the next rise; None while it has said nothing."""
    verdict = guard.ahead if guard is not None else None
    return verdict.as_json() if verdict is not None and verdict.forecasts else None
