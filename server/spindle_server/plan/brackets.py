"""The bracket of each motor of a campaign: how far it may be loaded on one supply."""

from __future__ import annotations

import math
from typing import Any

from spindle_bench.errors import BenchError
from spindle_bench.profiles import highest_throttle_pct, profile_from_json
from spindle_bench.states import Outcome
from spindle_core.planning.bracket import Bracket, Rung, bracket
from spindle_server.plan.cells import Predicted
from spindle_server.rig.models import Supply
from spindle_server.runs.models import Run

FULL_PCT = 99.0
"""From here on a profile reaches full throttle."""


def brackets_of(made: Predicted, supply: Supply) -> list[dict[str, Any]]:
    """Of each row of the matrix, in its order."""
    assert made.found is not None
    ran, cut = _tried(made, supply)
    found = []
    for i, row in enumerate(made.known.rows):
        if i in made.known.away:
            # Of what is not at hand nothing is tried.
            continue
        sample = made.known.samples[i].pk
        rungs = []
        for j, column in enumerate(made.known.columns):
            used, used_u = _used(made, i, j)
            pair = (sample, made.known.propellers[j].pk)
            here = not made.cannot_sit(i, j) and j not in made.known.far
            rungs.append(
                Rung(j, column.name, used, used_u, ran=pair in ran, cut=pair in cut, may_mount=here)
            )
        one = bracket(rungs)
        found.append({"sample": sample, "name": row.name, **_json(made, one)})
    return found


def _used(made: Predicted, i: int, j: int) -> tuple[float, float]:
    found = made.found
    assert found is not None
    if not math.isfinite(float(found.figures["thrust_gf"][i, j])):
        return math.nan, math.nan
    name = found.limit_names[found.tightest[i, j]]
    return float(found.nearness[name][i, j]), float(found.nearness_u[name][i, j])


def _tried(made: Predicted, supply: Supply) -> tuple[set[tuple[int, int]], set[tuple[int, int]]]:
    """Pairs that ran to full throttle and were not cut, and pairs that a limit cut."""
    rows = (
        Run.objects.filter(
            sample__in=made.known.samples,
            propeller__in=made.known.propellers,
            nominal_voltage_v=supply.nominal_voltage_v,
            end__isnull=False,
        )
        .exclude(review="rejected")
        .exclude(kind="direction")
        .order_by()
        .values_list("sample", "propeller", "end__outcome", "profile")
    )
    ran, cut = set(), set()
    for sample, propeller, outcome, profile in rows:
        if outcome == Outcome.LIMIT:
            cut.add((sample, propeller))
        elif outcome == Outcome.COMPLETED and _top(profile) >= FULL_PCT:
            ran.add((sample, propeller))
    # What a limit once cut may have run through another day; the cut is what is said of it.
    return ran - cut, cut


def _top(profile: dict[str, Any] | None) -> float:
    """The highest throttle of a profile [%]; 0 of what has none, like an imported log."""
    if profile is None:
        return 0.0
    try:
        return highest_throttle_pct(profile_from_json(profile))
    except BenchError:
        # Of an older release, or of a kind that is no more.
        return 0.0


def _json(made: Predicted, one: Bracket) -> dict[str, Any]:
    def end(rung: Rung | None) -> dict[str, Any] | None:
        if rung is None:
            return None
        return {
            "propeller": made.known.propellers[rung.key].pk,
            "name": rung.name,
            "used": rung.used if math.isfinite(rung.used) else None,
            "used_u": rung.used_u if math.isfinite(rung.used_u) else None,
            "tried": rung.ran or rung.cut,
        }

    return {
        "below": end(one.below),
        "above": end(one.above),
        "next": end(one.next),
        "tried": one.tried,
        "words": one.words,
    }
