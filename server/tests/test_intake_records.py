"""A parcel's way through intake: fit, two people at one fact, lists and history."""

import pytest

from spindle_server.motors.models import MotorModel, Sample
from spindle_server.motors.services import take_in_motor

from .intake_steps import file_of, measure, send, weigh

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
