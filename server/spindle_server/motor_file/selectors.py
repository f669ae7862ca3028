"""Reading motors, with constant numbers of queries."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from django.db.models import Count, Prefetch, QuerySet

from spindle_core.figures.measured import Absent
from spindle_core.intake.claim_checks import Claimed, ClaimRemark, check_claims
from spindle_core.intake.claim_quantities import CLAIMS
from spindle_core.intake.motor_kind import basis_conflict
from spindle_core.motor.size_code import SizeCode, propose_basis, stator_volume_mm3
from spindle_core.teardown import ATTRIBUTES
from spindle_server.motor_file.claimed_loads import claimed_loads
from spindle_server.motor_file.evidence import (
    against_claims,
    against_expectations,
    measured_figures,
)
from spindle_server.motor_file.masses import masses
from spindle_server.motor_file.neighbours import nearest, traits_of, weighed_masses
from spindle_server.motor_file.open_points import OpenPoints
from spindle_server.motors.models import (
    INCIDENTS,
    PART_KINDS,
    PREPARATIONS,
    Claim,
    ClaimedLoad,
    Expectation,
    Incident,
    Merged,
    MotorModel,
    Parcel,
    PartInBox,
    Preparation,
    Sample,
    Weighing,
)
from spindle_server.motors.parcels import box_findings, parcel_price
from spindle_server.photos.models import Photo
from spindle_server.records.history import changes_in
from spindle_server.rig.selectors import declaration
from spindle_server.runs.models import Run
from spindle_server.runs.stated import figure_json
from spindle_server.teardown.known import known_of
from spindle_server.teardown.models import Observation

MOST_CHANGES = 60


def motors() -> QuerySet[MotorModel]:
    """Motors with maker and samples; two queries whatever their number."""
    return MotorModel.objects.select_related("maker").prefetch_related("samples")


def counted(page: Sequence[MotorModel]) -> Sequence[MotorModel]:
    """The motors of a page with how many runs, observations and claims each has; three queries."""
    wanted = [motor.pk for motor in page]
    for name, rows, path in (
        ("run_count", Run.objects.all(), "sample__motor"),
        ("observation_count", Observation.objects.all(), "sample__motor"),
        ("claim_count", Claim.objects.all(), "motor"),
    ):
        found = rows.filter(**{f"{path}__in": wanted}).order_by().values(path)
        totals = dict(found.annotate(total=Count("pk")).values_list(path, "total"))
        for motor in page:
            setattr(motor, name, totals.get(motor.pk, 0))
    return page


def motor_for_file(pk: int) -> QuerySet[MotorModel]:
    """One motor with everything its file and its intake show."""
    struck = ("noted_by",)
    samples = Sample.objects.select_related("parcel").prefetch_related(
        Prefetch("weighings", Weighing.objects.select_related(*struck)),
        Prefetch("preparations", Preparation.objects.select_related(*struck)),
        Prefetch("incidents", Incident.objects.select_related(*struck)),
    )
    return (
        motors()
        .filter(pk=pk)
        .prefetch_related(None)
        .prefetch_related(
            Prefetch("samples", samples),
            Prefetch("parcels", Parcel.objects.prefetch_related("parts", "samples")),
            "claims",
            "claimed_loads",
        )
    )


def size_json(
    size: SizeCode, mass_g: float | None = None, *, kind: str = "outrunner"
) -> dict[str, Any]:
    """A size code with its volume, or why it has none, and what is odd about it."""
    volume = stator_volume_mm3(size)
    proposed = propose_basis(size, mass_g)
    doubt = basis_conflict(kind, size.basis)
    if not doubt and proposed is not size.basis:
        doubt = (
            f"A stator of this size outweighs {mass_g:g} g: the code may measure the "
            f"{proposed.label}."
        )
    absent = isinstance(volume, Absent)
    return {
        "text": size.text,
        "basis": str(size.basis),
        "diameter_mm": size.diameter_mm,
        "height_mm": size.height_mm,
        "aspect": size.aspect,
        "stator_volume_mm3": None if absent else volume,
        "absent_reason": volume.note if isinstance(volume, Absent) else "",
        "doubt": doubt,
    }


def claim_remarks(motor: MotorModel) -> list[ClaimRemark]:
    """What the claims of a motor say about each other."""
    claims = [Claimed(c.quantity, c.value, c.words, c.source) for c in motor.claims.all()]
    return check_claims(claims, size=motor.size)


def motor_file(motor: MotorModel) -> dict[str, Any]:
    """The motor's file, of a motor from :func:`motor_for_file`."""
    declared = declaration()
    known = known_of(motor)
    weighed = masses(motor, known, lead_length_mm=declared.lead_length_mm)
    measured = measured_figures(motor, weighed["figures"])
    prices = [parcel_price(parcel) for parcel in motor.parcels.all()]
    first_price = next((price for price in prices if price["amount"]), None)
    claimed_mass = next((c.value for c in motor.claims.all() if c.quantity == "mass_g"), None)
    points = OpenPoints(motor.pk)
    points.look_closer([motor.pk])
    return {
        "motor": counted([motor])[0],
        "size": size_json(motor.size, claimed_mass, kind=motor.kind) if motor.size else None,
        "claims": motor.claims.all(),
        "remarks": claim_remarks(motor),
        "open_points": [f"{point}." for point in points.gaps(motor.pk, len(motor.samples.all()))],
        "parcels": _parcels(motor, declared.arm_thickness_mm, known.plain()),
        "masses": weighed,
        "incidents": [row for sample in motor.samples.all() for row in sample.incidents.all()],
        "against_claims": against_claims(motor, measured),
        "claimed_loads": claimed_loads(motor),
        "key_figures": [
            {
                "quantity": quantity,
                "measured": figure_json(found.figure),
                "rests_on": found.rests_on,
            }
            for quantity, found in measured.items()
        ],
        "expectations": against_expectations(
            motor.expectations.select_related("noted_by"), measured
        ),
        "peers": nearest(
            traits_of(
                motor.size_code,
                motor.size_basis,
                motor.kv_label_rpm_per_v,
                weighed_masses(motor=motor.pk).get(motor.pk, claimed_mass),
                first_price["amount"] if first_price else None,
            ),
            currency=first_price["currency"] if first_price else "",
            but=motor.pk,
        ),
        "family": _family(motor),
        "changes": _changes(motor),
    }


