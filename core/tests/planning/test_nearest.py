"""The motor or propeller at hand that is most like one that is not."""

from dataclasses import replace

import pytest

from spindle_core.figures.measured import Absent, Measured
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller
from spindle_core.planning.nearest import nearest_motor, nearest_propeller

DARK = Absent("no_label", "nothing is known of it")
MOTOR = KnownMotor(
    Measured(1900.0), Measured(0.05), Measured(1.0), 0.0, Measured(0.0), 5.0, Foundation.GUESSED, ""
)
PROPELLER = KnownPropeller(5.1, Measured(0.11), Measured(0.05), Foundation.GUESSED, "")


def motor(kv, ohm=0.05):
    return replace(MOTOR, kv_rpm_per_v=Measured(kv), resistance_ohm=Measured(ohm))


def test_of_motors_kv_comes_first_and_resistance_tells_equal_ones_apart():
    here = [("slow", motor(1750)), ("like", motor(1950)), ("fast", motor(2600))]
    assert nearest_motor(motor(1900), here) == ("like", "kV 3 % higher")
    twins = [("weak", motor(1900, 0.09)), ("strong", motor(1900, 0.055))]
    assert nearest_motor(motor(1900), twins) == ("strong", "kV the same")


@pytest.mark.parametrize(("kv", "words"), [(1900 * 1.004, "kV the same"), (1700, "kV 11 % lower")])
def test_how_far_off_is_said_in_per_cent(kv, words):
    assert nearest_motor(MOTOR, [("other", motor(kv))])[1] == words


def test_of_propellers_the_load_counts_and_not_the_name():
    here = [
        ("wide and light", replace(PROPELLER, diameter_in=6.0, cp=Measured(0.0222))),
        ("same diameter, heavy", replace(PROPELLER, cp=Measured(0.08))),
    ]
    assert nearest_propeller(PROPELLER, here) == ("wide and light", "load the same")


def test_what_is_not_known_is_near_to_nothing():
    assert nearest_motor(DARK, [("a", MOTOR)]) == ("", "")
    assert nearest_motor(MOTOR, [("a", DARK)]) == ("", "")
    assert nearest_motor(MOTOR, []) == ("", "")
    assert nearest_propeller(DARK, [("a", PROPELLER)]) == ("", "")
    assert nearest_propeller(PROPELLER, [("a", DARK), ("b", PROPELLER)])[0] == "b"
