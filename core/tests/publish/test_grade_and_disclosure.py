"""How far the evidence carries, who paid for what, and what stands in the way of publishing."""

import dataclasses

import pytest

from spindle_core.compare.bench_table import FULL, Load
from spindle_core.figures.measured import Absent, Measured
from spindle_core.publish.disclosure import Came, Gain, Links, UsedPart, disclose
from spindle_core.publish.document import OF_A_MOTOR, paragraph_of
from spindle_core.publish.grade import Grade, GradedRun, bench_grade
from spindle_core.publish.quotes import (
    Found,
    LastSeen,
    Quote,
    QuoteError,
    QuoteKind,
    checked,
    is_stale,
    moved,
    seen_of,
    stated,
)
from spindle_core.publish.readiness import QuotedFigure, obstacles, order_moved

GOOD = GradedRun("A", "Wickett, 16 V", 16.0, 12, False, True)


def runs(samples="ABC", repeats=3, **changed):
    return [
        dataclasses.replace(GOOD, sample=sample, **changed)
        for sample in samples
        for _ in range(repeats)
    ]


def test_solid_needs_everything():
    told = bench_grade(runs())
    assert told.grade is Grade.SOLID
    assert told.line == (
        "Solid evidence: 3 samples, 9 runs, up to 3 alike, 1 voltage, stand calibrated 12 days "
        "before at most."
    )
    assert told.missing == ()


@pytest.mark.parametrize(
    ("evidence", "grade", "said", "missing"),
    [
        ([], "first_look", "nothing was run", "a run"),
        (runs("A", 1), "thin", "1 sample, 1 run, none repeated", "2 more samples"),
        (runs("A", 12), "fair", "1 sample, 12 runs, up to 12 alike", "2 more samples"),
        (runs(calibration_days=None), "thin", "stand never calibrated", "a calibration"),
        (runs(calibration_days=400), "thin", "400 days before", "less than 90 days"),
        (runs(calibration_days=120), "fair", "120 days before", "less than 90 days"),
        (runs(assumed=True), "fair", "uncertainty partly assumed in all", "repeatability"),
        (runs(accepted=False), "fair", "9 not reviewed", "a review"),
        (runs(voltage_v=0.0), "solid", "voltage not noted", None),
        (
            [*runs(), dataclasses.replace(GOOD, calibration_days=None)],
            "thin",
            "stand not calibrated for all of them",
            "a calibration",
        ),
        ([*runs(), dataclasses.replace(GOOD, assumed=True)], "fair", "partly assumed in 1", "rep"),
    ],
)
def test_the_grade_is_its_weakest_part(evidence, grade, said, missing):
    told = bench_grade(evidence)
    assert told.grade == grade
    assert said in told.line
    assert (told.missing == ()) if missing is None else any(missing in one for one in told.missing)


def test_repeats_are_of_one_sample_under_one_setup():
    apart = [dataclasses.replace(GOOD, setup=f"propeller {i}") for i in range(5)]
    assert "none repeated" in bench_grade(apart).line


BOUGHT = Came("Drift 2206", ("A", "B"), "bought")


def test_everything_said():
    told = disclose([BOUGHT], Links.NONE, "", Gain.NOBODY, "")
    assert told.missing == ()
    assert told.lines[0] == "Drift 2206, samples A, B: bought by the bench."
    assert not told.matters


@pytest.mark.parametrize(
    ("came", "links", "gain", "missing"),
    [
        (Came("Drift", ("A",), "unknown"), (Links.NONE, ""), (Gain.NOBODY, ""), "sample A, came"),
        (BOUGHT, (Links.UNKNOWN, ""), (Gain.NOBODY, ""), "any link"),
        (BOUGHT, (Links.SOME, "  "), (Gain.NOBODY, ""), "which links pay"),
        (BOUGHT, (Links.NONE, ""), (Gain.UNKNOWN, "said but not chosen"), "gains from"),
        (BOUGHT, (Links.NONE, ""), (Gain.SOMEBODY, ""), "who gains"),
    ],
)
def test_silence_is_not_independence(came, links, gain, missing):
    told = disclose([came], *links, *gain)
    assert len(told.missing) == 1
    assert missing in told.missing[0]


@pytest.mark.parametrize(
    ("part", "links", "missing"),
    [
        (UsedPart("Wickett"), Links.NONE, []),
        (UsedPart("Wickett", "https://shop.example/w", False), Links.NONE, []),
        (UsedPart("Wickett", "https://shop.example/w", True), Links.SOME, []),
        # A part without a link pays nobody, whatever is ticked.
        (UsedPart("Wickett", "", True), Links.NONE, []),
        (
            UsedPart("Wickett", "https://shop.example/w"),
            Links.SOME,
            ["whether the link to Wickett"],
        ),
        (
            UsedPart("Wickett", "https://shop.example/w", True),
            Links.NONE,
            ["that the link to Wickett"],
        ),
    ],
)
def test_every_link_says_whether_it_pays(part, links, missing):
    told = disclose([BOUGHT], links, "a shop", Gain.NOBODY, "", [part])
    assert len(told.missing) == len(missing)
    assert all(map(str.startswith, told.missing, missing))


