"""Two motors by their price and by how they are made."""

import dataclasses

import pytest

from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.publish.against import MOST_DIFFERENCES, Bought, MadeOf, made_otherwise
from spindle_core.publish.against import price_against as against
from spindle_core.publish.quotes import Found, QuoteKind
from spindle_core.publish.statements import SpeaksFor


def price(amount, u=0.0, origin=Origin.MEASURED):
    return Found(Measured(amount, {"receipt": u} if u else {}, origin=origin))


def made(key, said, *, telling=True):
    return MadeOf(key, key.capitalize(), said, f"{key}: {said} (sample A)", telling)


DRIFT = Bought("3", "Drift 2206", price(19.9), "EUR", "with shipping")
SABLE = Bought("4", "Sable 2105.5", price(22.5), "EUR", "with shipping")


def test_the_cheaper_one_is_for_it_and_the_dearer_against():
    said = against(DRIFT, SABLE)
    assert said.text == (
        "It costs less than the Sable 2105.5: 19.9\u2009EUR against 22.5\u2009EUR."
    )
    assert (said.side, said.section, said.caveat) == (SpeaksFor.FOR, "costs", "")
    back = against(SABLE, DRIFT)
    assert back.text.startswith("It costs more than the Drift 2206")
    assert back.side is SpeaksFor.AGAINST
    assert {quote.of for quote in said.rests_on} == {"3", "4"}


def test_prices_that_are_known_no_better_are_not_told_apart():
    said = against(
        dataclasses.replace(DRIFT, price=price(20.0, 2.0)),
        dataclasses.replace(SABLE, price=price(21.0, 2.0)),
    )
    assert said.side is SpeaksFor.NEITHER
    assert said.text.startswith("It costs as much as")


def test_the_same_price_is_the_same():
    assert against(DRIFT, dataclasses.replace(SABLE, price=price(19.9))).side is SpeaksFor.NEITHER


@pytest.mark.parametrize(
    "other",
    [
        dataclasses.replace(SABLE, currency="USD"),
        dataclasses.replace(SABLE, price=Found(Absent("unknown", "nobody noted it"))),
        dataclasses.replace(SABLE, price=price(22.5, origin=Origin.ESTIMATED)),
        dataclasses.replace(SABLE, price=price(22.5, origin=Origin.CLAIMED)),
    ],
)
def test_other_money_and_guesses_are_not_held_against_a_price(other):
    assert against(DRIFT, other) is None
    assert against(other, DRIFT) is None


def test_shipping_in_one_price_alone_is_said():
    said = against(DRIFT, dataclasses.replace(SABLE, price_words=""))
    assert said.caveat == "with shipping; how is not noted"


def test_what_both_teardowns_saw_differently_is_said_and_rests_on_both():
    own = dataclasses.replace(
        DRIFT, made={"magnets": made("magnets", "curved"), "shaft": made("shaft", "hollow")}
    )
    other = dataclasses.replace(
        SABLE,
        made={
            "magnets": made("magnets", "flat", telling=False),
            "shaft": made("shaft", "hollow"),
            "bell": made("bell", "one piece"),
        },
    )
    (said,) = made_otherwise(own, other)
    assert said.text == "Magnets: curved; on the Sable 2105.5: flat."
    assert said.section == "made_of"
    assert [(quote.kind, quote.of, quote.text) for quote in said.rests_on] == [
        (QuoteKind.RECORD, "3", "magnets: curved (sample A)"),
        (QuoteKind.RECORD, "4", "magnets: flat (sample A)"),
    ]


def test_a_difference_that_suggests_nothing_is_left_out():
    own = dataclasses.replace(DRIFT, made={"screw": made("screw", "M2", telling=False)})
    other = dataclasses.replace(SABLE, made={"screw": made("screw", "M3", telling=False)})
    assert made_otherwise(own, other) == []
    told = dataclasses.replace(SABLE, made={"screw": made("screw", "M3")})
    assert len(made_otherwise(own, told)) == 1


@pytest.mark.parametrize("whose", ["own", "other"])
def test_samples_that_differ_among_themselves_make_no_difference_of_models(whose):
    here, there = made("magnets", "curved"), made("magnets", "flat")
    unsure = dataclasses.replace(here if whose == "own" else there, agreed=False)
    own = dataclasses.replace(DRIFT, made={"magnets": unsure if whose == "own" else here})
    other = dataclasses.replace(SABLE, made={"magnets": unsure if whose == "other" else there})
    assert made_otherwise(own, other) == []


def test_not_more_than_a_reader_checks():
    keys = [f"a{i}" for i in range(20)]
    own = dataclasses.replace(DRIFT, made={key: made(key, "x") for key in keys})
    other = dataclasses.replace(SABLE, made={key: made(key, "y") for key in keys})
    assert len(made_otherwise(own, other)) == MOST_DIFFERENCES
