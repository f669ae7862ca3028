"""Typed readings: looked at while they are typed, kept as a run, never lost, never doubled."""

import gzip
import json

import pytest
from django.utils import timezone

from spindle_core.figures.measured import Absent
from spindle_core.formats.bench_log import read_bench_log
from spindle_core.reduction import reduce_trace
from spindle_server.motors.models import Claim
from spindle_server.rig.models import BenchDay, DeadWeight, Stand, StandState, Supply
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


OF_THE_SHEET = ("day", "stand")


def keep(api, rig, scale, **rest):
    block = {
        "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk,
        "supply": rig["supply"].pk,
        "rows": ROWS,
        **{name: value for name, value in rest.items() if name not in OF_THE_SHEET},
    }
    whole = {name: rest[name] for name in OF_THE_SHEET if name in rest}
    return post(api, "", **{"stand": scale.pk, "day": DAY, "blocks": [block], **whole})


def look(api, rows, day=DAY, stand=None, **rest):
    answer = post(api, "look/", blocks=[{"rows": rows, **rest}], day=day, stand=stand and stand.pk)
    assert answer.status_code == 200, answer.json()
    return answer.json()[0]["rows"]


def result_of(api, made):
    [run] = made.json()
    return api.get(f"/api/v1/runs/{run['id']}/").json()


def test_the_thrust_a_reading_means_is_told_while_it_is_typed(api, scale):
    looks = look(api, ROWS, stand=scale)
    assert [look["thrust_gf"] for look in looks] == [0.0, 423.0, 965.0]
    assert looks[2]["power_w"] == pytest.approx(15.6 * 20.4)
    assert looks[2]["efficiency_g_per_w"] == pytest.approx(965 / (15.6 * 20.4))
    # Before the weights were on the stand the same scale meant less; nobody says which is right.
    before = look(api, ROWS, stand=scale, day="2026-08-31")
    assert before[2]["thrust_gf"] == 965.0
    assert before[0]["findings"][0]["code"] == "zero_far"
    assert Run.objects.count() == 0


def test_an_impossible_row_is_said_beside_its_cell(api, scale):
    rows = [{"throttle_pct": 100, "voltage_v": 23.61, "current_a": 41, "power_w": 940}]
    [row] = look(api, rows, maxima=True, stand=scale)
    [finding] = row["findings"]
    assert (finding["field"], finding["impossible"]) == ("power_w", True)
    assert "at least 968 W" in finding["message"]


def test_a_sheet_becomes_a_run_with_the_air_of_its_day(api, rig, scale):
    BenchDay.objects.create(day=DAY, air_temp_c=19, height_m=500)
    made = keep(api, rig, scale, purpose="comparison")
    assert made.status_code == 201, made.json()
    run = Run.objects.get()
    assert (run.kind, run.origin, run.air_temp_c) == ("readings", "typed", 19)
    assert run.air_pressure_hpa == pytest.approx(954.6, abs=0.1)
    assert run.inherited == ["air_temp_c", "air_pressure_hpa"]
    assert f"{timezone.localtime(run.started_at).date()}" == DAY
    points = result_of(api, made)["result"]["points"]
    assert len(points) == 2
    figures = {f.name: f for f in run.figures.all()}
    assert figures["max_thrust_gf"].value == pytest.approx(965.0)
    # Nobody declared the scale: its accuracy is assumed, and the figure says so.
    assert figures["max_thrust_gf"].assumed
    assert figures["max_thrust_gf"].u > 5.0
    # And a gram of the scale is never less, though the lever turns it into thirds.
    assert points[0]["figures"]["thrust_gf"]["u"] > 0.28


def test_what_was_typed_is_kept_as_it_was(api, rig, scale):
    run = Run.objects.get(pk=keep(api, rig, scale).json()[0]["id"])
    kept = json.loads(gzip.decompress(bytes(run.source_file.gzip)))
    assert kept["rows"] == ROWS
    assert (kept["stand"], kept["day"], kept["readings_are"]) == ("Kitchen scale", DAY, "held")


def test_the_same_sheet_is_kept_once(api, rig, scale):
    first = keep(api, rig, scale).json()[0]["id"]
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
    made = keep(api, rig, scale, rows=rows, maxima=True)
    figures = result_of(api, made)["result"]["points"][0]["figures"]
    assert figures["power_w"]["value"] == 958
    assert figures["efficiency_g_per_w"]["value"] == pytest.approx(1.97, abs=0.005)