def test_what_a_reader_wants_to_know_first_is_marked():
    given = Came("Drift", ("A",), "given", "Ostrel")
    told = disclose([BOUGHT, given], Links.SOME, "the maker's shop", Gain.NOBODY, "")
    assert told.matters
    assert "Drift, sample A: given free of charge, from Ostrel." in told.lines
    assert "Links that pay: the maker's shop." in told.lines


LOAD = Load("Wickett 5.1x4.2x3", "bench supply", 16.0)
THRUST = Quote(QuoteKind.READ, "3", "thrust_gf", LOAD, FULL)
FULLY = disclose([BOUGHT], Links.NONE, "", Gain.NOBODY, "")


def figure(was, now, word=""):
    return QuotedFigure(THRUST, was, now, word)


HELD = Found(Measured(1180.0, {"r": 4.0}, n=3), 2, (7, 9))
SEEN = seen_of(HELD)


def judged(figures, sentence="A plain motor.", text="It pulls ", disclosure=FULLY, rejected=()):
    doc = {"type": "doc", "content": [paragraph_of([text, 4, "."])]}
    return obstacles(sentence, {"limits": doc}, OF_A_MOTOR, figures, disclosure, rejected)


def test_what_is_complete_has_no_obstacle():
    assert judged({4: figure(SEEN, HELD)}) == []


@pytest.mark.parametrize(
    ("now", "said", "far"),
    [
        (Found(Measured(1182.0, {"r": 4.0}, n=3)), "was 1,180 ± 4\u2009gf, is 1,182 ± 4", False),
        (Found(Measured(1240.0, {"r": 4.0}, n=3)), "is 1,240 ± 4\u2009gf", True),
        (Found(Measured(1180.0, {"r": 2.0}, n=3)), "is 1,180.0 ± 2.0", False),
        # The same value from fewer runs is another figure.
        (
            Found(Measured(1180.0, {"r": 4.0}, n=2)),
            "was 1,180 ± 4\u2009gf (n = 3), is 1,180 ± 4\u2009gf (n = 2)",
            False,
        ),
        (Found(Absent("not_run", "no run")), "is gone", True),
    ],
)
def test_a_figure_that_moved_blocks_until_a_word_is_said(now, said, far):
    (one,) = judged({4: figure(SEEN, now)})
    assert (one.code, one.blocks, one.word_lifts, one.section) == ("stale", True, True, "limits")
    assert said in one.message
    assert ("more than its uncertainty" in one.message) is far
    (lifted,) = judged({4: figure(SEEN, now, "checked, still true")})
    assert not lifted.blocks


def test_what_no_reader_could_see_is_said_and_does_not_block():
    (one,) = judged({4: figure(SEEN, Found(Measured(1180.2, {"r": 4.0}, n=3)))})
    assert (one.code, one.blocks, one.word_lifts) == ("stale", False, False)
    assert "moved by less than its last digit" in one.message


def test_arithmetic_of_another_machine_is_no_change():
    near = Found(Measured(1180.0 * (1 + 1e-12), {"r": 4.0 * (1 - 1e-12)}, n=3))
    assert not is_stale(SEEN, near)
    assert not is_stale(LastSeen(0.0, 0.0, 1), Found(Measured(0.0)))
    assert is_stale(LastSeen(None, None), HELD)
    assert moved(SEEN, Found(Measured(1192.0, {"r": 4.0}, n=3))) is True
    assert moved(SEEN, Found(Measured(1190.0, {"r": 4.0}, n=3))) is False


def test_nothing_is_published_without_its_parts():
    codes = {one.code: one.blocks for one in obstacles("  ", {}, OF_A_MOTOR, {}, FULLY)}
    assert codes == {"no_sentence": True, "no_prose": True}
    unsaid = disclose([BOUGHT], Links.UNKNOWN, "", Gain.UNKNOWN, "")
    told = judged({4: figure(SEEN, HELD)}, disclosure=unsaid)
    assert [one.code for one in told] == ["disclosure", "disclosure"]


def test_what_is_only_said_comes_after_what_blocks():
    told = judged({}, sentence="Pulls 1,180 gf.", text="Draws 26 A at ", rejected=[7])
    assert [(one.code, one.blocks) for one in told] == [
        ("unknown_figure", True),
        ("rejected_run", False),
        ("typed_figure", False),
        ("typed_figure", False),
    ]


