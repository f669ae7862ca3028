"""Teardowns side by side, references to other samples, and which adapter rings to take."""

import pytest

from spindle_core.errors import QuantityError, VocabularyError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.intake.propeller_fit import Hub, Ring, Shaft, best_stack, fits
from spindle_core.teardown import (
    ATTRIBUTES,
    Seen,
    Status,
    Topic,
    arguments,
    check_observation,
    check_together,
    compare_findings,
    compare_sheets,
    findings,
)

SEEN, MEASURED = Status.OBSERVED, Status.MEASURED


def outcome(key, *cells):
    sheets = [{} if cell is None else {key: cell} for cell in cells]
    return next(row.outcome for row in compare_sheets(sheets) if row.key == key)


def mm(value, u=0.01):
    return Seen(MEASURED, value=value, u=u)


def test_choices_are_the_same_or_different():
    arc, flat = Seen(SEEN, "arc"), Seen(SEEN, "flat")
    assert outcome("magnet_shape", arc, arc) == "same"
    assert outcome("magnet_shape", arc, flat, arc) == "different"
    assert outcome("magnet_shape", arc, None) == "unknown"
    assert outcome("magnet_shape", arc, Seen(Status.COULD_NOT_TELL)) == "unknown"


def test_what_was_inferred_is_no_look_at_the_sample():
    assert outcome("magnet_shape", Seen(SEEN, "arc"), Seen(Status.INFERRED, "flat")) == "unknown"
    assert outcome("magnet_shape", Seen(SEEN, "arc"), Seen(Status.SAME_AS, "arc")) == "same"


def test_numbers_differ_only_beyond_their_uncertainty():
    assert outcome("stator_diameter", mm(21.20), mm(21.22)) == "unresolved"
    assert outcome("stator_diameter", mm(21.20), mm(21.25)) == "different"
    assert outcome("stator_diameter", mm(21.20, None), mm(25.0)) == "unresolved"
    assert outcome("stator_diameter", mm(21.2), Seen(Status.SAME_AS, value=21.2)) == "unresolved"


def test_counts_are_exact():
    poles = lambda n: Seen(SEEN, value=n)  # noqa: E731
    assert outcome("pole_count", poles(14), poles(14)) == "same"
    assert outcome("pole_count", poles(14), poles(12)) == "different"
    assert outcome("pole_count", poles(14), Seen(Status.SAME_AS, value=14)) == "same"


def test_rows_follow_the_vocabulary_and_leave_out_what_nobody_answers():
    rows = compare_sheets(
        [{"winding": Seen(SEEN, "single"), "radial_play": Seen(SEEN, "none")}, {}]
    )
    assert [row.key for row in rows] == ["radial_play", "winding"]


@pytest.mark.parametrize("count", [1, 5])
def test_two_to_four_samples(count):
    with pytest.raises(QuantityError):
        compare_sheets([{}] * count)


def test_derived_figures_side_by_side():
    gaps = [
        findings(
            {
                "stator_diameter": Measured(21.2, {"c": 0.01}),
                "magnet_inner_diameter": Measured(inner, {"c": 0.02}),
            }
        )
        for inner in (21.62, 21.62, 21.90)
    ]
    rows = {row.key: row for row in compare_findings(gaps)}
    assert rows["air_gap_mm"].outcome == "different"
    assert {row.key: row for row in compare_findings(gaps[:2])}[
        "air_gap_mm"
    ].outcome == "unresolved"
    assert rows["stator_volume_mm3"].outcome == "unknown"


def test_differences_suggest_and_have_a_counterpoint():
    rows = compare_sheets(
        [{"magnet_shape": Seen(SEEN, "arc")}, {"magnet_shape": Seen(SEEN, "flat")}]
    )
    said = {(item.topic, item.column): item for item in arguments(rows)}
    assert said[(Topic.POWER, 0)].speaks_for
    assert not said[(Topic.POWER, 1)].speaks_for
    assert said[(Topic.COST, 1)].speaks_for
    assert [item.topic for item in arguments(rows)] == sorted(
        (item.topic for item in arguments(rows)), key=list(Topic).index
    )
    same = compare_sheets([{"magnet_shape": Seen(SEEN, "arc")}] * 2)
    assert arguments(same) == []


