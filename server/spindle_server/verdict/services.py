"""Writing verdicts."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_core.publish.document import checked_document, figures_in
from spindle_core.publish.quotes import Found, Quote, checked, seen_of
from spindle_server.accounts.models import Role, User
from spindle_server.compare.models import SavedComparison
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.motors.services import change_motor
from spindle_server.rank.models import KeptRanking
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.verdict.looking import Looking
from spindle_server.verdict.models import QuotedFigure, Verdict, quote_fields
from spindle_server.verdict.selectors import sections_of

MOST_FIGURES = 200


@writes(Role.REVIEWER)
def begin_verdict(
    *,
    actor: User,
    motor: MotorModel | None = None,
    comparison: SavedComparison | None = None,
    ranking: KeptRanking | None = None,
) -> Verdict:
    """The verdict of a motor, of a kept comparison or of what a kept ranking asks; the one there
    is, where there is one.

    :raises ServiceError: of none, or of several; or nobody of the cohort is ranked any more.
    """
    if sum(one is not None for one in (motor, comparison, ranking)) != 1:
        raise ServiceError(
            "A verdict is of one motor, one comparison or one ranking.", code="subject"
        )
    row, made = Verdict.objects.get_or_create(motor=motor, comparison=comparison, ranking=ranking)
    if made and ranking is not None:
        row.order_seen = _order_now(row)
        row.save()
    return row


def _order_now(row: Verdict) -> list[list[Any]]:
    cohort = Looking(row).cohort()
    if cohort is None or not cohort.order:
        raise ServiceError("Nobody of this cohort is ranked any more.", code="not_ranked")
    return [list(standing) for standing in cohort.order]


@writes(Role.REVIEWER)
def change_verdict(
    *, actor: User, verdict: Verdict, values: dict[str, Any], base: int | None
) -> Verdict:
    """Another sentence, other prose or another disclosure.

    The sentence of a motor is written to the motor; ``sentence_version`` is the motor's version
    that it was read at. Sections that are not named stay as they are. ``order_seen`` true: somebody
    has read a cohort's prose again and stands by it as its motors stand now.

    :raises ServiceError: prose that is not of the schema, or a section that there is not.
    """
    row = locked(Verdict, verdict.pk)
    values = dict(values)
    at = values.pop("sentence_version", None)
    if row.motor is not None and "sentence" in values:
        sentence = values.pop("sentence").strip()
        if sentence != row.motor.verdict:
            change_motor(actor=actor, motor=row.motor, base=at, verdict=sentence)
            row.motor.refresh_from_db()
    if values.pop("order_seen", False) and row.kind == "cohort":
        values["order_seen"] = _order_now(row)
    if "sections" in values:
        sections = _checked_sections(row, values["sections"])
        values["sections"] = {**row.sections, **sections}
        touched = [name for name in values if name != "sections"]
        if _untouched_since(row, base, touched, list(sections)):
            base = row.version
    elif _untouched_since(row, base, values, []):
        base = row.version
    write_fields(row, values, base=base)
    return row


def _untouched_since(
    row: Verdict, base: int | None, names: Iterable[str], sections: list[str]
) -> bool:
    """Whether what is written now is as it was at version ``base``: two people at two sections do
    not stand in each other's way."""
    then = row.history.filter(version=base).order_by("-history_date").first()
    if then is None:
        return False
    return all(getattr(then, name) == getattr(row, name) for name in names) and all(
        then.sections.get(key) == row.sections.get(key) for key in sections
    )


def _checked_sections(row: Verdict, sections: dict[str, Any]) -> dict[str, Any]:
    known = [section.key for section in sections_of(row)]
    there = set(row.figures.values_list("pk", flat=True))
    found = {}
    for key, doc in sections.items():
        if key not in known:
            raise ServiceError(
                f"There is no section {key!r}; they are {', '.join(known)}.", code="section"
            )
        try:
            found[key] = checked_document(doc)
        except CoreError as error:
            raise ServiceError(error.message, code=error.code) from error
        missing = [pk for pk in figures_in(found[key]) if pk not in there]
        if missing:
            raise ServiceError(
                f"Figure {missing[0]} is not one of this verdict; insert it anew.",
                code="unknown_figure",
            )
    return found


@writes(Role.REVIEWER)
def quote_figure(*, actor: User, verdict: Verdict, quote: Quote) -> QuotedFigure:
    """Take a figure into a verdict as it is now; the one there is, where it was taken already.

    :raises ServiceError: nothing that can be looked up, or a figure that is absent.
    """
    return _quote(actor, verdict, quote, Looking(verdict))


@writes(Role.REVIEWER)
def adopt(
    *, actor: User, verdict: Verdict, quotes: list[Quote], looking: Looking
) -> list[QuotedFigure]:
    """Take all figures of a statement into a verdict, in their order."""
    return [_quote(actor, verdict, quote, looking) for quote in quotes]


def _quote(actor: User, verdict: Verdict, quote: Quote, looking: Looking) -> QuotedFigure:
    try:
        found = looking.one(checked(quote))
    except CoreError as error:
        raise ServiceError(error.message, code=error.code) from error
    if seen_of(found).value is None:
        note = getattr(found.figure, "note", "") or "there is none"
        raise ServiceError(f"{quote.words}: {note}.", code="absent_figure")
    row = QuotedFigure.objects.filter(verdict=verdict, **quote_fields(quote)).first()
    if row is not None:
        return row
    if verdict.figures.count() >= MOST_FIGURES:
        raise ServiceError(f"A verdict holds {MOST_FIGURES} figures at most.", code="too_many")
    row = QuotedFigure(verdict=verdict, **quote_fields(quote))
    _see(row, found, actor)
    row.save()
    return row


def _see(row: QuotedFigure, found: Found, actor: User) -> None:
    seen = seen_of(found)
    row.value, row.u, row.n = seen.value, seen.u, seen.n
    row.word, row.seen_by, row.seen_at = "", actor, timezone.now()


@writes(Role.REVIEWER)
def stand_by(*, actor: User, figure: QuotedFigure) -> QuotedFigure:
    """Take a figure as it is now: somebody has read its sentence again and stands by it."""
    row = QuotedFigure.objects.select_for_update().get(pk=figure.pk)
    _see(row, Looking(row.verdict).one(row.quote), actor)
    row.save()
    return row


@writes(Role.REVIEWER)
def leave_standing(*, actor: User, figure: QuotedFigure, word: str) -> QuotedFigure:
    """Let a figure stand as it was although it has moved, with a word on why.

    :raises ServiceError: no word.
    """
    if not word.strip():
        raise ServiceError(
            "Say why the old figure stands.", code="no_word", fields={"word": ["Say why."]}
        )
    row = QuotedFigure.objects.select_for_update().get(pk=figure.pk)
    row.word = word.strip()
    row.save()
    return row
