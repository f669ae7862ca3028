"""What the bench knows of every motor and propeller, kept until something of it changes."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Count

from spindle_core.planning.matrix import PlannedMotor, PropellerColumn
from spindle_server.identification.knowing import (
    ceilings_of,
    experience,
    propellers_known,
    samples_known,
)
from spindle_server.identification.models import Identified, identified_state
from spindle_server.motor_file.mountings import mountings
from spindle_server.motors.models import Incident, MotorModel, PartInBox, Sample
from spindle_server.records.kept import kept_whole
from spindle_server.records.revision import revision
from spindle_server.rig.models import Adapter, Propeller
from spindle_server.runs.ran import MOST_MOTORS, evidence_revision, motors_with_runs, ratings_of

MOST_PROPELLERS = 40


@dataclass(slots=True)
class KnownBench:
    """Motors by their numbers and propellers at hand, as well as they are known today."""

    rows: list[PlannedMotor]
    columns: list[PropellerColumn]
    propellers: dict[str, Propeller]
    """By name."""
    unmountable: dict[tuple[str, str], str]
    """Motor and propeller that do not sit on one another: what stands against it."""


def known_bench() -> KnownBench:
    """Motors and propellers that a craft may carry: those that were run first, then the newest, so
    many as a screen can tell apart; propellers that are not retired."""
    return kept_whole("bench", bench_state(), _look)


def bench_state() -> tuple[object, ...]:
    """What the known bench rests on: the record, the fits, and what a propeller is mounted with."""
    return (evidence_revision(), identified_state(), revision((Adapter, PartInBox)))


def _look() -> KnownBench:
    learnt = experience()
    samples = _one_sample_each()
    seen = samples_known(list(samples.values()), learnt)
    ratings, ceilings = ratings_of(samples), ceilings_of(samples)
    rows = [
        PlannedMotor(
            motor,
            sample.motor.full_name,
            seen[sample.pk],
            most_current_a=ratings.get(motor, {}).get("current_a"),
            most_power_w=ratings.get(motor, {}).get("power_w"),
            most_winding_c=ceilings[motor],
        )
        for motor, sample in samples.items()
    ]
    propellers = list(
        Propeller.objects.filter(retired=False)
        .select_related("maker")
        .annotate(made=Count("runs"))
        .order_by("-made", "-pk")[:MOST_PROPELLERS]
    )
    loads = propellers_known(propellers)
    columns = [PropellerColumn(one.pk, one.full_name, loads[one.pk]) for one in propellers]
    sits = mountings(list(samples.values()), propellers)
    unmountable = {
        (str(motor), one.full_name): found.words
        for motor, sample in samples.items()
        for one in propellers
        if (found := sits[sample.pk, one.pk]).outcome == "impossible"
    }
    return KnownBench(rows, columns, {one.full_name: one for one in propellers}, unmountable)


def _one_sample_each() -> dict[int, Sample]:
    """Of each model the sample that most is known of: identified before others, whole before
    destroyed."""
    identified = set(
        Identified.objects.filter(kv_rpm_per_v__isnull=False, sample__isnull=False).values_list(
            "sample", flat=True
        )
    )
    destroyed = set(
        Incident.objects.filter(destroyed=True, struck_reason="").values_list("sample", flat=True)
    )
    found: dict[int, Sample] = {}
    motors, _ = motors_with_runs()
    newest = MotorModel.objects.exclude(pk__in=motors).filter(samples__isnull=False)
    room = MOST_MOTORS - len(motors)
    motors += list(newest.order_by("-pk").values_list("pk", flat=True).distinct()[: max(0, room)])
    rows = (
        Sample.objects.filter(motor__in=motors)
        .select_related("motor__maker")
        .order_by("motor", "mark")
    )
    for sample in sorted(
        rows, key=lambda one: (one.pk not in identified, one.pk in destroyed, one.mark)
    ):
        found.setdefault(sample.motor_id, sample)
    return found
