"""The house that the tests of a module begin with: each finds it as it was begun."""

import pytest

from spindle_server.accounts.models import User
from spindle_server.motors.models import MotorModel
from spindle_server.motors.services import change_motor
from spindle_server.runs.models import Run


def test_before_it_was_begun_there_is_nothing(house):
    assert not MotorModel.objects.exists()
    assert not User.objects.exists()


@pytest.fixture(scope="module")
def begun_run(common_house):
    return common_house.record()


@pytest.mark.parametrize("turn", ["first", "second"])
def test_what_one_did_to_rows_and_to_copies_of_them_no_other_sees(begun_run, house, turn):
    motor = house.rig["motor"]
    assert Run.objects.get().pk == begun_run.pk
    assert (motor.verdict, motor.version) == ("", MotorModel.objects.get().version)
    assert len(house.rig["samples"]) == 2
    assert set(house.people) == {"reviewer"}
    house.record(sample=1)
    change_motor(
        actor=house.people["editor"], motor=motor, base=motor.version, verdict=f"The {turn}'s."
    )
    house.rig["samples"].clear()
    assert Run.objects.count() == 2
