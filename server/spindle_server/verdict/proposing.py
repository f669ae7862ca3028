"""What may be said: statements proposed from the data, for and against, the weakest first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from spindle_core.compare.bench_table import FULL, Load, usual_level
from spindle_core.compare.delta import Outcome
from spindle_core.compare.subjects import Grouping, Subject
from spindle_core.figures.measured import Absent
from spindle_core.publish.against import Bought, made_otherwise, price_against
from spindle_core.publish.halves import CONDITIONS, ComparedPair, halves, open_questions, sentence
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.statements import Statement, SubjectMotor, of_motor, weakest_first
from spindle_core.rank.rank_confidence import lead_words
from spindle_server.identification.models import identified_state
from spindle_server.motors.models import MotorModel
from spindle_server.records.kept import kept
from spindle_server.records.revision import whole_record
from spindle_server.rig.selectors import declaration
from spindle_server.runs.ran import MOST_MOTORS, counted_runs, motors_with_runs
from spindle_server.verdict.evidence import MotorEvidence
from spindle_server.verdict.looking import Looking, runs_of
from spindle_server.verdict.models import Verdict

MOST_LOADS = 3
"""Shared loads of two motors that are held against each other; those with most runs."""

MOST_RIVALS = 12


@dataclass(frozen=True, slots=True)
class Proposals:
    """Statements in the order they should be checked in, and whole sentences without figures.

    ``against``: the motor it is held against, None where there is none; ``rivals``: whom it could
    be held against, those with most loads in common first.
    """

    statements: list[Statement]
    sentences: list[str]
    against: int | None
    rivals: list[MotorModel]


def proposals(verdict: Verdict, against: int | None, looking: Looking) -> Proposals:
    """Everything that may be said in a verdict."""
    if verdict.comparison is not None:
        return _of_comparison(looking)
    if verdict.motor_id is None:
        return _of_cohort(looking)
    assert verdict.motor_id is not None
    rivals = _rivals(verdict.motor_id)
    held = against if against is not None else (rivals[0].pk if rivals else None)
    looking.read([verdict.motor_id, *([held] if held else [])])
    motor = looking.motor(str(verdict.motor_id))
    assert motor is not None
    found = of_motor(known_motor(motor))
    sentences: list[str] = []
    other = looking.motor(str(held)) if held is not None else None
    if other is not None and other.motor.pk != motor.motor.pk:
        for pair in _pairs(motor, other, looking):
            found += halves(pair) + open_questions(pair)
            sentences.append(sentence(pair))
        own, theirs = _bought(motor), _bought(other)
        found += made_otherwise(own, theirs)
        priced = price_against(own, theirs)
        found += [] if priced is None else [priced]
    return Proposals(weakest_first(_each_once(found)), _whole(sentences), held, rivals)


WORDS_ONLY = ("verdict", "publish", "accounts")
"""What is said, and who says it; no figure rests on it."""


def rests_on(verdict: Verdict, against: int | None) -> tuple[Any, ...]:
    """What everything that may be said or quoted in a verdict depends on."""
    of = (verdict.motor_id, verdict.comparison_id, verdict.ranking_id)
    return (of, against, whole_record(but=WORDS_ONLY), identified_state())


def proposed(verdict: Verdict, against: int | None, looking: Looking) -> Proposals:
    """The same as :func:`proposals`, kept as long as nothing of what it rests on is written."""
    return kept(
        "proposed", rests_on(verdict, against), lambda: proposals(verdict, against, looking)
    )


def _bought(one: MotorEvidence) -> Bought:
    facts = one.facts
    return Bought(
        one.key, _name(one), Found(facts.price), facts.currency, facts.price_words, one.made
    )


MOST_SENTENCES = 2


def _whole(sentences: Sequence[str]) -> list[str]:
    """A few sentences, those under the loads with most runs."""
    return [text for text in dict.fromkeys(sentences) if text][:MOST_SENTENCES]


def _each_once(statements: Sequence[Statement]) -> list[Statement]:
    return list({one.key: one for one in statements}.values())


def known_motor(one: MotorEvidence) -> SubjectMotor:
    """What the core words statements from; put together once."""
    if one.known is None:
        one.known = _known(one)
    return one.known


def _known(one: MotorEvidence) -> SubjectMotor:
    level = usual_level(one.runs, "thrust_gf") if one.runs else None
    constants = dict(one.constants())
    price = constants.pop("price")
    return SubjectMotor(
        one.key,
        one.table(FULL),
        one.table("thrust_gf", level) if level else [],
        one.motor.kv_label_rpm_per_v,
        one.claims,
        constants,
        price,
        one.facts.currency,
        one.facts.price_words,
        declaration().lead_length_mm,
        one.overruns,
        one.records(),
    )


def _rivals(motor: int) -> list[MotorModel]:
    """Other motors that were run under its loads, most in common first."""
    listed, _ = motors_with_runs(most=MOST_MOTORS)
    rows = (
        counted_runs([*listed, motor])
        .filter(propeller__isnull=False)
        .order_by()
        .values_list("sample__motor", "propeller", "supply__kind", "nominal_voltage_v")
        .distinct()
    )
    loads: dict[int, set[tuple[object, ...]]] = {}
    for pk, *load in rows:
        loads.setdefault(pk, set()).add(tuple(load))
    own = loads.pop(motor, set())
    shared = {pk: len(own & others) for pk, others in loads.items() if own & others}
    order = sorted(shared, key=lambda pk: (-shared[pk], pk))[:MOST_RIVALS]
    found = {row.pk: row for row in MotorModel.objects.select_related("maker").filter(pk__in=order)}
    return [found[pk] for pk in order]


def _pairs(motor: MotorEvidence, other: MotorEvidence, looking: Looking) -> list[ComparedPair]:
    """Both under each load they share, those with most runs first."""
    counts: dict[Load, int] = {}
    for run in motor.runs:
        counts[run.load] = counts.get(run.load, 0) + 1
    shared = {run.load for run in other.runs}
    loads = sorted((load for load in counts if load in shared), key=lambda one: (-counts[one], one))
    under = (_pair_under(motor, other, load, looking) for load in loads[:MOST_LOADS])
    return [pair for pair in under if pair is not None]


def _pair_under(
    motor: MotorEvidence, other: MotorEvidence, load: Load, looking: Looking
) -> ComparedPair | None:
    """Both under one load; None where one of them was not run under it."""
    held = looking.pair(motor, other, load)
    if len(held) != 2:
        return None
    quotes = {
        name: Quote(QuoteKind.DELTA, motor.key, name, load, against=other.key)
        for _, names in CONDITIONS
        for name in names
    }
    where = f" with the {load.words}" if load.propeller else ""
    return _pair(looking, held, 0, 1, quotes, _name(motor), _name(other), where)


def _name(one: MotorEvidence) -> str:
    return one.motor.full_name


def _pair(
    looking: Looking,
    held: Sequence[Subject],
    index: int,
    against: int,
    quotes: dict[str, Quote],
    own: str,
    other: str,
    where: str,
) -> ComparedPair:
    """Two subjects read at full throttle and at a thrust that both reach."""
    both = [*held[index].runs, *held[against].runs]
    level = usual_level(both, "thrust_gf")
    figures: list[dict[str, tuple[Quote, Found]]] = []
    for condition, names in CONDITIONS:
        read: dict[str, tuple[Quote, Found]] = {}
        for name in names:
            if condition != FULL and level is None:
                continue
            at = 0.0 if condition == FULL else (level or 0.0)
            quote = replace(quotes[name], condition=condition, level=at)
            read[name] = (quote, looking.one(quote))
        figures.append(read)
    return ComparedPair(
        own,
        other,
        len({run.sample for run in held[index].runs}),
        len({run.sample for run in held[against].runs}),
        figures[0],
        figures[1],
        level,
        where,
    )


def _of_comparison(looking: Looking) -> Proposals:
    """Each subject against the baseline; what nobody could tell apart in a section of its own."""
    held = looking.subjects()
    if len(held) < 2:
        return Proposals([], [], None, [])
    base = 0
    names = subject_names(held)
    found: list[Statement] = []
    sentences = []
    for index in range(len(held)):
        if index == base:
            continue
        key, other = str(runs_of(held[index])[0]), str(runs_of(held[base])[0])
        quotes = {
            name: Quote(QuoteKind.SUBJECT_DELTA, key, name, held[index].load, against=other)
            for _, listed in CONDITIONS
            for name in listed
        }
        pair = _pair(looking, held, index, base, quotes, names[index], names[base], "")
        pair = replace(
            pair,
            by_name=True,
            own_samples=_unnamed(held[index], pair.own_samples, names[index]),
            other_samples=_unnamed(held[base], pair.other_samples, names[base]),
        )
        found += [replace(half, section=_section(half)) for half in halves(pair)]
        found += open_questions(pair)
        sentences.append(sentence(pair))
    return Proposals(weakest_first(found), _whole(sentences), None, [])


MOST_NEXT = 3
"""Motors that the leader of a cohort is held against: those next to it."""


def _of_cohort(looking: Looking) -> Proposals:
    """The leader against those next to it, under the cohort's load."""
    cohort = looking.cohort()
    if cohort is None or cohort.load is None or not cohort.ranked:
        return Proposals([], [], None, [])
    first, *rest = cohort.ranked[: MOST_NEXT + 1]
    looking.read([first, *rest])
    leader = looking.motor(str(first))
    assert leader is not None
    found: list[Statement] = []
    for pk in rest:
        other = looking.motor(str(pk))
        pair = None if other is None else _pair_under(leader, other, cohort.load, looking)
        if pair is not None:
            pair = replace(pair, by_name=True, where="")
            found += [replace(half, section=_section(half)) for half in halves(pair)]
            found += open_questions(pair)
    led = cohort.result["leader"]
    sentences = [lead_words(led["full_name"], led["probability"])] if led else []
    return Proposals(weakest_first(_each_once(found)), sentences, None, [])