def test_thrust_alone_without_a_stand_or_a_supply_is_a_run(api, rig):
    block = {
        "sample": rig["samples"][0].pk,
        "propeller": rig["propeller"].pk,
        "rows": [{"scale_g": 900}],
    }
    made = post(api, "", day=DAY, blocks=[block])
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
        ({"sample": None}, "sample"),
        ({"sample": 999}, "sample"),
        ({"rows": [{"scale_g": {"about": [0]}}]}, "rows"),
        ({"rows": [{"scale_g": {"about": ["x"]}}]}, "rows"),
        ({"rows": [{"scale_g": {"roughly": [900]}}]}, "rows"),
        ({"rows": [{"scale_g": {"between": [910, 890]}}]}, "rows"),
        ({"rows": [{"scale_g": {"about": [900], "below": [3]}}]}, "rows"),
        ({"rows": [{"scale_g": True}]}, "rows"),
        ({"rows": ["900"]}, "rows"),
        ({"noticed": {"smell": "roses"}}, "rows"),
        ({"noticed": {"sound_db": 82}}, "rows"),
    ],
)
def test_a_sheet_that_cannot_be_names_what_is_wrong(api, rig, scale, body, field):
    answer = keep(api, rig, scale, **body)
    assert answer.status_code == 400, answer.json()
    names = answer.json()["fields"]
    assert any(field in name.split(".") for name in names), names
    assert Run.objects.count() == 0


def test_a_typed_run_and_a_logged_one_are_compared(api, rig, scale, record):
    typed = keep(api, rig, scale).json()[0]["id"]
    logged = record()
    answer = api.get("/api/v1/compare/", {"runs": f"{logged.pk},{typed}"})
    assert answer.status_code == 200
    assert any("Kitchen scale" in text for text in answer.json()["remarks"])


def test_an_evening_is_a_run_a_block_in_its_order(api, rig, scale):
    block = {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk, "rows": ROWS}
    other = {**block, "sample": rig["samples"][1].pk, "rows": [*ROWS, {"scale_g": 745}]}
    made = post(api, "", day=DAY, stand=scale.pk, blocks=[block, other])
    assert made.status_code == 201, made.json()
    runs = list(Run.objects.order_by("started_at"))
    assert [run.pk for run in runs] == [row["id"] for row in made.json()]
    assert [run.sample for run in runs] == rig["samples"][:2]


def test_of_an_evening_all_is_kept_or_nothing(api, rig, scale):
    block = {"sample": rig["samples"][0].pk, "propeller": rig["propeller"].pk, "rows": ROWS}
    made = post(api, "", day=DAY, blocks=[block, {**block, "propeller": None}])
    assert made.status_code == 400
    assert list(made.json()["fields"]) == ["blocks.1.propeller"]
    assert Run.objects.count() == 0


def test_cells_that_say_less_than_a_number_reach_the_figures(api, rig, scale):
    rows = [
        {"throttle_pct": 0, "scale_g": -223},
        {"throttle_pct": 50, "scale_g": 200, "current_a": {"about": [40]}},
        {"throttle_pct": 100, "scale_g": 742, "power_w": {"just_below": [900]}},
        {"throttle_pct": 80, "scale_g": {"between": [500, 520]}, "power_w": {"below": [700]}},
    ]
    made = keep(api, rig, scale, rows=rows)
    assert made.status_code == 201, made.json()
    run = Run.objects.get()
    kept = json.loads(gzip.decompress(bytes(run.source_file.gzip)))
    assert kept["rows"] == rows
    about, just, between = (p["figures"] for p in result_of(api, made)["result"]["points"])
    assert about["current_a"]["u"] == pytest.approx(2.0 / 3**0.5, rel=0.2)
    assert about["current_a"]["assumed"]
    assert just["power_w"]["value"] == pytest.approx(877.5)
    assert between["thrust_gf"]["value"] == pytest.approx(733.0)
    absent = result_of(api, made)["result"]["points"][2]["absent"]["power_w"]
    assert (absent["reason"], "below 700 W" in absent["note"]) == ("bound", True)
    # The exported log says it too, and reads back the same.
    text = api.get(f"/api/v1/runs/{run.pk}/bench-log.csv").content
    again = reduce_trace(read_bench_log(text).trace())
    assert isinstance(again.points[2].figures["power_w"], Absent)


def test_bursts_are_averaged(api, rig, scale):
    rows = [{"throttle_pct": 100, "scale_g": grams} for grams in (737, 742, 747)]
    assert [row["bursts"] for row in look(api, rows, averaged=True)] == [3, 3, 3]
    [point] = result_of(api, keep(api, rig, scale, rows=rows, averaged=True))["result"]["points"]
    assert point["figures"]["thrust_gf"]["value"] == pytest.approx(965.0)


