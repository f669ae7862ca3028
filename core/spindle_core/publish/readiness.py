"""Whether a verdict may be published, and what stands in its way."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from spindle_core.figures.measured import Absent
from spindle_core.publish.disclosure import Disclosure
from spindle_core.publish.document import Section, figures_in, is_empty, typed_figures, typed_in
from spindle_core.publish.quotes import (
    Found,
    LastSeen,
    Quote,
    QuoteKind,
    is_stale,
    moved,
    seen_of,
    stated,
)
from spindle_core.publish.statements import refusal


@dataclass(frozen=True, slots=True)
class Obstacle:
    """Something to mend. ``blocks``: nothing is published before; the rest is only said.

    ``word_lifts``: a word on why it stands anyhow lets it pass.
    """

    code: str
    message: str
    section: str = ""
    figure: int | None = None
    blocks: bool = True
    word_lifts: bool = False


@dataclass(frozen=True, slots=True)
class QuotedFigure:
    """A figure of a verdict: what is quoted, what it was, what it is, and the word that somebody
    left for letting it stand although it moved."""

    quote: Quote
    seen: LastSeen
    now: Found
    word: str = ""

    @property
    def stale(self) -> bool:
        """Whether it moved since somebody stood by it."""
        return is_stale(self.seen, self.now)


Standing = tuple[int, str, int]
"""Who stands where in a cohort: number and name of a motor, and its place."""


def order_moved(seen: Sequence[Standing], now: Sequence[Standing]) -> Obstacle | None:
    """What a cohort's prose may no longer say: who stands elsewhere since somebody stood by it.

    Blocks, since words about places have no figure that could go stale by itself.
    """
    was = {pk: place for pk, _, place in seen}
    stands = {pk: place for pk, _, place in now}
    told = [
        f"{name} is new at {place}" if pk not in was else f"{name} from {was[pk]} to {place}"
        for pk, name, place in now
        if was.get(pk) != place
    ]
    told += [f"{name} is no longer ranked" for pk, name, _ in seen if pk not in stands]
    if not told:
        return None
    more = f"; and {len(told) - _MOST_MOVED} more" if len(told) > _MOST_MOVED else ""
    return Obstacle(
        "order_moved",
        f"Who stands where has changed: {'; '.join(told[:_MOST_MOVED])}{more}. Read the prose "
        "again and stand by it.",
        "differs",
    )


_MOST_MOVED = 6


def obstacles(
    sentence: str,
    sections: Mapping[str, Mapping[str, Any]],
    known: Sequence[Section],
    figures: Mapping[int, QuotedFigure],
    disclosure: Disclosure,
    rejected: Sequence[int] = (),
) -> list[Obstacle]:
    """What stands in the way of publishing, what blocks it first.

    :param sections: key → checked document. :param figures: by their numbers.
    :param rejected: rejected runs that a quoted figure was read from.
    """
    found: list[Obstacle] = []
    if not sentence.strip():
        found.append(Obstacle("no_sentence", "Write the one sentence."))
    if all(is_empty(sections.get(one.key, {})) for one in known):
        found.append(Obstacle("no_prose", "Write at least one section of the long form."))
    found += [
        Obstacle("disclosure", f"Not disclosed: {text}.", "disclosure")
        for text in disclosure.missing
    ]
    found += [
        Obstacle("rejected_run", f"Run {run} was rejected and is still quoted.", blocks=False)
        for run in rejected
    ]
    levels = {number: one.quote.level_words for number, one in figures.items()}
    for section in known:
        doc = sections.get(section.key, {})
        for number in figures_in(doc):
            if number not in figures:
                found.append(
                    Obstacle(
                        "unknown_figure",
                        f"Figure {number} is not there any more; take it out or insert it anew.",
                        section.key,
                        number,
                    )
                )
            else:
                found += _of_figure(section.key, number, figures[number])
        found += [_typed(text, section.key) for text in typed_in(doc, levels)]
    found += [_typed(text, "sentence") for text in typed_figures(sentence)]
    return sorted(found, key=lambda one: not one.blocks)


def _typed(text: str, section: str) -> Obstacle:
    return Obstacle(
        "typed_figure",
        f"“{text}” is typed by hand: insert it as a figure, or nobody learns when it changes.",
        section,
        blocks=False,
    )


def _of_figure(section: str, number: int, one: QuotedFigure) -> list[Obstacle]:
    found = []
    if one.stale:
        message, seen = _moved(one)
        blocks = seen and not one.word
        found.append(Obstacle("stale", message, section, number, blocks=blocks, word_lifts=seen))
        return found
    refused = refusal(one.now)
    if refused is not None and refused.reason == "beyond_rating":
        found.append(
            Obstacle("beyond_rating", f"{one.quote.words}: {refused.note}.", section, number)
        )
    elif isinstance(one.now.figure, Absent):
        found.append(
            Obstacle("absent", f"{one.quote.words}: there is no such figure.", section, number)
        )
    return found


def _moved(one: QuotedFigure) -> tuple[str, bool]:
    """What became of a figure, and whether a reader could see it."""
    was, now = stated(one.quote, one.seen), _now(one)
    n = seen_of(one.now).n
    if n and one.seen.n and n != one.seen.n:
        was, now = f"{was} (n = {one.seen.n})", f"{now} (n = {n})"
    if was == now:
        return f"{one.quote.words}: {was}, moved by less than its last digit.", False
    far = ", by more than its uncertainty" if moved(one.seen, one.now) else ""
    return f"{one.quote.words}: was {was}, is {now}{far}.", True


def _now(one: QuotedFigure) -> str:
    if one.quote.kind is QuoteKind.RECORD:
        return "no longer on file" if seen_of(one.now).value is None else "on file again"
    seen = seen_of(one.now)
    return "gone" if seen.value is None else stated(one.quote, seen)
