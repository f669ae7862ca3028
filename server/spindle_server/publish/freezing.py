"""A verdict as it is published: everything that its page shows, so that it never changes."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from typing import Any

from django.db.models import Q
from django.utils import timezone

from spindle_core.compare.bench_table import FULL, RanRun, usual_level
from spindle_core.compare.subjects import Grouping, Subject, spread_between_samples, subjects
from spindle_core.figures.measured import Absent, Measured
from spindle_core.intake.claim_evidence import Evidence
from spindle_core.publish.document import paragraphs
from spindle_core.publish.grade import Grade
from spindle_core.publish.quotes import seen_of, stated
from spindle_core.publish.readiness import QuotedFigure
from spindle_server.compare.selectors import curve_json
from spindle_server.motor_file.evidence import against_claims, measured_figures
from spindle_server.motors.models import MotorModel
from spindle_server.publish.cohort import ranking_content
from spindle_server.publish.drawing import DrawWorker
from spindle_server.publish.looked_into import photos_of, taken_apart, untested_of
from spindle_server.runs.models import Run
from spindle_server.runs.taken import load_of
from spindle_server.teardown.models import Observation
from spindle_server.verdict.looking import Looking, runs_of
from spindle_server.verdict.models import Verdict
from spindle_server.verdict.proposing import subject_names
from spindle_server.verdict.selectors import (
    grade_of,
    judged,
    motors_in,
    runs_behind,
    sections_of,
    sentence_of,
)
from spindle_server.vocabulary.serializers import WordsSerializer
from spindle_server.vocabulary.words import vocabulary

FORMAT = 2
MOST_CURVES = 6
"""More in one chart nobody tells apart, least of all on a phone."""

CHARTS = (
    ("thrust", "throttle_pct", "thrust_gf", "Thrust over throttle"),
    ("efficiency", "thrust_gf", "efficiency_g_per_w", "Thrust per power over thrust"),
)
READ_FULL = ("thrust_gf", "current_a", "power_w", "efficiency_g_per_w")
READ_HOVER = ("power_w", "current_a", "efficiency_g_per_w")


def content_of(verdict: Verdict, looking: Looking) -> dict[str, Any]:
    """What an edition of a verdict says, drawings aside."""
    figures, told, _ = judged(verdict, looking)
    line = grade_of(verdict, looking)
    first_look = verdict.motor is not None and line.grade is Grade.FIRST_LOOK
    told_of = [_motor(pk, looking) for pk in _told_of(verdict, looking)]
    seen = taken_apart(verdict)
    cohort = looking.cohort()
    shown = _subjects(verdict, looking)
    return {
        "format": FORMAT,
        "kind": verdict.kind,
        "subject": verdict.subject,
        "sentence": sentence_of(verdict),
        "grade": {"label": line.grade.label, "line": line.line, "missing": list(line.missing)},
        "disclosure": {"lines": list(told.lines), "matters": told.matters},
        "parts": verdict.parts,
        "sections": [
            {"key": section.key, "title": section.title, "blocks": _blocks(doc)}
            for section in sections_of(verdict)
            if (doc := verdict.sections.get(section.key)) and any(_said(doc))
        ],
        "figures": {str(pk): _figure(one) for pk, one in figures.items()},
        "motors": told_of,
        **({} if cohort is None else {"ranking": ranking_content(cohort)}),
        "table": _table(shown),
        "runs": _runs(verdict, shown, looking),
        "teardown": seen,
        **({"untested": untested_of(verdict, told_of, seen)} if first_look else {}),
        "photos": photos_of(verdict),
    }


def _told_of(verdict: Verdict, looking: Looking) -> list[int]:
    """Motors whose claims stand on the page; those of a cohort have pages of their own."""
    if verdict.motor_id is not None:
        return [verdict.motor_id]
    return [] if verdict.kind == "cohort" else motors_in(verdict, looking)


def digest_of(content: dict[str, Any]) -> str:
    """What an edition says, in a few letters: the same words and figures give the same."""
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()


def drawings_of(verdict: Verdict, looking: Looking, worker: DrawWorker) -> dict[str, Any]:
    """The drawings of its page, made by the application's own chart code."""
    shown = _subjects(verdict, looking)
    asked: list[dict[str, Any]] = []
    titles: list[tuple[str, str]] = []
    if shown:
        comparison = _drawn_comparison(shown)
        for key, x_name, y_name, title in CHARTS:
            if any(
                curve["x"] and (curve["x_name"], curve["y_name"]) == (x_name, y_name)
                for curves in comparison["curves"]
                for curve in curves
            ):
                asked.append(
                    {
                        "draw": "chart",
                        "key": key,
                        "comparison": comparison,
                        "x_name": x_name,
                        "y_name": y_name,
                    }
                )
                titles.append((key, title))
    if verdict.motor is not None:
        asked.append(_cutaway(verdict.motor))
        titles.append(("cutaway", "To scale, from what was measured"))
    words = WordsSerializer(vocabulary()).data
    made = worker.draw(asked, words)
    return {key: {"title": title, **one} for (key, title), one in zip(titles, made, strict=True)}


