"""The vocabulary: what an observation may be."""

import pytest

from spindle_core.errors import VocabularyError
from spindle_core.teardown import (
    ATTRIBUTES,
    OPEN_POINTS,
    STEPS,
    Status,
    air_gap_mm,
    check_observation,
)


def test_attributes_follow_the_order_of_looking():
    order = [STEPS.index(attribute.step) for attribute in ATTRIBUTES.values()]
    assert order == sorted(order)
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
