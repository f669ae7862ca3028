"""One run as it was decided before anything spins."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Final

from spindle_bench.curve import curve_as_json, read_curve
from spindle_bench.errors import PlanError, RefusedError
from spindle_bench.limits import KINDS, Limits, check_off, limits_from_json
from spindle_bench.profiles import Profile, profile_from_json
from spindle_core.planning.guard import ExpectedStep

CHECKLIST: Final = {
    "eye_protection": "Eye protection on; hair, sleeves and cables away",
    "guard_in_place": "Guard in place; packs on its floor side",
    "prop_plane_clear": "Nobody and nothing in the plane of the prop",
    "prop_checked": "Prop not cracked, nut tight, direction right",
    "mount_clamped": "Motor clamped to the stand, never held by hand",
    "kill_switch_in_reach": "Kill switch of the supply within reach",
}
"""What the reviewer confirms before arming, word by word."""

KIND_CHECKLIST: Final = {
    "flywheel": {
        "wheel_guard": "Wheel balanced, tight, without a crack, and its closed guard in place"
    },
    "no_load": {"shaft_bare": "The propeller is off and nothing is loose on the shaft"},
}
"""What a kind of run adds to the checklist."""

CHOSEN_CHECKLIST: Final = {
    "guard_off": "Nothing is foreseen between the steps: the predictive guard is off, my choice",
    "hand_cuts": "The throttle is in my hand and at zero; this program cannot cut it, I can",
}
"""What a choice adds to the checklist: the guard switched off; a throttle in somebody's hand."""

HAND_KINDS: Final = ("steps",)
"""Kinds of run that a hand can make."""

ALWAYS_CONFIRMED: Final = ("prop_plane_clear",)
"""Confirmed before every run, whatever was confirmed before it."""

EACH_TIME: Final = ("hand_cuts",)
"""Confirmed before every run that asks for it."""

PAGE_GRACE_S: Final = 2.0
LONGEST_PAGE_GRACE_S: Final = 10.0
"""A run ends by itself this long after the last page that could stop it is gone."""

_RUN_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9-]{0,63}")


@dataclass(frozen=True, slots=True)
class RunPlan:
    """What to run and when to cut.

    ``run_id`` names the run from the start (made by the server, never by a page), so that
    delivering it twice stores it once; ``arming`` is made by the agent when it arms, so that the
    same id cannot be recorded twice. ``limits_off``: limit → who chose that it is off. ``facts``
    describes what is mounted; ``record`` is carried through to the run store untouched.
    ``page_grace_s``: how long the run outlives the last page that answers [s]. ``asked``: what of
    the checklist has to be confirmed for this run; None: the whole list. ``guarded``: the
    predictive guard judges each rise of the throttle, from ``curve``, what is expected.
    ``guard_off_by``: who chose that it does not. ``by_hand``: the throttle is in somebody's hand;
    it is recorded and never commanded.
    """

    run_id: str
    profile: Profile
    limits: Limits
    facts: dict[str, Any]
    record: dict[str, Any] = field(default_factory=dict)
    rate_hz: float = 200.0
    limits_off: dict[str, str] = field(default_factory=dict)
    page_grace_s: float = PAGE_GRACE_S
    arming: str = ""
    asked: tuple[str, ...] | None = None
    guarded: bool = False
    curve: tuple[ExpectedStep, ...] = ()
    by_hand: bool = False
    guard_off_by: str = ""

    @property
    def operator(self) -> str:
        """Who armed it."""
        return str(self.record.get("operator") or "")

    def as_json(self) -> dict[str, Any]:
        """The plan as plain data, for the spool and the control socket."""
        return {
            "run_id": self.run_id,
            "profile": self.profile.as_json(),
            "limits": self.limits.as_json(),
            "limits_off": self.limits_off,
            "facts": self.facts,
            "record": self.record,
            "rate_hz": self.rate_hz,
            "page_grace_s": self.page_grace_s,
            "arming": self.arming,
            "asked": None if self.asked is None else list(self.asked),
            "guarded": self.guarded,
            "curve": curve_as_json(self.curve),
            "by_hand": self.by_hand,
            "guard_off_by": self.guard_off_by,
        }


def plan_from_json(data: dict[str, Any]) -> RunPlan:
    """The plan that :meth:`RunPlan.as_json` wrote.

    :raises PlanError: something is missing or impossible, or a limit is off by nobody's choice.
    """
    plan = _read(data, {str(k): str(v) for k, v in dict(data.get("limits_off") or {}).items()})
    check_off(plan.limits, plan.limits_off)
    check_wheel(plan)
    return plan


