"""The teardowns of the demo: what was measured and seen inside and outside of every sample."""

from __future__ import annotations

import random
from typing import Any

from spindle_server.accounts.models import User
from spindle_server.demo.catalogue import DemoMotor
from spindle_server.demo.parcels import LEADS_AS_SHIPPED_MM, lead_g_per_m
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.teardown.services import record_observation, record_sheet

AS_FIRST = (
    "screw_head",
    "magnet_shape",
    "winding",
    "winding_neatness",
    "base_type",
    "bell_build",
    "stator_coating",
    "winding_material",
    "shaft_type",
    "lamination_thickness",
)
"""What a second sample is seen to share with the first."""

FROM_SIBLING = ("shaft_material", "bearing_marked", "bell_top", "ring_parting", "balancing")
"""What the second wind of a motor is taken to share with the first."""


def take_apart(actor: User, motor: MotorModel, demo: DemoMotor) -> None:
    """Every sample of a motor: the first whole, the others by what differs."""
    first, *others = motor.samples.all()
    _whole(actor, first, demo)
    for sample in others:
        _briefly(actor, sample, first, demo)


def infer_from_sibling(actor: User, sample: Sample, sibling: Sample) -> None:
    """What nobody looked at on this wind, taken from the other."""
    for attribute in FROM_SIBLING:
        record_observation(
            actor=actor, sample=sample, attribute=attribute, status="inferred", reference=sibling
        )


def beside_reference(actor: User, sample: Sample, reference: Sample) -> None:
    """How it pulls beside the bench's reference sample."""
    record_observation(
        actor=actor,
        sample=sample,
        attribute="twist_play",
        status="ordinal",
        ordinal="less",
        reference=reference,
        note="Both in the hand at once.",
    )


def _spread(demo: DemoMotor, mark: str) -> random.Random:
    return random.Random(f"{demo.full_name}/{mark}")  # noqa: S311 - demo spread


def _seen(demo: DemoMotor, spread: random.Random) -> list[dict[str, Any]]:
    diameter, height = float(demo.size_code[:2]), float(demo.size_code[2:])
    large = diameter > 24
    no_screw = demo.retention != "hex_screw"
    choices = {
        "prop_hold": "two_screws" if demo.small else "nut",
        "radial_play": "none",
        "axial_play": "slight",
        "free_spin": "long",
        "notching": "weak" if demo.magnet == "flat" else "strong",
        "bell_retention": demo.retention,
        "screw_head": "none" if no_screw else "socket",
        "thread_lock": "yes" if large else "no",
        "thread_direction": "right",
        "screw_drags_bell": "no_screw" if no_screw else "no",
        "pull_force": "firm" if diameter < 24 else "strong",
        "shaft_type": "hollow" if height > 5 else "solid",
        "shaft_material": "titanium" if height > 5 else "steel",
        "shaft_magnetic": "no" if height > 5 else "yes",
        "shaft_one_piece": "yes",
        "washers": "one",
        "bearing_cushion": "yes" if large else "no",
        "bearing_marked": "no",
        "magnet_shape": demo.magnet,
        "magnet_spacing": "even",
        "magnet_bonding": "lip" if demo.base == "full" else "flush",
        "balancing": spread.choice(["none", "putty"]),
        "stator_coating": "epoxy",
        "winding": demo.winding,
        "winding_neatness": "even",
        "copper_room": "full" if demo.winding == "single" else "some",
        "winding_material": "copper",
        "lead_relief": "glued",
        "enamel_class": demo.words.get("enamel_class", "H"),
        "bell_build": "one_piece" if height > 5 else "two_piece",
        "ring_parting": "no" if height > 5 else "glue_only",
        "bell_top": "spokes" if demo.base == "open" else "fins",
        "bell_finish": "clean",
        "prop_knurling": "no" if demo.small else "yes",
        "base_type": demo.base,
        "cable_retention": "channel",
        "bottom_of_shaft": "flush",
        "crash_marks": "no",
    }
    counts = {
        "mount_hole_count": 4,
        "lead_gauge": {True: 24, False: 20}[demo.small],
        "pole_count": demo.poles,
        "slot_count": demo.slots,
        "strand_count": 1 if demo.winding == "single" else 5,
    }
    if demo.name == "Pale":
        counts["lead_gauge"] = 18
    if not demo.words:
        # Nobody has read the enamel of the smallest one.
        del choices["enamel_class"]
    return [
        *({"attribute": key, "choice": choice} for key, choice in choices.items()),
        *({"attribute": key, "value": float(count)} for key, count in counts.items()),
    ]


