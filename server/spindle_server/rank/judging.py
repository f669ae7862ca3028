"""A cohort judged: all that does not depend on weights, kept while its runs stand."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field

from django.core.cache import cache

from spindle_core.compare.bench_table import Load
from spindle_core.compare.groups import performs_the_same
from spindle_core.figures.measured import Measured, Origin
from spindle_core.rank.cohort import Cohort, cohort_of
from spindle_core.rank.criteria import MEASURES, MeasuredBy
from spindle_core.rank.dominance import Dominance, dominated
from spindle_core.rank.scoring import PRESETS, Criterion, Entry
from spindle_server.errors import ServiceError
from spindle_server.rank.facts import Facts
from spindle_server.runs.ran import (
    counted_runs,
    curve_loads,
    evidence_of,
    evidence_revision,
    ratings_of,
)

KEPT_S = 24 * 3600


LOWER = frozenset(name for name, one in MEASURES.items() if one.lower_is_better)


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


def currency_of(facts: Mapping[int, Facts]) -> str:
    """The currency that most prices are in; others are not compared."""
    found = [one.currency for one in facts.values() if one.currency]
    return max(sorted(set(found)), key=found.count) if found else ""


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
    key = f"judged:{hashlib.sha256(rests_on.encode()).hexdigest()}"
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
