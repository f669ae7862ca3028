"""A cohort of motors scored, with how sure its places are and what would settle them."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.core.cache import cache

from spindle_core.compare.bench_table import Load
from spindle_core.compare.groups import performs_the_same
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.rank.cohort import KIND_OF_RUN, Cohort, cohort_of
from spindle_core.rank.criteria import MEASURES, MeasuredBy
from spindle_core.rank.dominance import Dominance, dominated, marginal_price
from spindle_core.rank.rank_confidence import (
    SURE,
    RankConfidence,
    rank_confidence,
    tie_words,
    tied_places,
    weight_swaps,
)
from spindle_core.rank.scoring import PRESETS, Criterion, Entry, Scored, Snapshot, score_cohort
from spindle_core.rank.settle import settlings
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rank.models import KeptRanking
from spindle_server.runs.models import Run
from spindle_server.runs.ran import (
    counted_runs,
    curve_loads,
    evidence_of,
    evidence_revision,
    load_of,
    motors_with_runs,
    ratings_of,
)
from spindle_server.runs.stated import figure_json

SEED = 1
KEPT_S = 24 * 3600
LOWER = frozenset(name for name, one in MEASURES.items() if one.lower_is_better)
MOST_TOLD = 6


@dataclass(frozen=True, slots=True)
class Asked:
    """What a ranking is asked for. ``weights`` empty: those of the ``use``."""

    use: str = "equal"
    weights: Mapping[str, float] = field(default_factory=dict)
    load: str = ""
    thrust_gf: float | None = None
    shaft_power_w: float | None = None
    fill: bool = False
    sizes: tuple[str, ...] = ()
    without: tuple[int, ...] = ()
    cells: int | None = None
    most_mass_g: float | None = None
    most_price: float | None = None

    @property
    def criteria(self) -> tuple[Criterion, ...]:
        """The criteria with their weights."""
        if not self.weights:
            return PRESETS[self.use]
        return tuple(
            Criterion(name, weight, MEASURES[name].lower_is_better)
            for name, weight in self.weights.items()
        )


@dataclass(slots=True)
class Judged:
    """What of a cohort does not depend on weights: kept as long as its runs stay as they are."""

    cohort: Cohort
    loads: list[tuple[Load, int]]
    load: Load | None
    overruns: dict[str, int]
    unreviewed: int
    entries: dict[str, Entry]
    dominance: list[Dominance]
    families: list[tuple[str, ...]]


def key_of(load: Load) -> str:
    """A load as an address carries it."""
    return f"{load.propeller}|{load.supply}|{load.voltage_v:g}"


def load_from(key: str) -> Load | None:
    """The load of an address; None where none is named.

    :raises ServiceError: text that is no load.
    """
    if not key:
        return None
    parts = key.rsplit("|", 2)
    wrong = ServiceError(f"{key!r} is no load of a ranking.", code="load")
    try:
        volts = float(parts[2])
    except (IndexError, ValueError) as error:
        raise wrong from error
    if not 0 <= volts < 1000:
        raise wrong
    return Load(parts[0], parts[1], volts)


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
        "ties": [] if confidence is None else _ties(confidence, scored),
        "leader": _leader(scored, confidence, facts),
        "swap": None if snapshot is None else _swap(snapshot, facts),
        "settle": None if snapshot is None else _settle(snapshot, judged, facts),
        "beaten": _beaten(judged, facts),
        "families": _families(judged, facts),
        "price_of_lead": _price_of_lead(scored, judged, facts, confidence, currency),
        "remarks": _remarks(judged, asked, facts, more),
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
    unranked = Absent("not_run", "no run that counts under this load")
    return [
        Scored(name, {}, unranked, None, unranked, unranked, missing, None)
        for name in judged.entries
        if name not in names
    ]


def _sizes() -> list[str]:
    """Sizes that were run."""
    codes = MotorModel.objects.exclude(size_code="").filter(samples__runs__isnull=False)
    return sorted(set(codes.order_by().values_list("size_code", flat=True).distinct()))


def currency_of(facts: Mapping[int, Facts]) -> str:
    """The currency that most prices are in; others are not compared."""
    found = [one.currency for one in facts.values() if one.currency]
    return max(sorted(set(found)), key=found.count) if found else ""


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
        if one.mass_g.value > asked.most_mass_g:
            return f"weighs {one.mass_g.value:.1f} g, above {asked.most_mass_g:g} g"
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


def judged_of(facts: Mapping[int, Facts], asked: Asked, currency: str) -> Judged:
    """The cohort's figures, kept by everything that they rest on."""
    rests_on = repr(
        (
            evidence_revision(),
            sorted(facts),
            asked.load,
            asked.thrust_gf,
            asked.shaft_power_w,
            asked.fill,
            currency,
        )
    )
    key = f"cohort:{hashlib.sha256(rests_on.encode()).hexdigest()}"
    kept: Judged | None = cache.get(key)
    if kept is None:
        kept = _judge(facts, asked, currency)
        cache.set(key, kept, KEPT_S)
    return kept


