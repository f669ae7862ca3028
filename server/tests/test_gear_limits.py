"""What every part of the gear allows, and which of it binds."""

import pytest

from spindle_server.motors.services import put_claim
from spindle_server.rig.models import BenchDay, Esc, Instrument, Supply


def limits(api, **chosen):
    answer = api.get("/api/v1/bench/limits/", chosen)
    assert answer.status_code == 200, answer.json()
    return {(row["channel"], row["side"]): row for row in answer.json()}


def rated(rig, **claims):
    for quantity, value in claims.items():
        put_claim(actor=None, motor=rig["motor"], quantity=quantity, value=value, source="label")


def test_the_tightest_of_motor_esc_supply_and_meter_binds(api, rig):
    rated(rig, max_current_a=36)
    esc = Esc.objects.create(name="Fell 30", rated_a=30)
    Instrument.objects.create(
        stand=rig["stand"], channel="current_a", kind="watt_meter", range_to=150
    )
    found = limits(
        api, sample=rig["samples"][0].pk, supply=rig["supply"].pk, stand=rig["stand"].pk, esc=esc.pk
    )
    current = found["current_a", "most"]
    assert [row["value"] for row in current["known"]] == [30, 36, 55, 150]
    assert current["known"][0]["source"] == "ESC Fell 30"
    assert current["unknown"] == []
    assert found["power_w", "most"]["unknown"] == ["the motor's rating"]
    assert found["voltage_v", "least"]["known"][0]["value"] == pytest.approx(12.8)


def test_what_nobody_knows_is_named_and_binds_nothing(api, rig):
    pack = Supply.objects.create(name="From the shed", kind="pack")
    esc = Esc.objects.create(name="Unmarked")
    found = limits(api, sample=rig["samples"][0].pk, supply=pack.pk, esc=esc.pk)
    current = found["current_a", "most"]
    assert current["known"] == []
    assert current["unknown"] == ["the motor's rating", "ESC Unmarked", "From the shed"]
    assert found["voltage_v", "least"]["known"] == []


def test_the_esc_of_the_day_counts_where_none_is_named(api, rig):
    from django.utils import timezone

    esc = Esc.objects.create(name="Fell 30", rated_a=30)
    assert limits(api) == {}
    BenchDay.objects.create(day=timezone.localdate(), esc=esc)
    assert limits(api)["current_a", "most"]["known"][0]["source"] == "ESC Fell 30"
    named = Esc.objects.create(name="Tarn 45", rated_a=45)
    assert limits(api, esc=named.pk)["current_a", "most"]["known"][0]["value"] == 45


@pytest.mark.parametrize("asked", [{"sample": 999}, {"supply": "x"}, {"esc": -1}])
def test_what_is_not_on_the_bench_is_said(api, rig, asked):
    answer = api.get("/api/v1/bench/limits/", asked)
    assert answer.status_code == 400
    assert set(answer.json()["fields"]) == set(asked)
