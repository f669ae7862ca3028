"""What is waited for while a run is armed or running, and for how long."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from spindle_bench.plan import RunPlan
from spindle_bench.profiles import Profile, duration_s
from spindle_bench.states import Outcome, RunEnd

LINK_SILENCE_S: Final = 0.30
DOOR_SILENCE_S: Final = 1.0
"""The door speaks twice a second; longer silence is the door's, not the pages'."""

ARMED_FOR_S: Final = 90.0
OVERTIME_S: Final = 0.5
OVERTIME_SHARE: Final = 0.01


@dataclass(slots=True)
class Heard:
    """When something was last heard of, by the caller's clock [s]."""

    sample: float = -math.inf
    page: float = -math.inf
    door: float = -math.inf
    armed: float = -math.inf
    begun: float | None = None
    _planned: tuple[Profile, float] | None = None

    def overdue(self, plan: RunPlan, now: float, patience_s: float) -> RunEnd | None:
        """How the run in hand ends for what stays away, or None."""
        if now - self.sample > patience_s:
            text = f"No new sample for {patience_s * 1000:.0f} ms; throttle cut."
            return RunEnd(Outcome.FAULT, "no_samples", text)
        grace = plan.page_grace_s
        if now - self.page > grace:
            if now - self.door > DOOR_SILENCE_S:
                text = f"The stop door is silent; no page could stop the run since {grace:g} s."
                return RunEnd(Outcome.FAULT, "no_door", text)
            text = f"The last page that could stop the run is gone since {grace:g} s."
            return RunEnd(Outcome.FAULT, "no_page", text)
        if self.begun is not None:
            planned = self._planned_s(plan.profile)
            if now - self.begun > planned * (1.0 + OVERTIME_SHARE) + OVERTIME_S:
                text = f"The run outlasted its planned {planned:.1f} s; throttle cut."
                return RunEnd(Outcome.FAULT, "overtime", text)
        elif now - self.armed > ARMED_FOR_S:
            text = f"Armed for {ARMED_FOR_S:.0f} s without a start."
            return RunEnd(Outcome.STOPPED, "armed_too_long", text)
        return None

    def _planned_s(self, profile: Profile) -> float:
        """How long a profile takes at its longest [s]; summed once for a run, not at each tick."""
        if self._planned is None or self._planned[0] is not profile:
            self._planned = (profile, duration_s(profile))
        return self._planned[1]
