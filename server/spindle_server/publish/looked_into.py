"""What a page shows of looking: the teardown, what a first look left open, and photos."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from spindle_core.publish.untested import untested
from spindle_core.teardown.vocabulary import ATTRIBUTES
from spindle_server.motors.models import Sample
from spindle_server.photos.models import Photo
from spindle_server.teardown.models import ANSWERED, Observation
from spindle_server.verdict.models import Verdict

MOST_PHOTOS = 24


def taken_apart(verdict: Verdict) -> list[dict[str, Any]]:
    """What was seen and measured, sample by sample; what nobody looked at is left out."""
    if verdict.motor_id is None:
        return []
    rows = (
        Observation.objects.filter(sample__motor=verdict.motor_id, status__in=ANSWERED)
        .select_related("sample")
        .order_by("sample__mark", "pk")
    )
    found: dict[tuple[Any, ...], dict[str, Any]] = {}
    for row in rows:
        attribute = ATTRIBUTES.get(row.attribute)
        if attribute is None:
            continue
        choice = next((one for one in attribute.choices if one.key == row.choice), None)
        one = found.setdefault(
            (row.attribute, row.choice, row.value, row.u),
            {
                "key": row.attribute,
                "step": attribute.step,
                "label": attribute.label,
                "samples": [],
                "said": choice.label if choice else "",
                "suggests": choice.suggests if choice else "",
                "value": row.value,
                "u": row.u or None,
                "unit": attribute.unit or "",
            },
        )
        # Samples of which the same was seen are named together.
        one["samples"].append(row.sample.mark)
    order = {key: at for at, key in enumerate(ATTRIBUTES)}
    return sorted(found.values(), key=lambda one: (order[one["key"]], one["samples"]))


def untested_of(
    verdict: Verdict, told_of: Sequence[dict[str, Any]], seen: Sequence[dict[str, Any]]
) -> list[str]:
    """What a first look leaves open."""
    samples = Sample.objects.filter(motor=verdict.motor_id)
    weighed = samples.filter(weighings__isnull=False, weighings__struck_reason="")
    unmeasured = [
        row["label"][:1].lower() + row["label"][1:]
        for motor in told_of
        for row in motor["claims"]
        if row["measured"]["value"] is None
    ]
    return untested(
        (),
        list(dict.fromkeys(unmeasured)),
        {row["step"] for row in seen},
        weighed=weighed.exists(),
        samples=samples.count(),
    )


def photos_of(verdict: Verdict) -> list[dict[str, Any]]:
    if verdict.motor_id is None:
        return []
    rows = (
        Photo.objects.filter(sample__motor=verdict.motor_id, taken_off=False)
        .select_related("sample")
        .order_by("pk")[:MOST_PHOTOS]
    )
    return [
        {
            "photo": row.pk,
            "name": f"{row.digest[:24]}.jpg",
            "caption": row.caption or f"Sample {row.sample.mark}",
            "width": row.width_px,
            "height": row.height_px,
        }
        for row in rows
    ]