def spooled_plan(data: dict[str, Any]) -> RunPlan:
    """A plan from disk, also one written before a limit had to be switched off by somebody.

    :raises PlanError: it cannot be read.
    """
    if not isinstance(data, dict):
        raise PlanError("The run plan is no JSON object.")
    return _read(data, dict(data.get("limits_off") or {}))


def _read(data: dict[str, Any], off: dict[str, str]) -> RunPlan:
    try:
        plan = RunPlan(
            run_id=str(data["run_id"]),
            profile=profile_from_json(data["profile"]),
            limits=limits_from_json(data["limits"]),
            facts=dict(data["facts"]),
            record=dict(data.get("record", {})),
            rate_hz=float(data.get("rate_hz", 200.0)),
            limits_off=off,
            page_grace_s=float(data.get("page_grace_s", PAGE_GRACE_S)),
            arming=str(data.get("arming", "")),
            asked=_asked(data.get("asked")),
            guarded=data.get("guarded") is True,
            curve=read_curve(data.get("curve")),
            by_hand=data.get("by_hand") is True,
            guard_off_by=str(data.get("guard_off_by") or ""),
        )
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise PlanError(f"The run plan is incomplete: {error}.") from error
    if not _RUN_ID.fullmatch(plan.run_id):
        raise PlanError("A run id is made of letters, digits and hyphens.")
    slowest = 0.5 if plan.by_hand else 10.0
    if not slowest <= plan.rate_hz <= 1000.0:
        raise PlanError(f"A rate is {slowest:g} to 1000 Hz, got {plan.rate_hz:g}.")
    if not 0.5 <= plan.page_grace_s <= LONGEST_PAGE_GRACE_S:
        raise PlanError(
            f"A run outlives the last page by 0.5 to {LONGEST_PAGE_GRACE_S:g} s, "
            f"got {plan.page_grace_s:g}.",
            field="page_grace_s",
        )
    if plan.by_hand and plan.profile.kind not in HAND_KINDS:
        raise PlanError(
            "By hand the bench asks for positions that are held; choose steps.", field="kind"
        )
    return plan


def _asked(data: Any) -> tuple[str, ...] | None:
    return None if data is None else tuple(str(item) for item in data)


def checklist_of(
    limits_off: Sequence[str],
    page_grace_s: float = PAGE_GRACE_S,
    kind: str = "steps",
    *,
    guard_off: bool = False,
    by_hand: bool = False,
) -> list[str]:
    """What must be confirmed: the look around, what the kind of run adds, each limit that is off,
    a longer grace, a guard that is off, a throttle in somebody's hand."""
    chosen = [f"off_{name}" for name in KINDS if name in limits_off]
    if page_grace_s > PAGE_GRACE_S:
        chosen.append("longer_page_grace")
    if by_hand:
        chosen.append("hand_cuts")
    elif guard_off:
        chosen.append("guard_off")
    return [*CHECKLIST, *KIND_CHECKLIST.get(kind, {}), *chosen]


def check_wheel(plan: RunPlan) -> None:
    """A flywheel is spun only under a speed limit that its rating bears.

    :raises PlanError: no speed limit, or one above what the wheel is rated for.
    """
    if plan.profile.kind != "flywheel":
        return
    rated = plan.profile.values["rated_speed_rpm"]
    limit = plan.limits.speed_rpm
    if limit is None or limit > rated:
        raise PlanError(
            f"The wheel is rated for {rated:,.0f} rpm: the speed limit is on, at most there.",
            field="speed_rpm",
        )


def check_checklist(plan: RunPlan, confirmed: Sequence[str]) -> None:
    """Refuse to arm unless everything is confirmed.

    :raises RefusedError: something is not.
    """
    needed = checklist_of(
        list(plan.limits_off),
        plan.page_grace_s,
        plan.profile.kind,
        guard_off=bool(plan.guard_off_by),
        by_hand=plan.by_hand,
    )
    if plan.asked is not None:
        needed = [item for item in needed if item in {*plan.asked, *ALWAYS_CONFIRMED, *EACH_TIME}]
    missing = [item for item in needed if item not in confirmed]
    if missing:
        text = ", ".join(missing).replace("_", " ")
        raise RefusedError(f"Not confirmed on the checklist: {text}.", code="checklist")
