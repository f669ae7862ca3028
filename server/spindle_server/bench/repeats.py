"""The repeats of a run on its bench day: which they are, and whether they agree."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from spindle_core.planning.repeats import repeats_so_far
from spindle_core.reduction.kinds import KINDS
from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.runs.models import Run
from spindle_server.runs.stated import figure_json

MOST_REPEATS = 10
MOST_LOOKED_AT = 40


def repeats_of(run: Run) -> list[Run]:
    """A run and what repeats it, the oldest first: on the same local day the same motor, load,
    supply and stand through the same profile. What was rejected, or did not end by itself, is no
    repeat."""
    day = timezone.localtime(run.started_at).replace(hour=0, minute=0, second=0, microsecond=0)
    like = (
        Run.objects.filter(
            sample=run.sample_id,
            propeller=run.propeller_id,
            supply=run.supply_id,
            stand=run.stand_id,
            kind=run.kind,
            started_at__gte=day,
            started_at__lt=day + timedelta(days=1),
            end__outcome="completed",
        )
        .exclude(review="rejected")
        .prefetch_related("figures")
        .order_by("-started_at", "-pk")[:MOST_LOOKED_AT]
    )
    return [one for one in reversed(like) if one.profile == run.profile]


def repeats_state(run: Run, wanted: int) -> dict[str, Any]:
    """The repeats of a run so far as JSON, and what to do next."""
    runs = repeats_of(run)
    figures: dict[str, list[float]] = {name: [] for name in KINDS[run.kind].headline}
    for one in runs:
        for figure in one.figures.all():
            if figure.name in figures and figure.value is not None:
                figures[figure.name].append(figure.value)
    declared = run.stand.repeatability_rel if run.stand else None
    found = repeats_so_far(
        figures,
        len(runs),
        wanted=wanted,
        repeatability=declared or ASSUMED_REPEATABILITY,
        assumed=not declared,
    )
    return {
        "n": found.n,
        "wanted": found.wanted,
        "runs": [
            {"id": one.pk, "started_at": one.started_at, "review": one.review} for one in runs
        ],
        "rows": [
            {
                "name": row.name,
                "values": list(row.values),
                "mean": figure_json(row.mean),
                "s": row.s,
                "p_value": row.p_value,
                "agrees": row.agrees,
            }
            for row in found.rows
        ],
        "advice": str(found.advice),
        "words": found.words,
    }
