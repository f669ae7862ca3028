"""One against another: the words follow the outcome, not the digits."""

from dataclasses import replace

import pytest

from spindle_core.compare.delta import compare
from spindle_core.compare.subjects import Reading
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.publish.halves import (
    ComparedPair,
    difference_found,
    halves,
    held_against,
    open_questions,
    sentence,
)
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.statements import SpeaksFor

MORE, LESS, SAME, OPEN = (9.0, 1.0), (-9.0, 1.0), (0.2, 0.3), (2.0, 2.5)


def found(value, u, samples=2, **more):
    """A difference as two figures around 1,000 would make it."""
    own = Measured(1000.0 * (1 + value / 100), {"a": 10.0 * u})
    made = difference_found(compare(own, Measured(1000.0)))
    return replace(made, samples=samples, **more)


def quote(name):
    return Quote(QuoteKind.DELTA, "3", name, condition="full", against="4")


def pair(thrust=None, current=None, power=None, own_samples=2, other_samples=2, **more):
    full = {
        name: (quote(name), found(*value))
        for name, value in (("thrust_gf", thrust), ("current_a", current))
        if value is not None
    }
    hover = {} if power is None else {"power_w": (quote("power_w"), found(*power))}
    return ComparedPair("Drift", "No. 4", own_samples, other_samples, full, hover, **more)


@pytest.mark.parametrize(
    ("thrust", "current", "power", "words"),
    [
        (
            MORE,
            MORE,
            OPEN,
            "At full throttle it out-pulls the No. 4 and pays for it in current; in hover nobody "
            "could tell them apart in power.",
        ),
        (
            MORE,
            LESS,
            None,
            "At full throttle it out-pulls the No. 4 and draws less current for it.",
        ),
        (LESS, LESS, None, "At full throttle it pulls less than the No. 4 for less current."),
        (LESS, MORE, None, "At full throttle it pulls less than the No. 4 and draws more current."),
        (
            SAME,
            SAME,
            SAME,
            "At full throttle it pulls the same as the No. 4 at the same current; in hover it "
            "needs the same power as the No. 4.",
        ),
        (
            OPEN,
            OPEN,
            LESS,
            "At full throttle nobody could tell it from the No. 4 in thrust, for currents that "
            "nobody could tell apart; in hover it needs less power than the No. 4.",
        ),
        (None, MORE, MORE, "In hover it needs more power than the No. 4."),
        (None, None, None, ""),
    ],
)
def test_both_halves_in_one_sentence_without_figures(thrust, current, power, words):
    assert sentence(pair(thrust, current, power)) == words


def test_where_points_were_left_out_nobody_speaks_of_full_throttle():
    one = pair(OPEN, MORE)
    quoted, apart = one.full["current_a"]
    one = replace(one, full={**one.full, "current_a": (quoted, replace(apart, held_back=True))})
    assert sentence(one).startswith("At full throttle, or the most within a rating, nobody could")
    (asked,) = (said for said in open_questions(one) if said.key.startswith("settle"))
    assert "at full throttle, or the most within a rating, today" not in asked.text
    assert "in thrust at full throttle, or the most within a rating: today" in asked.text


def test_each_half_keeps_its_figures_and_takes_its_side():
    full, hover = sorted(halves(pair(MORE, MORE, MORE)), key=lambda one: one.key)
    assert full.text == (
        "At full throttle it out-pulls the No. 4 (+9.0 ± 1.0\u2009%) and pays for it in current "
        "(+9.0 ± 1.0\u2009%)."
    )
    assert (full.side, hover.side) == (SpeaksFor.FOR, SpeaksFor.AGAINST)
    assert set(full.rests_on) == {quote("thrust_gf"), quote("current_a")}
    assert {one.side for one in halves(pair(OPEN, None, OPEN))} == {SpeaksFor.NEITHER}


def test_one_sample_is_not_a_model():
    said = halves(pair(MORE, None, None, own_samples=1, other_samples=1))[0]
    assert "the one sample tested out-pulls the one sample of the No. 4" in said.text
    assert said.caveat == "one sample of the Drift, one sample of the No. 4"
    asked = [one.text for one in open_questions(pair(MORE, own_samples=1))]
    assert asked == ["A second sample of the Drift: one alone was run."]


def test_what_is_claimed_or_beyond_a_rating_makes_no_half():
    claimed = Found(Measured(9.0, {"a": 1.0}, origin=Origin.CLAIMED), outcome="different")
    beyond = found(*MORE, beyond=True)
    for bad in (claimed, beyond, Found(Absent("not_reached"))):
        held = ComparedPair("A", "B", 2, 2, {"thrust_gf": (quote("thrust_gf"), bad)}, {})
        assert halves(held) == []
        assert sentence(held) == ""


def test_what_is_not_told_apart_asks_for_repeats():
    (asked,) = open_questions(pair(MORE, None, OPEN, hover_gf=600.0))
    assert asked.text == (
        "Repeats that told them apart in power at 600 gf: today the difference to the No. 4 is "
        "+2.0 ± 2.5\u2009%."
    )


def test_the_weaker_half_comes_first():
    strong_full_weak_hover = halves(pair((30.0, 1.0), None, (3.0, 1.0)))
    assert [one.key.split("/")[0] for one in strong_full_weak_hover] == ["hover", "full"]


def test_a_difference_of_readings_is_relative_with_its_interval():
    own = Reading(Measured(1100.0, {"shared@cell": 10.0, "own": 3.0}, n=3), 2, 3, None)
    other = Reading(Measured(1000.0, {"shared@cell": 9.0}, n=2), 1, 2, None)
    told = held_against(own, other, runs=(1, 2))
    assert told.figure.value == pytest.approx(10.0)
    # The shared component all but cancels: (10 − 9) and 3 of 1,000.
    assert told.figure.u == pytest.approx(10**0.5 / 10)
    assert (told.figure.n, told.samples, told.runs) == (2, 1, (1, 2))
    assert told.half_width == pytest.approx(1.959964 * 10**0.5 / 10, rel=1e-6)


def test_a_difference_knows_that_points_of_one_of_them_were_left_out():
    own, other = (Reading(Measured(value, {"a": 1.0}), 1, 1, None) for value in (1000.0, 900.0))
    assert held_against(own, other, held_back=True).held_back
    assert not held_against(own, other).held_back


def test_no_difference_at_all_still_has_its_u():
    own = Reading(Measured(1000.0, {"a": 5.0}), 1, 1, None)
    other = Reading(Measured(1000.0, {"b": 5.0}), 1, 1, None)
    told = held_against(own, other)
    assert (told.figure.value, told.outcome) == (0.0, "equivalent")
    assert told.figure.u == pytest.approx(50**0.5 / 10)


def test_readings_that_are_absent_or_zero_have_no_difference():
    here = Reading(Measured(10.0), 1, 1, None)
    zero = Reading(Measured(0.0), 1, 1, None)
    assert held_against(Absent("not_reached"), here).figure.reason == "not_reached"
    assert held_against(here, Absent("not_logged")).figure.reason == "not_logged"
    unsure = Reading(Measured(0.5, {"repeat": 0.3}), 1, 1, None)
    assert held_against(here, unsure).figure.reason == "zero"
    assert held_against(here, zero).figure.reason == "zero"
