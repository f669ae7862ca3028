"""A bench day: what runs take from it, and what becomes of them when it changes."""

import datetime

import pytest
from django.utils import timezone

from spindle_server.bench.services import plan_run
from spindle_server.rig.models import BenchDay, Esc
from spindle_server.runs.models import Run

TODAY = "bench-days/today/"


def put(api, path=TODAY, **body):
    return api.put(f"/api/v1/{path}", body, format="json")


def planned(rig, **air):
    return plan_run(
        actor=None,
        sample=rig["samples"][0],
        propeller=rig["propeller"],
        supply=rig["supply"],
        stand=rig["stand"],
        profile={"levels_pct": [30]},
        limits={"current_a": 40},
        limits_off=[
            "power_w",
            "thrust_gf",
            "speed_rpm",
            "vibration_g",
            "voltage_floor_v",
            "motor_temp_c",
            "lost_rpm_s",
        ],
        **air,
    ).record


def test_a_day_that_nobody_began_offers_what_the_last_one_had(api, rig):
    esc = Esc.objects.create(name="Tarn 45")
    put(api, "bench-days/2026-10-05/", people="Ilse", height_m=520, esc=esc.pk, air_temp_c=21)
    offered = api.get("/api/v1/bench-days/2026-10-09/").json()
    assert (offered["version"], offered["people"], offered["esc_name"]) == (0, "Ilse", "Tarn 45")
    # The air of another day is not this day's.
    assert offered["air_temp_c"] is None
    assert BenchDay.objects.count() == 1


def test_pressure_from_the_height_says_what_it_is_worth(api, rig):
    day = put(api, height_m=500).json()
    assert day["pressure_hpa"] == pytest.approx(954.6, abs=0.1)
    assert day["pressure_u_hpa"] == 10.0
    read = put(api, air_pressure_hpa=960, version=day["version"]).json()
    assert (read["pressure_hpa"], read["pressure_u_hpa"]) == (960, None)


def test_a_run_takes_from_its_day_what_it_does_not_say_itself(api, rig):
    esc = Esc.objects.create(name="Tarn 45")
    put(api, air_temp_c=19, air_pressure_hpa=990, esc=esc.pk, command_source="transmitter")
    taken = planned(rig)
    assert (taken["air_temp_c"], taken["air_pressure_hpa"]) == (19, 990)
    assert (taken["esc_id"], taken["command_source"]) == (esc.pk, "transmitter")
    assert taken["inherited"] == ["air_temp_c", "air_pressure_hpa", "esc", "command_source"]
    own = planned(rig, air_temp_c=23.0)
    assert own["air_temp_c"] == 23.0
    assert "air_temp_c" not in own["inherited"]


def test_zero_degrees_are_said_and_not_nothing(api, rig):
    put(api, air_temp_c=19)
    own = planned(rig, air_temp_c=0.0)
    assert (own["air_temp_c"], own["inherited"]) == (0.0, [])


def test_no_day_gives_nothing(rig):
    assert planned(rig)["inherited"] == []


def test_changing_a_day_asks_what_becomes_of_its_runs(api, rig, record):
    day = put(api, air_temp_c=19, people="Ilse").json()
    run = record()
    Run.objects.filter(pk=run.pk).update(air_temp_c=19, inherited=["air_temp_c"])
    assert api.get(f"/api/v1/{TODAY}").json()["touches"] == [run.pk]
    # What no run took may change freely.
    day = put(api, people="Ilse, Tomas", version=day["version"]).json()
    asked = put(api, air_temp_c=25, version=day["version"])
    assert (asked.status_code, asked.json()["code"]) == (400, "touches_runs")
    assert f"{run.pk}" in asked.json()["message"]
    assert BenchDay.objects.get().air_temp_c == 19
    left = put(api, air_temp_c=25, version=day["version"], with_runs=False).json()
    assert Run.objects.get().air_temp_c == 19
    put(api, air_temp_c=26, version=left["version"], with_runs=True)
    changed = Run.objects.get()
    assert (changed.air_temp_c, changed.version) == (26, 2)
    assert changed.air_pressure_hpa == 1002.0
    assert changed.reduction.result is not None


def test_two_people_do_not_begin_one_day_twice_unseen(api, rig):
    put(api, people="Ilse", air_temp_c=19)
    other = put(api, people="Tomas")
    assert (other.status_code, other.json()["code"]) == (409, "begun_already")
    stale = put(api, people="Tomas", version=7)
    assert stale.json()["code"] == "changed_meanwhile"
    assert BenchDay.objects.get().people == "Ilse"


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("bench-days/2199-01-01/", {}, 400),
        ("bench-days/soon/", {}, 404),
        ("bench-days/2026-02-30/", {}, 404),
        (TODAY, {"air_pressure_hpa": 29.9}, 400),
        (TODAY, {"air_temp_c": "warm"}, 400),
        (TODAY, {"height_m": 9000}, 400),
        (TODAY, {"air_humidity_pct": 101}, 400),
        (TODAY, {"esc": 999}, 400),
        (TODAY, {"command_source": "luck"}, 400),
    ],
)
def test_a_day_that_cannot_be_is_refused(api, rig, path, body, status):
    assert put(api, path, **body).status_code == status
    assert not BenchDay.objects.exists()


def test_days_are_those_of_the_bench(api, rig, settings):
    settings.TIME_ZONE = "Pacific/Auckland"
    timezone.activate("Pacific/Auckland")
    try:
        day = put(api, people="Ilse").json()["day"]
        assert day == f"{timezone.localdate()}"
        assert datetime.date.fromisoformat(day) - timezone.now().date() in (
            datetime.timedelta(0),
            datetime.timedelta(days=1),
        )
    finally:
        timezone.deactivate()
