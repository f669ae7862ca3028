"""The scale: weighings, leads, samples side by side, and what was expected."""

import datetime

import pytest

from spindle_core.motor.lead_wire import mass_per_length_from_gauge
from spindle_server.motors.models import Weighing
from spindle_server.motors.services import take_in_motor

from .intake_steps import TODAY, file_of, measure, send, weigh

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
