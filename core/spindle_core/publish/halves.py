"""One against another, in halves: what it does at full throttle, and what it needs in hover.

"At full throttle it out-pulls the other and pays for it in current; in hover nobody could tell
them apart." Each half keeps its figures; which words it takes is decided by whether the
difference is real, not by its size.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.bench_table import FULL
from spindle_core.compare.delta import DEFAULT_MARGIN, Delta, Outcome, compare, is_told
from spindle_core.compare.subjects import ComparedRow, Reading
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.publish.quotes import Found, Quote
from spindle_core.publish.statements import (
    Part,
    SpeaksFor,
    Statement,
    refusal,
    strength_of,
    weakest_first,
    who,
)


def held_against(
    own: Reading | Absent,
    other: Reading | Absent,
    *,
    runs: Sequence[int] = (),
    held_back: bool = False,
    margin: float = DEFAULT_MARGIN,
) -> Found:
    """The difference of two readings in per cent of the other, as a quoted figure.

    :param runs: that both rest on. :param held_back: points of one of them beyond a rating are
        left out.
    """
    if isinstance(own, Absent):
        return Found(own)
    if isinstance(other, Absent):
        return Found(other)
    if not is_told(other.figure):
        return Found(Absent("zero", "what it is held against is not told from 0"))
    found = difference_found(compare(own.figure, other.figure, margin=margin))
    figure = replace(_measured(found.figure), n=min(own.figure.n, other.figure.n))
    samples = min(own.samples, other.samples)
    return replace(found, figure=figure, samples=samples, runs=tuple(runs), held_back=held_back)


def difference_found(delta: Delta) -> Found:
    """A difference in per cent of its baseline, with its outcome, as a quoted figure."""
    scale = delta.delta_pct / delta.delta.value if delta.delta.value else 0.0
    scaled = delta.delta.scaled(scale)
    if not delta.delta.value:
        scaled = Measured(0.0, {"difference": delta.u_pct}, delta.delta.n, delta.delta.origin)
    return Found(scaled, outcome=str(delta.outcome), half_width=delta.half_width_pct)


@dataclass(frozen=True, slots=True)
class ComparedPair:
    """Two subjects under one load or of one comparison.

    ``own`` and ``other``: what they are called. ``own_samples`` and ``other_samples``: how many
    of each were run. ``full`` and ``hover``: name of a figure → its quote and difference.
    ``by_name``: the first is called by its name, where no verdict is about it alone.
    """

    own: str
    other: str
    own_samples: int
    other_samples: int
    full: Mapping[str, tuple[Quote, Found]]
    hover: Mapping[str, tuple[Quote, Found]]
    hover_gf: float | None = None
    where: str = ""
    by_name: bool = False


def halves(pair: ComparedPair) -> list[Statement]:
    """What may be said of one against the other; the weakest first.

    A half whose figures are claimed, absent or beyond a rating is not told.
    """
    found = [one for one in (_at_full(pair), _in_hover(pair)) if one is not None]
    return weakest_first(found)


def sentence(pair: ComparedPair) -> str:
    """Both halves as one sentence without figures; empty where nothing can be said."""
    told = [words for words in (_full_words(pair), _hover_words(pair)) if words is not None]
    if not told:
        return ""
    text = "; ".join("".join(part for part in words if isinstance(part, str)) for words in told)
    return f"{_clean(text)}."


def _clean(text: str) -> str:
    """Without the brackets that its figures stood in."""
    text = text.replace(" ()", "")
    return text[:1].upper() + text[1:]


def open_questions(pair: ComparedPair) -> list[Statement]:
    """What one more run could settle between them."""
    found = []
    for where, figures in ((_at_top(pair), pair.full), (_at(pair), pair.hover)):
        for name in ("thrust_gf", "current_a") if figures is pair.full else ("power_w",):
            entry = figures.get(name)
            if entry is None or entry[1].outcome != Outcome.UNRESOLVED:
                continue
            quote, apart = entry
            found.append(
                Statement(
                    f"settle/{name}/{pair.other}",
                    "would_change",
                    SpeaksFor.NEITHER,
                    (
                        f"Repeats that told them apart in {WORD[name]} {where}: today the "
                        f"difference to the {pair.other} is ",
                        quote,
                        ".",
                    ),
                    {quote: apart},
                )
            )
    alone = [
        name
        for name, samples in ((pair.own, pair.own_samples), (pair.other, pair.other_samples))
        if samples == 1
    ]
    rests = dict(list({**pair.full, **pair.hover}.values())[:1])
    if alone and rests:
        # More samples are more runs: the figure it rests on goes stale with them.
        text = f"A second sample of the {' and of the '.join(alone)}: one alone was run."
        found.append(
            Statement(f"samples/{pair.other}", "would_change", SpeaksFor.NEITHER, (text,), rests)
        )
    return found


WORD = {"thrust_gf": "thrust", "current_a": "current", "power_w": "power"}


def _names(pair: ComparedPair) -> tuple[str, str]:
    def called(name: str, samples: int) -> str:
        return f"the one sample of the {name}" if samples == 1 else f"the {name}"

    own = called(pair.own, pair.own_samples) if pair.by_name else who(pair.own_samples)
    return own, called(pair.other, pair.other_samples)


def _told(figures: Mapping[str, tuple[Quote, Found]], name: str) -> tuple[Quote, Found] | None:
    entry = figures.get(name)
    return None if entry is None or refusal(entry[1]) is not None else entry


def _direction(found: Found) -> int:
    """+1 or −1 where it differs, 0 where it does not or nobody can tell."""
    if found.outcome != Outcome.DIFFERENT:
        return 0
    return 1 if _measured(found.figure).value > 0 else -1


def _measured(figure: Figure) -> Measured:
    assert isinstance(figure, Measured)
    return figure


def _full_words(pair: ComparedPair) -> list[Part] | None:
    thrust, current = _told(pair.full, "thrust_gf"), _told(pair.full, "current_a")
    if thrust is None:
        return None
    own, other = _names(pair)
    quote, found = thrust
    way = _direction(found)
    if way > 0:
        verb = f"{own} out-pulls {other} ("
    elif way < 0:
        verb = f"{own} pulls less than {other} ("
    elif found.outcome == Outcome.EQUIVALENT:
        verb = f"{own} pulls the same as {other} ("
    else:
        verb = f"nobody could tell {own} from {other} in thrust ("
    comma = "," if "," in _at_top(pair) else ""
    words: list[Part] = [f"{_at_top(pair)}{pair.where}{comma} {verb}", quote, ")"]
    if current is not None:
        words += _and_current(way, *current)
    return words


def _and_current(way: int, quote: Quote, found: Found) -> list[Part]:
    """What the thrust is paid with."""
    more = _direction(found)
    if more > 0:
        begin = " and pays for it in current (" if way > 0 else " and draws more current ("
    elif more < 0:
        begin = " and draws less current for it (" if way > 0 else " for less current ("
    elif found.outcome == Outcome.EQUIVALENT:
        begin = " at the same current ("
    else:
        begin = ", for currents that nobody could tell apart ("
    return [begin, quote, ")"]


def _at_top(pair: ComparedPair) -> str:
    """Where its strongest was read: of what is left within a rating it is no full throttle."""
    held_back = any(found.held_back for _, found in pair.full.values())
    return "at full throttle, or the most within a rating" if held_back else "at full throttle"


def _at(pair: ComparedPair) -> str:
    return "in hover" if pair.hover_gf is None else f"at {pair.hover_gf:g} gf"


def _hover_words(pair: ComparedPair) -> list[Part] | None:
    power = _told(pair.hover, "power_w")
    if power is None:
        return None
    own, other = _names(pair)
    quote, found = power
    way = _direction(found)
    if way > 0:
        begin = f"{own} needs more power than {other} ("
    elif way < 0:
        begin = f"{own} needs less power than {other} ("
    elif found.outcome == Outcome.EQUIVALENT:
        begin = f"{own} needs the same power as {other} ("
    else:
        begin = "nobody could tell them apart in power ("
    return [f"{_at(pair)}{pair.where} {begin}", quote, ")"]


def _at_full(pair: ComparedPair) -> Statement | None:
    words = _full_words(pair)
    thrust = _told(pair.full, "thrust_gf")
    if words is None or thrust is None:
        return None
    sides = {1: SpeaksFor.FOR, -1: SpeaksFor.AGAINST, 0: SpeaksFor.NEITHER}
    return _half(pair, "full", words, pair.full, sides[_direction(thrust[1])])


def _in_hover(pair: ComparedPair) -> Statement | None:
    words = _hover_words(pair)
    power = _told(pair.hover, "power_w")
    if words is None or power is None:
        return None
    sides = {1: SpeaksFor.AGAINST, -1: SpeaksFor.FOR, 0: SpeaksFor.NEITHER}
    return _half(pair, "hover", words, pair.hover, sides[_direction(power[1])])


def _half(
    pair: ComparedPair,
    which: str,
    words: list[Part],
    figures: Mapping[str, tuple[Quote, Found]],
    side: SpeaksFor,
) -> Statement:
    quoted = {part for part in words if isinstance(part, Quote)}
    rests = {quote: found for quote, found in figures.values() if quote in quoted}
    first = words[0]
    assert isinstance(first, str)
    parts: tuple[Part, ...] = (first[:1].upper() + first[1:], *words[1:], ".")
    strengths = [one for found in rests.values() if (one := strength_of(found)) is not None]
    few = [
        f"one sample of the {name}"
        for name, samples in ((pair.own, pair.own_samples), (pair.other, pair.other_samples))
        if samples == 1
    ]
    assumed = any(isinstance(f.figure, Measured) and f.figure.assumed for f in rests.values())
    return Statement(
        f"{which}/{pair.own}/{pair.other}{pair.where}",
        "for_whom",
        side,
        parts,
        rests,
        min(strengths, default=None),
        ", ".join([*few, *(["a part of u is assumed"] if assumed else [])]),
    )


def difference_of(rows: Sequence[ComparedRow], index: int, name: str) -> Reading | Absent:
    """What a subject reads in one figure of a table's rows."""
    row = next((row for row in rows if row.name == name), None)
    return row.cells[index].reading if row is not None else Absent("not_read", "it is not read")


FULL_FIGURES = ("thrust_gf", "current_a")
HOVER_FIGURES = ("power_w",)
CONDITIONS = ((FULL, FULL_FIGURES), ("thrust_gf", HOVER_FIGURES))
"""What the halves are worded by."""
