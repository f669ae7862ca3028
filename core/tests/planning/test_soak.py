"""What a soak will warm its motor by, held against what the simulated motor does."""

import math

import pytest
from known_things import exactly, motor, propeller, supply

from spindle_core.figures.measured import Absent, Measured
from spindle_core.planning.predict import predict
from spindle_core.planning.soak import (
    PER_LENGTH,
    SATURATES,
    SoaksBefore,
    predict_soak,
    soaks_before,
)

SOAK = {"rise_k_per_kj": Measured(3.0, {"energy": 0.06}), "energy_kj": Measured(10.0)}
COURSE = [(0.0, 0.0, 2.0), (0.0, 100.0, 5.0), (100.0, 100.0, 40.0)]
THINGS = (motor(), propeller(), supply(16.0), exactly(1.19))


def asked(before=None, course=COURSE, **more):
    return predict_soak(*THINGS, before or soaks_before([SOAK]), course=course, **more)


def test_the_energy_is_that_of_the_operating_point_over_the_course():
    watts = predict(*THINGS).figures["power_w"].value
    # The cube of a throttle that goes straight up averages a quarter.
    assert asked()["energy_kj"].value == pytest.approx(watts * (40.0 + 5.0 / 4.0) / 1000.0)


def test_the_rise_is_what_its_soaks_showed_per_energy():
    energy = asked()["energy_kj"].value
    made = asked(soaks_before([{**SOAK, "energy_kj": Measured(energy)}]))
    assert made["rise_k"].value == pytest.approx(3.0 * energy)
    assert made["rise_k"].origin == "estimated"
    # One soak is not believed closer than soaks scatter.
    assert made["rise_k"].relative_u > 0.08


def test_a_soak_of_another_length_is_known_less_well():
    like = SoaksBefore(exactly(3.0), asked()["energy_kj"].value)
    other = SoaksBefore(exactly(3.0), 2.0 * asked()["energy_kj"].value)
    assert asked(like)["rise_k"].component("other_length") == pytest.approx(0.0, abs=1e-9)
    rise = asked(other)["rise_k"]
    # Of a kilojoule in a shorter soak more is left in the case.
    assert rise.value == pytest.approx(asked(like)["rise_k"].value * 2**SATURATES)
    assert rise.component("other_length") == pytest.approx(PER_LENGTH * math.log(2) * rise.value)


def test_without_a_soak_its_energy_is_known_and_its_rise_is_not():
    made = asked(soaks_before([]))
    assert isinstance(made["energy_kj"], Measured)
    assert made["rise_k"] == Absent("no_soak", "no soak of it is accepted")
    # A soak whose power was not logged tells no energy.
    blind = {"rise_k_per_kj": Absent("not_logged", "power was not logged")}
    assert made["rise_k"].reason == "no_soak"
    assert asked(soaks_before([blind]))["rise_k"].reason == "not_logged"


def test_one_that_ends_at_a_temperature_is_not_foretold():
    assert {one.reason for one in asked(course=[]).values()} == {"open_end"}


def test_below_full_throttle_an_esc_of_unknown_kind_is_assumed_aloud():
    course = [(60.0, 60.0, 40.0)]
    unknown, linear = asked(course=course), asked(course=course, esc_linear=True)
    assert unknown["energy_kj"].value == pytest.approx(linear["energy_kj"].value, rel=1e-6)
    assert unknown["energy_kj"].component("assumed_duty") > 0.05 * unknown["energy_kj"].value
    assert linear["energy_kj"].component("assumed_duty") == 0.0


def test_a_motor_that_would_not_turn_warms_by_nothing_that_can_be_said():
    stuck = (motor(ohm=8.0, idle=6.0), propeller(), supply(10.0), exactly(1.2))
    for course in (COURSE, [(60.0, 60.0, 40.0)]):
        made = predict_soak(*stuck, soaks_before([SOAK]), course=course)
        assert made["rise_k"].reason == "does_not_turn"


def test_soaks_whose_energy_cannot_be_are_left_out():
    odd = [
        {**SOAK, "energy_kj": Measured(0.0)},
        {**SOAK, "energy_kj": Absent("not_logged", "")},
        {**SOAK, "energy_kj": Measured(40.0)},
        SOAK,
    ]
    assert soaks_before(odd).energy_kj == pytest.approx(20.0)
    assert soaks_before(odd[:2]).energy_kj is None
    assert asked(soaks_before(odd[:1]))["rise_k"].reason == "no_energy"