def _judge(facts: Mapping[int, Facts], asked: Asked, currency: str) -> Judged:
    loads = curve_loads(list(facts))
    wanted, known = load_from(asked.load), [load for load, _ in loads]
    load = wanted if wanted in known else next(iter(known), None)
    # Runs under other loads are only read where they are to stand in.
    runs = counted_runs(list(facts), None if asked.fill else load)
    evidence = evidence_of(runs, ratings_of(facts))
    cohort = cohort_of(
        evidence.runs,
        load=load,
        common_thrust_gf=asked.thrust_gf,
        shaft_power_w=asked.shaft_power_w,
        fill=asked.fill,
    )
    entries = {str(pk): _entry(str(pk), one, cohort, currency) for pk, one in facts.items()}
    measured = {
        name: {
            key: figure
            for key, figure in entry.figures.items()
            if MEASURES[key].by is not MeasuredBy.SCALE
            and MEASURES[key].by is not MeasuredBy.RECEIPT
            and figure.origin is not Origin.ESTIMATED
        }
        for name, entry in entries.items()
    }
    curves = cohort.conditions.get("max_thrust_gf")
    return Judged(
        cohort,
        loads,
        curves.load if curves else None,
        evidence.overruns,
        evidence.unreviewed,
        entries,
        dominated(_choices(entries), lower_is_better=LOWER),
        list(performs_the_same({n: f for n, f in measured.items() if len(f) > 1}).groups),
    )


WEIGHED_UP = (
    "max_thrust_gf",
    "efficiency_g_per_w",
    "peak_torque_nm",
    "response_rpm_per_s",
    "mass_g",
    "price",
)
"""Criteria in which one motor has to beat another to beat it in everything."""


def _choices(entries: Mapping[str, Entry]) -> dict[str, dict[str, Measured]]:
    """What the motors that were run offer: a mass and a price alone beat nobody."""
    return {
        name: {key: entry.figures[key] for key in WEIGHED_UP if key in entry.figures}
        for name, entry in entries.items()
        if {"max_thrust_gf", "efficiency_g_per_w"} <= entry.figures.keys()
    }


def _entry(name: str, one: Facts, cohort: Cohort, currency: str) -> Entry:
    figures = {key: found.figure for key, found in cohort.figures.get(name, {}).items()}
    if isinstance(one.mass_g, Measured):
        figures["mass_g"] = one.mass_g
    price = None
    if isinstance(one.price, Measured) and one.currency == currency:
        figures["price"] = one.price
        price = one.price.value
    mass = one.mass_g.value if isinstance(one.mass_g, Measured) else None
    return Entry(name, figures, mass, price, one.price_words, one.losses)


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
        "total_u": None if at is None or confidence is None else float(confidence.total_u[at]),
        "why_unranked": _why_unranked(one),
        "per_mass": _number(one.per_mass),
        "per_price": _number(one.per_price),
        "places": []
        if at is None or confidence is None
        else [round(float(p), 4) for p in confidence.probability[at]],
        "place_from": None if at is None or confidence is None else confidence.interval[at][0],
        "place_to": None if at is None or confidence is None else confidence.interval[at][1],
        "figures": [
            {
                "name": name,
                "score": one.scores.get(name),
                "figure": figure_json(figure),
                **_counts(judged, one.name, name),
            }
            for name, figure in entry.figures.items()
        ],
        "missing": list(one.missing),
        "mass_g": figure_json(own.mass_g),
        "price": figure_json(own.price),
        "price_currency": own.currency,
        "price_words": own.price_words,
        "warnings": _warnings(one.name, own, judged),
    }


def _why_unranked(one: Scored) -> str:
    if not isinstance(one.total, Absent):
        return ""
    if not one.scores:
        return "no run that counts under this load"
    lacks = [MEASURES[name].label.lower() for name in one.missing]
    return f"more than half of the weight is missing: {', '.join(lacks)}"


