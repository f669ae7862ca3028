"""Parcels, parts, weighings, leads, expectations, peers, fit: a parcel's way through intake."""

import datetime

import pytest

from spindle_core.motor.lead_wire import mass_per_length_from_gauge
from spindle_server.motors.models import Claim, MotorModel, Sample, Weighing
from spindle_server.motors.services import take_in_motor
from spindle_server.teardown.services import record_observation

TODAY = datetime.date.today()


def send(api, method, path, **body):
    return getattr(api, method)(f"/api/v1/{path}", body, format="json")


def file_of(api, motor):
    return api.get(f"/api/v1/motors/{motor.pk}/").json()


def weigh(api, sample, mass_g, **rest):
    body = {"mass_g": mass_g, "resolution_g": 0.01, "weighed_on": "2026-10-01", **rest}
    return send(api, "post", f"samples/{sample.pk}/weighings/", **body)


def measure(sample, **values):
    for attribute, value in values.items():
        answer = {"choice": value} if isinstance(value, str) else {"value": value}
        counted = attribute in ("mount_hole_count", "lead_gauge")
        status = "observed" if counted or isinstance(value, str) else "measured"
        record_observation(actor=None, sample=sample, attribute=attribute, status=status, **answer)


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


# The scale


def test_two_weighings_make_the_mass_at_the_declared_length(api, rig):
    sample = rig["samples"][0]
    weigh(api, sample, 28.60, lead_length_mm=140)
    weigh(api, sample, 26.35, lead_length_mm=40)
    masses = file_of(api, rig["motor"])["masses"]
    first, second = masses["samples"]
    assert masses["lead_length_mm"] == 60
    assert first["mass_g"]["value"] == pytest.approx(26.80)
    assert first["lead_g_per_m"]["value"] == pytest.approx(7.5)
    assert first["lead_from"] == "two weighings"
    assert second["mass_g"]["value"] is None
    assert second["mass_g"]["reason"] == "not weighed"
    send(api, "patch", "bench-declaration/", version=1, lead_length_mm=40)
    assert file_of(api, rig["motor"])["masses"]["samples"][0]["mass_g"]["value"] == pytest.approx(
        26.35
    )


def test_a_mass_of_28_kg_is_asked_back(api, rig):
    answer = weigh(api, rig["samples"][0], 28_000)
    assert answer.status_code == 400
    assert "did you mean 28 g?" in answer.json()["fields"]["mass_g"][0]
    assert not Weighing.objects.exists()


def test_a_mistake_is_struck_out_and_stays(api, rig):
    sample = rig["samples"][0]
    wrong = weigh(api, sample, 48.6, lead_length_mm=60).json()
    struck = send(
        api, "patch", f"weighings/{wrong['id']}/", struck_reason="read off the wrong way", version=1
    )
    assert struck.json()["struck_reason"] == "read off the wrong way"
    row = file_of(api, rig["motor"])["masses"]["samples"][0]
    assert len(row["weighings"]) == 1
    assert row["mass_g"]["value"] is None
    stale = send(api, "patch", f"weighings/{wrong['id']}/", struck_reason="", version=1)
    assert stale.status_code == 409
    send(api, "patch", f"weighings/{wrong['id']}/", struck_reason="", version=2)
    assert file_of(api, rig["motor"])["masses"]["samples"][0]["mass_g"]["value"] == 48.6
    assert api.delete(f"/api/v1/weighings/{wrong['id']}/").status_code == 405


def test_nut_and_gauge_of_one_sample_serve_its_siblings(api, rig):
    first, second = rig["samples"]
    measure(first, nut_mass=1.1, lead_gauge=20.0)
    weigh(api, second, 28.0, lead_length_mm=100, nut_on=True)
    row = file_of(api, rig["motor"])["masses"]["samples"][1]
    assert row["lead_from"] == "gauge"
    per_m = mass_per_length_from_gauge(20).value
    assert row["mass_g"]["value"] == pytest.approx(26.9 - 3 * per_m * 0.04)
    assert row["mass_g"]["origin"] == "estimated"


