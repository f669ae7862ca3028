"""What arrived and what it is: parcels, parts, identity, claims that are checked."""

import datetime

import pytest

from spindle_server.motors.models import Claim
from spindle_server.motors.services import take_in_motor

from .intake_steps import TODAY, file_of, measure, send, weigh

# What arrived


def test_a_whole_parcel_comes_in_with_its_motor(api):
    made = send(
        api,
        "post",
        "motors/",
        maker="Tarnwick",
        name="Plover",
        size_code="2207",
        kv_label_rpm_per_v=1855,
        sample_marks=["A", "B"],
        obtained="sponsored",
        obtained_from="the maker's agent",
        price_amount=79.6,
        price_currency="EUR",
        price_per="set",
        set_size=4,
        shipping="included",
        availability="scarce",
        arrived_on="2026-10-01",
        note="dented box",
    ).json()
    (row,) = api.get(f"/api/v1/motors/{made['id']}/").json()["parcels"]
    assert row["parcel"]["obtained_from"] == "the maker's agent"
    assert row["price"] == {
        "amount": 19.9,
        "currency": "EUR",
        "basis": "of a set of 4, shipping included",
        "guessed": False,
    }
    assert row["samples"] == ["A", "B"]
    assert made["note"] == "dented box"


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"price_amount": 10}, "price_currency"),
        ({"price_currency": "euro"}, "price_currency"),
        ({"price_per": "set"}, "set_size"),
        ({"set_size": 1}, "set_size"),
        ({"shipping": "free", "shipping_amount": 3}, "shipping_amount"),
        ({"arrived_on": str(TODAY + datetime.timedelta(days=2))}, "arrived_on"),
        ({"price_amount": -1, "price_currency": "EUR"}, "price_amount"),
    ],
)
def test_an_impossible_parcel_names_its_field(api, rig, wrong, field):
    answer = send(api, "post", f"motors/{rig['motor'].pk}/parcels/", **wrong)
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert rig["motor"].parcels.count() == 1


def test_a_day_that_has_begun_somewhere_is_no_future(api, rig):
    """Who writes east of the server writes tomorrow's date."""
    tomorrow = str(TODAY + datetime.timedelta(days=1))
    path = f"motors/{rig['motor'].pk}/parcels/"
    assert send(api, "post", path, arrived_on=tomorrow).status_code == 201
    assert weigh(api, rig["samples"][0], 25.0, weighed_on=tomorrow).status_code == 201


def test_a_second_parcel_brings_its_own_samples(api, rig):
    parcel = send(
        api,
        "post",
        f"motors/{rig['motor'].pk}/parcels/",
        obtained="bought",
        price_amount=18,
        price_currency="EUR",
        shipping="extra",
        shipping_amount=4,
        price_status="guessed",
    ).json()
    send(api, "post", f"motors/{rig['motor'].pk}/samples/", mark="C", parcel=parcel["id"])
    first, second = file_of(api, rig["motor"])["parcels"]
    assert (first["samples"], second["samples"]) == (["A", "B"], ["C"])
    assert (second["price"]["amount"], second["price"]["guessed"]) == (22.0, True)


def test_a_sample_cannot_come_in_another_motors_parcel(api, rig, people):
    other = take_in_motor(
        actor=None, maker="Ostrel", name="Drift", size_code="2206", kv_label_rpm_per_v=1900
    )
    answer = send(
        api, "post", f"motors/{rig['motor'].pk}/samples/", mark="C", parcel=other.parcels.get().pk
    )
    assert answer.status_code == 400
    assert "parcel" in answer.json()["fields"]


def test_the_box_is_held_against_what_a_builder_needs(api, rig):
    measure(rig["samples"][0], thread_depth=2.5, screw_clearance=1.2, mount_hole_count=4)
    parcel = rig["motor"].parcels.get()
    for count, length in ((8, 8.0), (8, 6.0)):
        send(
            api,
            "post",
            f"parcels/{parcel.pk}/parts/",
            kind="mounting_screw",
            count=count,
            thread_mm=3,
            length_mm=length,
        )
    found = file_of(api, rig["motor"])["parcels"][0]["findings"]
    said = {(item["code"], item["state"]) for item in found}
    assert ("mounting_screws", "good") in said
    assert ("screw_length", "missing") in said
    assert any("8 mm go into the winding" in item["message"] for item in found)


