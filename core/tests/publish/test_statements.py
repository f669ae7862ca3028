"""What may be said of a motor: every sentence keeps its figures and is worded by its evidence."""

from dataclasses import replace

import pytest

from spindle_core.compare.bench_table import FULL, BenchRow, Load
from spindle_core.compare.of_models import OfModel
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.statements import (
    SpeaksFor,
    Statement,
    SubjectMotor,
    label,
    of_motor,
    refusal,
    strength_of,
    weakest_first,
)

WICKETT = Load("Wickett 5.1x4.2x3", "bench supply", 16.0)
LIGHT = Load("Wickett 5.1x3.1x2", "bench supply", 16.0)


def row(load, thrust, current=25.0, *, u=4.0, samples=2, level=None, runs=("run 7", "run 9")):
    name, also = ("thrust_gf", "current_a") if level is None else ("efficiency_g_per_w", "power_w")
    figures = {
        name: OfModel(Measured(thrust, {f"r@{load.propeller}": u}, n=2), samples, len(runs)),
        also: OfModel(Measured(current, {f"c@{load.propeller}": 0.1}, n=2), samples, len(runs)),
    }
    return BenchRow("3", load, figures, tuple(runs), level)


def texts(known):
    return [one.text for one in of_motor(known)]


def test_the_strongest_propeller_is_named_only_where_it_is_told_from_the_next():
    apart = of_motor(SubjectMotor("3", full=[row(LIGHT, 1100.0), row(WICKETT, 1180.0)]))
    assert [one.text for one in apart] == [
        "On 16 V bench supply the Wickett 5.1x4.2x3 is the strongest of 2: it pulls "
        "1,180 ± 4\u2009gf at 25.00 ± 0.10\u2009A."
    ]
    assert apart[0].strength == pytest.approx(80 / (1.959964 * 4 * 2**0.5), rel=1e-3)
    same = of_motor(SubjectMotor("3", full=[row(LIGHT, 1176.0), row(WICKETT, 1180.0)]))
    assert same[0].text.startswith("On 16 V bench supply nobody could tell the Wickett 5.1x4.2x3")
    assert same[0].strength is None


@pytest.mark.parametrize("first", [True, False])
def test_what_is_left_within_a_rating_is_not_called_full_throttle(first):
    """Neither where it is the strongest, nor where it is only just not told from it."""
    strong, close = row(WICKETT, 1180.0), row(LIGHT, 1178.0)
    held = replace(strong, held_back=True) if first else strong
    other = close if first else replace(close, held_back=True)
    (said,) = of_motor(SubjectMotor("3", full=[held, other]))
    assert " at the most within its rating" in said.text
    quote, found = next((q, f) for q, f in said.rests_on.items() if f.held_back)
    assert quote.words_for(found).startswith("Thrust at the most within its rating, Wickett")
    assert quote.words_for(replace(found, held_back=False)) == quote.words
    free = of_motor(SubjectMotor("3", full=[strong, close]))[0]
    assert "rating" not in free.text
    assert not any(found.held_back for found in free.rests_on.values())


def test_a_reading_at_a_thrust_is_not_renamed_by_what_was_left_out():
    read = Quote(QuoteKind.READ, "3", "power_w", WICKETT, "thrust_gf", 600.0)
    assert read.words_for(Found(Measured(1.0), held_back=True)) == read.words


def test_the_only_propeller_is_no_winner_and_one_sample_is_no_model():
    (said,) = of_motor(SubjectMotor("3", full=[row(WICKETT, 1180.0, samples=1, runs=("run 7",))]))
    assert "the only propeller tried there, the one sample tested pulls" in said.text
    assert said.caveat == "one sample, one run"


def test_voltages_and_supplies_are_not_mixed():
    pack = Load("Wickett 5.1x4.2x3", "pack", 16.0)
    nobody = Load("Wickett 5.1x4.2x3", "", 0.0)
    said = texts(
        SubjectMotor("3", full=[row(WICKETT, 1180.0), row(pack, 1100.0), row(nobody, 9.0)])
    )
    assert len(said) == 3
    assert any(text.startswith("On an unknown supply") for text in said)


def test_thrift_is_read_at_a_thrust_that_is_said():
    (said,) = of_motor(SubjectMotor("3", hover=[row(WICKETT, 4.21, 71.0, u=0.02, level=300.0)]))
    assert said.text.endswith("it gives 4.210 ± 0.020\u2009gf/W for 71.00 ± 0.10\u2009W at 300 gf.")
    assert {quote.condition for quote in said.rests_on} == {"thrust_gf"}


def test_a_figure_that_is_absent_makes_no_sentence():
    empty = BenchRow("3", WICKETT, {"thrust_gf": Absent("not_logged", "no scale")}, ("run 1",))
    assert of_motor(SubjectMotor("3", full=[empty])) == []
    assert of_motor(SubjectMotor("3")) == []