def _counts(judged: Judged, motor: str, name: str) -> dict[str, Any]:
    found = judged.cohort.figures.get(motor, {}).get(name)
    return {
        "samples": None if found is None else found.samples,
        "runs": None if found is None else found.runs,
        "filled": name in judged.cohort.filled.get(motor, ()),
    }


def _many(count: int, noun: str) -> str:
    return f"{count} {noun}{'' if count == 1 else 's'}"


def _warnings(name: str, own: Facts, judged: Judged) -> list[str]:
    """What stands beside a score and is not in it."""
    found = []
    lost, there = own.losses
    if lost:
        found.append(f"{lost} of {there} lost on test")
    faults = [f"{kind.lower()}" + (f" × {n}" if n > 1 else "") for kind, n in own.faults.items()]
    if faults:
        found.append(", ".join(faults))
    if beyond := judged.overruns.get(name):
        found.append(f"{_many(beyond, 'point')} beyond the rating left out")
    samples = [one.samples for one in judged.cohort.figures.get(name, {}).values() if one.samples]
    if samples and max(samples) == 1:
        found.append("one sample only")
    if own.motor.pk and judged.cohort.filled.get(name):
        found.append("partly estimated from other propellers")
    return found


def _ties(confidence: RankConfidence, scored: Sequence[Scored]) -> list[str]:
    return tie_words(tied_places(confidence, [one.name for one in scored]))


def _leader(
    scored: Sequence[Scored], confidence: RankConfidence | None, facts: Mapping[int, Facts]
) -> dict[str, Any] | None:
    """Who leads, and how surely."""
    if not scored or confidence is None:
        return None
    first = scored[0].name
    return {
        "motor": int(first),
        "full_name": facts[int(first)].motor.full_name,
        "probability": confidence.of(first, 1),
    }


def _swap(snapshot: Snapshot, facts: Mapping[int, Facts]) -> dict[str, Any] | None:
    """The smallest change of one weight that would swap the first two."""
    swaps = weight_swaps(snapshot)
    if isinstance(swaps, Absent) or not swaps:
        return None
    least = swaps[0]
    second = snapshot.scored[1]
    return {
        "name": least.criterion,
        "weight": least.weight,
        "needed": least.needed,
        "sentence": (
            f"{facts[int(second.name)].motor.full_name} would lead if "
            f"“{MEASURES[least.criterion].label}” weighed {least.needed:.2f} "
            f"instead of {least.weight:g}."
        ),
    }


_DO = {
    MeasuredBy.CURVE: "run of plateaus",
    MeasuredBy.PEAK: "run of bursts",
    MeasuredBy.FLYWHEEL: "flywheel run",
    MeasuredBy.RESPONSE: "run of response cycles",
    MeasuredBy.SOAK: "soak",
}


def _settle(
    snapshot: Snapshot, judged: Judged, facts: Mapping[int, Facts]
) -> dict[str, Any] | None:
    """The run that would tell most about who leads."""
    counts = {
        (motor, name): (one.samples, one.runs)
        for motor, figures in judged.cohort.figures.items()
        for name, one in figures.items()
        if one.samples
    }
    found = settlings(snapshot, counts)
    if isinstance(found, Absent) or not found:
        return None
    best = found[0]
    name = next(key for key, one in MEASURES.items() if one.by is best.kind)
    condition = judged.cohort.conditions.get(name)
    load = condition.load if condition else None
    motor = facts[int(best.motor)].motor
    what = f"One more {_DO[best.kind]}"
    of = "another sample of " if best.another_sample else ""
    under = f" ({load.words})" if load else ""
    return {
        "motor": motor.pk,
        "kind": str(best.kind),
        "another_sample": best.another_sample,
        **_mounted(motor, best.kind, best.another_sample, load),
        "now": best.now,
        "after": best.after,
        "sentence": (
            f"{what} of {of}{motor.full_name}{under} would settle most: who leads is known with "
            f"{100 * best.now:.0f} %, afterwards with {100 * best.after:.0f} % on average."
        ),
    }


def _mounted(
    motor: MotorModel, kind: MeasuredBy, another: bool, load: Load | None
) -> dict[str, int | None]:
    """What to mount for a run like those there are: a sample that is still there, propeller and
    supply; None where there is none."""
    runs = Run.objects.filter(kind__in=[key for key, by in KIND_OF_RUN.items() if by is kind])
    like = next(
        (
            run
            for run in runs.select_related("propeller__maker", "supply").order_by("-pk")[:200]
            if load is not None and load_of(run) == load
        ),
        None,
    )
    made = Counter(runs.filter(sample__motor=motor).values_list("sample", flat=True))
    left = [
        sample.pk
        for sample in motor.samples.all()
        if not any(row.destroyed for row in sample.incidents.all())
        and not (another and made[sample.pk])
    ]
    return {
        "sample": max(left, key=lambda pk: made[pk], default=None),
        "propeller": like.propeller_id if like else None,
        "supply": like.supply_id if like else None,
    }


