"""What an empty bench starts with."""

import pytest
from django.core.management import call_command

from spindle_server.rig.first import COMMON_SIZES, give_first_rig
from spindle_server.rig.models import Propeller, Stand, Supply

TAKE = "/api/v1/propellers/common-sizes/"


def test_a_new_installation_has_a_stand_that_works(db, capsys):
    call_command("first_start")
    assert Stand.objects.get().live
    assert Supply.objects.get().nominal_voltage_v == 16.0
    call_command("first_start")
    assert Stand.objects.count() == 1


def test_a_stand_that_somebody_renamed_or_took_is_not_brought_again(rig):
    Supply.objects.all().delete()
    assert not give_first_rig()
    assert list(Stand.objects.values_list("name", flat=True)) == ["Yard stand"]
    assert not Supply.objects.exists()


def test_common_sizes_are_offered_and_taken_once(api, rig):
    offered = api.get(TAKE).json()
    assert len(offered) == len(COMMON_SIZES)
    assert not any(size["taken"] for size in offered)
    body = {"sizes": ["5x4x2", "3x2x3", "5x4x2"]}
    made = api.post(TAKE, body, format="json")
    assert made.status_code == 201
    assert [row["full_name"] for row in made.json()] == ["Any maker 5x4x2", "Any maker 3x2x3"]
    assert api.post(TAKE, body, format="json").json() == []
    assert Propeller.objects.filter(maker__name="Any maker").count() == 2
    assert [s["text"] for s in api.get(TAKE).json() if s["taken"]] == ["3x2x3", "5x4x2"]


@pytest.mark.parametrize("sizes", [["99x1x2"], [""], ["5x4x2", "nan"]])
def test_another_size_is_refused_whole(api, rig, sizes):
    answer = api.post(TAKE, {"sizes": sizes}, format="json")
    assert answer.status_code == 400
    assert Propeller.objects.count() == 1


def test_a_reader_takes_nothing(as_role, rig):
    answer = as_role("reader").post(TAKE, {"sizes": ["5x4x2"]}, format="json")
    assert answer.status_code == 403