def test_parts_are_corrected_and_taken_off(api, rig):
    parcel = rig["motor"].parcels.get()
    made = send(api, "post", f"parcels/{parcel.pk}/parts/", kind="nut", count=2).json()
    values = {"kind": "nut", "count": 3, "height_mm": 4.0}
    changed = send(api, "put", f"parts/{made['id']}/", version=made["version"], **values)
    assert (changed.json()["count"], changed.json()["height_mm"]) == (3, 4.0)
    late = send(api, "put", f"parts/{made['id']}/", version=1, kind="nut", count=4)
    assert (late.status_code, late.json()["current"]["values"]["count"]) == (409, 3)
    assert api.delete(f"/api/v1/parts/{made['id']}/?version=1").status_code == 409
    assert api.delete(f"/api/v1/parts/{made['id']}/").status_code == 409
    assert api.delete(f"/api/v1/parts/{made['id']}/?version=2").status_code == 204
    assert file_of(api, rig["motor"])["parcels"][0]["parcel"]["parts"] == []
    inside_out = send(
        api, "post", f"parcels/{parcel.pk}/parts/", kind="adapter", count=1, inner_mm=8, outer_mm=5
    )
    assert "inner_mm" in inside_out.json()["fields"]


# What it is


def test_a_brushed_can_is_recorded_and_what_does_not_apply_is_absent(api):
    made = send(
        api, "post", "motors/", maker="Tarnwick", name="Midge", size_code="8x20", kind="brushed"
    ).json()
    assert (made["size_basis"], made["kv_label_rpm_per_v"]) == ("case", None)
    assert made["full_name"] == "Tarnwick Midge 8x20"
    sample = made["samples"][0]["id"]
    sheet = api.get(f"/api/v1/samples/{sample}/teardown/").json()
    assert sheet["findings"] == []
    absent = {item["attribute"]: item["reason"] for item in sheet["not_applicable"]}
    assert "brushed can" in absent["slot_count"]
    assert "shaft_diameter" not in absent
    refused = send(
        api,
        "put",
        f"samples/{sample}/teardown/",
        attribute="slot_count",
        status="observed",
        value=12,
    )
    assert refused.json()["code"] == "brushed_can"
    assert api.get(f"/api/v1/motors/{made['id']}/").json()["size"]["absent_reason"]


def test_a_size_code_is_read_for_its_kind(api):
    read = api.get("/api/v1/size-code/?text=2207&kind=brushed").json()
    assert read["basis"] == "case"
    odd = api.get("/api/v1/size-code/?text=2207&kind=brushed&basis=stator").json()
    assert "no stator size" in odd["doubt"]


def test_claims_are_checked_while_they_are_typed_and_nothing_is_stored(api, rig):
    body = {
        "claims": [
            {"quantity": "max_power_w", "value": 420},
            {"quantity": "max_current_a", "value": 26},
            {"quantity": "cells_max", "value": 6},
            {"quantity": "magnet_grade", "words": "N52H"},
        ]
    }
    remarks = api.post(f"/api/v1/motors/{rig['motor'].pk}/claim-check/", body, format="json")
    said = {item["code"]: item["state"] for item in remarks.json()}
    assert said["implied_voltage"] == "odd"
    assert said["magnet_grade"] == "fits"
    assert not Claim.objects.exists()


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"quantity": "mass_g", "value": 28_000}, "value"),
        ({"quantity": "mass_g"}, "value"),
        ({"quantity": "bearings", "value": 3}, "words"),
        ({"quantity": "bearings"}, "words"),
    ],
)
def test_a_claim_of_the_wrong_form_names_its_field(api, rig, body, field):
    answer = send(api, "post", f"motors/{rig['motor'].pk}/claims/", source="box", **body)
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
