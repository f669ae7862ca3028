"""One run as it was decided before anything spins."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from spindle_bench.errors import PlanError
from spindle_bench.limits import Limits, limits_from_json
from spindle_bench.profiles import StepsProfile, highest_throttle_pct, profile_from_json

CHECKLIST = (
    "eye_protection", "guard_in_place", "prop_plane_clear", "prop_checked", "mount_clamped",
    "kill_switch_in_reach",
)  # fmt: skip
"""What the reviewer confirms before arming; the sentences stand beside the control."""


@dataclass(frozen=True, slots=True)
class RunPlan:
    """What to run and when to cut.

    ``run_id`` names the run from the start (a UUID made by the caller), so that delivering it
    twice stores it once. ``facts`` describes what is mounted; ``record`` is carried through to
    the run store untouched.
    """

    run_id: str
    profile: StepsProfile
    limits: Limits
    facts: dict[str, Any]
    record: dict[str, Any] = field(default_factory=dict)
    rate_hz: float = 200.0

    def as_json(self) -> dict[str, Any]:
        """The plan as plain data, for the spool and the control socket."""
        return {
            "run_id": self.run_id, "profile": self.profile.as_json(),
            "limits": self.limits.as_json(), "facts": self.facts, "record": self.record,
            "rate_hz": self.rate_hz,
        }  # fmt: skip


def plan_from_json(data: dict[str, Any]) -> RunPlan:
    """The plan that :meth:`RunPlan.as_json` wrote.

    :raises PlanError: something is missing or impossible.
    """
    try:
        plan = RunPlan(
            run_id=str(data["run_id"]),
            profile=profile_from_json(data["profile"]),
            limits=limits_from_json(data["limits"]),
            facts=dict(data["facts"]),
            record=dict(data.get("record", {})),
            rate_hz=float(data.get("rate_hz", 200.0)),
        )
    except (KeyError, TypeError, ValueError) as error:
        raise PlanError(f"The run plan is incomplete: {error}.") from error
    if not 10.0 <= plan.rate_hz <= 1000.0:
        raise PlanError(f"A rate is 10 to 1000 Hz, got {plan.rate_hz:g}.")
    if plan.limits.current_a is None and highest_throttle_pct(plan.profile) > 0:
        raise PlanError("A run needs a current limit.")
    return plan
