"""Reading verdicts: prose, figures as they were and are, disclosure, grade and obstacles."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from typing import Any

from django.core.cache import cache
from django.db.models import Max, Prefetch, Q, QuerySet

from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.figures.measured import Absent, Measured
from spindle_core.publish.disclosure import Disclosure, Gain, Links, UsedPart, disclose
from spindle_core.publish.document import (
    OF_A_COHORT,
    OF_A_COMPARISON,
    OF_A_MOTOR,
    Section,
    figures_in,
    paragraph_of,
    plain_text,
)
from spindle_core.publish.grade import GradeLine, bench_grade
from spindle_core.publish.quotes import Found, Quote, QuoteKind, moved, seen_of, stated
from spindle_core.publish.readiness import Obstacle, QuotedFigure, obstacles, order_moved
from spindle_core.publish.spoken import spoken, spoken_section
from spindle_core.publish.statements import Statement
from spindle_server.errors import ServiceError
from spindle_server.identification.models import Identified
from spindle_server.runs.models import Run
from spindle_server.runs.ran import counted_runs, evidence_revision
from spindle_server.runs.taken import load_of
from spindle_server.verdict import models
from spindle_server.verdict.evidence import came, gear_of, run_evidence
from spindle_server.verdict.looking import CohortNow, Looking, asked_of
from spindle_server.verdict.models import Verdict
from spindle_server.verdict.proposing import Proposals, quotable

KEPT_S = 24 * 3600


def verdicts() -> QuerySet[Verdict]:
    """Verdicts with what they are of, the one changed last first."""
    figures = models.QuotedFigure.objects.select_related("seen_by")
    of = ("motor__maker", "comparison", "ranking")
    return Verdict.objects.select_related(*of).prefetch_related(Prefetch("figures", figures))


def sections_of(verdict: Verdict) -> Sequence[Section]:
    """The sections that it has."""
    return SECTIONS[verdict.kind]


SECTIONS = {"motor": OF_A_MOTOR, "comparison": OF_A_COMPARISON, "cohort": OF_A_COHORT}


def sentence_of(verdict: Verdict) -> str:
    """The one sentence."""
    return verdict.motor.verdict if verdict.motor is not None else verdict.sentence


def figures_of(verdict: Verdict, looking: Looking) -> dict[int, QuotedFigure]:
    """The figures that its prose uses, as they were and are; those taken out of it are left out."""
    used = used_in(verdict)
    rows = [row for row in verdict.figures.all() if row.pk in used]
    now = looking.all(row.quote for row in rows)
    return {row.pk: QuotedFigure(row.quote, row.seen, now[row.quote], row.word) for row in rows}


def used_in(verdict: Verdict) -> set[int]:
    """Numbers of the figures that its prose uses."""
    return {pk for doc in verdict.sections.values() for pk in figures_in(doc)}


def motors_in(verdict: Verdict, looking: Looking) -> list[int]:
    """The motors that it speaks of: its own, or all of the comparison or cohort; and whom they
    were held against in figures it uses."""
    found = [] if verdict.motor_id is None else [verdict.motor_id]
    cohort = looking.cohort()
    found += [] if cohort is None else cohort.members
    found += [int(one.motor) for one in looking.subjects() if one.motor.isdigit()]
    used = used_in(verdict)
    found += [
        int(row.against)
        for row in verdict.figures.all()
        if row.pk in used and row.kind == QuoteKind.DELTA and row.against.isdigit()
    ]
    return list(dict.fromkeys(found))


def disclosure_of(verdict: Verdict, motors: Sequence[int]) -> Disclosure:
    """What readers are told of how the motors came and who gains."""
    return disclose(
        came(motors),
        Links(verdict.links),
        verdict.links_text,
        Gain(verdict.gains),
        verdict.gains_text,
        [UsedPart(one["name"], one["link"], one["pays"]) for one in verdict.parts],
    )


def grade_of(verdict: Verdict, looking: Looking) -> GradeLine:
    """How far its evidence carries."""
    cohort = looking.cohort()
    motors = 1 if cohort is None else len(cohort.members)
    return bench_grade(run_evidence(runs_behind(verdict, looking)), motors)


def runs_behind(verdict: Verdict, looking: Looking) -> Q:
    """The runs that it speaks of: all of its motor, those of the comparison, or those that rank
    the cohort. Nothing where the question can no longer be asked."""
    if verdict.motor_id is not None:
        return Q(sample__motor=verdict.motor_id)
    if verdict.comparison is None:
        return Q(pk__in=_ranked_by(looking.cohort()))
    try:
        return Q(pk__in=asked_of(verdict.comparison).runs)
    except ServiceError:
        return Q(pk__in=[])


def _ranked_by(cohort: CohortNow | None) -> list[int]:
    """Runs that rank a cohort: curves under its load, and what is asked without a load."""
    if cohort is None:
        return []
    runs = counted_runs(cohort.members).select_related("propeller__maker", "supply")
    return [
        run.pk
        for run in runs
        if cohort.asked.fill or run.kind not in CURVE_KINDS or load_of(run) == cohort.load
    ]


def rejected_in(figures: Iterable[QuotedFigure]) -> list[int]:
    """Rejected runs that a quoted figure is read from."""
    runs = {run for one in figures for run in one.now.runs}
    rows = Run.objects.filter(pk__in=runs, review="rejected").order_by("pk")
    return list(rows.values_list("pk", flat=True))


def judged(
    verdict: Verdict, looking: Looking
) -> tuple[dict[int, QuotedFigure], Disclosure, list[Obstacle]]:
    """Its figures, its disclosure and what stands in the way of publishing it."""
    figures = figures_of(verdict, looking)
    told = disclosure_of(verdict, motors_in(verdict, looking))
    found = obstacles(
        sentence_of(verdict),
        verdict.sections,
        sections_of(verdict),
        figures,
        told,
        rejected_in(figures.values()),
    )
    cohort = looking.cohort()
    if verdict.kind == "cohort":
        found = [*_order_obstacles(verdict, cohort), *found]
    return figures, told, found


def _order_obstacles(verdict: Verdict, cohort: CohortNow | None) -> list[Obstacle]:
    if cohort is None or not cohort.order:
        message = "This cohort can no longer be ranked; keep a new ranking and write on that."
        return [Obstacle("not_ranked", message)]
    seen = [(int(pk), str(name), int(place)) for pk, name, place in verdict.order_seen]
    moved_now = order_moved(seen, cohort.order)
    return [] if moved_now is None else [moved_now]


def verdict_json(verdict: Verdict) -> dict[str, Any]:
    """A verdict as its page shows it."""
    looking = Looking(verdict)
    figures, told, found = judged(verdict, looking)
    line = grade_of(verdict, looking)
    return {
        **_head(verdict),
        "asked": {} if verdict.ranking is None else verdict.ranking.asked,
        "sections": [
            {
                "key": section.key,
                "title": section.title,
                "asks": section.asks,
                "prose": verdict.sections.get(section.key, {"type": "doc", "content": []}),
            }
            for section in sections_of(verdict)
        ],
        "figures": figures_json(verdict, figures),
        "links": verdict.links,
        "links_text": verdict.links_text,
        "gains": verdict.gains,
        "gains_text": verdict.gains_text,
        "parts": verdict.parts,
        "gear": gear_of(runs_behind(verdict, looking)),
        "disclosure": {"lines": told.lines, "missing": told.missing, "matters": told.matters},
        "grade": {"grade": str(line.grade), "line": line.line, "missing": line.missing},
        "obstacles": [_obstacle(one) for one in found],
    }


def _head(verdict: Verdict) -> dict[str, Any]:
    motor = verdict.motor
    return {
        "id": verdict.pk,
        "version": verdict.version,
        "subject": verdict.subject,
        "motor": verdict.motor_id,
        "comparison": verdict.comparison_id,
        "ranking": verdict.ranking_id,
        "kind": verdict.kind,
        "runs": []
        if verdict.comparison is None
        else [
            int(pk)
            for pk in str(verdict.comparison.asked.get("runs", "")).split(",")
            if pk.isascii() and pk.isdigit()
        ],
        "sentence": sentence_of(verdict),
        "sentence_version": None if motor is None else motor.version,
    }


def _obstacle(one: Obstacle) -> dict[str, Any]:
    return {
        "code": one.code,
        "message": one.message,
        "section": one.section,
        "figure": one.figure,
        "blocks": one.blocks,
        "word_lifts": one.word_lifts,
    }


def figures_json(verdict: Verdict, figures: dict[int, QuotedFigure]) -> list[dict[str, Any]]:
    """Every figure of a verdict; those that its prose does not use are not looked up again."""
    found = []
    for row in verdict.figures.all():
        one = figures.get(row.pk)
        now = as_seen(row) if one is None else one.now
        found.append(figure_json(row, now, stale=one is not None and one.stale))
    return found


def as_seen(row: models.QuotedFigure) -> Found:
    """A figure as it was when somebody stood by it."""
    if row.value is None:
        return Found(Absent("absent", "there was none"))
    return Found(Measured(row.value, {"seen": row.u or 0.0}, max(1, row.n)))


def figure_json(row: models.QuotedFigure, now: Found, *, stale: bool) -> dict[str, Any]:
    """A quoted figure as it was and is."""
    quote, seen = row.quote, row.seen
    # What somebody says or wrote down was not run so many times.
    counted = quote.kind not in (QuoteKind.CLAIM, QuoteKind.RECORD) and quote.name != "price"
    return {
        "id": row.pk,
        "kind": row.kind,
        "words": quote.words_for(now),
        "stated": stated(quote, seen),
        "now": stated(quote, seen_of(now)) if not isinstance(now.figure, Absent) else "",
        "why_absent": now.figure.note if isinstance(now.figure, Absent) else "",
        "stale": stale,
        "moved": stale and moved(seen, now),
        "word": row.word,
        "n": seen.n if counted and seen.n else None,
        "n_now": (seen_of(now).n or None) if counted else None,
        "samples": now.samples or None,
        "runs": list(now.runs),
        "outcome": now.outcome,
        "assumed": isinstance(now.figure, Measured) and now.figure.assumed,
        "seen_at": row.seen_at,
        "seen_by_name": row.seen_by.shown_name if row.seen_by else "",
    }


def state_of(verdict: Verdict) -> dict[str, Any]:
    """How a verdict stands, kept as long as nothing that it rests on is written."""
    rests_on = (
        evidence_revision(),
        Identified.objects.aggregate(Max("made_at")),
        verdict.pk,
        verdict.version,
        [(row.pk, row.value, row.u, row.n, row.word) for row in verdict.figures.all()],
        verdict.comparison.version if verdict.comparison else 0,
        verdict.order_seen,
    )
    key = f"verdict-state:{hashlib.sha256(repr(rests_on).encode()).hexdigest()}"
    kept: dict[str, Any] | None = cache.get(key)
    if kept is None:
        looking = Looking(verdict)
        figures, told, found = judged(verdict, looking)
        kept = {
            "stale": sum(one.stale for one in figures.values()),
            "blocked": sum(one.blocks for one in found),
            "matters": told.matters,
            "grade": grade_of(verdict, looking).grade.label,
        }
        cache.set(key, kept, KEPT_S)
    return {**_head(verdict), **kept, "changed_at": verdict.changed_at}


def proposals_json(verdict: Verdict, found: Proposals) -> dict[str, Any]:
    """Statements with their evidence, and whether its prose says each already."""
    rows = {row.pk: row.quote for row in verdict.figures.all()}
    said = {
        section: {rows[pk] for pk in figures_in(doc) if pk in rows}
        for section, doc in verdict.sections.items()
    }
    return {
        "against": found.against,
        "rivals": [{"id": row.pk, "full_name": row.full_name} for row in found.rivals],
        "sentences": found.sentences,
        "statements": [
            {**_statement(one), "taken": set(one.rests_on) <= said.get(one.section, set())}
            for one in found.statements
        ],
    }


def _statement(one: Statement) -> dict[str, Any]:
    return {
        "key": one.key,
        "section": one.section,
        "side": str(one.side),
        "text": one.text,
        "strength": one.strength,
        "caveat": one.caveat,
        "evidence": [
            {
                "words": quote.words_for(now),
                "stated": stated(quote, seen_of(now)),
                "runs": list(now.runs),
            }
            for quote, now in one.rests_on.items()
            if quote.kind is not QuoteKind.RECORD
        ],
    }


def paragraph_json(statement: Statement, numbers: dict[Quote, int]) -> dict[str, Any]:
    """A statement as a paragraph: its figures by their numbers, and all that it rests on."""
    parts: list[str | int] = [
        part
        if isinstance(part, str)
        else part.text
        if part.kind is QuoteKind.RECORD
        else numbers[part]
        for part in statement.parts
    ]
    return paragraph_of(parts, [numbers[quote] for quote in statement.rests_on])


def quotable_json(verdict: Verdict, against: int | None, looking: Looking) -> list[dict[str, Any]]:
    """Figures that can be inserted, each with its fields to name it by."""
    return [
        {
            "quote": models.quote_fields(quote),
            "words": quote.words_for(found),
            "stated": stated(quote, seen_of(found)),
            "samples": found.samples or None,
            "beyond": found.beyond,
        }
        for quote, found in quotable(verdict, against, looking)
    ]


def notes_json(verdict: Verdict) -> dict[str, Any]:
    """The verdict as lines to be spoken."""
    looking = Looking(verdict)
    figures = figures_of(verdict, looking)
    said = {pk: spoken(one.quote, one.seen) for pk, one in figures.items()}
    told = disclosure_of(verdict, motors_in(verdict, looking))
    texts = [("The sentence", sentence_of(verdict))]
    # What a listener should know first, where it bears on the verdict.
    disclosed = ("Disclosure", "\n".join(told.lines))
    if told.matters:
        texts.insert(0, disclosed)
    texts += [
        (section.title, plain_text(verdict.sections.get(section.key, {}), said))
        for section in sections_of(verdict)
    ]
    if not told.matters:
        texts.append(disclosed)
    sections = [spoken_section(title, text) for title, text in texts]
    sections = [section for section in sections if section.lines]
    return {
        "subject": verdict.subject,
        "seconds": sum(section.seconds for section in sections),
        "sections": [
            {"title": one.title, "lines": one.lines, "seconds": one.seconds} for one in sections
        ],
    }
