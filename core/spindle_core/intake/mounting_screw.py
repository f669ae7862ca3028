"""Whether a mounting screw holds, or goes through to the winding."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from spindle_core.errors import QuantityError

LEAST_ENGAGEMENT_MM = 2.0

SURE_ROOM_MM = 0.5
"""Room that is told from none: arm, thread, clearance and washer by a caliper at ± 0.1 mm each and
a screw whose own length is off by as much as ± 0.24 mm (js15) make ± 0.5 mm at 95 %; assumed."""


class ScrewOutcome(StrEnum):
    """What a screw of this length does."""

    HITS_WINDING = "hits_winding"
    MAY_TOUCH = "may_touch"
    PAST_THREAD = "past_thread"
    TOO_SHORT = "too_short"
    GOOD = "good"


@dataclass(frozen=True, slots=True)
class ScrewReach:
    """Reach into the motor [mm], thread in use [mm], room left before the winding [mm]."""

    outcome: ScrewOutcome
    reach_mm: float
    engagement_mm: float
    room_mm: float
    message: str


def screw_reach(
    length_mm: float,
    *,
    arm_thickness_mm: float,
    thread_depth_mm: float,
    clearance_mm: float,
    washer_mm: float = 0.0,
) -> ScrewReach:
    """Where a mounting screw ends: reach = length − arm (− washer).

    It hits the winding when its reach exceeds thread depth + clearance, and may touch it with less
    than 0.5 mm to spare, by which the dimensions themselves may be off; below 2 mm of thread it is
    too short to be trusted; between thread and winding it is past the thread, which holds.

    :param thread_depth_mm: threaded depth of the base; ``clearance_mm``: from there to the copper.
    :raises QuantityError: a negative dimension, or a screw of no length.
    """
    values = (arm_thickness_mm, thread_depth_mm, clearance_mm, washer_mm)
    if length_mm <= 0 or min(values) < 0:
        raise QuantityError("Screw, arm, thread and clearance cannot be below 0 mm.")
    reach = length_mm - arm_thickness_mm - washer_mm
    engagement = max(0.0, min(reach, thread_depth_mm))
    room = thread_depth_mm + clearance_mm - reach
    if room < 0:
        outcome, message = (
            ScrewOutcome.HITS_WINDING,
            (
                f"The screw ends {-room:.1f} mm inside the winding: it shorts or cuts it. Take a "
                "shorter one."
            ),
        )
    elif room < SURE_ROOM_MM:
        outcome, message = (
            ScrewOutcome.MAY_TOUCH,
            (
                f"Ends {room:.1f} mm before the winding, and the dimensions may be off by "
                f"{SURE_ROOM_MM:g} mm in all: it may touch. Take a shorter one, or a washer."
            ),
        )
    elif engagement < LEAST_ENGAGEMENT_MM:
        outcome, message = (
            ScrewOutcome.TOO_SHORT,
            (f"Only {engagement:.1f} mm of thread hold; {LEAST_ENGAGEMENT_MM:g} mm are the least."),
        )
    elif reach > thread_depth_mm:
        outcome, message = (
            ScrewOutcome.PAST_THREAD,
            (f"Holds, and ends {room:.1f} mm before the winding; a washer gives more room."),
        )
    else:
        outcome, message = ScrewOutcome.GOOD, f"Holds with {engagement:.1f} mm of thread."
    return ScrewReach(outcome, reach, engagement, room, message)