def _parcels(
    motor: MotorModel, arm_thickness_mm: float, known: dict[str, float | str]
) -> list[dict[str, Any]]:
    return [
        {
            "parcel": parcel,
            "samples": [sample.mark for sample in parcel.samples.all()],
            "price": parcel_price(parcel),
            "findings": box_findings(
                parcel,
                motors=len(parcel.samples.all()),
                arm_thickness_mm=arm_thickness_mm,
                known=known,
            ),
        }
        for parcel in motor.parcels.all()
    ]


def _family(motor: MotorModel) -> list[MotorModel]:
    """Other winds and sizes of the same name by the same maker."""
    return list(
        MotorModel.objects.filter(maker_id=motor.maker_id, name=motor.name)
        .exclude(pk=motor.pk)
        .select_related("maker")
        .prefetch_related("samples")
    )


def _changed_answers(motor: MotorModel) -> list[dict[str, Any]]:
    """Answers of the teardown that were changed; that they were given stands on the sheet."""
    changed = Observation.history.filter(sample__motor_id=motor.pk, history_type="~")
    rows = Observation.history.filter(id__in=list(changed.values_list("id", flat=True).distinct()))
    return [
        {**change, "what": f"answer: {ATTRIBUTES[change['entry'].attribute].label.lower()}"}
        for change in changes_in(rows.select_related("history_user"))
        if change["kind"] != "added"
    ]


def _changes(motor: MotorModel) -> list[dict[str, Any]]:
    """History of everything on file of the motor, newest first, with what it had where it was on
    the bench twice."""
    gone = Merged.objects.filter(thing="motor", stays=motor.pk).values_list("gone", flat=True)
    whose = [motor.pk, *gone]
    sources: tuple[tuple[Any, Callable[[Any], str]], ...] = (
        (MotorModel.history.filter(id__in=whose), lambda entry: "motor"),
        (
            Claim.history.filter(motor_id__in=whose),
            lambda entry: f"claim: {CLAIMS[entry.quantity].label.lower()}",
        ),
        (
            ClaimedLoad.history.filter(motor_id__in=whose),
            lambda entry: f"claim on {entry.cells} cells: {entry.propeller}",
        ),
        (Parcel.history.filter(motor_id__in=whose), lambda entry: "parcel"),
        (Sample.history.filter(motor_id__in=whose), lambda entry: f"sample {entry.mark}"),
        (
            Weighing.history.filter(sample__motor_id=motor.pk),
            lambda entry: f"weighing of {entry.mass_g:g} g",
        ),
        (
            Preparation.history.filter(sample__motor_id=motor.pk),
            lambda entry: f"preparation: {dict(PREPARATIONS)[entry.kind].lower()}",
        ),
        (
            Incident.history.filter(sample__motor_id=motor.pk),
            lambda entry: f"incident: {dict(INCIDENTS)[entry.kind].lower()}",
        ),
        (
            PartInBox.history.filter(parcel__motor_id=motor.pk),
            lambda entry: f"in the box: {dict(PART_KINDS)[entry.kind].lower()}",
        ),
        (Expectation.history.filter(motor_id__in=whose), lambda entry: "expectation"),
        (
            Photo.history.filter(sample__motor_id=motor.pk),
            lambda entry: f"photo: {entry.caption or 'without a caption'}",
        ),
        (
            Merged.history.filter(thing="motor", stays=motor.pk, history_type="+"),
            lambda entry: f"name: {entry.gone_name}, which is this motor",
        ),
        (Run.history.filter(sample__motor_id=motor.pk), lambda entry: f"review of run {entry.id}"),
    )
    changes = [
        {**change, "what": name(change["entry"])}
        for rows, name in sources
        for change in changes_in(rows.select_related("history_user"))
        # That a run was made stands in the list of runs.
        if not (rows.model is Run.history.model and change["kind"] == "added")
    ]
    changes += _changed_answers(motor)
    return sorted(changes, key=lambda change: change["at"], reverse=True)[:MOST_CHANGES]
