"""Numbers as one says them, lines of one breath, and how long they take."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.compare.bench_table import FULL
from spindle_core.figures.said import declared, figure, number
from spindle_core.publish.quotes import LastSeen, Quote, QuoteKind
from spindle_core.publish.spoken import (
    LONGEST_LINE,
    lines_of,
    seconds_of,
    spoken,
    spoken_number,
    spoken_section,
)


@pytest.mark.parametrize(
    ("value", "u", "said"),
    [
        (1178.3, 4.0, "1,180"),
        (2641.0, 4.0, "2,600"),
        (26.14, 0.1, "26"),
        (0.447, 0.001, "0.45"),
        (19.94, 0.01, "19.9"),
        (9.96, 0.01, "10"),
        (1178.3, 60.0, "1,200"),
        (3.4, 5.0, "3"),
        (0.0, 1.0, "zero"),
        (-7.26, 0.1, "minus 7.3"),
        (1000.0, None, "1,000"),
        (5.0, 0.0, "5"),
        (99.6, 0.01, "100"),
    ],
)
def test_a_number_as_one_says_it(value, u, said):
    assert spoken_number(value, u) == said


@given(st.floats(1e-3, 1e6), st.floats(1e-6, 0.2))
def test_it_is_never_far_from_what_was_measured(value, relative):
    said = float(spoken_number(value, relative * value).replace(",", ""))
    assert abs(said - value) <= max(0.051 * value, 5.1 * relative * value)


def test_a_quote_is_spoken_with_its_unit():
    thrust = Quote(QuoteKind.READ, "3", "thrust_gf", condition=FULL)
    assert spoken(thrust, LastSeen(1178.3, 4.0)) == "about 1,180 grams of thrust"
    assert spoken(thrust, LastSeen(None, None)) == "a figure that is missing"
    delta = Quote(QuoteKind.DELTA, "3", "current_a", condition=FULL, against="4")
    assert spoken(delta, LastSeen(-7.26, 0.1)) == "about 7.3 per cent less"
    # Not resolved: no difference is spoken, only how large one could be.
    assert spoken(delta, LastSeen(0.3, 2.9)) == "to within 6 per cent"
    assert spoken(delta, LastSeen(-5.6, 2.9)) == "to within 6 per cent"
    assert spoken(delta, LastSeen(-5.8, 2.9)) == "about 6 per cent less"
    price = Quote(QuoteKind.CONSTANT, "3", "price", text="EUR")
    assert spoken(price, LastSeen(18.9, None)) == "18.9 EUR"
    record = Quote(QuoteKind.RECORD, "3", "faults", text="Sample A: dry bearing")
    assert spoken(record, LastSeen(1.0, 0.0)) == "Sample A: dry bearing"


def test_a_line_is_a_breath():
    text = "It pulls hard. Nobody could tell them apart; buy either.\n• " + ", ".join(
        ["a longish half of a sentence"] * 8
    )
    lines = lines_of(text)
    assert lines[:3] == ["It pulls hard.", "Nobody could tell them apart", "buy either."]
    assert len(lines) > 4
    assert all(len(line) <= LONGEST_LINE for line in lines)
    # Nothing is lost by breaking it.
    assert " ".join(lines[3:]) == ", ".join(["a longish half of a sentence"] * 8)


def test_no_text_takes_no_time_and_numbers_take_their_words():
    assert seconds_of([]) == 0.0
    assert spoken_section("Limits", " \n ").lines == ()
    plain, counted = seconds_of(["it pulls a lot"]), seconds_of(["it pulls about 1,180"])
    assert counted > plain
    assert 1.5 < plain < 3.0


@pytest.mark.parametrize(
    ("value", "u", "text"),
    [
        (1175.4, 8.2, "1,175 ± 8 gf"),
        (1175.4, 1.24, "1,175.4 ± 1.2 gf"),
        (-0.002, 0.2, "0.00 ± 0.20 gf"),
        (18.9, None, "18.9 gf"),
        (-3.0, 0.0, "−3 gf"),
        (0.00012, None, "0.0001 gf"),
        (12345.678, None, "12,346 gf"),
    ],
)
def test_no_more_digits_than_the_uncertainty_carries(value, u, text):
    assert figure(value, u, "gf").replace("\u2009", " ") == text


def test_signed_and_declared():
    assert figure(9.1, 1.2, "%", signed=True) == "+9.1 ± 1.2\u2009%"
    assert figure(-9.1, None, "", signed=True) == "−9.100"
    assert number(-0.2, 0) == "0"
    assert declared(100.0) == "100"
