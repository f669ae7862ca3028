"""What came after the season: a fortnight of flights, what readers wrote, what waits."""

from __future__ import annotations

import datetime
from typing import Any

from spindle_server.accounts.models import User
from spindle_server.afterwards.services import (
    Matches,
    change_letter,
    note_flight,
    note_follow_up,
    note_letter,
)
from spindle_server.demo.simulated_runs import SEASON_BEGINS
from spindle_server.match.models import Craft
from spindle_server.motors.models import MotorModel
from spindle_server.rig.models import Propeller, Supply

LAST_DAY = SEASON_BEGINS.date() + datetime.timedelta(days=26)

FLIGHTS: tuple[dict[str, Any], ...] = (
    # minutes and what else was noted; the first two only what suffices.
    {"day": 12, "minutes": 12.0},
    {"day": 12, "minutes": 10.5},
    {"day": 13, "minutes": 11.6, "put_back_mah": 1080.0, "mass_g": 612.0, "wind": "calm",
     "hover_share_pct": 70.0, "motor_temp_c": 52.0,
     "impressions": "Planted; the throttle is calm at the bottom."},
    {"day": 13, "minutes": 11.3, "put_back_mah": 1060.0, "mass_g": 612.0, "wind": "calm",
     "hover_share_pct": 70.0, "motor_temp_c": 51.0},
    {"day": 15, "minutes": 11.9, "put_back_mah": 1100.0, "mass_g": 612.0, "wind": "calm",
     "hover_share_pct": 75.0},
    {"day": 15, "minutes": 8.2, "put_back_mah": 1110.0, "mass_g": 612.0, "wind": "windy",
     "hover_share_pct": 70.0, "motor_temp_c": 63.0, "impressions": "Worked hard in the gusts."},
    {"day": 17, "minutes": 12.9, "put_back_mah": 1050.0, "mass_g": 606.0, "wind": "calm",
     "hover_share_pct": 70.0, "propeller": "Wickett 5x3.6x3"},
    {"day": 17, "minutes": 13.2, "put_back_mah": 1060.0, "mass_g": 606.0, "wind": "calm",
     "hover_share_pct": 70.0, "propeller": "Wickett 5x3.6x3",
     "impressions": "Softer, longer, less push out of a dive."},
)  # fmt: skip

LETTERS: tuple[dict[str, Any], ...] = (
    {"kind": "question", "person": "A. Pell", "day": 18, "of": "Drift",
     "text": "How hot does it get on a long climb with the light three-blade?"},
    {"kind": "request", "person": "N. Tarr", "day": 19, "of": "Sable",
     "text": "Could you run the fast one on six-inch two-blades?",
     "answer": "It is on the plan; the rating ends it before the propeller does."},
    {"kind": "request", "person": "", "day": 23, "of": "Drift", "readers": 7,
     "on": "Corran 6x4x2", "at": "Supply 16 V",
     "text": "What does the heavier one pull on the six-inch two-blade, and how warm does it get?"},
    {"kind": "request", "person": "L. Corv", "day": 24, "of": "Sable", "readers": 1,
     "on": "Corran 6.1x4.4x3",
     "text": "The six-inch three-blade on the slow one, please: half throttle is enough."},
    {"kind": "request", "person": "", "day": 12, "of": "Drift", "readers": 3,
     "text": "A test on eight cells, whatever it costs.", "declined": True,
     "answer": "Two of three burnt at six; its maker's rating ends there."},
    {"kind": "report", "person": "J. Vane", "day": 20, "of": "Drift",
     "craft_words": "seven-inch cruiser", "propeller_words": "light three-blade", "temp_c": 58.0,
     "text": "Forty hours on four of them, one bell screw found loose, nothing else."},
    {"kind": "report", "person": "M. Orr", "day": 22, "of": "Drift", "failure": "seized",
     "craft_words": "five-inch, rain", "text": "One seized after a flight in the rain."},
    {"kind": "wish", "person": "Ostrel", "day": 21, "of": "Drift",
     "text": "A prop screw that comes with thread lock: ours came loose at the third run."},
)  # fmt: skip


def load_afterwards(actor: User) -> None:
    """Flights of the craft that carries something, letters, and two points that wait."""
    craft = Craft.objects.exclude(carries_motor=None).order_by("pk")[0]
    assert craft.carries_motor is not None
    samples = list(craft.carries_motor.samples.filter(mark="A"))
    propellers = {row.full_name: row for row in Propeller.objects.select_related("maker")}
    seen: Matches = {}
    for one in FLIGHTS:
        values = {name: value for name, value in one.items() if name != "day"}
        if "propeller" in values:
            values["propeller"] = propellers[values["propeller"]]
        note_flight(
            actor=actor, craft=craft, samples=samples, seen=seen, flown_on=_day(one["day"]),
            flown_by="Tomas", **values,
        )  # fmt: skip
    motors = {row.name: row for row in MotorModel.objects.order_by("-pk")}
    for one in LETTERS:
        own = ("day", "of", "answer", "on", "at", "declined")
        values = {key: value for key, value in one.items() if key not in own}
        if "on" in one:
            values["propeller"] = next(
                row for name, row in propellers.items() if name.startswith(one["on"])
            )
        if "at" in one:
            values["supply"] = Supply.objects.get(name=one["at"])
        row = note_letter(
            actor=actor, motor=motors[one["of"]], received_on=_day(one["day"]), **values
        )
        if "answer" in one:
            said = {"answer": one["answer"], "declined": one.get("declined", False)}
            change_letter(actor=actor, letter=row, base=row.version, **said)
    note_follow_up(
        actor=actor, motor=motors["Drift"], text="Bearing play of sample A, against the first day",
        trigger="hours", after_hours=5.0,
    )  # fmt: skip
    note_follow_up(
        actor=actor, motor=motors["Sable"], text="Ask whether the second batch has dry bearings",
        trigger="date", due_on=LAST_DAY,
    )  # fmt: skip


def _day(number: int) -> datetime.date:
    return SEASON_BEGINS.date() + datetime.timedelta(days=number)
