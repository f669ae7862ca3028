"""A ranking in words: ties, who leads and how surely, what would settle it, what a lead costs."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from spindle_core.compare.bench_table import Load
from spindle_core.compare.bounds import Standing, at_most
from spindle_core.compare.of_models import assumed_words
from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.said import figure as in_words
from spindle_core.rank.cohort import KIND_OF_RUN
from spindle_core.rank.criteria import MEASURES, MeasuredBy
from spindle_core.rank.dominance import Dominance, Priced, marginal_price
from spindle_core.rank.rank_confidence import (
    SURE,
    RankConfidence,
    lead_figure,
    tie_words,
    tied_places,
    weight_swaps,
)
from spindle_core.rank.scoring import Scored, Snapshot
from spindle_core.rank.settle import settlings, undecided
from spindle_server.motors.models import MotorModel
from spindle_server.rank.facts import Facts
from spindle_server.rank.judging import WEIGHED_UP, Asked, Judged
from spindle_server.runs.models import Run
from spindle_server.runs.taken import load_of

MOST_TOLD = 6


def many(count: int, noun: str) -> str:
    return f"{count} {noun}{'' if count == 1 else 's'}"


def warnings_of(name: str, own: Facts, judged: Judged) -> list[str]:
    """What stands beside a score and is not in it."""
    found = []
    lost, there = own.losses
    if lost:
        found.append(f"{lost} of {there} lost on test")
    faults = [f"{kind.lower()}" + (f" × {n}" if n > 1 else "") for kind, n in own.faults.items()]
    if faults:
        found.append(", ".join(faults))
    if beyond := judged.overruns.get(name):
        found.append(f"{many(beyond, 'point')} beyond the rating left out")
    samples = [one.samples for one in judged.cohort.figures.get(name, {}).values() if one.samples]
    if samples and max(samples) == 1:
        found.append("one sample only")
    if own.motor.pk and judged.cohort.filled.get(name):
        found.append("partly estimated from other propellers")
    return found


def ties(confidence: RankConfidence, scored: Sequence[Scored]) -> list[str]:
    return tie_words(tied_places(confidence, [one.name for one in scored]))


def leader(
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


def swap(snapshot: Snapshot, facts: Mapping[int, Facts]) -> dict[str, Any] | None:
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


def settle(snapshot: Snapshot, judged: Judged, facts: Mapping[int, Facts]) -> dict[str, Any] | None:
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
            f"{what} of {of}{motor.full_name}{under} would settle most: whether it or "
            f"{facts[int(best.against)].motor.full_name} leads is known with "
            f"{100 * best.now:.0f} %, afterwards with {100 * best.after:.0f} % on average."
        ),
    }


_OF_WHAT = {
    "calibration": "the calibration of the stand",
    "gravity": "gravity, where it is assumed",
    "level": "the arms of the stand",
    "assumed_sample": "what samples of one model differ by, which is assumed",
    "sample": "what samples of one model differ by",
    "repeat": "what runs differ by",
    "assumed_repeat": "what runs differ by, which is assumed",
}


def left_open(
    snapshot: Snapshot, confidence: RankConfidence | None, facts: Mapping[int, Facts]
) -> str:
    """Why no run would settle who leads, where it is not known surely; else blank."""
    told = undecided(snapshot)
    if isinstance(told, Absent) or confidence is None:
        return ""
    if confidence.of(told.first, 1) >= SURE:
        return ""
    first, other = (facts[int(name)].motor.full_name for name in (told.first, told.contender))
    what = _OF_WHAT.get(told.largest, told.largest.replace("_", " "))
    return (
        f"No one run more would settle whether {first} or {other} leads, which is known with "
        f"{100 * told.now:.0f} %: {100 * told.share:.0f} % of what is uncertain about it is {what}."
    )


NOT_FOR_LOADS = ("channels", "profile", "limits", "limits_off", "header", "noticed", "note")


def _mounted(
    motor: MotorModel, kind: MeasuredBy, another: bool, load: Load | None
) -> dict[str, int | None]:
    """What to mount for a run like those there are: a sample that is still there, propeller and
    supply; None where there is none."""
    runs = Run.objects.filter(kind__in=[key for key, by in KIND_OF_RUN.items() if by is kind])
    like = next(
        (
            run
            for run in runs.select_related("propeller__maker", "supply")
            .defer(*NOT_FOR_LOADS)
            .order_by("-pk")[:200]
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


def beaten(judged: Judged, facts: Mapping[int, Facts]) -> list[dict[str, Any]]:
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


def families(judged: Judged, facts: Mapping[int, Facts]) -> list[dict[str, Any]]:
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


def price_of_lead(
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
        entry, own = judged.entries[one.name], facts[int(one.name)]
        if entry.price is None or isinstance(own.mass_g, Absent) or isinstance(one.total, Absent):
            return ""
        told.append(Priced(own.motor.full_name, entry.price, own.mass_g, Measured(one.total)))
    ahead = confidence.ahead[
        confidence.names.index(scored[0].name), confidence.names.index(scored[1].name)
    ]
    lead = lead_figure(told[0].figure.value, told[1].figure.value, float(ahead))
    price = marginal_price(replace(told[0], figure=lead), told[1])
    if isinstance(price, Absent):
        return ""
    parts = []
    if ahead < SURE:
        parts.append("no lead in the score is measurable")
    elif isinstance(price.per_percent_gained, Measured):
        each = in_words(price.per_percent_gained.value, price.per_percent_gained.u, currency)
        parts.append(f"{each} per 1 % of the score gained")
    else:
        parts.append("and is behind")
    if isinstance(price.per_gram_saved, Measured):
        each = in_words(price.per_gram_saved.value, price.per_gram_saved.u, currency)
        parts.append(f"{each} per gram saved")
    extra = f"{price.dearer} costs {price.extra:.2f} {currency} more than {price.cheaper}"
    return f"{extra}: {', '.join(parts)}."


def remarks(judged: Judged, asked: Asked, facts: Mapping[int, Facts], more: int) -> list[str]:
    found = [
        f"{own.motor.full_name} weighs {in_words(own.mass_g.value, own.mass_g.u, 'g')}, which is "
        f"not told from {asked.most_mass_g:g} g: it stays."
        for own in (facts[int(name)] for name in judged.entries)
        if asked.most_mass_g is not None
        and isinstance(own.mass_g, Measured)
        and at_most(own.mass_g, asked.most_mass_g) is Standing.NOT_TOLD
    ]
    if more:
        found.append(f"{many(more, 'more motor')} with runs: choose sizes or a load to see others.")
    if judged.unreviewed:
        found.append(
            f"{many(judged.unreviewed, 'run')} that nobody has reviewed yet "
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
            f"({assumed_words()})."
        )
    if asked.fill:
        found += [
            f"{MEASURES[name].label} could not be estimated: {table.note}."
            for name, table in judged.cohort.factors.items()
            if isinstance(table, Absent)
        ]
    return found
