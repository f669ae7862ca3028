"""Judgements of the bench: craft to match with, weights of its own, verdicts in a sentence."""

from __future__ import annotations

from typing import Any

from spindle_server.accounts.models import User
from spindle_server.compare.services import pick, save_comparison
from spindle_server.match.services import add_craft
from spindle_server.motors.models import MotorModel
from spindle_server.motors.services import change_motor
from spindle_server.rank.judging import Asked
from spindle_server.rank.services import keep_ranking, keep_weights
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import Run

CRAFT: tuple[dict[str, Any], ...] = (
    {
        "name": "Five-inch freestyle",
        "cells": 4,
        "use": "freestyle",
        "capacity_mah": 1500.0,
        "rated_c": 95.0,
        "propeller_room_in": 5.2,
        "esc_rated_a": 45.0,
        "arm_mm": 112.0,
        "flight_speed_m_per_s": 20.0,
        "less_current_from_pct": 15.0,
        "less_current_to_pct": 25.0,
        "items": [
            {"name": "frame with screws", "mass_g": 142.0},
            {"name": "pack", "mass_g": 178.0},
            {"name": "electronics and ESC", "mass_g": 62.0, "basis": "claimed"},
            {"name": "camera", "mass_g": 35.0, "basis": "omitted"},
            {"name": "propeller", "mass_g": 4.2, "count": 4},
        ],
        "note": "Flies the Drift today; is there anything better for it?",
        "carries": ("Drift", 5.1, 4.2),
    },
    {
        "name": "Seven-inch long range",
        "cells": 6,
        "use": "long range",
        "capacity_mah": 3000.0,
        "rated_c": 30.0,
        "propeller_room_in": 7.6,
        "arm_mm": 155.0,
        "flight_speed_m_per_s": 18.0,
        "items": [
            {"name": "frame with screws", "mass_g": 214.0},
            {"name": "pack", "mass_g": 492.0, "basis": "claimed"},
            {"name": "electronics and ESC", "mass_g": 74.0},
            {"name": "camera and aerial", "mass_g": 96.0, "basis": "omitted", "half_width_g": 25.0},
        ],
    },
    {
        "name": "Small wing, one motor",
        "layout": "plane",
        "motors": 1,
        "cells": 4,
        "use": "long range",
        "capacity_mah": 2200.0,
        "rated_c": 35.0,
        "propeller_room_in": 6.2,
        "lift_to_drag": 7.0,
        "items": [
            {"name": "wing with servos", "mass_g": 430.0},
            {"name": "pack", "mass_g": 240.0},
            {"name": "electronics and ESC", "mass_g": 58.0, "basis": "claimed"},
        ],
    },
)

VERDICTS = {
    ("Drift", "2206"): "The plain answer for a five-inch craft that wants push more than minutes.",
    ("Sable", "2105.5"): "Light and thrifty on light propellers; stay within its rating.",
    ("No. 4", "2306"): "As strong as the Drift, dearer and heavier: only if you like its screws.",
}


PICKS = (
    (("Drift", 1900), (5.0, 3.6, 16.0), "calm in the hand; the one to fly every day"),
    (("Pale", 1250), (7.0, 3.8, 24.0), "the most thrust on this bench, at a fair price"),
)
"""Motor, propeller and voltage that Ilse would take, and why."""


def load_judgements(actor: User, reviewer: User) -> None:
    """Craft, weights and verdicts, and the ranking as it stands."""
    for one in CRAFT:
        values = {key: value for key, value in one.items() if key != "carries"}
        if "carries" in one:
            motor, diameter, pitch = one["carries"]
            values["carries_motor"] = MotorModel.objects.filter(name=motor).first()
            values["carries_propeller"] = Propeller.objects.filter(
                diameter_in=diameter, pitch_in=pitch
            ).first()
        add_craft(actor=actor, **values)
    for (name, size), words in VERDICTS.items():
        for row in MotorModel.objects.filter(name=name, size_code=size)[:1]:
            change_motor(actor=actor, motor=row, base=row.version, verdict=words)
    for (name, kv), (diameter, pitch, volts), why in PICKS:
        motor = MotorModel.objects.get(name=name, kv_label_rpm_per_v=kv)
        propeller = Propeller.objects.get(diameter_in=diameter, pitch_in=pitch, blades=3)
        pick(
            actor=actor,
            motor=motor,
            propeller=propeller,
            supply="bench supply",
            voltage_v=volts,
            why=why,
        )
    keep_weights(
        actor=reviewer,
        name="Tomas, cruising",
        weights={"efficiency_g_per_w": 3.0, "max_thrust_gf": 1.0, "mass_g": 1.0},
    )
    alike = list(
        Run.objects.filter(kind="steps", sample__motor__name__in=("Drift", "No. 4"))
        .exclude(review="rejected")
        .order_by("pk")
        .values_list("pk", flat=True)[:6]
    )
    save_comparison(
        actor=actor,
        name="The Drift against the No. 4",
        asked={"runs": ",".join(str(pk) for pk in alike), "by": "repeats"},
        marks=[
            {
                "x_name": "throttle_pct",
                "y_name": "thrust_gf",
                "x": 32.0,
                "text": "hover of the craft",
            }
        ],
        note="Same propeller, same supply: is the dearer one worth it?",
    )
    keep_ranking(actor=actor, title="Five-inch, autumn", asked=Asked(), said={"use": "equal"})
