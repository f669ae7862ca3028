"""The made-up record for measuring: whole, repeatable, and never poured over a real one."""

import pytest
from django.core.management import CommandError, call_command

from spindle_server.demo.large import SIZES, seed
from spindle_server.demo.large_runs import RUN_MOTORS
from spindle_server.demo.timing import time_endpoints
from spindle_server.motor_file.selectors import motor_file, motor_for_file
from spindle_server.motors.models import Claim, MotorModel, Sample, Weighing
from spindle_server.rig.models import Stand, Supply
from spindle_server.runs.models import Run
from spindle_server.teardown.models import Observation


def silent(text):
    """Nobody reads along."""


@pytest.fixture
def small(db):
    return seed("small", silent)


def test_it_has_the_size_it_says(small):
    motors, each = SIZES["small"]
    assert (small.motors, small.samples) == (motors, motors * each)
    assert MotorModel.objects.count() == motors
    assert Sample.objects.count() == motors * each
    assert Weighing.objects.count() == 2 * small.samples
    assert Observation.objects.count() == small.observations == 14 * small.samples
    assert SIZES["large"] == (2000, 3)
    assert Run.objects.count() == small.runs == RUN_MOTORS["small"] * 5 * 3
    assert RUN_MOTORS["large"] == 40


def test_every_motor_of_it_opens(small, api):
    for motor in MotorModel.objects.all()[:10]:
        file = motor_file(motor_for_file(motor.pk).get())
        assert file["size"]["stator_volume_mm3"] > 0
        weights = [row["mass_g"]["value"] for row in file["masses"]["samples"]]
        assert all(weights)
        assert file["masses"]["spread"].n == 3
        assert api.get(f"/api/v1/motors/{motor.pk}/").status_code == 200
    sheet = api.get(f"/api/v1/samples/{Sample.objects.first().pk}/teardown/").json()
    assert sheet["findings"][0]["value"] > 0


def test_the_same_number_makes_the_same_bench(db):
    seed("small", silent)
    first = list(Claim.objects.order_by("pk").values_list("quantity", "value"))
    for model in (Run, Stand, Supply, Observation, Weighing, Claim, Sample):
        model.objects.all().delete()
    MotorModel.objects.all().first().parcels.model.objects.all().delete()
    MotorModel.objects.all().delete()
    from spindle_server.rig.models import Propeller

    Propeller.objects.all().delete()
    MotorModel.maker.field.related_model.objects.all().delete()
    seed("small", silent)
    assert list(Claim.objects.order_by("pk").values_list("quantity", "value")) == first


def test_lists_are_timed_and_all_of_them_answer(small, settings):
    settings.ALLOWED_HOSTS = ["127.0.0.1"]
    said = []
    time_endpoints(said.append, rounds=2)
    cold, rest = said[:5], said[5:]
    assert [line.split(",")[0].strip() for line in cold] == [
        "ranking",
        "match",
        "comparison of many",
        "the whole bench",
        "mass and money",
    ]
    assert all("cold" in line for line in cold)
    assert rest[0].startswith("40 motors, 120 samples, 2 requests each")
    assert len(rest) == 13
    assert not any("status" in line for line in said)
    assert all("queries" in line for line in rest[1:])


def test_an_empty_record_is_not_timed(db):
    said = []
    time_endpoints(said.append)
    assert said == ["Nothing to time: the record is empty."]


def test_a_record_that_somebody_keeps_is_not_touched(rig):
    with pytest.raises(CommandError, match="folder of its own"):
        call_command("seed_bench", "--size", "small")
    assert MotorModel.objects.count() == 1


def test_seeding_twice_seeds_once(db, capsys):
    call_command("seed_bench", "--size", "small")
    call_command("seed_bench", "--size", "small")
    assert MotorModel.objects.count() == SIZES["small"][0]
