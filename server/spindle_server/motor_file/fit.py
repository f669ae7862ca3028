"""Does it fit? Mounting screws through an arm, and every propeller of the library on the shaft."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from spindle_core.errors import CoreError
from spindle_core.intake.mounting_screw import ScrewReach, screw_reach
from spindle_core.intake.prop_adapters import Adapter, ScrewHoles, below_the_mount, best_mounting
from spindle_core.intake.propeller_fit import FitFinding, Hub, Ring, Shaft, fits, tip_clearance
from spindle_core.motor.lead_wire import lead_reach
from spindle_server.motors.models import MotorModel, PartInBox, Sample
from spindle_server.rig.adapters import at_hand
from spindle_server.rig.models import Propeller
from spindle_server.rig.selectors import declaration
from spindle_server.teardown.known import Known, known_of

FIT_OUTCOMES = [
    ("good", "Good"),
    ("caution", "With care"),
    ("impossible", "Impossible"),
    ("unknown", "Not known"),
]


@dataclass(frozen=True)
class Asked:
    """What a fit is asked for [mm]; None takes what the bench declares or the box holds."""

    arm_thickness_mm: float | None = None
    screw_length_mm: float | None = None
    washer_mm: float = 0.0
    lead_needed_mm: float | None = None


def fit(motor: MotorModel, sample: Sample | None, asked: Asked) -> dict[str, Any]:
    """Screws, leads and propellers against what was measured of the motor."""
    known, declared = known_of(motor), declaration()
    arm = declared.arm_thickness_mm if asked.arm_thickness_mm is None else asked.arm_thickness_mm
    parts = list(PartInBox.objects.filter(parcel__motor=motor))
    around = _surroundings(parts, declared.nearest_part_mm)
    return {
        "arm_thickness_mm": arm,
        "thread_depth_mm": known.number("thread_depth", sample),
        "clearance_mm": known.number("screw_clearance", sample),
        "base_thickness_mm": known.number("base_thickness", sample),
        "mount_thread_mm": known.number("mount_thread", sample),
        "screws": _screws(known, sample, parts, asked, arm),
        "leads": _leads(known, sample, asked.lead_needed_mm),
        "shaft": _shaft_json(known, sample),
        "adapters_at_hand": around.at_hand,
        "propellers": _propellers(carrier_of(known, sample, arm), around),
    }


def _screws(
    known: Known, sample: Sample | None, parts: list[PartInBox], asked: Asked, arm: float
) -> list[dict[str, Any]]:
    """The asked length, and every screw of the box."""
    lengths = {part.length_mm for part in parts if part.kind == "mounting_screw" and part.length_mm}
    wanted = [(length, True) for length in sorted(lengths)]
    if asked.screw_length_mm is not None and asked.screw_length_mm not in lengths:
        wanted.insert(0, (asked.screw_length_mm, False))
    depth, room = known.number("thread_depth", sample), known.number("screw_clearance", sample)
    rows = []
    for length, in_box in wanted:
        if depth is None or room is None:
            missing = "Measure the thread's depth and its clearance to the winding first."
            rows.append(
                {
                    "length_mm": length,
                    "in_box": in_box,
                    "outcome": "unknown",
                    "reach_mm": None,
                    "engagement_mm": None,
                    "room_mm": None,
                    "message": missing,
                }
            )
            continue
        reach = screw_reach(
            length,
            arm_thickness_mm=arm,
            thread_depth_mm=depth,
            clearance_mm=room,
            washer_mm=asked.washer_mm,
        )
        rows.append(_reach_json(length, in_box, reach))
    return rows


def _reach_json(length: float, in_box: bool, reach: ScrewReach) -> dict[str, Any]:
    return {
        "length_mm": length,
        "in_box": in_box,
        "outcome": str(reach.outcome),
        "reach_mm": reach.reach_mm,
        "engagement_mm": reach.engagement_mm,
        "room_mm": reach.room_mm,
        "message": reach.message,
    }


def _leads(known: Known, sample: Sample | None, needed_mm: float | None) -> dict[str, Any]:
    """Whether the leads reach from the motor to its ESC, as long as they are by now."""
    length = _lead_length_now(known, sample)
    if not length or needed_mm is None:
        missing = "no distance given" if length else "the leads were not measured"
        return {
            "length_mm": length,
            "needed_mm": needed_mm,
            "state": "unknown",
            "message": f"Cannot say: {missing}.",
        }
    reach = lead_reach(length, needed_mm=needed_mm)
    return {
        "length_mm": length,
        "needed_mm": needed_mm,
        "state": reach.state,
        "message": reach.message,
    }


def _lead_length_now(known: Known, sample: Sample | None) -> float | None:
    """The length after the last cutting of this sample's leads, else the length they came with."""
    if sample is not None:
        done = sample.preparations.filter(struck_reason="", lead_length_mm__isnull=False).last()
        if done is not None:
            return done.lead_length_mm
    return known.number("lead_length", sample)


@dataclass(frozen=True)
class Carrier:
    """Where the propeller goes: the shaft there and the bell's screw holes, and what to mind.

    ``shaft`` None: nothing sticks out there. ``missing``: what has to be measured first.
    """

    shaft: Shaft | None
    seat: ScrewHoles
    findings: list[FitFinding]
    missing: str = ""


