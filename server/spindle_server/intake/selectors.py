"""Reading motors, with constant numbers of queries."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, IntegerField, OuterRef, QuerySet, Subquery
from django.db.models.functions import Coalesce

from spindle_core.measured import Absent
from spindle_core.size_code import parse_size_code, stator_volume_mm3
from spindle_core.teardown import OPEN_POINTS
from spindle_server.history import changes_in
from spindle_server.intake.claims import CLAIMS
from spindle_server.intake.models import Claim, MotorModel
from spindle_server.intake.services import claim_remarks
from spindle_server.runs.models import Run
from spindle_server.teardown.models import Observation


def _count(rows: QuerySet[Any], path: str) -> Coalesce:
    counted = (
        rows.filter(**{path: OuterRef("pk")})
        .order_by()
        .values(path)
        .annotate(total=Count("pk"))
        .values("total")
    )
    return Coalesce(Subquery(counted, output_field=IntegerField()), 0)


def motors() -> QuerySet[MotorModel]:
    """Motors with maker, samples and counts; two queries whatever their number."""
    return (
        MotorModel.objects.select_related("maker")
        .prefetch_related("samples")
        .annotate(
            run_count=_count(Run.objects.all(), "sample__motor"),
            observation_count=_count(Observation.objects.all(), "sample__motor"),
            claim_count=_count(Claim.objects.all(), "motor"),
        )
    )


def read_size(text: str, basis: str | None = None) -> dict[str, Any]:
    """A size code as the core understands it."""
    size = parse_size_code(text, basis)
    volume = stator_volume_mm3(size)
    absent = isinstance(volume, Absent)
    return {
        "text": size.text, "basis": str(size.basis), "diameter_mm": size.diameter_mm,
        "height_mm": size.height_mm, "aspect": size.aspect,
        "stator_volume_mm3": None if absent else volume,
        "absent_reason": volume.note if isinstance(volume, Absent) else "",
    }  # fmt: skip


def open_points(motor: MotorModel) -> list[str]:
    """What is wrong or missing, per motor, in words."""
    points = []
    for observation in Observation.objects.filter(sample__motor=motor).select_related("sample"):
        fault = OPEN_POINTS.get((observation.attribute, observation.choice or ""))
        if fault:
            points.append(f"Sample {observation.sample.mark}: {fault}.")
    claimed = {claim.quantity for claim in motor.claims.all()}
    if "max_current_a" not in claimed:
        points.append("The rated current was never written down.")
    if len(motor.samples.all()) == 1:
        points.append("Only one sample: nothing can be said of the spread.")
    return points


def motor_file(motor: MotorModel) -> dict[str, Any]:
    """The motor's file: size, claims, remarks, open points and its history."""
    claims = Claim.history.filter(motor_id=motor.pk).select_related("history_user")
    changes = [
        {**change, "what": f"claim: {CLAIMS[change['entry'].quantity].label.lower()}"}
        for change in changes_in(claims)
    ]
    own = motor.history.select_related("history_user")
    changes += [{**change, "what": "motor"} for change in changes_in(own)]
    return {
        "motor": motor,
        "size": read_size(motor.size_code, motor.size_basis),
        "claims": motor.claims.all(),
        "remarks": claim_remarks(motor),
        "open_points": open_points(motor),
        "changes": sorted(changes, key=lambda change: change["at"], reverse=True)[:50],
    }
