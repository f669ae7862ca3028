"""What a way of writing a propeller can mean."""

from __future__ import annotations

import pytest

from spindle_core.errors import QuantityError
from spindle_core.intake.propeller_code import fitting, propeller_readings


def sizes(text):
    return [(one.diameter_in, one.pitch_in, one.blades) for one in propeller_readings(text)]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("5x4.3x3", [(5.0, 4.3, 3)]),
        ("5 X 4,3 × 3", [(5.0, 4.3, 3)]),
        ("5043", [(5.0, 4.3, None)]),
        ("51433", [(5.1, 4.3, 3)]),
        ("5043x3", [(5.0, 4.3, 3)]),
        ("940", [(9.0, 4.0, None)]),
        ("1045", [(10.0, 4.5, None)]),
        ("2540", [(25.0, 4.0, None), (2.5, 4.0, None)]),
        ("6x3", [(6.0, 3.0, None), (6.0, None, 3)]),
        ("6x4.5", [(6.0, 4.5, None)]),
        ("6x5", [(6.0, 5.0, None)]),
        ("40mm", [(1.575, None, None)]),
        ("65 mm x 3", [(2.559, None, 3)]),
        ("5", [(5.0, None, None)]),
        ('7"', [(7.0, None, None)]),
    ],
)
def test_ways_of_writing(text, expected):
    assert sizes(text) == expected


def test_a_plain_size_is_certain_and_digits_are_not():
    assert propeller_readings("5x4.3x3")[0].certain
    assert propeller_readings("40mm")[0].certain
    assert not propeller_readings("5043")[0].certain
    assert not any(one.certain for one in propeller_readings("6x3"))


@pytest.mark.parametrize(
    ("text", "stator_mm", "fits"),
    [
        # The motor in hand decides, or leaves both standing to be asked.
        ("2540", 11.0, [2.5]),
        ("2540", 63.0, [25.0]),
        ("6x3", 22.0, [6.0, 6.0]),
        ("40mm", 9.0, [1.575]),
        ("40mm", 22.0, []),
        ("1045", 28.0, [10.0]),
        ("1045", 14.0, []),
    ],
)
def test_which_of_them_fit_the_motor_in_hand(text, stator_mm, fits):
    assert [one.diameter_in for one in fitting(propeller_readings(text), stator_mm)] == fits


@pytest.mark.parametrize(
    "text", ["", "prop", "5x", "0x0", "99x99", "5x4x12", "123456", "-5x4", "5x4x", "1200mm", "5m"]
)
def test_what_is_no_propeller_says_how_to_write_one(text):
    with pytest.raises(QuantityError, match="write diameter x pitch x blades"):
        propeller_readings(text)