def test_cutting_leads_is_dated_and_says_what_it_took(api, rig):
    sample = rig["samples"][0]
    measure(sample, lead_gauge=20.0, lead_length=140.0)
    weigh(api, sample, 28.60, lead_length_mm=140)
    made = send(
        api,
        "post",
        f"samples/{sample.pk}/preparations/",
        kind="leads_cut",
        done_on="2026-10-02",
        lead_length_mm=60,
    )
    assert made.status_code == 201
    remarks = file_of(api, rig["motor"])["masses"]["samples"][0]["remarks"]
    # 80 mm of 33.3 mΩ/m.
    assert any("from 140 to 60 mm" in text and "2.7 mΩ per phase" in text for text in remarks)
    short = send(api, "post", f"samples/{sample.pk}/preparations/", kind="leads_cut")
    assert "lead_length_mm" in short.json()["fields"]
    later = send(
        api,
        "post",
        f"samples/{sample.pk}/preparations/",
        kind="other",
        done_on=str(TODAY + datetime.timedelta(days=3)),
    )
    assert "done_on" in later.json()["fields"]


def test_samples_side_by_side_and_against_the_claim(api, rig):
    for sample, mass in zip(rig["samples"], (26.8, 27.2), strict=True):
        weigh(api, sample, mass, lead_length_mm=60)
    send(
        api,
        "post",
        f"motors/{rig['motor'].pk}/claims/",
        quantity="mass_g",
        value=24.8,
        source="box label",
    )
    file = file_of(api, rig["motor"])
    assert file["masses"]["spread"]["widest"] == pytest.approx(0.4)
    (row,) = [row for row in file["against_claims"] if row["quantity"] == "mass_g"]
    assert row["measured"]["value"] == pytest.approx(27.0)
    assert row["measured_from"] == "2 samples, at the bench's lead length"
    assert row["deviation_pct"]["value"] == pytest.approx(100 * (27.0 / 24.8 - 1))
    assert row["resolved"]


# What is expected, and of whom


def test_measured_runs_are_held_against_claims_and_expectations(api, rig, record):
    motor = rig["motor"]
    send(
        api,
        "post",
        f"motors/{motor.pk}/claims/",
        quantity="max_thrust_gf",
        value=1500,
        source="web page",
    )
    send(api, "post", f"motors/{motor.pk}/expectations/", quantity="max_thrust_gf", value=1150)
    send(api, "post", f"motors/{motor.pk}/expectations/", text="Smoother than its box.")
    before = file_of(api, motor)
    thrust = next(r for r in before["against_claims"] if r["quantity"] == "max_thrust_gf")
    assert thrust["measured"]["reason"] == "no run measured thrust"
    record()
    file = file_of(api, motor)
    thrust = next(r for r in file["against_claims"] if r["quantity"] == "max_thrust_gf")
    assert thrust["measured"]["value"] == pytest.approx(1200, rel=0.01)
    assert thrust["deviation_pct"]["value"] == pytest.approx(-20, abs=1)
    expected, words = file["expectations"]
    assert expected["held_against"]["deviation_pct"]["value"] == pytest.approx(4.3, abs=0.5)
    assert (words["text"], words["held_against"]) == ("Smoother than its box.", None)
    kv = next(r for r in file["against_claims"] if r["quantity"] == "kv_rpm_per_v")
    assert kv["measured"]["reason"] == "no run without a propeller"


def test_an_expectation_says_something(api, rig):
    path = f"motors/{rig['motor'].pk}/expectations/"
    assert "text" in send(api, "post", path).json()["fields"]
    assert "value" in send(api, "post", path, quantity="mass_g").json()["fields"]
    assert "value" in send(api, "post", path, value=3, text="three").json()["fields"]


