"""Many samples with many propellers: which of them can be mounted, and by what."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from spindle_core.intake.propeller_fit import Ring
from spindle_server.motor_file.fit import Surroundings, carrier_of, on_shaft, ring_of, with_tips
from spindle_server.motors.models import PartInBox, Sample
from spindle_server.rig.adapters import at_hand
from spindle_server.rig.models import Propeller
from spindle_server.rig.selectors import declaration
from spindle_server.teardown.known import gather
from spindle_server.teardown.models import ANSWERED, Observation

OF_SHAFTS = (
    "shaft_side",
    "shaft_diameter",
    "shaft_free_length",
    "prop_hold",
    "nut_height",
    "washer_height",
    "prop_hole_circle",
    "prop_hole_thread",
)
"""What a mounting rests on, of a motor."""


@dataclass(frozen=True)
class Mounted:
    """Whether a propeller sits on a motor: ``good``, ``caution``, ``impossible`` or ``unknown``,
    and by what, or what stands against it, in words."""

    outcome: str
    words: str


def mountings(
    samples: Sequence[Sample], propellers: Sequence[Propeller]
) -> dict[tuple[int, int], Mounted]:
    """Every sample with every propeller, by their numbers; as many queries for many as for one.

    Shafts and hubs of one size are judged once.
    """
    declared = declaration()
    rings, adapters = at_hand()
    motors = {sample.motor_id for sample in samples}
    boxed: dict[int, list[Ring]] = {}
    for part in PartInBox.objects.filter(parcel__motor__in=motors).select_related("parcel"):
        if (ring := ring_of(part)) is not None:
            boxed.setdefault(part.parcel.motor_id, []).append(ring)
    looked_at: dict[int, list[Observation]] = {}
    rows = Observation.objects.filter(
        sample__motor__in=motors, status__in=ANSWERED, attribute__in=OF_SHAFTS
    )
    for row in rows.select_related("sample").order_by("sample__mark", "pk"):
        looked_at.setdefault(row.sample.motor_id, []).append(row)
    judged: dict[object, dict[str, Any]] = {}
    found = {}
    for sample in samples:
        known = gather(looked_at.get(sample.motor_id, []))
        carrier = carrier_of(known, sample, declared.arm_thickness_mm)
        around = Surroundings([*boxed.get(sample.motor_id, []), *rings], adapters, 0, None)
        for propeller in propellers:
            # Whatever the judgement rests on but the room for its tips.
            key = (
                *(carrier.shaft, carrier.seat, carrier.missing, tuple(around.rings)),
                *(propeller.bore_mm, propeller.hub_thickness_mm),
                *(propeller.hole_circle_mm, propeller.hole_mm),
            )
            if key not in judged:
                judged[key] = on_shaft(propeller, carrier, around)
            mounted = with_tips(judged[key], propeller, declared.nearest_part_mm)
            found[sample.pk, propeller.pk] = _in_words(mounted)
    return found


def _in_words(row: dict[str, Any]) -> Mounted:
    outcome = row["outcome"]
    if row["reason"]:
        return Mounted(outcome, row["reason"])
    by = f"on {row['adapter']}" if row["adapter"] else ""
    if row["rings"]:
        by += " with a ring" if len(row["rings"]) == 1 else f" with {len(row['rings'])} rings"
    worst = [one.message for one in row["findings"] if one.state == outcome != "good"]
    return Mounted(outcome, ": ".join(part for part in (by.strip(), *worst[:1]) if part))
