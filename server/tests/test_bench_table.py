"""The whole bench as a table over the API."""

import csv
import io
from copy import deepcopy

import numpy as np
import pytest
from openpyxl import load_workbook

from spindle_core.formats.bench_log import write_bench_log
from spindle_server.compare.models import Pick
from spindle_server.motors.services import put_claim
from spindle_server.rig.models import Propeller, Supply
from spindle_server.rig.services import add_propeller
from spindle_server.runs.services import import_log, review_run

from .house import second_motor

AT = "/api/v1/compare/bench/"


@pytest.fixture(scope="module")
def two_motors(common_house):
    """On one propeller, one of them on another too."""
    rig, people, record = common_house.rig, common_house.people, common_house.record
    motor = second_motor(people)
    rig["samples"] += list(motor.samples.all())
    record(1.0)
    record(1.0)
    record(0.9, sample=2)
    first = rig["propeller"]
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    record(0.8)
    rig["propeller"] = first
    return rig["motor"], motor


@pytest.fixture
def bench(two_motors, house):
    return deepcopy(two_motors)


def table(api, **query):
    answer = api.get(AT, query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def cell(row, name):
    return next(one for one in row["cells"] if one["name"] == name)


def test_an_empty_bench_is_an_empty_table(api, db):
    found = table(api)
    assert (found["rows"], found["supplies"], found["level"]) == ([], [], None)
    assert found["pivot"]["cells"] == []


def test_full_throttle_with_the_difference_to_the_row_before(api, bench):
    motor, second = bench
    found = table(api)
    assert found["condition"] == "full"
    assert [(r["motor"], r["propeller_name"]) for r in found["rows"]] == [
        (motor.pk, "Corran 4x3x2"),
        (second.pk, "Wickett 5.1x4.2x3"),
        (motor.pk, "Wickett 5.1x4.2x3"),
    ]
    first, thrifty, last = found["rows"]
    assert all(one["delta"] is None for one in first["cells"])
    power = cell(last, "power_w")
    # 30 A after 27 A: a ninth more.
    assert power["delta"]["delta_pct"] == pytest.approx(100 / 9, abs=0.5)
    assert (power["samples"], power["runs"]) == (1, 2)
    assert last["worse"] >= 1
    # The thrust is the same: no difference is made of it.
    assert cell(last, "thrust_gf")["delta"]["outcome"] != "different"
    assert cell(first, "torque_nm")["figure"]["value"] is None
    assert "thriftiest" in first["marks"]
    assert "thriftiest" not in thrifty["marks"]


def test_a_fixed_baseline_and_another_order(api, bench):
    _, second = bench
    found = table(api, order="motor")
    names = [row["motor_name"] for row in found["rows"]]
    assert names == sorted(names)
    key = next(row["key"] for row in found["rows"] if row["motor"] == second.pk)
    fixed = table(api, baseline=key, order="figure", figure="efficiency_g_per_w")
    held = [row for row in fixed["rows"] if row["baseline"]]
    assert [row["motor"] for row in held] == [second.pk]
    assert all(one["delta"] is None for one in held[0]["cells"])
    values = [cell(row, "efficiency_g_per_w")["figure"]["value"] for row in fixed["rows"]]
    assert values == sorted(values, reverse=True)


@pytest.mark.parametrize(
    ("condition", "level"),
    [("thrust_gf", 600), ("power_w", 250), ("throttle_pct", 50), ("current_a", 15)],
)
def test_every_condition_has_its_figures_and_a_level(api, bench, condition, level):
    usual = table(api, condition=condition)
    assert usual["level"] > 0
    assert condition not in usual["figures"]
    found = table(api, condition=condition, level=level)
    assert found["level"] == level
    assert any(one["figure"]["value"] for row in found["rows"] for one in row["cells"])


def test_the_pivot_says_what_was_run_and_what_was_not(api, bench):
    _, second = bench
    pivot = table(api, figure="power_w")["pivot"]
    assert pivot["name"] == "power_w"
    # Three runs for three effects leave nothing to judge a guess by: the fourth is not there.
    assert len(pivot["cells"]) == 3
    assert (second.pk, "Corran 4x3x2") not in {
        (one["motor"], one["propeller_name"]) for one in pivot["cells"]
    }
    assert {one["estimated"] for one in pivot["cells"]} == {False}
    assert "needs more than" in pivot["no_effects"]


def test_a_rating_bars_nothing_from_being_looked_at(api, bench, people):
    motor, _ = bench
    put_claim(actor=people["reviewer"], motor=motor, quantity="max_current_a", value=5, source="x")
    row = next(r for r in table(api)["rows"] if r["motor"] == motor.pk)
    assert cell(row, "current_a")["figure"]["value"] > 20


def test_rejected_runs_leave_at_once_and_motors_can_be_chosen(api, bench, people):
    _, second = bench
    assert len(table(api, motors=f"{second.pk}")["rows"]) == 1
    for run in second.samples.get().runs.all():
        review_run(
            actor=people["reviewer"], run=run, review="rejected", reason="slipped", base=run.version
        )
    assert second.pk not in {row["motor"] for row in table(api)["rows"]}


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ({"condition": "charm"}, "condition"),
        ({"level": "0"}, "level"),
        ({"level": "nan"}, "level"),
        ({"figure": "colour"}, "figure"),
        ({"order": "price"}, "order"),
        ({"motors": "1;2"}, "motors"),
    ],
)
def test_what_is_no_question_is_refused_beside_its_field(api, query, field):
    answer = api.get(AT, query)
    assert answer.status_code == 400, answer.json()
    assert field in answer.json()["fields"]


