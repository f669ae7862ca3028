"""The vocabulary: what an observation may be."""

import pytest

from spindle_core.errors import VocabularyError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.teardown import (
    ATTRIBUTES,
    OPEN_POINTS,
    OUTSIDE_STEP,
    STEPS,
    Status,
    Topic,
    air_gap_mm,
    check_observation,
    findings,
)
from spindle_core.teardown.findings import slot_area_mm2


def test_attributes_follow_the_order_of_looking():
    steps = (OUTSIDE_STEP, *STEPS)
    order = [steps.index(attribute.step) for attribute in ATTRIBUTES.values()]
    assert order == sorted(order)
    assert OUTSIDE_STEP not in STEPS
    for attribute in ATTRIBUTES.values():
        assert bool(attribute.choices) != attribute.is_number


def test_open_points_name_real_answers():
    for key, choice in OPEN_POINTS:
        assert choice in {item.key for item in ATTRIBUTES[key].choices}


def test_air_gap_worked_example():
    assert air_gap_mm(21.62, 21.20) == pytest.approx(0.21)
    with pytest.raises(VocabularyError):
        air_gap_mm(21.0, 21.2)


def test_allowed_observations():
    check_observation("pole_count", Status.OBSERVED, value=14)
    check_observation("stator_diameter", Status.MEASURED, value=21.2)
    check_observation("magnet_shape", Status.OBSERVED, choice="arc")
    check_observation("magnet_shape", Status.COULD_NOT_TELL)


@pytest.mark.parametrize(
    ("key", "status", "answer", "code"),
    [
        ("colour", Status.OBSERVED, {"choice": "red"}, "unknown_attribute"),
        ("magnet_shape", Status.OBSERVED, {"choice": "round"}, "choice"),
        ("magnet_shape", Status.MEASURED, {"choice": "arc"}, "wrong_status"),
        ("stator_diameter", Status.MEASURED, {}, "number_needed"),
        ("stator_diameter", Status.OBSERVED, {"value": 21}, "wrong_status"),
        ("stator_diameter", Status.MEASURED, {"value": 0.0212}, "out_of_range"),
        ("pole_count", Status.OBSERVED, {"value": 13}, "odd_poles"),
        ("pole_count", Status.OBSERVED, {"value": 13.5}, "whole_number"),
        ("slot_count", Status.OBSERVED, {"value": 13}, "slots_not_by_three"),
        ("magnet_shape", Status.NOT_LOOKED, {"choice": "arc"}, "vocabulary"),
    ],
)
def test_refused_observations(key, status, answer, code):
    with pytest.raises(VocabularyError) as caught:
        check_observation(key, status, **answer)
    assert caught.value.code == code


KEPT_FROM_VERSION_1 = (
    "radial_play",
    "axial_play",
    "free_spin",
    "bell_retention",
    "screw_drags_bell",
    "shaft_diameter",
    "shaft_type",
    "bearing_fit",
    "pole_count",
    "magnet_shape",
    "magnet_inner_diameter",
    "magnet_bonding",
    "slot_count",
    "stator_diameter",
    "stator_height",
    "lamination_thickness",
    "winding",
    "winding_neatness",
    "base_type",
    "base_thickness",
)


def test_answers_of_the_first_vocabulary_still_stand():
    assert set(KEPT_FROM_VERSION_1) <= set(ATTRIBUTES)
    assert len(ATTRIBUTES) > 50


def test_every_answer_is_worded_and_none_speaks_for_and_against_one_thing():
    for attribute in ATTRIBUTES.values():
        assert attribute.label
        assert len(attribute.key) <= 32
        assert len({c.key for c in attribute.choices}) == len(attribute.choices)
        for choice in attribute.choices:
            assert not set(choice.helps) & set(choice.costs), (attribute.key, choice.key)
            if choice.helps or choice.costs:
                assert choice.suggests or attribute.key in ("enamel_class",)
    topics = {t for a in ATTRIBUTES.values() for c in a.choices for t in (*c.helps, *c.costs)}
    assert topics == {"power", "heat", "durability", "service", "cost", "mass"}


def numbers(**values):
    return {key: Measured(value, {key: u}) for key, (value, u) in values.items()}