def test_peers_are_near_in_size_and_kv(api, rig):
    near = take_in_motor(
        actor=None, maker="Ostrel", name="Drift", size_code="2106", kv_label_rpm_per_v=1900
    )
    take_in_motor(
        actor=None, maker="Hollin", name="Pale", size_code="2807", kv_label_rpm_per_v=1250
    )
    found = file_of(api, rig["motor"])["peers"]
    assert [peer["motor"] for peer in found] == [near.pk]
    typed = api.get("/api/v1/peers/?size_code=2806.5&kv_rpm_per_v=1300").json()
    assert [peer["full_name"] for peer in typed] == ["Hollin Pale 2807 1250"]
    assert typed[0]["compared"] == ["stator_volume_mm3", "kv_rpm_per_v"]


def test_prices_make_peers_in_one_currency_only(api, rig):
    for name, currency in (("One", "EUR"), ("Two", "USD")):
        take_in_motor(
            actor=None,
            maker="Ostrel",
            name=name,
            size_code="2806.5",
            kv_label_rpm_per_v=1300,
            price_amount=20,
            price_currency=currency,
        )
    found = api.get(
        "/api/v1/peers/?size_code=2806.5&kv_rpm_per_v=1300&price=21&currency=EUR"
    ).json()
    compared = {peer["full_name"].split()[1]: "price" in peer["compared"] for peer in found}
    assert compared == {"One": True, "Two": False}


# Does it fit?


def test_screws_and_leads_against_an_arm(api, rig):
    path = f"/api/v1/motors/{rig['motor'].pk}/fit/"
    bare = api.get(f"{path}?screw_length_mm=8").json()
    assert bare["screws"][0]["outcome"] == "unknown"
    measure(rig["samples"][0], thread_depth=2.5, screw_clearance=1.2, lead_length=140.0)
    fit = api.get(f"{path}?screw_length_mm=8&arm_thickness_mm=4&lead_needed_mm=135").json()
    assert fit["screws"][0]["outcome"] == "hits_winding"
    assert fit["screws"][0]["room_mm"] == pytest.approx(-0.3)
    assert fit["leads"]["state"] == "caution"
    assert (
        api.get(f"{path}?screw_length_mm=8&arm_thickness_mm=6").json()["screws"][0]["outcome"]
        == "good"
    )
    assert api.get(f"{path}?arm_thickness_mm=0").status_code == 400
    sample = rig["samples"][0]
    send(
        api,
        "post",
        f"samples/{sample.pk}/preparations/",
        kind="leads_cut",
        done_on="2026-10-02",
        lead_length_mm=60,
    )
    cut = api.get(f"{path}?sample={sample.pk}&lead_needed_mm=135").json()["leads"]
    assert (cut["length_mm"], cut["state"]) == (60, "impossible")
    other = api.get(f"{path}?sample={rig['samples'][1].pk}&lead_needed_mm=100").json()["leads"]
    assert (other["length_mm"], other["state"]) == (140, "good")


def test_every_propeller_of_the_library_at_once(api, rig):
    motor, propeller = rig["motor"], rig["propeller"]
    fit = lambda: api.get(f"/api/v1/motors/{motor.pk}/fit/").json()["propellers"][0]  # noqa: E731
    assert fit()["reason"] == "Measure the shaft and its free length."
    measure(
        rig["samples"][0],
        shaft_diameter=5.0,
        shaft_free_length=14.0,
        prop_hold="nut",
        nut_height=4.0,
    )
    assert "bore and hub" in fit()["reason"]
    send(api, "patch", f"propellers/{propeller.pk}/", bore_mm=8.0, hub_thickness_mm=6.0, version=1)
    assert fit()["outcome"] == "impossible"
    parcel = motor.parcels.get()
    send(
        api,
        "post",
        f"parcels/{parcel.pk}/parts/",
        kind="adapter",
        count=1,
        inner_mm=5.02,
        outer_mm=7.98,
        height_mm=5.0,
    )
    assert fit()["outcome"] == "good"
    assert fit()["rings"] == [{"inner_mm": 5.02, "outer_mm": 7.98, "height_mm": 5.0}]
    send(api, "patch", "bench-declaration/", nearest_part_mm=60, version=1)
    assert any("tip strikes" in item["message"] for item in fit()["findings"])


