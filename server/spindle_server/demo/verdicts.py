"""Verdicts of the bench: written from what the data would say, one of them stale by now."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from spindle_core.publish.document import paragraph_of
from spindle_server.accounts.models import User
from spindle_server.compare.models import SavedComparison
from spindle_server.motors.models import MotorModel
from spindle_server.motors.weighing import add_weighing
from spindle_server.publish import services
from spindle_server.publish.drawing import draw_worker
from spindle_server.rank.models import KeptRanking
from spindle_server.verdict.looking import Looking
from spindle_server.verdict.models import Verdict
from spindle_server.verdict.proposing import proposals
from spindle_server.verdict.selectors import paragraph_json
from spindle_server.verdict.services import adopt, begin_verdict, change_verdict

MOTORS: tuple[dict[str, Any], ...] = (
    {
        "of": ("Drift", "2206", 1900),
        "own": {
            "for_whom": "For a five-inch craft that is flown hard: it wants push more than "
            "minutes, and its owner changes propellers often.",
            "faults": "Nothing broke on our bench.",
        },
        "take": {
            "for_whom": 2,
            "propellers": 2,
            "limits": 2,
            "made_of": 3,
            "costs": 2,
            "open": 2,
            "would_change": 1,
        },
        "links": ("none", ""),
        "gains": ("nobody", ""),
    },
    {
        "of": ("Sable", "2105.5", 1950),
        "own": {
            "for_whom": "For light craft on light propellers, flown with a calm thumb.",
            "open": "How it ages: the bearings of one sample were dry out of the box.",
        },
        "take": {
            "for_whom": 2,
            "propellers": 2,
            "limits": 2,
            "made_of": 2,
            "faults": 2,
            "costs": 2,
        },
        "links": ("some", "the link to the motor pays us four per cent"),
        "parts": [
            {
                "what": "motor",
                "name": "Quillmoor Sable 2105.5 1950",
                "noted_on": "2026-10-09",
                "link": "https://shop.example/sable-2105",
                "pays": True,
            },
            {
                "what": "propeller",
                "name": "Wickett 5.1x4.2x3",
                "noted_on": "2026-10-09",
                "link": "https://wickett.example/51423",
                "pays": False,
            },
        ],
        "gains": ("somebody", "Tomas sells frames that this motor fits"),
    },
    {
        "of": ("No. 4", "2306", 1800),
        "own": {"for_whom": "For whoever takes motors apart and wants screws that last."},
        "take": {"for_whom": 1, "propellers": 1, "limits": 1, "made_of": 3, "costs": 2, "open": 1},
        "links": ("none", ""),
        "gains": ("nobody", ""),
    },
)

RANKED = "Five-inch, autumn"
COMPARED = "The Drift against the No. 4"


def load_verdicts(reviewer: User) -> None:
    """Three motors, one comparison, and a draft whose figure has moved since."""
    for one in MOTORS:
        name, size, kv = one["of"]
        motor = MotorModel.objects.get(name=name, size_code=size, kv_label_rpm_per_v=kv)
        verdict = begin_verdict(actor=reviewer, motor=motor)
        _write(reviewer, verdict, one)
    compared = SavedComparison.objects.get(name=COMPARED)
    verdict = begin_verdict(actor=reviewer, comparison=compared)
    _write(
        reviewer,
        verdict,
        {
            "own": {
                "for_whom": "Take the cheaper one, unless its screws have let you down before."
            },
            "take": {"differs": 2, "same": 2, "would_change": 2},
            "links": ("none", ""),
            "gains": ("nobody", ""),
            "sentence": "Two motors for one job: the difference is in the purse and in the screws.",
        },
    )
    _cohort(reviewer)
    _stale(reviewer)


def _cohort(reviewer: User) -> None:
    """What the kept ranking asks, as a page."""
    kept = KeptRanking.objects.get(title=RANKED)
    _write(
        reviewer,
        begin_verdict(actor=reviewer, ranking=kept),
        {
            "own": {
                "differs": "Weights are a matter of taste; these count everything alike.",
                "for_whom": "Read the row of the motor you fly before you read its place.",
            },
            "take": {"differs": 2, "same": 2},
            "links": ("none", ""),
            "gains": ("somebody", "Tomas sells frames that the Sable fits"),
            "sentence": "The first places are close; price and weight decide sooner than thrust.",
        },
    )


def publish_verdicts(reviewer: User, editor: User) -> None:
    """All but the draft; one of them is corrected after a reader asked."""
    rules = services.rules()
    services.change_rules(
        actor=editor,
        base=rules.version,
        values={"bench_name": "Gannet Yard Bench", "licence": "CC BY 4.0", "second_eyes": True},
    )
    with draw_worker():
        for verdict in Verdict.objects.exclude(motor__name="Teal").order_by("pk"):
            services.propose(actor=reviewer, verdict=verdict)
            services.publish(actor=editor, verdict=verdict, base=verdict.version)
        _correct(reviewer, editor)


def _correct(reviewer: User, editor: User) -> None:
    """A reader asked, and one page is corrected."""
    name, size, kv = CORRECTED
    verdict = Verdict.objects.get(
        motor__name=name, motor__size_code=size, motor__kv_label_rpm_per_v=kv
    )
    faults = {"type": "doc", "content": [paragraph_of([CORRECTION])]}
    verdict = change_verdict(
        actor=reviewer,
        verdict=verdict,
        values={"sections": {"faults": faults}},
        base=verdict.version,
    )
    services.propose(actor=reviewer, verdict=verdict, note="A reader asked about the screw.")
    services.publish(
        actor=editor,
        verdict=verdict,
        base=verdict.version,
        changed="Faults: the prop screw of sample B came loose once.",
        why="It stood in our notes and not on the page; a reader asked.",
        correction=True,
    )


CORRECTED = ("Drift", "2206", 1900)
CORRECTION = (
    "The prop screw of sample B came loose once, at the third run; since then it is held by a drop "
    "of thread lock and has stayed."
)


def _write(actor: User, verdict: Verdict, one: dict[str, Any]) -> None:
    looking = Looking(verdict)
    said = proposals(verdict, None, looking).statements
    sections: dict[str, Any] = {}
    for key in dict.fromkeys([*one["own"], *one["take"]]):
        blocks = [paragraph_of([one["own"][key]])] if key in one["own"] else []
        for statement in [s for s in said if s.section == key][: one["take"].get(key, 0)]:
            quotes = list(statement.rests_on)
            rows = adopt(actor=actor, verdict=verdict, quotes=quotes, looking=looking)
            numbers = {quote: row.pk for quote, row in zip(quotes, rows, strict=True)}
            blocks.append(paragraph_json(statement, numbers))
        sections[key] = {"type": "doc", "content": blocks}
    values = {
        "sections": sections,
        "links": one["links"][0],
        "links_text": one["links"][1],
        "gains": one["gains"][0],
        "gains_text": one["gains"][1],
    }
    if "parts" in one:
        values["parts"] = one["parts"]
    if "sentence" in one:
        values["sentence"] = one["sentence"]
    change_verdict(actor=actor, verdict=verdict, values=values, base=verdict.version)


def _stale(actor: User) -> None:
    """Somebody weighed another sample after the mass was quoted."""
    motor = MotorModel.objects.get(name="Teal", size_code="1505")
    verdict = begin_verdict(actor=actor, motor=motor)
    _write(
        actor,
        verdict,
        {
            "own": {"for_whom": "For three-inch craft; the runs are still to be looked through."},
            "take": {"costs": 1, "made_of": 1},
            "links": ("unknown", ""),
            "gains": ("unknown", ""),
        },
    )
    sample = motor.samples.order_by("mark").last()
    assert sample is not None
    last = sample.weighings.last()
    add_weighing(
        actor=actor,
        sample=sample,
        mass_g=(last.mass_g if last else 15.0) + 0.6,
        resolution_g=0.1,
        lead_length_mm=last.lead_length_mm if last else 100.0,
        weighed_on=timezone.localdate(),
        instrument="kitchen scale",
    )