def _said(doc: dict[str, Any]) -> list[Any]:
    return [child for one in paragraphs(doc) for child in one.get("content", [])]


def _blocks(doc: dict[str, Any]) -> list[dict[str, Any]]:
    """Prose as a page shows it: paragraphs and points of texts and figures."""
    found = []
    for block in doc.get("content", []):
        if block["type"] == "paragraph":
            found.append({"kind": "p", "items": [_inline(block)]})
        else:
            items = [
                [part for one in item["content"] for part in _inline(one)]
                for item in block["content"]
            ]
            found.append({"kind": "ul", "items": items})
    return [block for block in found if any(block["items"])]


def _inline(paragraph: dict[str, Any]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    for child in paragraph.get("content", []):
        if child["type"] == "figure":
            found.append({"figure": str(child["attrs"]["figure"])})
        else:
            marks = [mark["type"] for mark in child.get("marks", [])]
            found.append(
                {"text": child["text"], "bold": "bold" in marks, "italic": "italic" in marks}
            )
    return found


def _figure(one: QuotedFigure) -> dict[str, Any]:
    """As somebody stood by it; ``word`` on why, where it has moved since."""
    return {
        "words": one.quote.words_for(one.now),
        "stated": stated(one.quote, one.seen),
        "value": one.seen.value,
        "u": one.seen.u or None,
        "n": one.seen.n,
        "unit": one.quote.unit,
        "kind": str(one.quote.kind),
        "runs": list(one.now.runs),
        "word": one.word if one.stale else "",
        "now": stated(one.quote, seen_of(one.now)) if one.stale else "",
    }


def _motor(pk: int, looking: Looking) -> dict[str, Any]:
    """Claimed beside measured."""
    motor = MotorModel.objects.select_related("maker").prefetch_related("claims").get(pk=pk)
    known = looking.motor(str(pk))
    measured = measured_figures(motor, [])
    if known is not None:
        measured["mass_g"] = Evidence(known.facts.mass_g, "at the bench's lead length")
    rows = against_claims(motor, measured)
    return {
        "name": motor.full_name,
        "size_code": motor.size_code,
        "claims": [
            {
                "label": row["label"],
                "unit": row["unit"],
                "said": row["said"],
                "source": row["source"],
                "measured": _stated(row["measured"]),
                "from": row["measured_from"],
                "deviation_pct": _stated(row["deviation_pct"]),
                "reached_pct": _stated(row["reached_pct"]),
                "resolved": row["resolved"],
            }
            for row in rows
        ],
    }


def _stated(figure: dict[str, Any]) -> dict[str, Any]:
    return {name: figure[name] for name in ("value", "u", "n", "origin", "reason")}


def _subjects(verdict: Verdict, looking: Looking) -> list[Subject]:
    """What the tables and charts of the page show: of a motor its loads, within its ratings."""
    if verdict.kind == "comparison":
        return looking.subjects()
    if verdict.kind == "cohort":
        return looking.cohort_subjects()
    motor = looking.motor(str(verdict.motor_id))
    runs: list[RanRun] = motor.runs if motor is not None else []
    found = subjects(runs, Grouping.MODEL)
    return sorted(found, key=lambda one: (-len(one.runs), one.load))


def _table(shown: Sequence[Subject]) -> dict[str, Any]:
    """Each subject at full throttle and at one thrust that all of them reach."""
    if not shown:
        return {"hover_gf": None, "rows": []}
    looking = Looking()
    level = usual_level([run for one in shown for run in one.runs], "thrust_gf")
    full = looking.rows(shown, FULL, 0.0)
    hover = looking.rows(shown, "thrust_gf", level) if level else []
    names = subject_names(shown)
    rows = []
    for at, one in enumerate(shown):
        rows.append(
            {
                "name": names[at],
                "load": one.load.words,
                "samples": len({(run.motor, run.sample) for run in one.runs}),
                "runs": list(runs_of(one)),
                "full": [_cell(full, at, name) for name in READ_FULL],
                "hover": [_cell(hover, at, name) for name in READ_HOVER],
            }
        )
    return {"hover_gf": level, "rows": rows}


def _cell(rows: Sequence[Any], at: int, name: str) -> dict[str, Any]:
    row = next((row for row in rows if row.name == name), None)
    reading = row.cells[at].reading if row is not None else Absent("not_read", "not read")
    if isinstance(reading, Absent):
        return {"name": name, "value": None, "u": None, "n": None, "reason": reading.note}
    figure: Measured = reading.figure
    return {"name": name, "value": figure.value, "u": figure.u or None, "n": figure.n, "reason": ""}


def _runs(verdict: Verdict, shown: Sequence[Subject], looking: Looking) -> list[dict[str, Any]]:
    """Every run that the page rests on, rejected ones with the reason: the sheet of all runs."""
    wanted = {pk for one in shown for pk in runs_of(one)}
    of = Q(pk__in=wanted)
    if verdict.motor_id is not None:
        of |= Q(sample__motor=verdict.motor_id, reduction__isnull=False)
    else:
        of |= runs_behind(verdict, looking)
    rows = (
        Run.objects.filter(of)
        .select_related("sample__motor__maker", "propeller__maker", "supply", "stand")
        .prefetch_related("figures")
        .order_by("started_at", "pk")
    )
    return [_run(run) for run in rows]


HEADLINE = ("max_thrust_gf", "max_current_a", "max_power_w", "best_efficiency_g_per_w")


def _run(run: Run) -> dict[str, Any]:
    figures = {row.name: row for row in run.figures.all()}
    return {
        "number": run.pk,
        "on": timezone.localtime(run.started_at).date().isoformat(),
        "kind": run.get_kind_display(),
        "motor": run.sample.motor.full_name,
        "sample": run.sample.mark,
        "load": load_of(run).words,
        "stand": run.stand.name if run.stand else "",
        "origin": run.get_origin_display(),
        "review": run.review,
        "review_reason": run.review_reason,
        "figures": [
            {
                "name": name,
                "value": figures[name].value if name in figures else None,
                "u": (figures[name].u or None) if name in figures else None,
            }
            for name in HEADLINE
        ],
    }


def _drawn_comparison(shown: Sequence[Subject]) -> dict[str, Any]:
    """As much of a comparison as its charts need."""
    first = list(shown[:MOST_CURVES])
    names = {int(one.motor) for one in first if one.motor.isdigit()}
    called = {
        str(row.pk): row.full_name
        for row in MotorModel.objects.select_related("maker").filter(pk__in=names)
    }
    axes = [(x, y) for _, x, y, _ in CHARTS]
    pooled = {one: spread_between_samples(first, *one) for one in axes}
    return {
        "subjects": [
            {
                "key": runs_of(one)[0],
                "motor": int(one.motor) if one.motor.isdigit() else 1,
                "motor_name": called.get(one.motor, ""),
                "samples": list(dict.fromkeys(run.sample for run in one.runs)),
                "propeller_name": one.load.propeller,
                "on": one.load.words.partition(", ")[2],
                "setup": one.setup,
                "started_at": "",
                "runs": list(runs_of(one)),
                "drawn": True,
            }
            for one in first
        ],
        "curves": [[curve_json(one, pair, True, pooled[pair]) for pair in axes] for one in first],
    }


def _cutaway(motor: MotorModel) -> dict[str, Any]:
    """The motor to scale, from its first sample that was looked into."""
    rows = Observation.objects.filter(sample__motor=motor).order_by("sample__mark", "pk")
    first = rows.values_list("sample", flat=True).first()
    asked: dict[str, Any] = {
        "draw": "cutaway",
        "key": "cutaway",
        "name": motor.full_name,
        "seen": [
            {
                "attribute": row.attribute,
                "status": row.status,
                "value": row.value,
                "choice": row.choice,
            }
            for row in rows.filter(sample=first)
        ],
    }
    if motor.size_code:
        asked["size"] = {"code": motor.size_code, "basis": motor.size_basis}
    return asked
