"""Stored runs as evidence for judging motors: whose, under which load, within their ratings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db.models import QuerySet

from spindle_core.compare.measured_run import strongest_point
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.measured import Figure, Measured
from spindle_core.formats.result_json import points_from_json
from spindle_core.rank.cohort import KIND_OF_RUN, Load, RanRun
from spindle_core.reduction.overrun import overruns, recommendable
from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.motors.models import Claim
from spindle_server.runs.as_core import SUPPLY_WORDS, figure_of
from spindle_server.runs.models import Run

RATINGS = {"max_current_a": "current_a", "max_power_w": "power_w"}
"""Claims that are limits, and the figure of a point that they limit."""

BURSTS = {"burst_current_a": "current_a", "burst_power_w": "power_w"}

FROM_STRONGEST = {"max_thrust_gf": "thrust_gf", "efficiency_at_max_g_per_w": "efficiency_g_per_w"}
"""Summary figures that are told anew where points are left out."""


@dataclass(slots=True)
class Evidence:
    """Runs of motors as the core takes them; keys of motors are their numbers in words.

    ``overruns``: motor → points beyond a rating that are left out. ``unreviewed``: runs that
    count although nobody has looked at them yet.
    """

    runs: list[RanRun] = field(default_factory=list)
    numbers: list[int] = field(default_factory=list)
    overruns: dict[str, int] = field(default_factory=dict)
    unreviewed: int = 0


def counted_runs(motors: Sequence[int]) -> QuerySet[Run]:
    """Runs of motors that tell a criterion, have figures and were not rejected."""
    return (
        Run.objects.filter(sample__motor__in=motors, kind__in=list(KIND_OF_RUN))
        .filter(reduction__result__isnull=False)
        .exclude(review="rejected")
        .order_by("pk")
    )


def fingerprints(runs: QuerySet[Run]) -> list[tuple[Any, ...]]:
    """What the evidence of runs depends on, without reading a result."""
    return list(
        runs.values_list(
            "pk",
            "version",
            "reduction__inputs_hash",
            "reduction__core_version",
            "stand__version",
            "supply__kind",
            "propeller__version",
        )
    )


def ratings_of(motors: Iterable[int]) -> dict[int, dict[str, float]]:
    """Motor → figure of a point → the most it is rated for."""
    found: dict[int, dict[str, float]] = {}
    rows = Claim.objects.filter(motor__in=motors, quantity__in=list(RATINGS), value__isnull=False)
    for claim in rows:
        own = found.setdefault(claim.motor_id, {})
        name, most = RATINGS[claim.quantity], claim.value or 0.0
        # Two sources that disagree: the smaller limits.
        own[name] = min(own.get(name, most), most)
    return found


def load_of(run: Run) -> Load:
    """What was mounted."""
    return Load(
        run.propeller.full_name if run.propeller else "",
        SUPPLY_WORDS[run.supply.kind] if run.supply else "",
        run.nominal_voltage_v or 0.0,
    )


def _burst_beyond(summary: dict[str, Figure], limits: dict[str, float]) -> bool:
    """Whether a burst went beyond a rating by more than its u."""
    return any(
        isinstance(figure := summary.get(name), Measured)
        and limited in limits
        and figure.value > limits[limited] + figure.u
        for name, limited in BURSTS.items()
    )


def evidence_of(runs: QuerySet[Run], ratings: dict[int, dict[str, float]]) -> Evidence:
    """The runs with their figures; points beyond a rating are left out unless it was justified."""
    found = Evidence()
    whole = runs.select_related(
        "sample", "propeller__maker", "supply", "stand", "reduction"
    ).prefetch_related("figures")
    for run in whole:
        motor = str(run.sample.motor_id)
        points = points_from_json(run.reduction.result or {"points": []})
        summary: dict[str, Figure] = {row.name: figure_of(row) for row in run.figures.all()}
        if not run.overrun_reason.strip():
            beyond = overruns(points, ratings.get(run.sample.motor_id, {}))
            if beyond:
                points = recommendable(points, beyond)
                found.overruns[motor] = found.overruns.get(motor, 0) + len(beyond)
                top = strongest_point(points)
                for name, of_point in FROM_STRONGEST.items():
                    if name in summary:
                        summary.pop(name)
                        if top is not None and of_point in top.figures:
                            summary[name] = top.figures[of_point]
            if _burst_beyond(summary, ratings.get(run.sample.motor_id, {})):
                summary.pop("burst_thrust_gf", None)
                found.overruns[motor] = found.overruns.get(motor, 0) + 1
        declared = run.stand.repeatability_rel if run.stand else None
        core = ComparedRun(
            f"run {run.pk}",
            points,
            ASSUMED_REPEATABILITY if declared is None else declared,
            "assumed_repeat" if declared is None else "repeat",
        )
        found.runs.append(RanRun(motor, run.sample.mark, run.kind, load_of(run), core, summary))
        found.numbers.append(run.pk)
        found.unreviewed += not run.review
    return found
