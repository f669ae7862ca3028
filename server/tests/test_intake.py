"""Motors, samples and claims, and the constraints the database itself holds."""

import pytest
from django.db import IntegrityError, transaction

from spindle_server.motors.models import (
    Claim,
    Expectation,
    Maker,
    MotorModel,
    Parcel,
    PartInBox,
    Preparation,
    Sample,
    Weighing,
)
from spindle_server.rig.models import Declaration

NEW = {
    "maker": "Ostrel",
    "name": "Drift",
    "size_code": "2206",
    "kv_label_rpm_per_v": 1900,
    "sample_marks": ["A", "B"],
    "obtained": "loaned",
}


def test_a_new_motor_with_its_samples(api):
    answer = api.post("/api/v1/motors/", NEW, format="json")
    assert answer.status_code == 201
    motor = answer.json()
    assert motor["full_name"] == "Ostrel Drift 2206 1900"
    assert motor["size_basis"] == "stator"
    assert [s["mark"] for s in motor["samples"]] == ["A", "B"]
    (parcel,) = api.get(f"/api/v1/motors/{motor['id']}/").json()["parcels"]
    assert parcel["parcel"]["obtained"] == "loaned"
    assert parcel["samples"] == ["A", "B"]


def test_the_same_motor_twice_is_a_conflict_whatever_the_case(api):
    api.post("/api/v1/motors/", NEW, format="json")
    again = api.post("/api/v1/motors/", {**NEW, "maker": "OSTREL"}, format="json")
    assert again.status_code == 409
    assert again.json()["code"] == "motor_exists"
    assert MotorModel.objects.count() == 1
    assert Maker.objects.count() == 1


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"size_code": "22x"}, "size_code"),
        ({"kv_label_rpm_per_v": 0}, "kv_label_rpm_per_v"),
        ({"kv_label_rpm_per_v": "fast"}, "kv_label_rpm_per_v"),
        ({"maker": ""}, "maker"),
        ({"obtained": "found"}, "obtained"),
        ({"name": "x" * 61}, "name"),
    ],
)
def test_bad_input_names_its_field_and_stores_nothing(api, changed, field):
    answer = api.post("/api/v1/motors/", {**NEW, **changed}, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert MotorModel.objects.count() == 0


def test_reading_a_size_code_while_typing(api):
    size = api.get("/api/v1/size-code/?text=2105.5").json()
    assert size["stator_volume_mm3"] == pytest.approx(1905.0, abs=0.05)
    can = api.get("/api/v1/size-code/?text=4238").json()
    assert can["basis"] == "outer_can"
    assert can["stator_volume_mm3"] is None
    assert "outer can" in can["absent_reason"]
    assert api.get("/api/v1/size-code/?text=abc").status_code == 400


def claim(api, motor, quantity, value, source="box label", version=None):
    body = {"quantity": quantity, "value": value, "source": source}
    if version is not None:
        body["version"] = version
    return api.post(f"/api/v1/motors/{motor.pk}/claims/", body, format="json")


def test_claims_are_corrected_not_doubled_and_carry_unit_and_source(api, rig):
    motor = rig["motor"]
    claim(api, motor, "max_current_a", 25)
    corrected = claim(api, motor, "max_current_a", 26, version=1)
    claim(api, motor, "max_current_a", 28, "web page")
    file = api.get(f"/api/v1/motors/{motor.pk}/").json()
    assert [(c["value"], c["unit"], c["source"]) for c in file["claims"]] == [
        (26, "A", "box label"),
        (28, "A", "web page"),
    ]
    assert corrected.json()["label"] == "Rated current"


def test_implied_voltage_of_the_ratings(api, rig):
    motor = rig["motor"]
    for quantity, value in (("max_power_w", 420), ("max_current_a", 26), ("cells_max", 4)):
        claim(api, motor, quantity, value)
    remarks = {r["code"]: r for r in api.get(f"/api/v1/motors/{motor.pk}/").json()["remarks"]}
    assert "16.15 V" in remarks["implied_voltage"]["message"]
    assert remarks["implied_voltage"]["state"] == "fits"
    assert remarks["missing"]["message"] == "Not written down: mass."
    claim(api, motor, "cells_max", 6, version=1)
    remarks = {r["code"]: r for r in api.get(f"/api/v1/motors/{motor.pk}/").json()["remarks"]}
    assert remarks["implied_voltage"]["state"] == "odd"


def test_a_claim_in_the_wrong_unit_is_refused(api, rig):
    answer = claim(api, rig["motor"], "mass_g", 0.0248)
    assert answer.status_code == 400
    assert "check the unit" in answer.json()["fields"]["value"][0]


def test_a_claim_taken_off_stays_in_the_history(api, rig):
    motor = rig["motor"]
    made = claim(api, motor, "mass_g", 24.8).json()
    claim(api, motor, "mass_g", 24.9, version=1)
    address = f"/api/v1/motors/{motor.pk}/claims/{made['id']}/"
    for stale in (address, f"{address}?version=1"):
        refused = api.delete(stale)
        assert refused.status_code == 409
        assert refused.json()["current"]["values"]["value"] == 24.9
    assert api.delete(f"{address}?version=2").status_code == 204
    changes = [
        c for c in api.get(f"/api/v1/motors/{motor.pk}/").json()["changes"] if "mass" in c["what"]
    ]
    assert [c["kind"] for c in changes] == ["removed", "changed", "added"]
    assert {"field": "value", "before": "24.8", "after": "24.9"} in changes[1]["changed"]
    assert {c["who"] for c in changes} == {"reviewer"}


def test_open_points(api, rig):
    points = api.get(f"/api/v1/motors/{rig['motor'].pk}/").json()["open_points"]
    assert points == [
        "Rated current never written down.",
        "Not written down: rated power, most cells, mass.",
        "No sample was weighed.",
    ]


def test_a_mark_is_given_once_per_motor(api, rig):
    motor = rig["motor"]
    body = {"mark": "C", "turning": "cw"}
    assert api.post(f"/api/v1/motors/{motor.pk}/samples/", body, format="json").status_code == 201
    again = api.post(f"/api/v1/motors/{motor.pk}/samples/", body, format="json")
    assert again.status_code == 409
    assert "mark" in again.json()["fields"]


@pytest.mark.parametrize(
    "wrong",
    [
        lambda rig: Sample(motor=rig["motor"], mark="A"),
        lambda rig: Claim(motor=rig["motor"], quantity="mass_g", value=-1, source="x"),
        lambda rig: Claim(motor=rig["motor"], quantity="mass_g", value=1, source=""),
        lambda rig: Claim(motor=rig["motor"], quantity="mass_g", source="x"),
        lambda rig: Claim(motor=rig["motor"], quantity="bearings", value=1, words="a", source="x"),
        lambda rig: Parcel(motor=rig["motor"], price_amount=10),
        lambda rig: Parcel(motor=rig["motor"], price_per="set"),
        lambda rig: Parcel(motor=rig["motor"], shipping="free", shipping_amount=3),
        lambda rig: PartInBox(parcel=rig["motor"].parcels.get(), kind="washer", count=0),
        lambda rig: PartInBox(
            parcel=rig["motor"].parcels.get(), kind="adapter", count=1, inner_mm=5, outer_mm=4
        ),
        lambda rig: Weighing(
            sample=rig["samples"][0], mass_g=28_000, resolution_g=0.1, weighed_on="2026-10-01"
        ),
        lambda rig: Preparation(sample=rig["samples"][0], kind="leads_cut", done_on="2026-10-01"),
        lambda rig: Expectation(motor=rig["motor"]),
        lambda rig: Declaration(only=2),
        lambda rig: MotorModel(
            maker=rig["motor"].maker,
            name="x",
            size_code="2207",
            size_basis="guess",
            kv_label_rpm_per_v=100,
        ),
        lambda rig: MotorModel(
            maker=rig["motor"].maker,
            name="x",
            size_code="2207",
            size_basis="stator",
            kv_label_rpm_per_v=0,
        ),
    ],
)
def test_the_database_refuses_what_python_forgot(rig, wrong):
    with pytest.raises(IntegrityError), transaction.atomic():
        wrong(rig).save()


def test_listing_motors_takes_the_same_queries_for_two_as_for_many(
    api, rig, django_assert_num_queries
):
    for number in range(12):
        api.post("/api/v1/motors/", {**NEW, "name": f"Drift {number}"}, format="json")
    with django_assert_num_queries(6):  # count, motors, samples, and the counts of three kinds
        assert len(api.get("/api/v1/motors/").json()["results"]) == 13


BARE = {"maker": "Ostrel", "name": "Hushed", "sample_marks": ["A"]}


def test_a_name_is_enough_for_a_motor(api):
    """Nothing that rests on a size code stumbles over a motor that has none."""
    made = api.post("/api/v1/motors/", BARE, format="json")
    assert made.status_code == 201, made.json()
    motor, sample = made.json()["id"], made.json()["samples"][0]["id"]
    assert made.json()["full_name"] == "Ostrel Hushed"
    assert (made.json()["size_code"], made.json()["size_basis"]) == ("", "")
    file = api.get(f"/api/v1/motors/{motor}/").json()
    assert file["size"] is None
    for path in (
        f"motors/{motor}/fit/",
        f"motors/{motor}/performance/",
        f"samples/{sample}/teardown/",
        f"propellers/readings/?text=5043&motor={motor}",
        "board/",
        "motors/",
        "peers/?size_code=",
    ):
        answer = api.get(f"/api/v1/{path}")
        assert answer.status_code == 200, (path, answer.json())
    claim = {"quantity": "mass_g", "value": 32.0, "source": "label"}
    assert api.post(f"/api/v1/motors/{motor}/claims/", claim, format="json").status_code == 201
    checked = api.post(
        f"/api/v1/motors/{motor}/claim-check/",
        {"claims": [{"quantity": "mass_g", "value": 32.0}]},
        format="json",
    )
    assert checked.status_code == 200, checked.json()
    # Twice is twice, code or no code.
    assert api.post("/api/v1/motors/", BARE, format="json").status_code == 409
    # The code comes later, and goes again.
    path = f"/api/v1/motors/{motor}/"
    with_code = api.patch(path, {"size_code": "F2207S", "version": 1}, format="json")
    assert with_code.status_code == 200, with_code.json()
    assert (with_code.json()["size_code"], with_code.json()["size_basis"]) == ("F2207S", "stator")
    assert api.get(path).json()["size"]["height_mm"] == 7.0
    gone = api.patch(path, {"size_code": "", "version": 2}, format="json")
    assert (gone.json()["size_code"], gone.json()["size_basis"]) == ("", "")


def test_a_basis_without_a_code_is_refused_by_the_database(db):
    maker = Maker.objects.create(name="Ostrel")
    for code, basis in (("", "stator"), ("2207", "")):
        with pytest.raises(IntegrityError), transaction.atomic():
            MotorModel.objects.create(maker=maker, name="x", size_code=code, size_basis=basis)