def _beaten(judged: Judged, facts: Mapping[int, Facts]) -> list[dict[str, Any]]:
    """Who is beaten or equalled in everything that both have, by whom."""
    worst: dict[str, Dominance] = {}
    for one in judged.dominance:
        known = worst.get(one.worse)
        if known is None or one.confidence > known.confidence:
            worst[one.worse] = one
    found = []
    for one in sorted(worst.values(), key=lambda item: -item.confidence)[:MOST_TOLD]:
        better, worse = (facts[int(name)].motor.full_name for name in (one.better, one.worse))
        shared = [
            name
            for name in WEIGHED_UP
            if all(name in judged.entries[who].figures for who in (one.better, one.worse))
        ]
        level = [MEASURES[name].label.lower() for name in one.only_if]
        rest = f"; level in {', '.join(level)}" if level else ""
        found.append(
            {
                "better": int(one.better),
                "worse": int(one.worse),
                "confidence": one.confidence,
                "sentence": (
                    f"{better} before {worse} in all {len(shared)} criteria that both "
                    f"have{rest} (at least {100 * one.confidence:.0f} % sure in each)."
                ),
            }
        )
    return found


def _families(judged: Judged, facts: Mapping[int, Facts]) -> list[dict[str, Any]]:
    """Models that were shown to perform the same."""
    return [
        {
            "motors": [int(name) for name in group],
            "sentence": (
                " and ".join(facts[int(name)].motor.full_name for name in group)
                + " perform the same within ±2 % in everything measured of both."
            ),
        }
        for group in judged.families
    ]


def _price_of_lead(
    scored: Sequence[Scored],
    judged: Judged,
    facts: Mapping[int, Facts],
    confidence: RankConfidence | None,
    currency: str,
) -> str:
    """What the dearer of the first two costs for what it adds; empty where that is not known."""
    if len(scored) < 2 or confidence is None:
        return ""
    told = []
    for one in scored[:2]:
        entry = judged.entries[one.name]
        if entry.price is None or entry.mass_g is None or isinstance(one.total, Absent):
            return ""
        told.append((facts[int(one.name)].motor.full_name, entry.price, entry.mass_g, one.total))
    price = marginal_price(told[0], told[1])
    if isinstance(price, Absent):
        return ""
    ahead = confidence.ahead[
        confidence.names.index(scored[0].name), confidence.names.index(scored[1].name)
    ]
    parts = []
    if ahead < SURE:
        parts.append("no lead in the score is measurable")
    elif not isinstance(price.per_percent_gained, Absent):
        parts.append(f"{price.per_percent_gained:.2f} {currency} per 1 % of the score gained")
    else:
        parts.append("and is behind")
    if not isinstance(price.per_gram_saved, Absent):
        parts.append(f"{price.per_gram_saved:.2f} {currency} per gram saved")
    extra = f"{price.dearer} costs {price.extra:.2f} {currency} more than {price.cheaper}"
    return f"{extra}: {', '.join(parts)}."


def _remarks(judged: Judged, asked: Asked, facts: Mapping[int, Facts], more: int) -> list[str]:
    found = []
    if more:
        found.append(
            f"{_many(more, 'more motor')} with runs: choose sizes or a load to see others."
        )
    if judged.unreviewed:
        found.append(
            f"{_many(judged.unreviewed, 'run')} that nobody has reviewed yet "
            f"{'counts' if judged.unreviewed == 1 else 'count'}; rejected runs do not."
        )
    assumed = any(
        key.startswith("assumed_sample")
        for entry in judged.entries.values()
        for figure in entry.figures.values()
        for key in figure.components
    )
    if assumed:
        found.append(
            "What samples of one model differ by is assumed where too few were run "
            "(2 % of thrust, 1.5 % of gf/W, 3 to 8 % of the rest)."
        )
    if asked.fill:
        found += [
            f"{MEASURES[name].label} could not be estimated: {table.note}."
            for name, table in judged.cohort.factors.items()
            if isinstance(table, Absent)
        ]
    return found


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