def _unnamed(subject: Subject, samples: int, name: str) -> int:
    """How many samples a name stands for; 0 where it names its one sample already."""
    return 0 if subject.sample and f"sample {subject.sample}" in name else samples


def _section(half: Statement) -> str:
    outcomes = {one.outcome for one in half.rests_on.values()}
    return "differs" if Outcome.DIFFERENT in outcomes else "same"


def subject_names(held: Sequence[Subject]) -> list[str]:
    """What subjects are called: by what they differ in."""
    motors = {int(one.motor) for one in held if one.motor.isdigit()}
    rows = MotorModel.objects.select_related("maker").filter(pk__in=motors)
    called = {str(row.pk): row.full_name for row in rows}
    loads = len({one.load for one in held}) > 1
    several = len({one.motor for one in held}) > 1
    samples = len({(one.motor, one.sample) for one in held}) > len({one.motor for one in held})
    names = []
    for one in held:
        parts = []
        if several or not (loads or samples):
            parts.append(called.get(one.motor, "motor"))
        if samples and one.by is not Grouping.MODEL and one.sample:
            parts.append(f"sample {one.sample}")
        if loads:
            parts.append(one.load.words)
        if one.by is Grouping.RUN:
            parts.append(f"run {runs_of(one)[0]}")
        names.append(", ".join(parts))
    doubled = {name for name in names if names.count(name) > 1}
    return [
        f"{name}, run {runs_of(one)[0]}" if name in doubled else name
        for name, one in zip(names, held, strict=True)
    ]