def test_findings_from_numbers():
    found = {
        f.name: f
        for f in findings(
            numbers(
                magnet_inner_diameter=(21.62, 0.02),
                stator_diameter=(21.20, 0.01),
                stator_height=(5.5, 0.05),
                slot_count=(12, 0),
                pole_count=(14, 0),
                shaft_inner_diameter=(4.0, 0.01),
                bearing_outer_diameter=(5.0, 0.02),
                strand_count=(5, 0),
                wire_diameter=(0.25, 0.01),
            ),
            size_code_mm=(21.0, 5.5),
        )
    }
    assert found["air_gap_mm"].figure.value == pytest.approx(0.21)
    assert found["air_gap_mm"].figure.u == pytest.approx(0.01118, abs=1e-5)
    assert found["stator_diameter_off_mm"].figure.value == pytest.approx(0.2)
    assert found["stator_diameter_off_mm"].note == ""
    assert found["winding_factor"].figure.value == pytest.approx(0.933, abs=5e-4)
    assert found["bearing_wall_mm"].figure.value == pytest.approx(0.5)
    assert "thin" in found["bearing_wall_mm"].note
    assert found["copper_mm2"].figure.value == pytest.approx(0.2454, abs=1e-4)
    assert found["copper_mm2"].figure.relative_u == pytest.approx(2 * 0.01 / 0.25)


def test_findings_that_cannot_be_say_why():
    found = {
        f.name: f
        for f in findings(
            numbers(
                slot_count=(12, 0),
                pole_count=(12, 0),
                shaft_diameter=(5.0, 0.01),
                bearing_outer_diameter=(4.0, 0.01),
            )
        )
    }
    assert isinstance(found["air_gap_mm"].figure, Absent)
    assert isinstance(found["winding_factor"].figure, Absent)
    assert "does not go through" in found["bearing_wall_mm"].figure.note
    assert "copper_mm2" not in found


def test_room_for_copper_by_hand():
    # 22 mm across, 12 teeth of 2 mm, 6 mm long: the ring holds π·6·16 = 301.6 mm², a slot 25.1 less
    # 12 for its tooth.
    assert slot_area_mm2(22.0, 6.0, 2.0, 12) == pytest.approx(301.593 / 12 - 12.0, abs=1e-3)
    numbers = {
        "stator_diameter": Measured(22.0, {"a": 0.02}),
        "tooth_length": Measured(6.0, {"b": 0.1}),
        "tooth_width": Measured(2.0, {"c": 0.05}),
        "slot_count": Measured(12.0),
    }
    found = {one.name: one for one in findings(numbers)}
    area = found["slot_area_mm2"].figure
    assert area.value == pytest.approx(13.133, abs=1e-3)
    # The tooth's width moves it by its length: 6 mm × 0.05 mm, more than all else.
    assert 0.3 < area.u < 0.4
    del numbers["tooth_width"]
    assert {o.name: o for o in findings(numbers)}["slot_area_mm2"].figure.reason == "not_measured"
    del numbers["tooth_length"]
    assert "slot_area_mm2" not in {one.name for one in findings(numbers)}


@pytest.mark.parametrize(
    ("tooth", "width", "slots"), [(11.0, 2.0, 12), (0.0, 2.0, 12), (6.0, 4.2, 12), (6.0, 2.0, 40)]
)
def test_teeth_that_leave_no_slot(tooth, width, slots):
    with pytest.raises(VocabularyError):
        slot_area_mm2(22.0, tooth, width, slots)


@pytest.mark.parametrize(
    ("height", "word"), [(4.0, "flat"), (4.5, "usual"), (8.8, "usual"), (9.0, "tall")]
)
def test_proportions_over_the_whole_range(height, word):
    numbers = {"stator_diameter": Measured(22.0), "stator_height": Measured(height)}
    notes = {one.name: one.note for one in findings(numbers)}
    assert word in notes["stator_aspect"]


def test_mass_is_a_topic_of_its_own():
    speaks = [
        c for a in ATTRIBUTES.values() for c in a.choices if Topic.MASS in (*c.helps, *c.costs)
    ]
    assert {choice.key for choice in speaks} >= {"open", "full", "spokes", "pocketed", "clad"}
