"""A cohort of motors scored, with how sure its places are and what would settle them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from spindle_core.compare.bounds import Standing, at_most
from spindle_core.errors import CoreError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.said import figure as in_words
from spindle_core.rank.criteria import MEASURES, MeasuredBy
from spindle_core.rank.rank_confidence import RankConfidence, rank_confidence
from spindle_core.rank.scoring import Criterion, Entry, Scored, Snapshot, score_cohort
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rank.judging import Asked, Judged, currency_of, judged_of, key_of, load_from
from spindle_server.rank.models import KeptRanking
from spindle_server.rank.said import (
    beaten,
    families,
    leader,
    left_open,
    price_of_lead,
    remarks,
    settle,
    swap,
    ties,
    warnings_of,
)
from spindle_server.records.kept import kept
from spindle_server.runs.ran import evidence_revision, motors_with_runs
from spindle_server.runs.stated import figure_json

SEED = 1


def ranking(asked: Asked) -> dict[str, Any]:
    """The whole ranking."""
    chosen, more = motors_with_runs(load_from(asked.load), asked.sizes)
    facts = facts_of(chosen)
    currency = currency_of(facts)
    members, fallen = _members(facts, asked, currency)
    judged = judged_of({pk: facts[pk] for pk in members}, asked, currency)
    run = [entry for entry in judged.entries.values() if _was_run(entry, asked.criteria)]
    try:
        snapshot = score_cohort(run, asked.criteria) if run else None
    except CoreError as error:
        raise ServiceError(error.message, code=error.code) from error
    scored = [] if snapshot is None else [one for one in snapshot.scored if one.place is not None]
    confidence = None
    if len(scored) > 1:
        confidence = rank_confidence(run, asked.criteria, seed=SEED)
    settled = None if snapshot is None else settle(snapshot, judged, facts)
    return {
        "loads": [
            {"key": key_of(load), "words": load.words, "motors": count}
            for load, count in judged.loads
        ],
        "load": key_of(judged.load) if judged.load else "",
        "currency": currency,
        "sizes": _sizes(),
        "measures": [_measure(name, judged, asked) for name in MEASURES],
        "rows": [
            _row(one, facts, judged, confidence, currency)
            for one in [*(snapshot.scored if snapshot else ()), *_not_run(judged, run, asked)]
        ],
        "fallen_out": fallen,
        "ties": [] if confidence is None else ties(confidence, scored),
        "leader": leader(scored, confidence, facts),
        "swap": None if snapshot is None else swap(snapshot, facts),
        "settle": settled,
        "left_open": "" if snapshot is None or settled else left_open(snapshot, confidence, facts),
        "beaten": beaten(judged, facts),
        "families": families(judged, facts),
        "price_of_lead": price_of_lead(scored, judged, facts, confidence, currency),
        "remarks": remarks(judged, asked, facts, more),
    }


def _was_run(entry: Entry, criteria: Sequence[Criterion]) -> bool:
    """Whether a run tells any of what is weighed: mass and price alone rank nobody, unless nothing
    else is asked for."""
    weighed = [one.name for one in criteria if one.weight > 0]
    by_run = [name for name in weighed if MEASURES[name].by not in _WITHOUT_A_RUN]
    return any(name in entry.figures for name in by_run or weighed)


_WITHOUT_A_RUN = (MeasuredBy.SCALE, MeasuredBy.RECEIPT)


def _not_run(judged: Judged, run: Sequence[Entry], asked: Asked) -> list[Scored]:
    """The rest of the cohort, unranked."""
    names = {entry.name for entry in run}
    missing = tuple(one.name for one in asked.criteria if one.weight > 0)
    unranked = Absent("not_run", NO_RUN)
    return [
        Scored(name, {}, unranked, None, unranked, unranked, missing, None)
        for name in judged.entries
        if name not in names
    ]


def _sizes() -> list[str]:
    """Sizes that were run; kept, since it looks at every run there is."""
    return kept("sizes-run", evidence_revision(), _sizes_run)


def _sizes_run() -> list[str]:
    codes = MotorModel.objects.exclude(size_code="").filter(samples__runs__isnull=False)
    return sorted(set(codes.order_by().values_list("size_code", flat=True).distinct()))


def _members(
    facts: Mapping[int, Facts], asked: Asked, currency: str
) -> tuple[list[int], list[dict[str, Any]]]:
    """Who is in the cohort, and who a hard bound leaves out, with the reason."""
    members, fallen = [], []
    for pk, one in facts.items():
        why = _beyond(one, asked, currency)
        if pk in asked.without:
            why = "left out by hand"
        if why:
            fallen.append({"motor": pk, "full_name": one.motor.full_name, "why": why})
        else:
            members.append(pk)
    return members, fallen


def _beyond(one: Facts, asked: Asked, currency: str) -> str:
    """Which hard bound a motor breaks; what is not known breaks it too, and is said."""
    if asked.most_mass_g is not None:
        if isinstance(one.mass_g, Absent):
            return f"its mass is not known: {one.mass_g.note}"
        if at_most(one.mass_g, asked.most_mass_g) is Standing.BROKEN:
            weighs = in_words(one.mass_g.value, one.mass_g.u, "g")
            return f"weighs {weighs}, above {asked.most_mass_g:g} g"
    if asked.most_price is not None:
        if isinstance(one.price, Absent) or one.currency != currency:
            return f"its price in {currency or 'money'} is not known"
        if one.price.value > asked.most_price:
            return f"costs {one.price.value:.2f} {currency}, above {asked.most_price:g} {currency}"
    if asked.cells is not None:
        low, high = one.cells_min, one.cells_max
        if high is not None and asked.cells > high:
            return f"is claimed for up to {high:g} cells"
        if low is not None and asked.cells < low:
            return f"is claimed for {low:g} cells and more"
    return ""


def _measure(name: str, judged: Judged, asked: Asked) -> dict[str, Any]:
    """A criterion with its weight, how it is read, and how many motors have it."""
    measure = MEASURES[name]
    condition = judged.cohort.conditions.get(name)
    weights = {one.name: one.weight for one in asked.criteria}
    return {
        "name": name,
        "label": measure.label,
        "unit": measure.unit,
        "lower_is_better": measure.lower_is_better,
        "weight": weights.get(name, 0.0),
        "load": condition.load.words if condition and condition.load else "",
        "level": condition.level if condition else None,
        "at": measure.at,
        "by": str(measure.by),
        "motors": sum(name in entry.figures for entry in judged.entries.values()),
    }


def _number(value: float | Absent) -> float | None:
    return None if isinstance(value, Absent) else value


def _finite(values: Floats, at: int | None) -> float | None:
    return None if at is None or math.isnan(values[at]) else float(values[at])


def _row(
    one: Scored,
    facts: Mapping[int, Facts],
    judged: Judged,
    confidence: RankConfidence | None,
    currency: str,
) -> dict[str, Any]:
    own = facts[int(one.name)]
    entry = judged.entries[one.name]
    at = None
    if confidence is not None and one.name in confidence.names:
        at = confidence.names.index(one.name)
    return {
        "motor": own.motor.pk,
        "full_name": own.motor.full_name,
        "size_code": own.size_code,
        "version": own.motor.version,
        "verdict": own.motor.verdict,
        "place": one.place,
        "total": _number(one.total),
        "total_u": _finite(confidence.total_u, at) if confidence else None,
        "why_unranked": _why_unranked(one),
        "per_mass": _number(one.per_mass),
        "per_mass_u": _finite(confidence.per_mass_u, at) if confidence else None,
        "per_price": _number(one.per_price),
        "per_price_u": _finite(confidence.per_price_u, at) if confidence else None,
        "places": []
        if at is None or confidence is None
        else [round(float(p), 4) for p in confidence.probability[at]],
        "place_from": None if at is None or confidence is None else confidence.interval[at][0],
        "place_to": None if at is None or confidence is None else confidence.interval[at][1],
        "figures": [
            {
                "name": name,
                "score": one.scores.get(name),
                "score_u": _finite(confidence.score_u[name], at)
                if confidence and name in confidence.score_u
                else None,
                "figure": figure_json(figure),
                **_counts(judged, one.name, name),
            }
            for name, figure in entry.figures.items()
        ],
        "missing": [
            {"name": name, "why": _why_missing(name, own, judged, currency)} for name in one.missing
        ],
        "mass_g": figure_json(own.mass_g),
        "price": figure_json(own.price),
        "price_currency": own.currency,
        "price_words": own.price_words,
        "warnings": warnings_of(one.name, own, judged),
    }


def _why_unranked(one: Scored) -> str:
    if not isinstance(one.total, Absent):
        return ""
    if not one.scores:
        return NO_RUN
    lacks = [MEASURES[name].label.lower() for name in one.missing]
    return f"more than half of the weight is missing: {', '.join(lacks)}"


def _why_missing(name: str, own: Facts, judged: Judged, currency: str) -> str:
    """Why a motor has no figure of a criterion."""
    by = MEASURES[name].by
    if by is MeasuredBy.SCALE:
        return own.mass_g.note if isinstance(own.mass_g, Absent) else ""
    if by is MeasuredBy.RECEIPT:
        if isinstance(own.price, Absent):
            return own.price.note
        if own.currency != currency:
            return f"its price is in {own.currency or 'no currency'}, the others' in {currency}"
        return NOT_SCORED
    absent = judged.cohort.absent.get(str(own.motor.pk), {}).get(name)
    if absent is not None:
        return absent.note or absent.reason
    if name not in judged.cohort.conditions:
        return "no run of the cohort tells it"
    return NO_RUN


NO_RUN = "no run that counts under this load"
NOT_SCORED = "it is 0, which nothing is scored by"


def _counts(judged: Judged, motor: str, name: str) -> dict[str, Any]:
    found = judged.cohort.figures.get(motor, {}).get(name)
    return {
        "samples": None if found is None else found.samples,
        "runs": None if found is None else found.runs,
        "filled": name in judged.cohort.filled.get(motor, ()),
    }


def as_content(result: Mapping[str, Any]) -> dict[str, Any]:
    """A ranking as it is kept: criteria with weights, and each motor's figures."""
    return {
        "criteria": [
            {"name": one["name"], "weight": one["weight"]}
            for one in result["measures"]
            if one["weight"] > 0
        ],
        "motors": [
            {
                "motor": row["motor"],
                "full_name": row["full_name"],
                "place": row["place"],
                "total": row["total"],
                "figures": {
                    one["name"]: one["figure"]["value"]
                    for one in row["figures"]
                    if one["figure"]["value"] is not None
                },
            }
            for row in result["rows"]
        ],
    }


def snapshot_of(content: Mapping[str, Any]) -> Snapshot:
    """A kept ranking for the core."""
    criteria = [
        Criterion(one["name"], one["weight"], MEASURES[one["name"]].lower_is_better)
        for one in content["criteria"]
    ]
    entries = [
        Entry(row["full_name"], {k: Measured(v) for k, v in row["figures"].items()})
        for row in content["motors"]
    ]
    return score_cohort(entries, criteria)


def kept_rankings() -> list[KeptRanking]:
    """Kept rankings, the newest first."""
    return list(KeptRanking.objects.select_related("kept_by")[:50])