def test_files_hold_the_table(api, bench):
    rows = list(csv.reader(io.StringIO(api.get("/api/v1/compare/bench.csv").content.decode())))
    assert rows[0][:4] == ["Motor", "Propeller", "On", "Thrust (gf)"]
    assert len(rows) == 4
    assert {len(row) for row in rows} == {len(rows[0])}
    book = load_workbook(io.BytesIO(api.get("/api/v1/compare/bench.xlsx").content))
    assert book.active.max_row == 4


def of(pivot, motor, propeller, supply=None):
    return next(
        one
        for one in pivot["cells"]
        if (one["motor"], one["propeller_name"]) == (motor.pk, propeller)
        and supply in (None, one["supply"])
    )


def test_bursts_are_a_condition_of_the_bench(api, bench, rig, people):
    motor, _ = bench
    for key, add in (("a", 0.0), ("b", 10.0)):
        time_s = [0.02 * i for i in range(600)]
        on = [2.0 <= t < 5.0 for t in time_s]
        columns = {
            "throttle_pct": np.where(on, 100.0, 0.0),
            "thrust_gf": np.where(on, 1000.0 + add, 0.0),
            "voltage_v": np.full(600, 16.0),
            "current_a": np.where(on, 25.0, 0.0),
        }
        header = {"kind": "peak", "nominal_voltage_v": 16.0}
        run = import_log(
            actor=people["reviewer"],
            name=f"{key}.csv",
            data=write_bench_log(header, np.array(time_s), columns),
            sample=motor.samples.first(),
            propeller=rig["propeller"],
            supply=rig["supply"],
            stand=rig["stand"],
        )
        review_run(actor=people["reviewer"], run=run, review="accepted", base=run.version)
    for condition in ("burst", "sustained"):
        (row,) = table(api, condition=condition)["rows"]
        assert cell(row, "thrust_gf")["figure"]["value"] == pytest.approx(1005.0, rel=0.01)
        assert cell(row, "thrust_gf")["runs"] == 2
    beside = table(api, also="burst;sustained")
    assert [one["words"] for one in beside["groups"]] == ["", "", ""]
    both = next(one for one in beside["rows"] if one["key"] == row["key"])
    shown = [one["figure"]["value"] for one in both["cells"] if one["name"] == "thrust_gf"]
    assert len(shown) == 3
    assert all(shown)
    file = api.get("/api/v1/compare/bench.csv", {"condition": "burst"}).content.decode()
    assert "Thrust" in file
    many = api.get("/api/v1/compare/bench.csv", {"also": "burst"}).content.decode()
    assert "burst, strongest 50 ms" in many


