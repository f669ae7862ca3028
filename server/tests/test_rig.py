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
    ("words", "found"),
    [
        ("corr", 1),
        ("7x3.8x3", 1),
        ("7x", 1),
        ("7x3.8", 1),
        ("7x3,8x3", 1),
        ("7x3.9", 0),
        ("7x3.8x2", 0),
        ("7x3x3", 0),
        ("5", 1),
        ("wick 5.1", 1),
        ("wick 7", 0),
        ("x", 0),
        ("7xx", 1),
        ("", 2),
        ("9" * 400, 0),
        ("9" * 400 + "x", 0),
        ("5.1x4.2x99999999999999999999", 0),
    ],
)
def test_propellers_are_found_by_words_and_geometry(api, rig, words, found):
    api.post("/api/v1/propellers/", NEW, format="json")
    answer = api.get("/api/v1/propellers/", {"search": words})
    assert (answer.status_code, answer.json()["count"]) == (200, found)


def test_one_propeller_is_found_by_its_number(api, rig):
    made = api.post("/api/v1/propellers/", NEW, format="json").json()
    assert api.get("/api/v1/propellers/", {"id": made["id"]}).json()["results"] == [made]


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"diameter_in": 0}, "diameter_in"),
        ({"blades": 0}, "blades"),
        ({"pitch_in": "x"}, "pitch_in"),
        ({"maker": ""}, "maker"),
        ({"diameter_in": 178}, "diameter_in"),
    ],
)
def test_impossible_propellers_name_their_field(api, rig, changed, field):
    answer = api.post("/api/v1/propellers/", {**NEW, **changed}, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert Propeller.objects.count() == 1


def test_floors_of_supplies(api, rig):
    Supply.objects.create(
        name="Pack 4-1",
        kind="pack",
        nominal_voltage_v=14.8,
        open_circuit_v=16.8,
        resistance_ohm=0.011,
        cells=4,
        capacity_mah=1500,
    )
    floors = {s["name"]: s["floor_v"] for s in api.get("/api/v1/supplies/").json()["results"]}
    assert floors["Pack 4-1"] == pytest.approx(13.2)
    assert floors["Supply 16 V"] == pytest.approx(12.8)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: Supply(name="x", kind="pack", resistance_ohm=0),
        lambda: Supply(name="x", kind="pack", trip_a=30),
        lambda: Supply(name="x", kind="psu"),
        lambda: Supply(
            name="x",
            kind="psu",
            nominal_voltage_v=16,
            open_circuit_v=16,
            resistance_ohm=0.01,
            cells=4,
            capacity_mah=1000,
        ),
        lambda: Supply(
            name="x", kind="psu", nominal_voltage_v=0, open_circuit_v=16, resistance_ohm=0.01
        ),
        lambda: Stand(name="x", kind="direct", repeatability_rel=0, calibration_rel=0.01),
        lambda: Stand(name="x", kind="direct", repeatability_rel=0.9, calibration_rel=0.01),
    ],
)
def test_the_database_refuses_what_cannot_be(db, wrong):
    with pytest.raises(IntegrityError), transaction.atomic():
        wrong().save()


PACK = {
    "name": "Pack 6-1",
    "kind": "pack",
    "resistance_ohm": 0.015,
    "cells": 6,
    "capacity_mah": 1300,
}
PSU = {
    "name": "Supply 24 V",
    "kind": "psu",
    "resistance_ohm": 0.004,
    "nominal_voltage_v": 24,
    "trip_a": 55,
}


def test_adding_a_pack_and_a_supply(api, rig):
    pack = api.post("/api/v1/supplies/", PACK, format="json").json()
    assert (pack["nominal_voltage_v"], pack["open_circuit_v"]) == (
        pytest.approx(22.2),
        pytest.approx(25.2),
    )
    assert pack["floor_v"] == pytest.approx(19.8)
    psu = api.post("/api/v1/supplies/", PSU, format="json").json()
    assert (psu["nominal_voltage_v"], psu["trip_a"], psu["cells"]) == (24, 55, None)
    assert Supply.objects.get(name="Supply 24 V").history.get().history_user.username == "reviewer"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({**PACK, "cells": 0}, "cells"),
        ({**PACK, "chemistry": "lead"}, "chemistry"),
        ({**PACK, "rate_c": -1}, "rate_c"),
        ({**PSU, "name": " "}, "name"),
        ({**PSU, "nominal_voltage_v": None}, "nominal_voltage_v"),
        ({**PSU, "resistance_ohm": 0}, "resistance_ohm"),
        ({**PSU, "name": "Supply 16 V"}, "name"),
    ],
)
def test_incomplete_supplies_name_their_field(api, rig, body, field):
    answer = api.post("/api/v1/supplies/", body, format="json")
    assert answer.status_code in (400, 409)
    assert field in answer.json()["fields"]
    assert Supply.objects.count() == 1


def test_adding_a_stand(api, rig):
    body = {
        "name": "Kitchen scale",
        "kind": "lever",
        "repeatability_rel": 0.015,
        "calibration_rel": 0.02,
    }
    made = api.post("/api/v1/stands/", body, format="json")
    assert (made.status_code, made.json()["live"]) == (201, False)
    again = api.post("/api/v1/stands/", body, format="json")
    assert (again.status_code, again.json()["code"]) == (409, "name_taken")
    percent = api.post(
        "/api/v1/stands/", {**body, "name": "x", "repeatability_rel": 1.5}, format="json"
    )
    assert "repeatability_rel" in percent.json()["fields"]
