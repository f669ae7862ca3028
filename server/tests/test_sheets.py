"""Typed readings: looked at while they are typed, kept as a run, never lost, never doubled."""

import gzip
import json

import pytest
from django.utils import timezone

from spindle_server.rig.models import BenchDay, DeadWeight, Stand, StandState
from spindle_server.runs.models import Run

ROWS = [
    {"throttle_pct": 0, "scale_g": -223, "voltage_v": 16.4},
    {"throttle_pct": 50, "scale_g": 200, "voltage_v": 16.1, "current_a": 6.1},
    {"throttle_pct": 100, "scale_g": 742, "voltage_v": 15.6, "current_a": 20.4},
]
DAY = "2026-10-05"


@pytest.fixture
def scale(db):
    stand = Stand.objects.create(name="Kitchen scale", kind="inverted")
    state = StandState.objects.create(stand=stand, valid_from="2026-09-01")
    DeadWeight.objects.create(state=state, name="plate", mass_g=131)
    DeadWeight.objects.create(state=state, name="clamp", mass_g=92)
    return stand


def post(api, path, **body):
    return api.post(f"/api/v1/readings/{path}", body, format="json")


def keep(api, rig, scale, **rest):
    body = {
        "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk,
        "supply": rig["supply"].pk,
        "stand": scale.pk,
        "day": DAY,
        "rows": ROWS,
        **rest,
    }
    return post(api, "", **body)


def test_the_thrust_a_reading_means_is_told_while_it_is_typed(api, scale):
    looks = post(api, "look/", rows=ROWS, stand=scale.pk, day=DAY).json()
    assert [look["thrust_gf"] for look in looks] == [0.0, 423.0, 965.0]
    assert looks[2]["power_w"] == pytest.approx(15.6 * 20.4)
    assert looks[2]["efficiency_g_per_w"] == pytest.approx(965 / (15.6 * 20.4))
    # Before the weights were on the stand the same scale meant less; nobody says which is right.
    before = post(api, "look/", rows=ROWS, stand=scale.pk, day="2026-08-31").json()
    assert before[2]["thrust_gf"] == 965.0
    assert before[0]["findings"][0]["code"] == "zero_far"
    assert Run.objects.count() == 0


def test_an_impossible_row_is_said_beside_its_cell(api, scale):
    rows = [{"throttle_pct": 100, "voltage_v": 23.61, "current_a": 41, "power_w": 940}]
    [look] = post(api, "look/", rows=rows, maxima=True, stand=scale.pk).json()
    [finding] = look["findings"]
    assert (finding["field"], finding["impossible"]) == ("power_w", True)
    assert "at least 968 W" in finding["message"]


def test_a_sheet_becomes_a_run_with_the_air_of_its_day(api, rig, scale):
    BenchDay.objects.create(day=DAY, air_temp_c=19, height_m=500)
    made = keep(api, rig, scale, purpose="comparison")
    assert made.status_code == 201, made.json()
    run = Run.objects.get(pk=made.json()["id"])
    assert (run.kind, run.origin, run.air_temp_c) == ("readings", "typed", 19)
    assert run.air_pressure_hpa == pytest.approx(954.6, abs=0.1)
    assert run.inherited == ["air_temp_c", "air_pressure_hpa"]
    assert f"{timezone.localtime(run.started_at).date()}" == DAY
    points = made.json()["result"]["points"]
    assert len(points) == 2
    figures = {f.name: f for f in run.figures.all()}
    assert figures["max_thrust_gf"].value == pytest.approx(965.0)
    # Nobody declared the scale: its accuracy is assumed, and the figure says so.
    assert figures["max_thrust_gf"].assumed
    assert figures["max_thrust_gf"].u > 5.0


def test_what_was_typed_is_kept_as_it_was(api, rig, scale):
    run = Run.objects.get(pk=keep(api, rig, scale).json()["id"])
    kept = json.loads(gzip.decompress(bytes(run.source_file.gzip)))
    assert kept["rows"] == ROWS
    assert (kept["stand"], kept["day"], kept["readings_are"]) == ("Kitchen scale", DAY, "held")


def test_the_same_sheet_is_kept_once(api, rig, scale):
    first = keep(api, rig, scale).json()["id"]
    again = keep(api, rig, scale)
    assert (again.status_code, again.json()["code"]) == (409, "imported_already")
    assert f"run {first}" in again.json()["message"]
    other = keep(api, rig, scale, propeller=rig["propeller"].pk, day="2026-10-06")
    assert other.status_code == 201


def test_maxima_keep_their_watts(api, rig, scale):
    rows = [
        {"throttle_pct": 0, "scale_g": -223},
        {
            "throttle_pct": 100,
            "scale_g": 1667,
            "voltage_v": 22.9,
            "current_a": 41.2,
            "power_w": 958,
        },
    ]
    made = keep(api, rig, scale, rows=rows, maxima=True).json()
    figures = made["result"]["points"][0]["figures"]
    assert figures["power_w"]["value"] == 958
    assert figures["efficiency_g_per_w"]["value"] == pytest.approx(1.97, abs=0.005)


def test_thrust_alone_without_a_stand_or_a_supply_is_a_run(api, rig):
    made = post(
        api,
        "",
        sample=rig["samples"][0].pk,
        propeller=rig["propeller"].pk,
        day=DAY,
        rows=[{"scale_g": 900}],
    )
    assert made.status_code == 201, made.json()
    assert Run.objects.get().figures.get(name="max_thrust_gf").value == pytest.approx(900.0)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"rows": []}, "rows"),
        ({"rows": [{}]}, "rows"),
        ({"rows": [{"throttle_pct": 0, "scale_g": 3}]}, "rows"),
        ({"rows": [{"luck": 1}]}, "rows"),
        ({"rows": [{"scale_g": "x"}]}, "rows"),
        ({"rows": [{"scale_g": None}]}, "rows"),
        ({"rows": [{"scale_g": 1e9}]}, "rows"),
        ({"rows": ROWS * 80}, "rows"),
        ({"day": "2199-01-01"}, "day"),
        ({"propeller": None}, "propeller"),
        ({"sample": 999}, "sample"),
    ],
)
def test_a_sheet_that_cannot_be_names_what_is_wrong(api, rig, scale, body, field):
    answer = keep(api, rig, scale, **body)
    assert answer.status_code == 400, answer.json()
    assert any(name.startswith(field) for name in answer.json()["fields"])
    assert Run.objects.count() == 0


def test_a_typed_run_and_a_logged_one_are_compared(api, rig, scale, record):
    typed = keep(api, rig, scale).json()["id"]
    logged = record()
    answer = api.get("/api/v1/compare/", {"runs": f"{logged.pk},{typed}"})
    assert answer.status_code == 200
    assert any("Kitchen scale" in text for text in answer.json()["remarks"])