# Two people at one fact


def test_two_people_do_not_overwrite_each_other(as_role, rig):
    ilse, tomas = as_role("reviewer"), as_role("editor")
    path = f"motors/{rig['motor'].pk}/"
    assert send(tomas, "patch", path, version=1, note="from the editor").status_code == 200
    refused = send(ilse, "patch", path, version=1, note="from the reviewer", name="Sable II")
    assert refused.status_code == 409
    body = refused.json()
    assert body["code"] == "changed_meanwhile"
    assert body["current"]["values"] == {"note": "from the editor", "name": "Sable"}
    assert (body["current"]["version"], body["current"]["who"]) == (2, "editor")
    assert MotorModel.objects.get(pk=rig["motor"].pk).name == "Sable"
    merged = send(ilse, "patch", path, version=2, note="from both", name="Sable II")
    assert (merged.json()["name"], merged.json()["version"]) == ("Sable II", 3)


def test_sending_the_same_again_is_no_conflict(api, rig):
    path = f"samples/{rig['samples'][0].pk}/"
    first = send(api, "patch", path, version=1, note="scratched")
    again = send(api, "patch", path, version=1, note="scratched")
    assert (first.json()["version"], again.status_code, again.json()["version"]) == (2, 200, 2)
    assert Sample.objects.get(pk=rig["samples"][0].pk).history.count() == 2


@pytest.mark.parametrize("kind", ["parcel", "claim", "sample"])
def test_every_editable_fact_checks_its_version(api, rig, kind):
    motor = rig["motor"]
    if kind == "parcel":
        path, change = f"parcels/{motor.parcels.get().pk}/", {"note": "a"}
        method, other = "patch", {"note": "b"}
    elif kind == "sample":
        path, change = f"samples/{rig['samples'][0].pk}/", {"turning": "cw"}
        method, other = "patch", {"turning": "ccw"}
    else:
        path, method = f"motors/{motor.pk}/claims/", "post"
        change = {"quantity": "mass_g", "source": "box", "value": 24.8}
        other = {**change, "value": 25.0}
        send(api, method, path, **{**change, "value": 20.0})
    assert send(api, method, path, version=1, **change).status_code in (200, 201)
    refused = send(api, method, path, version=1, **other)
    assert refused.status_code == 409
    assert refused.json()["current"]["version"] == 2
    assert send(api, method, path, version=2, **other).status_code in (200, 201)


def test_a_motor_cannot_be_renamed_into_another(api, rig):
    take_in_motor(
        actor=None, maker="Quillmoor", name="Stoat", size_code="2105.5", kv_label_rpm_per_v=1950
    )
    answer = send(api, "patch", f"motors/{rig['motor'].pk}/", version=1, name="Stoat")
    assert answer.status_code == 409
    assert MotorModel.objects.get(pk=rig["motor"].pk).name == "Sable"


# Lists


def test_the_list_is_searched_by_words_in_any_order(api, rig):
    take_in_motor(
        actor=None, maker="Hollin", name="Pale", size_code="2807", kv_label_rpm_per_v=1250
    )
    names = lambda text: [  # noqa: E731
        row["name"] for row in api.get(f"/api/v1/motors/?search={text}").json()["results"]
    ]
    assert names("2807 holl") == ["Pale"]
    assert names("quill") == ["Sable"]
    assert names("1250 sable") == []