def test_less_same_more_needs_an_attribute_with_an_order():
    check_observation("pull_force", Status.ORDINAL, ordinal="more")
    check_observation("stator_diameter", Status.ORDINAL, ordinal="less")
    for key, ordinal in (("magnet_shape", "more"), ("pole_count", "more"), ("pull_force", "much")):
        with pytest.raises(VocabularyError):
            check_observation(key, Status.ORDINAL, ordinal=ordinal)
    with pytest.raises(VocabularyError):
        check_observation("pull_force", Status.ORDINAL, ordinal="more", choice="firm")
    with pytest.raises(VocabularyError):
        check_observation("pull_force", Status.OBSERVED, choice="firm", ordinal="more")


def test_taken_over_answers_are_still_answers_of_the_vocabulary():
    check_observation("stator_diameter", Status.SAME_AS, value=21.2)
    check_observation("pole_count", Status.INFERRED, value=14)
    check_observation("winding", Status.INFERRED, choice="single")
    with pytest.raises(VocabularyError):
        check_observation("pole_count", Status.SAME_AS, value=13)
    with pytest.raises(VocabularyError):
        check_observation("winding", Status.SAME_AS, choice="gold")


@pytest.mark.parametrize(
    ("key", "value", "other"),
    [
        ("shaft_diameter", 5.0, {"bearing_outer_diameter": 4.0}),
        ("mount_circle", 30.0, {"base_diameter": 28.0}),
        ("total_height", 20.0, {"body_height": 21.0}),
        ("magnet_inner_diameter", 21.0, {"stator_diameter": 21.2}),
    ],
)
def test_numbers_that_cannot_be_one_motors(key, value, other):
    with pytest.raises(VocabularyError):
        check_together(key, value, other)
    check_together(key, value, {"lead_gauge": 1.0})


def test_every_order_has_three_words():
    for attribute in ATTRIBUTES.values():
        assert len(attribute.ordinal_words) in (0, 3)
        assert not (attribute.integer and attribute.ordinal_words)


def test_volume_ceiling_and_depth_of_a_screw():
    found = {
        item.name: item
        for item in findings(
            {
                "stator_diameter": Measured(21.0, {"c": 0.01}),
                "stator_height": Measured(5.5),
                "thread_depth": Measured(2.5, {"c": 0.1}),
                "screw_clearance": Measured(1.2),
            },
            enamel_class="F",
            magnet_grade="N52SH",
        )
    }
    assert found["stator_volume_mm3"].figure.value == pytest.approx(1905.0, abs=0.05)
    assert found["stator_aspect"].figure.value == pytest.approx(0.262, abs=5e-4)
    assert found["temperature_ceiling_c"].figure.value == 150.0
    assert "magnets N52SH" in found["temperature_ceiling_c"].note
    assert found["screw_depth_mm"].figure.value == pytest.approx(3.7)
    bare = {item.name: item.figure for item in findings({})}
    assert isinstance(bare["temperature_ceiling_c"], Absent)
    assert isinstance(bare["screw_depth_mm"], Absent)
    odd = {item.name: item.figure for item in findings({}, enamel_class="X")}
    assert odd["temperature_ceiling_c"].reason == "enamel"


def test_the_ring_that_centres_a_propeller_is_found():
    hub, shaft = Hub(8.0, 6.0), Shaft(5.0, 12.0, nut_mm=4.0)
    ring, loose = Ring(5.02, 7.98, 4.0), Ring(5.3, 7.8, 4.0)
    stack, found = best_stack(hub, shaft, [loose, ring])
    assert stack == (ring,)
    assert fits(found)
    assert best_stack(Hub(5.02, 6.0), shaft, [ring])[0] == ()
    nested, found = best_stack(hub, shaft, [Ring(5.02, 6.5, 4.0), Ring(6.52, 7.98, 4.0)])
    assert len(nested) == 2
    assert fits(found)
    none, found = best_stack(Hub(4.0, 6.0), shaft, [ring])
    assert none == ()
    assert not fits(found)