@pytest.mark.parametrize(
    ("measured", "u", "text", "side"),
    [
        (
            2282.0,
            6.0,
            "It turns slower than its label of 2,420\u2009rpm/V (claimed): 2,282 ± 6",
            "against",
        ),
        (2600.0, 6.0, "It turns faster than its label", "against"),
        (2411.0, 6.0, "It agrees with its label of 2,420\u2009rpm/V", "for"),
        # 1.8 u off is within the interval: not told as a finding.
        (2409.2, 6.0, "It agrees with its label", "for"),
    ],
)
def test_the_label(measured, u, text, side):
    kv = Found(Measured(measured, {"k": u}), samples=2)
    said = label(SubjectMotor("3", label_kv_rpm_per_v=2420.0, measured={"kv_rpm_per_v": kv}))
    assert said.text.startswith(text)
    assert said.side == side


def test_nothing_is_concluded_from_a_claim_or_beyond_a_rating():
    claim = Found(Measured(1180.0, {}, origin=Origin.CLAIMED))
    assert refusal(claim).reason == "claimed"
    assert refusal(Found(Measured(1180.0), beyond=True)).reason == "beyond_rating"
    assert refusal(Found(Absent("not_logged"))).reason == "not_logged"
    assert refusal(Found(Measured(1180.0))) is None
    told = label(SubjectMotor("3", label_kv_rpm_per_v=1900.0, measured={"kv_rpm_per_v": claim}))
    assert told.reason == "claimed"


def test_claims_stand_beside_measurements_and_say_what_they_are():
    known = SubjectMotor(
        "3",
        claims={"mass_g": (31.0, "label"), "max_current_a": (32.0, "page")},
        measured={
            "mass_g": Found(Measured(32.4, {"s": 0.1}), samples=3),
            "max_current_a": Found(Measured(33.1, {"s": 0.2}), samples=2),
        },
        lead_length_mm=60.0,
        overruns=4,
    )
    said = texts(known)
    assert "It weighs 32.40 ± 0.10\u2009g with 60 mm of leads, against 31\u2009g (claimed)." in said
    assert (
        "The most current run through it was 33.10 ± 0.20\u2009A; it is rated for "
        "32\u2009A (claimed)." in said
    )
    assert "4 points beyond its rating are left out of every figure here." in said


def test_a_guessed_price_is_said_to_be_one():
    known = Found(Measured(18.9))
    guessed = Found(Measured(18.9, origin=Origin.ESTIMATED))
    assert texts(
        SubjectMotor("3", price=known, currency="EUR", price_words="each, 02 Oct 2026")
    ) == ["It costs 18.9\u2009EUR (each, 02 Oct 2026)."]
    assert texts(SubjectMotor("3", price=guessed, currency="EUR")) == ["It may cost 18.9\u2009EUR."]


def test_faults_speak_against_it_and_go_stale_when_they_leave_the_file():
    known = SubjectMotor("3", records={"faults": ["Sample A: dry bearing"], "open": ["no soak."]})
    fault, gap = of_motor(known)
    assert (fault.text, fault.side) == ("Sample A: dry bearing.", SpeaksFor.AGAINST)
    assert gap.text == "no soak."
    (quote,) = fault.rests_on
    assert fault.stale(dict(fault.rests_on)) == ()
    assert fault.stale({}) == (quote,)


def test_a_statement_goes_stale_with_any_figure_it_rests_on():
    (said,) = of_motor(SubjectMotor("3", full=[row(LIGHT, 1100.0), row(WICKETT, 1180.0)]))
    now = dict(said.rests_on)
    assert said.stale(now) == ()
    # The second propeller does not stand in the sentence, yet it made the first the strongest.
    second = next(quote for quote in now if quote.load == LIGHT and quote.name == "thrust_gf")
    assert second not in said.parts
    assert said.stale({**now, second: Found(Measured(1300.0), 2, (7,))}) == (second,)


def test_the_weakest_is_checked_first_and_what_judges_nothing_last():
    def said(key, strength):
        return Statement(key, "open", SpeaksFor.NEITHER, ("x",), {}, strength)

    order = weakest_first([said("a", None), said("b", 3.0), said("c", 1.1)])
    assert [one.key for one in order] == ["c", "b", "a"]


def test_how_far_a_difference_is_from_being_told_otherwise():
    figure = Measured(10.0, {"d": 2.0})
    assert strength_of(Found(figure, outcome="different", half_width=4.0)) == pytest.approx(2.5)
    assert strength_of(Found(figure, outcome="unresolved", half_width=4.0)) is None
    alike = Found(Measured(0.5, {"d": 0.3}), outcome="equivalent", half_width=0.6)
    assert strength_of(alike) == pytest.approx(2.0 / (0.5 + 1.644854 * 0.3), rel=1e-5)
    assert strength_of(Found(Absent("x"))) is None


def test_a_quote_says_what_it_is():
    read = Quote(QuoteKind.READ, "3", "thrust_gf", WICKETT, FULL)
    assert read.words == "Thrust at full throttle, Wickett 5.1x4.2x3, 16 V bench supply"
    delta = Quote(QuoteKind.DELTA, "3", "power_w", WICKETT, "thrust_gf", 600.0, "4")
    assert (delta.unit, delta.words.split(",")[0]) == ("%", "Power at 600 gf")
