"""How warm the motors of compared runs got, and whether that may be compared."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence
from functools import reduce
from operator import or_
from typing import Any

from django.db.models import Max, Q

from spindle_core.compare.bench_table import RanRun
from spindle_core.compare.warmth import COOLED_AFTER_S, Warmed, compare_warmth, runs_before, warmed
from spindle_server.runs.models import Run
from spindle_server.runs.stated import figure_json

MOST_RUNS = 12
LOOKED_BACK = datetime.timedelta(hours=6)
"""What ran longer ago has cooled."""


def warmth(chosen: Sequence[Run], ran: Sequence[RanRun]) -> dict[str, Any] | None:
    """The warmth of runs beside each other; None where no thermometer was on any of them."""
    having = [run for run, one in zip(chosen, ran, strict=True) if _is_read(run, one)]
    if not having:
        return None
    before = _runs_before(having[:MOST_RUNS])
    found = [
        one
        for run, core in zip(chosen, ran, strict=True)
        if run.pk in before and (one := _warmed(run, core, before)) is not None
    ]
    compared = compare_warmth(found)
    return {
        "runs": [_json(one) for one in compared.runs],
        "more": max(0, len(having) - MOST_RUNS),
        "refused": compared.refused,
        "unknown": list(compared.unknown),
        "against": [figure_json(one) for one in compared.against],
    }


def _is_read(run: Run, one: RanRun) -> bool:
    return _warmed(run, one, {}) is not None


def _warmed(run: Run, one: RanRun, before: Mapping[int, int]) -> Warmed | None:
    return warmed(
        one.core.key,
        one.core.points,
        start_rise_k=(run.reduction.result or {}).get("start_rise_k"),
        air_c=run.air_temp_c,
        timed=run.origin != "typed",
        runs_before=before.get(run.pk, 0),
    )


def _runs_before(chosen: Sequence[Run]) -> dict[int, int]:
    """Run → how many of its sample went before without time to cool; one query."""
    windows = [
        Q(sample=run.sample_id, started_at__range=(run.started_at - LOOKED_BACK, run.started_at))
        for run in chosen
    ]
    rows = (
        Run.objects.filter(reduce(or_, windows))
        .order_by("started_at", "pk")
        .annotate(end_s=Max("segments__end_s"))
        .values_list("pk", "sample", "origin", "started_at", "end_s")
    )
    of_sample: dict[int, list[tuple[int, float, float]]] = {}
    for pk, sample, origin, started_at, end_s in rows:
        start = started_at.timestamp()
        # Typed rows have an order and no seconds.
        length = 0.0 if origin == "typed" else end_s or 0.0
        of_sample.setdefault(sample, []).append((pk, start, start + length))
    found: dict[int, int] = {}
    for runs in of_sample.values():
        counts = runs_before(
            [start for _, start, _ in runs],
            [end for _, _, end in runs],
            cooled_after_s=COOLED_AFTER_S,
        )
        found |= {pk: count for (pk, _, _), count in zip(runs, counts, strict=True)}
    return {run.pk: found.get(run.pk, 0) for run in chosen}


def _json(one: Warmed) -> dict[str, Any]:
    return {
        "run": int(one.key.removeprefix("run ")),
        "before": figure_json(one.before),
        "after": figure_json(one.after),
        "rise": figure_json(one.rise),
        "air_c": one.air_c,
        "span_s": one.span_s,
        "readings": one.readings,
        "runs_before": one.runs_before,
    }