def test_every_supply_stands_side_by_side(api, bench, rig, people, record):
    first, _ = bench
    low = Supply.objects.create(
        name="Supply 12 V", kind="psu", nominal_voltage_v=12.0, open_circuit_v=12.0
    )
    rig["supply"] = low
    record(0.7)
    every = table(api, supply="every", figure="current_a")
    assert every["supply"] == "every"
    assert {row["on"] for row in every["rows"]} == {"16 V bench supply", "12 V bench supply"}
    name = rig["propeller"].full_name
    pivot = every["pivot"]
    assert [(one["name"], one["on"]) for one in pivot["propellers"]][:2] == sorted(
        (one["name"], one["on"]) for one in pivot["propellers"]
    )[:2]
    low_cell, high_cell = (of(pivot, first, name, f"bench supply|{v}") for v in (12, 16))
    assert low_cell["figure"]["value"] < high_cell["figure"]["value"]
    assert low_cell["made"]
    # What is strongest is so at its voltage.
    marked = [(one["supply"], one["marks"]) for one in pivot["cells"] if one["marks"]]
    assert ("bench supply|16", ["strongest"]) in [
        (supply, [word for word in marks if word == "strongest"]) for supply, marks in marked
    ]
    assert "one supply at a time" in pivot["no_effects"]
    mounted = {one["on"]: one["mounted_on"] for one in pivot["propellers"]}
    assert mounted["12 V bench supply"] == low.pk
    assert pivot["motors"][0]["sample"]


def test_what_a_reviewer_would_take_is_marked_until_it_is_taken_back(api, bench):
    motor, _ = bench
    name = next(one["propeller_name"] for one in table(api)["rows"] if one["motor"] == motor.pk)
    propeller = Propeller.objects.get(
        pk=next(
            one["propeller"] for one in table(api)["pivot"]["propellers"] if one["name"] == name
        )
    )
    place = {"motor": motor.pk, "propeller": propeller.pk, "supply": "bench supply"}
    at = "/api/v1/compare/picks/"
    for why in ("calm and thrifty", "cheap as well"):
        made = api.post(at, {**place, "voltage_v": 16.0, "why": why}, format="json")
        assert made.status_code == 201, made.json()
    found = table(api)
    pick = of(found["pivot"], motor, name)["pick"]
    assert (pick["why"], bool(pick["by"])) == ("cheap as well", True)
    assert Pick.objects.count() == 1
    assert (
        "picked"
        in next(
            one
            for one in found["rows"]
            if one["motor"] == motor.pk and one["propeller_name"] == name
        )["marks"]
    )
    # At another voltage nobody picked it.
    other = api.post(at, {**place, "voltage_v": 12.0, "why": ""}, format="json").json()
    assert of(table(api)["pivot"], motor, name)["pick"]["why"] == "cheap as well"
    assert api.delete(f"{at}{pick['id']}/?version=1").status_code == 409
    assert api.delete(f"{at}{pick['id']}/?version={pick['version']}").status_code == 204
    assert of(table(api)["pivot"], motor, name)["pick"] is None
    assert [row.pk for row in Pick.objects.all()] == [other["id"]]
    assert Pick.history.filter(history_type="-").count() == 1


@pytest.mark.parametrize(
    ("wrong", "field"),
    [({"voltage_v": "NaN"}, "voltage_v"), ({"motor": 10**9}, "motor"), ({"odd": 1}, "odd")],
)
def test_a_pick_of_what_is_not_there_is_refused(api, bench, rig, wrong, field):
    motor, _ = bench
    body = {"motor": motor.pk, "propeller": rig["propeller"].pk, "supply": "", "voltage_v": 0.0}
    answer = api.post("/api/v1/compare/picks/", {**body, **wrong}, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
