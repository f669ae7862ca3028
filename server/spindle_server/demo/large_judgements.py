"""What the large bench judges with: a craft, a campaign, kept questions, verdicts, letters.

Its people are a reviewer and an editor whose passwords nobody knows.
"""

from __future__ import annotations

import datetime
import random
import secrets
from collections.abc import Sequence

from spindle_core.publish.document import paragraph_of
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.services import create_user
from spindle_server.afterwards.services import Matches, note_flight, note_follow_up, note_letters
from spindle_server.compare.services import save_comparison
from spindle_server.match.services import add_craft
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.plan.services import begin_campaign
from spindle_server.publish import services as publishing
from spindle_server.rank.judging import Asked
from spindle_server.rank.services import keep_ranking, keep_weights
from spindle_server.rig.models import Propeller, Supply
from spindle_server.runs.models import Run
from spindle_server.verdict.services import begin_verdict, change_verdict

DAY = datetime.date(2026, 10, 1)
VERDICTS, LETTERS, FLIGHTS = 12, 400, 60


def seed_judgements(motors: Sequence[MotorModel], draw: random.Random) -> None:
    """All of it, of the first of these motors."""
    reviewer, editor = _person("reviewer", Role.REVIEWER), _person("editor", Role.EDITOR)
    propellers = list(Propeller.objects.order_by("pk").select_related("maker"))
    craft = add_craft(
        actor=reviewer,
        name="Seed craft",
        cells=4,
        capacity_mah=1500.0,
        rated_c=95.0,
        least_thrust_to_weight=2.0,
        items=[{"name": "all but the motors", "mass_g": 480.0}],
        carries_motor=motors[0],
        carries_propeller=propellers[10],
    )
    begin_campaign(
        actor=reviewer,
        title="Seed campaign",
        question="comparison",
        samples=list(Sample.objects.filter(motor__in=motors[:20], mark="A")),
        propellers=propellers[:20],
        supplies=list(Supply.objects.order_by("pk")[:1]),
        common_thrust_gf=500.0,
        goal_pct=2.0,
        runs_wanted=1,
    )
    alike = Run.objects.filter(kind="steps", sample__motor=motors[0], reduction__error="")
    first = [str(pk) for pk in alike.order_by("pk").values_list("pk", flat=True)[:2]]
    asked = {"runs": ",".join(first), "by": "repeats"}
    comparison = save_comparison(actor=reviewer, name="Seed comparison", asked=asked)
    keep_weights(actor=reviewer, name="Seed weights", weights={"mass_g": 1.0, "max_thrust_gf": 2.0})
    keep_ranking(actor=reviewer, title="Seed ranking", asked=Asked(), said={"use": "equal"})
    seen: Matches = {}
    for k in range(FLIGHTS):
        note_flight(
            actor=reviewer,
            craft=craft,
            samples=list(motors[0].samples.all()),
            seen=seen,
            flown_on=DAY + datetime.timedelta(days=k % 30),
            flown_by="Seed pilot",
            minutes=round(draw.uniform(6, 11), 1),
        )
    note_letters(
        actor=reviewer,
        rows=[
            {
                "kind": draw.choice(("question", "request", "report")),
                "person": f"Seed reader {k}",
                "motor": motors[draw.randrange(len(motors))],
                "received_on": DAY,
                "text": "How does it fare on a heavier propeller?",
            }
            for k in range(LETTERS)
        ],
    )
    note_follow_up(actor=reviewer, motor=motors[0], text="Look again", trigger="date", due_on=DAY)
    verdicts = [
        begin_verdict(actor=reviewer, motor=motor)
        for motor in motors[: min(VERDICTS, len(motors) // 4)]
    ]
    for verdict in [*verdicts, begin_verdict(actor=reviewer, comparison=comparison)]:
        said = {"type": "doc", "content": [paragraph_of(["For whoever flies one like it."])]}
        values = {
            "sections": {"for_whom": said},
            "sentence": "One of many.",
            "sentence_version": None if verdict.motor is None else verdict.motor.version,
            "links": "none",
            "gains": "nobody",
        }
        row = change_verdict(actor=reviewer, verdict=verdict, values=values, base=verdict.version)
        publishing.propose(actor=reviewer, verdict=row)
        publishing.publish(actor=editor, verdict=row, base=row.version)


def _person(name: str, role: Role) -> User:
    password = secrets.token_urlsafe(24)
    return create_user(actor=None, username=f"seed-{name}", password=password, role=role)
