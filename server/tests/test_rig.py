"""Propellers, supplies and stands."""

import pytest
from django.db import IntegrityError, transaction

from spindle_server.rig.models import Propeller, Stand, Supply

NEW = {"maker": "Corran", "diameter_in": 7.0, "pitch_in": 3.8, "blades": 3}


def test_adding_a_propeller(api, rig):
    made = api.post("/api/v1/propellers/", NEW, format="json")
    assert made.status_code == 201
    assert made.json()["full_name"] == "Corran 7x3.8x3"
    names = [p["full_name"] for p in api.get("/api/v1/propellers/").json()["results"]]
    assert names == ["Wickett 5.1x4.2x3", "Corran 7x3.8x3"]


def test_the_same_propeller_is_there_once(api, rig):
    api.post("/api/v1/propellers/", NEW, format="json")
    again = api.post("/api/v1/propellers/", NEW, format="json")
    assert (again.status_code, again.json()["code"]) == (409, "propeller_exists")


@pytest.mark.parametrize(
    ("changed", "field"),
    [({"diameter_in": 0}, "diameter_in"), ({"blades": 0}, "blades"),
     ({"pitch_in": "x"}, "pitch_in"), ({"maker": ""}, "maker"),
     ({"diameter_in": 178}, "diameter_in")],
)  # fmt: skip
def test_impossible_propellers_name_their_field(api, rig, changed, field):
    answer = api.post("/api/v1/propellers/", {**NEW, **changed}, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert Propeller.objects.count() == 1


def test_floors_of_supplies(api, rig):
    Supply.objects.create(
        name="Pack 4-1", kind="pack", nominal_voltage_v=14.8, open_circuit_v=16.8,
        resistance_ohm=0.011, cells=4, capacity_mah=1500,
    )  # fmt: skip
    floors = {s["name"]: s["floor_v"] for s in api.get("/api/v1/supplies/").json()["results"]}
    assert floors["Pack 4-1"] == pytest.approx(13.2)
    assert floors["Supply 16 V"] == pytest.approx(12.8)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: Supply(name="x", kind="pack", nominal_voltage_v=14.8, open_circuit_v=16.8,
                       resistance_ohm=0.01),
        lambda: Supply(name="x", kind="psu", nominal_voltage_v=16, open_circuit_v=16,
                       resistance_ohm=0.01, cells=4, capacity_mah=1000),
        lambda: Supply(name="x", kind="psu", nominal_voltage_v=0, open_circuit_v=16,
                       resistance_ohm=0.01),
        lambda: Stand(name="x", kind="direct", repeatability_rel=0, calibration_rel=0.01),
        lambda: Stand(name="x", kind="direct", repeatability_rel=0.9, calibration_rel=0.01),
    ],
)  # fmt: skip
def test_the_database_refuses_what_cannot_be(db, wrong):
    with pytest.raises(IntegrityError), transaction.atomic():
        wrong().save()
