"""What must hold before anything is armed, and what is said to the stand for it."""

from __future__ import annotations

from spindle_bench.errors import RefusedError
from spindle_bench.limits import against_stand, check_off
from spindle_bench.plan import RunPlan
from spindle_bench.protocol import LONGEST_HEARTBEAT_S, Message, declared_heartbeat_s, drives


def check_arming(plan: RunPlan, hello: Message, *, page_age_s: float) -> None:
    """Hold a plan against the stand and the pages that could stop it.

    :param page_age_s: how long ago a page answered [s].
    :raises RefusedError: the stand is too patient, or no page answers.
    :raises PlanError: a limit is neither on nor off by choice, or does not fit the stand.
    """
    if not plan.by_hand:
        _check_driven(hello)
    if page_age_s > plan.page_grace_s:
        raise RefusedError(
            "No open page answers, so nobody could "
            + ("see a warning; " if plan.by_hand else "stop the run from a screen; ")
            + "see that the stop door is open.",
            code="no_page",
        )
    check_off(plan.limits, plan.limits_off)
    against_stand(plan.limits, hello)


def _check_driven(hello: Message) -> None:
    """Whether a stand may be commanded at all."""
    if not drives(hello):
        raise RefusedError(
            "This stand only reads; it commands no throttle and cuts none. Run it by hand.",
            code="only_reads",
        )
    patience = declared_heartbeat_s(hello)
    if patience is None or patience > LONGEST_HEARTBEAT_S:
        said = "does not say" if patience is None else f"declares {patience:g} s as"
        raise RefusedError(
            f"The stand {said} how long it waits for a silent controller before it cuts; "
            f"at most {LONGEST_HEARTBEAT_S:g} s is armed.",
            code="heartbeat",
        )


def arming_messages(plan: RunPlan, hello: Message) -> list[Message]:
    """Rate, mount where the stand knows it, tare, arm: each waits for the one before. By hand
    nothing is armed."""
    mount: list[Message] = [{"type": "mount", "facts": plan.facts}]
    return [
        {"type": "rate", "rate_hz": plan.rate_hz},
        *(mount if "mount" in hello.get("capabilities", []) else []),
        {"type": "tare"},
        *([] if plan.by_hand else [{"type": "arm", "by": plan.operator}]),
    ]