def carrier_of(known: Known, sample: Sample | None, arm_mm: float) -> Carrier:
    below = known.choice("shaft_side", sample) == "base"
    seat = ScrewHoles(
        known.number("prop_hole_circle", sample), known.number("prop_hole_thread", sample)
    )
    diameter = known.number("shaft_diameter", sample)
    free = known.number("shaft_free_length", sample)
    if diameter is None or free is None:
        return Carrier(None, seat, [], "Measure the shaft and its free length.")
    if free <= 0:
        return Carrier(None, seat, [])
    held = known.choice("prop_hold", sample)
    shaft = Shaft(
        diameter,
        free,
        nut_mm=(known.number("nut_height", sample) or 0.0) if held != "two_screws" else 0.0,
        washer_mm=known.number("washer_height", sample) or 0.0,
        hole_circle_mm=seat.hole_circle_mm,
        screw_mm=seat.screw_mm,
    )
    if not below:
        return Carrier(shaft, seat, [])
    # The bell's screw holes are on the other side of the arm.
    left, found = below_the_mount(shaft, arm_thickness_mm=arm_mm)
    return Carrier(left, ScrewHoles(), found)


def _shaft_json(known: Known, sample: Sample | None) -> dict[str, Any]:
    names = {
        "diameter_mm": "shaft_diameter",
        "free_length_mm": "shaft_free_length",
        "nut_mm": "nut_height",
        "washer_mm": "washer_height",
        "hole_circle_mm": "prop_hole_circle",
        "screw_mm": "prop_hole_thread",
    }
    return {
        **{name: known.number(key, sample) for name, key in names.items()},
        "side": known.choice("shaft_side", sample) or "",
        "hold": known.choice("prop_hold", sample) or "",
    }


def ring_of(part: PartInBox) -> Ring | None:
    """An adapter ring of a box whose sizes are known."""
    if part.kind != "adapter" or not (part.inner_mm and part.outer_mm and part.height_mm):
        return None
    return Ring(part.inner_mm, part.outer_mm, part.height_mm)


@dataclass(frozen=True)
class Surroundings:
    """What may help to carry a propeller, and the nearest part of the stand [mm]."""

    rings: list[Ring]
    adapters: list[Adapter]
    at_hand: int
    """How many of them are the bench's."""
    nearest_part_mm: float | None


def _propellers(carrier: Carrier, around: Surroundings) -> list[dict[str, Any]]:
    return [
        on_shaft(propeller, carrier, around)
        for propeller in Propeller.objects.select_related("maker")
    ]


def _surroundings(parts: list[PartInBox], nearest_part_mm: float | None) -> Surroundings:
    """Rings of the box, and what the bench has."""
    rings, adapters = at_hand()
    boxed = [ring for part in parts if (ring := ring_of(part)) is not None]
    return Surroundings([*boxed, *rings], adapters, len(rings) + len(adapters), nearest_part_mm)


def on_shaft(propeller: Propeller, carrier: Carrier, around: Surroundings) -> dict[str, Any]:
    row: dict[str, Any] = {
        "propeller": propeller.pk,
        "name": propeller.full_name,
        "bore_mm": propeller.bore_mm,
        "hub_thickness_mm": propeller.hub_thickness_mm,
        "hole_circle_mm": propeller.hole_circle_mm,
        "hole_mm": propeller.hole_mm,
        "rings": [],
        "adapter": "",
        "on": None,
        "findings": [],
    }
    missing = carrier.missing
    if not missing and not (propeller.bore_mm and propeller.hub_thickness_mm):
        missing = "Measure the propeller's bore and hub (Rig)."
    if missing or not propeller.bore_mm or not propeller.hub_thickness_mm:
        return {**row, "outcome": "unknown", "reason": missing}
    hub = Hub(
        propeller.bore_mm, propeller.hub_thickness_mm, propeller.hole_circle_mm, propeller.hole_mm
    )
    try:
        best = best_mounting(
            hub, carrier.shaft, seat=carrier.seat, rings=around.rings, adapters=around.adapters
        )
    except CoreError as error:
        return {**row, "outcome": "unknown", "reason": error.message}
    found = [*carrier.findings, *best.findings]
    row |= {"rings": list(best.rings), "adapter": best.adapter, "on": best.on}
    judged = {**row, "findings": found, "outcome": _verdict(found), "reason": ""}
    return with_tips(judged, propeller, around.nearest_part_mm)


def with_tips(
    row: dict[str, Any], propeller: Propeller, nearest_part_mm: float | None
) -> dict[str, Any]:
    """A judgement with the room between the blade tips and the nearest part of the stand [mm]."""
    if nearest_part_mm is None or row["outcome"] == "unknown":
        return row
    tips = tip_clearance(propeller.diameter_in, nearest_mm=nearest_part_mm)
    found = [*row["findings"], tips]
    return {**row, "findings": found, "outcome": _verdict(found)}


def _verdict(found: list[FitFinding]) -> str:
    if not fits(found):
        return "impossible"
    return "caution" if any(item.state == "caution" for item in found) else "good"
