"""What may be said of two motors that no run tells: their price, and how they are made."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from spindle_core.compare.delta import Outcome, compare
from spindle_core.figures.measured import Measured, Origin
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.statements import NOTHING, ON_FILE, SpeaksFor, Statement

MOST_DIFFERENCES = 6


@dataclass(frozen=True, slots=True)
class MadeOf:
    """What a teardown saw of a motor in one attribute.

    ``record``: the entry of the file in words. ``telling``: it suggests something to those who take
    motors apart. ``agreed``: every sample that was looked at shows the same.
    """

    attribute: str
    label: str
    said: str
    record: str
    telling: bool
    agreed: bool = True


@dataclass(frozen=True, slots=True)
class Bought:
    """A motor with its price, and how it is made by attribute."""

    key: str
    name: str
    price: Found = NOTHING
    currency: str = ""
    price_words: str = ""
    made: Mapping[str, MadeOf] = field(default_factory=dict)


def price_against(own: Bought, other: Bought) -> Statement | None:
    """Which of two costs less; None where a price is missing, guessed or in other money."""
    a, b = own.price.figure, other.price.figure
    if not (isinstance(a, Measured) and isinstance(b, Measured)):
        return None
    if own.currency != other.currency or {a.origin, b.origin} & _GUESSED:
        return None
    quotes = {
        Quote(QuoteKind.CONSTANT, one.key, "price", text=one.currency): one.price
        for one in (own, other)
    }
    here, there = quotes
    told = compare(a, b)
    if told.outcome is Outcome.DIFFERENT:
        dearer = a.value > b.value
        begin = f"It costs {'more' if dearer else 'less'} than the {other.name}: "
        side = SpeaksFor.AGAINST if dearer else SpeaksFor.FOR
    else:
        begin, side = f"It costs as much as the {other.name}: ", SpeaksFor.NEITHER
    unlike = own.price_words != other.price_words
    caveat = f"{own.price_words or 'how is not noted'}; {other.price_words or 'how is not noted'}"
    return Statement(
        f"price/{own.name}/{other.name}",
        "costs",
        side,
        (begin, here, " against ", there, "."),
        quotes,
        None,
        caveat if unlike else "",
    )


_GUESSED = {Origin.ESTIMATED, Origin.CLAIMED}


def made_otherwise(own: Bought, other: Bought) -> list[Statement]:
    """Attributes that both teardowns looked at and saw differently, where one of the two suggests
    something."""
    found = []
    for key, here in own.made.items():
        there = other.made.get(key)
        if there is None or there.said == here.said or not (here.telling or there.telling):
            continue
        # Where samples of one model differ, the model is not what differs.
        if not (here.agreed and there.agreed):
            continue
        rests = {
            Quote(QuoteKind.RECORD, one.key, "made_of", text=made.record): ON_FILE
            for one, made in ((own, here), (other, there))
        }
        text = f"{here.label}: {here.said}; on the {other.name}: {there.said}."
        found.append(
            Statement(
                f"made_of/{key}/{own.name}/{other.name}",
                "made_of",
                SpeaksFor.NEITHER,
                (text,),
                rests,
            )
        )
    return found[:MOST_DIFFERENCES]
