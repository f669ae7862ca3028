"""The demo's campaign: half done, with what it proposes next."""

from __future__ import annotations

from spindle_server.accounts.models import User
from spindle_server.motors.models import Sample
from spindle_server.plan.overrides import override
from spindle_server.plan.services import begin_campaign
from spindle_server.rig.models import Propeller, Supply
from spindle_server.rig.packs_said import say_pack

SAMPLES = (
    ("Quillmoor Sable 2105.5 1950", "A"),
    ("Quillmoor Sable 2105.5 1950", "C"),
    ("Quillmoor Sable 2105.5 2650", "A"),
    ("Ostrel Drift 2206 1900", "A"),
    ("Ostrel Drift 2206 1900", "B"),
    ("Ostrel Drift Lite 2205 2420", "A"),
    ("Brackwater No. 4 2306 1800", "A"),
)
PROPELLERS = ("Wickett", "Corran 6x4x2", "Corran 6.1x4.4x3")
SUPPLIES = ("Supply 16 V", "Supply 24 V", "Pack 4-1")
LIMITED = "Ostrel Drift 2206 1900"
LEAST_IN, MOST_IN = 5.0, 6.5
"""Diameters of the propellers among which its limit is sought [in]."""

PACKS = (("Pack 4-1", "charging", None), ("Pack 4-2", "full", None), ("Pack 6-1", "part_used", 420))


def begin_demo_campaign(actor: User) -> None:
    """Five-inch motors against each other, on propellers of which two were hardly run."""
    samples = [
        sample
        for sample in Sample.objects.select_related("motor__maker")
        if (sample.motor.full_name, sample.mark) in SAMPLES
    ]
    propellers = [
        propeller
        for propeller in Propeller.objects.select_related("maker")
        if propeller.full_name.startswith(PROPELLERS)
    ]
    begin_campaign(
        actor=actor,
        title="How far may the Drift be loaded?",
        question="limit",
        samples=[one for one in samples if one.motor.full_name == LIMITED],
        propellers=list(
            Propeller.objects.filter(diameter_in__gte=LEAST_IN, diameter_in__lte=MOST_IN)
        ),
        supplies=list(Supply.objects.filter(name__in=SUPPLIES[:2])),
        runs_wanted=1,
    )
    campaign = begin_campaign(
        actor=actor,
        title="Five-inch motors, spring review",
        question="comparison",
        samples=samples,
        propellers=propellers,
        supplies=list(Supply.objects.filter(name__in=SUPPLIES)),
        common_thrust_gf=500.0,
        goal_pct=2.0,
        runs_wanted=2,
        note="Seven readers asked for the 6-inch two-blade.",
    )
    override(
        actor=actor,
        campaign=campaign,
        supply=Supply.objects.get(name=SUPPLIES[0]),
        sample=next(one for one in samples if one.mark == "C"),
        propeller=next(one for one in propellers if one.full_name.startswith(PROPELLERS[0])),
        reason="Sample C waits for its new bearings.",
    )
    for name, state, used_mah in PACKS:
        say_pack(actor=actor, supply=Supply.objects.get(name=name), state=state, used_mah=used_mah)