def test_beyond_a_rating_asks_why(api, rig, scale):
    motor = rig["samples"][0].motor
    Claim.objects.create(motor=motor, quantity="max_current_a", value=20.0, source="label")
    answer = keep(api, rig, scale)
    assert answer.status_code == 400
    assert list(answer.json()["fields"]) == ["blocks.0.overrun_reason"]
    rows = look(api, ROWS, sample=rig["samples"][0].pk)
    assert [f["code"] for f in rows[2]["findings"]] == ["overrun"]
    made = keep(api, rig, scale, overrun_reason="  to see whether it holds ")
    assert made.status_code == 201
    assert Run.objects.get().overrun_reason == "to see whether it holds"


def test_what_a_row_owes_is_said(api, scale):
    rows = look(api, ROWS, wanted=["speed_rpm"])
    assert [[f["owed"] for f in row["findings"]] for row in rows[1:]] == [[True], [True]]


LATER_ROWS = [
    {"throttle_pct": 0, "scale_g": -223},
    {"throttle_pct": 100, "scale_g": 742, "speed_rpm": {"later": "clip 3 at 04:12"}},
]


def owed(api):
    return api.get("/api/v1/readings/later/").json()["results"]


def test_a_cell_is_filled_in_later_from_footage(api, rig, scale):
    made = keep(api, rig, scale, rows=LATER_ROWS)
    assert made.status_code == 201, made.json()
    run = Run.objects.get()
    [cell] = owed(api)
    assert (cell["row"], cell["channel"], cell["clip"], cell["time_code"]) == (
        2,
        "speed_rpm",
        "clip 3",
        "04:12",
    )
    before = bytes(run.segments.get().parquet)
    path = f"/api/v1/readings/later/{cell['id']}/"
    answer = api.patch(path, {"value": 21800, "version": cell["version"]}, format="json")
    assert answer.status_code == 200, answer.json()
    assert answer.json()["read_by"]
    assert owed(api) == []
    [point] = result_of(api, made)["result"]["points"]
    assert point["figures"]["speed_rpm"]["value"] == 21800
    # The recording is as it was; and a second one with an old version is refused.
    assert bytes(run.segments.get().parquet) == before
    again = api.patch(path, {"value": 1, "version": cell["version"]}, format="json")
    assert again.status_code == 409
    assert not api.get(f"/api/v1/runs/{run.pk}/").json()["stale"]


def test_what_cannot_be_read_is_given_up_with_a_reason(api, rig, scale):
    keep(api, rig, scale, rows=LATER_ROWS)
    [cell] = owed(api)
    path = f"/api/v1/readings/later/{cell['id']}/"
    for body in ({}, {"value": 1e9}, {"value": -5}, {"value": 5, "dropped_reason": "dark"}):
        answer = api.patch(path, {**body, "version": 1}, format="json")
        assert answer.status_code == 400, body
    answer = api.patch(path, {"dropped_reason": "the clip is gone", "version": 1}, format="json")
    assert answer.status_code == 200
    assert owed(api) == []
    assert "speed_rpm" not in result_of_run(api)["points"][0]["figures"] or (
        result_of_run(api)["points"][0]["figures"]["speed_rpm"] is None
    )


def result_of_run(api):
    return api.get(f"/api/v1/runs/{Run.objects.get().pk}/").json()["result"]


def test_what_was_noticed_is_said_of_any_run(api, record):
    run = record()
    path = f"/api/v1/runs/{run.pk}/noticed/"
    body = {"noticed": {"smell": "warm", "sound_db": 82, "sound_distance_m": 1}, "note": "calm"}
    answer = api.put(path, {**body, "version": run.version}, format="json")
    assert answer.status_code == 200, answer.json()
    assert answer.json()["noticed"]["sound_db"] == 82
    assert answer.json()["note"] == "calm"
    assert api.put(path, {**body, "noticed": {}, "version": 1}, format="json").status_code == 409
    bad = api.put(path, {"noticed": {"smell": "x"}, "version": 2}, format="json")
    assert list(bad.json()["fields"]) == ["noticed.smell"]


@pytest.fixture
def pack(db):
    return Supply.objects.create(name="Four cells", kind="pack", cells=4, chemistry="lipo")


def test_how_the_pack_stood_is_kept_with_the_run(api, rig, scale, pack):
    made = keep(api, rig, scale, supply=pack.pk, pack_state="part_used", pack_rest_v=3.95)
    assert made.status_code == 201, made.json()
    header = Run.objects.get().header
    # Typed by cell, kept as the pack's.
    assert (header["pack_state"], header["pack_rest_v"]) == ("part_used", "15.8")
    bad = keep(api, rig, scale, supply=pack.pk, pack_rest_v=8.0, day="2026-10-06")
    assert list(bad.json()["fields"]) == ["blocks.0.pack_rest_v"]
    plain = keep(api, rig, scale, pack_state="fresh", pack_rest_v=16.8, day="2026-10-07")
    assert plain.status_code == 201
    # A bench supply is not charged.
    assert "pack_state" not in Run.objects.latest("pk").header