def test_a_file_takes_the_same_queries_however_much_is_in_it(
    api, rig, record, django_assert_num_queries
):
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    weigh(api, rig["samples"][0], 26.8, lead_length_mm=60)
    record()
    take_in_motor(
        actor=None,
        maker="Ostrel",
        name="Near",
        size_code="2106",
        kv_label_rpm_per_v=1900,
        price_amount=20,
        price_currency="EUR",
    )
    with CaptureQueriesContext(connection) as few:
        file_of(api, rig["motor"])
    count = len(few)
    for mark in "CDEFG":
        made = send(api, "post", f"motors/{rig['motor'].pk}/samples/", mark=mark).json()
        sample = Sample.objects.get(pk=made["id"])
        weigh(api, sample, 26.9, lead_length_mm=60)
        weigh(api, sample, 27.9, lead_length_mm=120)
        send(api, "post", f"samples/{sample.pk}/incidents/", kind="other")
        measure(sample, nut_mass=1.0, shaft_diameter=5.0)
        take_in_motor(
            actor=None,
            maker="Ostrel",
            name=f"D{mark}",
            size_code="2206",
            kv_label_rpm_per_v=1900,
            price_amount=20,
            price_currency="EUR",
        )
        send(api, "post", f"motors/{rig['motor'].pk}/expectations/", text=mark)
        record(sample=0)
    with django_assert_num_queries(count):
        assert len(file_of(api, rig["motor"])["masses"]["samples"]) == 7


def test_an_incident_is_an_open_point_until_it_is_struck_out(api, rig):
    sample = rig["samples"][1]
    made = send(
        api,
        "post",
        f"samples/{sample.pk}/incidents/",
        kind="burnt_winding",
        happened_on="2026-10-03",
        destroyed=True,
        note="smoke at 90 %",
    ).json()
    file = file_of(api, rig["motor"])
    assert file["open_points"][0] == ("Sample B: burnt winding on 2026-10-03, sample destroyed.")
    assert file["incidents"][0]["note"] == "smoke at 90 %"
    send(api, "patch", f"incidents/{made['id']}/", struck_reason="it was the ESC", version=1)
    assert "burnt" not in " ".join(file_of(api, rig["motor"])["open_points"])


def test_the_history_of_a_motor_names_everything_that_was_changed(api, rig, record):
    motor, sample = rig["motor"], rig["samples"][0]
    weighing = weigh(api, sample, 28.6, lead_length_mm=60).json()
    send(api, "patch", f"weighings/{weighing['id']}/", struck_reason="upside down", version=1)
    parcel = motor.parcels.get()
    part = send(api, "post", f"parcels/{parcel.pk}/parts/", kind="nut", count=2).json()
    api.delete(f"/api/v1/parts/{part['id']}/?version=1")
    kinds = {
        f"samples/{sample.pk}/preparations/": {"kind": "connectors_on"},
        f"samples/{sample.pk}/incidents/": {"kind": "thrown_prop"},
        f"motors/{motor.pk}/expectations/": {"text": "quiet"},
    }
    for path, values in kinds.items():
        assert send(api, "post", path, **values).status_code == 201
    run = record()
    send(api, "patch", f"runs/{run.pk}/", review="accepted", version=run.version)
    told = [(c["what"], c["kind"], c["who"]) for c in file_of(api, motor)["changes"]]
    for what, kind in (
        ("weighing of 28.6 g", "added"),
        ("weighing of 28.6 g", "changed"),
        ("in the box: nut", "added"),
        ("in the box: nut", "removed"),
        ("preparation: connectors soldered on", "added"),
        ("incident: thrown propeller", "added"),
        ("expectation", "added"),
        (f"review of run {run.pk}", "changed"),
    ):
        assert (what, kind, "reviewer") in told, (what, kind)
    review = next(c for c in file_of(api, motor)["changes"] if c["what"].startswith("review"))
    assert {"field": "review", "before": "", "after": "accepted"} in review["changed"]
    assert not any(what.startswith("review") and kind == "added" for what, kind, _ in told)
    times = [c["at"] for c in file_of(api, motor)["changes"]]
    assert times == sorted(times, reverse=True)
