"""The whole bench as a table over the API."""

import csv
import io

import pytest
from openpyxl import load_workbook

from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.rig.services import add_propeller
from spindle_server.runs.services import review_run

AT = "/api/v1/compare/bench/"


@pytest.fixture
def bench(rig, people, record):
    """Two motors on one propeller, one of them on another too."""
    motor = take_in_motor(
        actor=people["reviewer"], maker="Ostrel", name="Drift", size_code="2206",
        kv_label_rpm_per_v=1900, sample_marks=["A"],
    )  # fmt: skip
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
    assert len(pivot["cells"]) == 4
    empty = next(
        one
        for one in pivot["cells"]
        if (one["motor"], one["propeller_name"]) == (second.pk, "Corran 4x3x2")
    )
    # Three runs for three effects leave nothing to judge a guess by.
    assert empty["figure"]["value"] is None
    assert empty["estimated"] is False
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