def test_a_figure_beyond_a_rating_is_not_published():
    (one,) = judged({4: figure(SEEN, dataclasses.replace(HELD, beyond=True))})
    assert (one.code, one.blocks) == ("beyond_rating", True)
    nothing = Found(Absent("not_run", "no run"))
    (gone,) = judged({4: figure(LastSeen(None, None), nothing)})
    assert (gone.code, gone.blocks) == ("absent", True)


@pytest.mark.parametrize(
    "changed",
    [
        {"name": "charm"},
        {"condition": "luck"},
        {"condition": "thrust_gf", "level": 0.0},
        {"condition": "thrust_gf", "level": float("nan")},
        {"condition": "thrust_gf", "level": float("inf")},
        {"kind": QuoteKind.DELTA},
        {"kind": QuoteKind.RECORD, "text": " "},
        {"kind": QuoteKind.CLAIM, "name": "thrust_gf"},
        {"condition": ""},
    ],
)
def test_what_cannot_be_looked_up_cannot_be_quoted(changed):
    with pytest.raises(QuoteError):
        checked(dataclasses.replace(THRUST, **changed))
    assert checked(THRUST) is THRUST


def test_figures_are_stated_at_their_uncertainty():
    assert stated(THRUST, SEEN) == "1,180 ± 4\u2009gf"
    assert stated(THRUST, LastSeen(None, None)) == "—"
    claim = Quote(QuoteKind.CLAIM, "3", "max_current_a", text="page")
    assert stated(claim, LastSeen(32.0, 0.0)) == "32\u2009A (claimed)"
    assert claim.words == "Rated current, claimed (page)"


def of_motors(samples_of, repeats=3):
    return [
        dataclasses.replace(GOOD, motor=motor, sample=f"{motor}/{sample}")
        for motor, samples in samples_of.items()
        for sample in samples
        for _ in range(repeats)
    ]


def test_several_motors_are_not_several_samples():
    """Nine motors with a sample each were once nine samples, and solid."""
    one_each = bench_grade(of_motors({str(motor): "A" for motor in range(9)}))
    assert one_each.grade is Grade.FAIR
    assert "1 sample of each of 9 motors, 27 runs, at least 3 alike of each" in one_each.line
    assert "2 more samples of the motors with fewest" in one_each.missing
    unlike = bench_grade(of_motors({"1": "ABC", "2": "A"}))
    assert "1 to 3 samples of each of 2 motors" in unlike.line
    assert bench_grade(of_motors({"1": "ABC", "2": "ABC"})).grade is Grade.SOLID


def test_a_motor_that_was_not_repeated_is_the_weakest_part():
    told = bench_grade([*of_motors({"1": "ABC"}), *of_motors({"2": "ABC"}, repeats=1)])
    assert "not every motor repeated" in told.line
    assert any("of every motor on one sample" in one for one in told.missing)


def test_motors_that_nobody_ran_lower_the_grade():
    runs_of = of_motors({"1": "ABC", "2": "ABC"})
    told = bench_grade(runs_of, motors=4)
    assert told.grade is Grade.THIN
    assert "2 of the motors not run under this load" in told.line
    assert "a run of the 2 motors not run under this load" in told.missing
    assert bench_grade(runs_of, motors=2).grade is Grade.SOLID


ORDER = [(1, "Drift", 1), (2, "Sable", 2), (3, "Teal", 3)]


def test_an_order_that_stands_is_no_obstacle():
    assert order_moved(ORDER, list(ORDER)) is None
    assert order_moved(ORDER, list(reversed(ORDER))) is None
    assert order_moved([], []) is None


@pytest.mark.parametrize(
    ("now", "said"),
    [
        (
            [(2, "Sable", 1), (1, "Drift", 2), (3, "Teal", 3)],
            "Sable from 2 to 1; Drift from 1 to 2.",
        ),
        ([*ORDER, (4, "Pale", 4)], "Pale is new at 4."),
        (ORDER[:2], "Teal is no longer ranked."),
        ([], "Drift is no longer ranked; Sable is no longer ranked; Teal is no longer ranked."),
        ([(1, "Drift Mk II", 1), *ORDER[1:]], None),
    ],
)
def test_whoever_stands_elsewhere_is_named_and_blocks(now, said):
    found = order_moved(ORDER, now)
    assert (found is None) is (said is None)
    if found is not None:
        assert said in found.message
        assert found.blocks
        assert not found.word_lifts


def test_many_who_moved_are_counted():
    seen = [(pk, f"M{pk}", pk) for pk in range(1, 11)]
    now = [(pk, name, 11 - place) for pk, name, place in seen]
    assert "M6 from 6 to 5; and 4 more. Read" in order_moved(seen, now).message