def _measured(demo: DemoMotor, spread: random.Random) -> list[tuple[str, float, float, str]]:
    """(attribute, value, u, instrument); a stator a little wider than its code, as they are."""
    diameter = float(demo.size_code[:2]) + 0.2
    height = float(demo.size_code[2:])
    large, small = diameter > 25, demo.small
    gap = 0.19 + 0.06 * spread.random() + (0.08 if demo.magnet == "flat" else 0.0)
    bell = 1.26 * diameter + 0.5
    body = height + 0.34 * diameter + 5.0
    free = 4.0 if small else 13.5
    rows = [
        ("total_height", body + free, 0.05, "calliper"),
        ("body_height", body, 0.05, "calliper"),
        ("base_diameter", 1.12 * diameter, 0.05, "calliper"),
        ("shaft_free_length", free, 0.05, "calliper"),
        ("mount_circle", 9.0 if small else 16.0 if not large else 19.0, 0.1, "calliper"),
        ("mount_thread", 2.0 if small else 3.0, 0.05, "calliper"),
        ("lead_length", LEADS_AS_SHIPPED_MM, 1.0, "ruler"),
        ("shaft_diameter", 2.0 if small else 5.0, 0.01, "calliper"),
        ("shaft_inner_diameter", 2.0 if small else 4.0, 0.01, "calliper"),
        ("bearing_outer_diameter", 5.0 if small else 9.0, 0.02, "calliper"),
        ("bearing_height", 2.5 if small else 4.0, 0.02, "calliper"),
        ("stator_diameter", diameter + 0.02 * spread.random(), 0.01, "calliper"),
        ("magnet_inner_diameter", diameter + 2 * gap, 0.02, "calliper"),
        ("magnet_thickness", 0.066 * diameter + 0.1 * spread.random(), 0.03, "calliper"),
        ("stator_height", height + 0.05 * spread.random(), 0.05, "calliper"),
        ("tooth_length", 0.24 * diameter, 0.1, "calliper"),
        ("hub_diameter", 0.44 * diameter + 0.6, 0.05, "calliper"),
        ("lamination_thickness", 0.2, 0.02, "micrometer"),
        ("wire_diameter", 0.62 if demo.winding == "single" else 0.25, 0.01, "micrometer"),
        ("bell_outer_diameter", bell, 0.02, "calliper"),
        ("ring_thickness", 0.045 * diameter, 0.03, "calliper"),
        ("base_thickness", 2.4 + 0.4 * spread.random(), 0.05, "calliper"),
        ("thread_depth", 2.5, 0.1, "depth gauge"),
        ("screw_clearance", 1.2, 0.1, "depth gauge"),
    ]
    if small:
        rows += [
            ("prop_hole_circle", 9.0, 0.05, "calliper"),
            ("prop_hole_thread", 2.0, 0.02, "calliper"),
        ]
    else:
        rows += [
            ("nut_height", 5.0, 0.05, "calliper"),
            ("washer_height", 0.5, 0.05, "calliper"),
            ("nut_mass", 1.62, 0.003, "pocket scale"),
        ]
    if demo.maker == "Brackwater":
        rows += [
            ("offcut_mass", lead_g_per_m(demo) * 0.08, 0.003, "pocket scale"),
            ("offcut_length", 80.0, 0.5, "ruler"),
        ]
    return rows


def _measurements(demo: DemoMotor, spread: random.Random) -> list[dict[str, Any]]:
    return [
        {
            "attribute": attribute,
            "status": "measured",
            "value": round(value, 2),
            "u": u,
            "instrument": instrument,
        }
        for attribute, value, u, instrument in _measured(demo, spread)
    ]


def _whole(actor: User, sample: Sample, demo: DemoMotor) -> None:
    spread = _spread(demo, sample.mark)
    answers = [{"status": "observed", **answer} for answer in _seen(demo, spread)]
    answers += _measurements(demo, spread)
    answers.append(
        {
            "attribute": "bearing_fit",
            "status": "could_not_tell",
            "note": "Did not want to press them out before the runs.",
        }
    )
    record_sheet(actor=actor, sample=sample, answers=answers)


def _briefly(actor: User, sample: Sample, first: Sample, demo: DemoMotor) -> None:
    """A second sample: play and gap by hand, the rest as on the first."""
    spread = _spread(demo, sample.mark)
    dry = demo.name == "Drift Lite" and sample.mark == "B"
    seen: list[dict[str, Any]] = [
        {"attribute": "radial_play", "choice": "slight" if dry else "none"},
        {"attribute": "axial_play", "choice": "slight"},
        {"attribute": "free_spin", "choice": "rough" if dry else "long"},
        {"attribute": "bell_retention", "choice": demo.retention},
        {"attribute": "pole_count", "value": float(demo.poles)},
        {"attribute": "slot_count", "value": float(demo.slots)},
    ]
    if dry:
        seen[2]["note"] = "Dry: it sings when flicked, sample A does not."
    wanted = ("stator_diameter", "magnet_inner_diameter", "bell_outer_diameter")
    as_first = {"status": "same_as", "reference": first}
    answers = [
        *({"status": "observed", **answer} for answer in seen),
        *(one for one in _measurements(demo, spread) if one["attribute"] in wanted),
        *({"attribute": attribute, **as_first} for attribute in AS_FIRST),
        {"attribute": "pull_force", "status": "ordinal", "ordinal": "same", "reference": first},
    ]
    record_sheet(actor=actor, sample=sample, answers=answers)