def quotable(verdict: Verdict, against: int | None, looking: Looking) -> list[tuple[Quote, Found]]:
    """Figures that can be put into the prose: those of its own tables, constants and claims, and
    what any proposed statement rests on."""
    found: dict[Quote, Found] = {}
    # First, so that whom it is held against is read together with it.
    said = proposed(verdict, against, looking).statements
    if verdict.comparison is not None:
        held = looking.subjects()
        level = (
            usual_level([run for one in held for run in one.runs], "thrust_gf") if held else None
        )
        for one in held:
            key = str(runs_of(one)[0])
            for condition, names in (
                (FULL, ("thrust_gf", "current_a", "power_w", "efficiency_g_per_w")),
                ("thrust_gf", ("power_w", "current_a", "efficiency_g_per_w", "throttle_pct")),
            ):
                if condition != FULL and not level:
                    continue
                at = 0.0 if condition == FULL else (level or 0.0)
                for name in names:
                    quote = Quote(QuoteKind.SUBJECT, key, name, one.load, condition, at)
                    found[quote] = looking.one(quote)
    elif verdict.motor_id is None:
        found |= _of_members(looking)
    else:
        motor = looking.motor(str(verdict.motor_id))
        assert motor is not None
        known = known_motor(motor)
        for rows, condition in ((known.full, FULL), (known.hover, "thrust_gf")):
            for row in rows:
                for name in row.figures:
                    quote = Quote(
                        QuoteKind.READ, motor.key, name, row.load, condition, row.level or 0.0
                    )
                    found[quote] = looking.one(quote)
        for name, one_found in known.measured.items():
            found[Quote(QuoteKind.CONSTANT, motor.key, name)] = one_found
        found[Quote(QuoteKind.CONSTANT, motor.key, "price", text=known.currency)] = known.price
        for name, (_, source) in known.claims.items():
            quote = Quote(QuoteKind.CLAIM, motor.key, name, text=source)
            found[quote] = looking.one(quote)
    for statement in said:
        for quote, there in statement.rests_on.items():
            if quote.kind is not QuoteKind.RECORD:
                found.setdefault(quote, there)
    return [(quote, one) for quote, one in found.items() if not isinstance(one.figure, Absent)]


MOST_QUOTABLE_MOTORS = 12


def _of_members(looking: Looking) -> dict[Quote, Found]:
    """Figures of the first of a cohort under its load, with mass and price."""
    cohort = looking.cohort()
    found: dict[Quote, Found] = {}
    if cohort is None:
        return found
    listed = cohort.ranked[:MOST_QUOTABLE_MOTORS]
    looking.read(listed)
    levels = [one["level"] for one in cohort.result["measures"] if one["at"] == "thrust_gf"]
    thrust = next((level for level in levels if level), None)
    for pk in listed:
        motor = looking.motor(str(pk))
        if motor is None:
            continue
        for condition, level in ((FULL, 0.0), ("thrust_gf", thrust)):
            if level is None:
                continue
            for row in motor.table(condition, level):
                if row.load != cohort.load:
                    continue
                for name in row.figures:
                    quote = Quote(QuoteKind.READ, motor.key, name, row.load, condition, level)
                    found[quote] = looking.one(quote)
        mass = Quote(QuoteKind.CONSTANT, motor.key, "mass_g")
        price = Quote(QuoteKind.CONSTANT, motor.key, "price", text=motor.facts.currency)
        found |= {quote: looking.one(quote) for quote in (mass, price)}
    return found
