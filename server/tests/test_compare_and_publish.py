"""Comparisons over the API, and frozen copies."""

import csv
import io

import pytest

from spindle_server.publish.models import Snapshot
from spindle_server.runs.models import Run


def compare(api, *runs, **words):
    query = "&".join(f"{key}={value}" for key, value in words.items())
    return api.get(f"/api/v1/compare/?runs={','.join(str(r.pk) for r in runs)}&{query}")


def cells(answer, name, thrust):
    return next(
        row["cells"] for row in answer["rows"] if (row["name"], row["thrust_gf"]) == (name, thrust)
    )


def test_ten_percent_more_current_is_different(api, record):
    first, second = record(), record(1.1)
    answer = compare(api, first, second, thrusts="600").json()
    base, other = cells(answer, "power_w", 600)
    # 600 gf is half throttle: 15 A at 16 V, read between the plateaus at 30 and 60 %.
    assert base["value"] == pytest.approx(240, rel=0.01)
    assert base["delta"] is None
    assert other["delta_pct"] == pytest.approx(10, abs=0.2)
    assert other["outcome"] == "different"
    assert cells(answer, "efficiency_g_per_w", 600)[1]["delta_pct"] == pytest.approx(-9.1, abs=0.2)


def test_the_same_motor_twice_shows_no_measurable_difference(api, record):
    first, second = record(), record(1.001)
    answer = compare(api, first, second, thrusts="600").json()
    assert cells(answer, "power_w", 600)[1]["outcome"] == "equivalent"


def test_the_baseline_can_be_chosen(api, record):
    first, second = record(), record(1.1)
    answer = compare(api, first, second, thrusts="600", baseline=second.pk).json()
    assert cells(answer, "power_w", 600)[0]["delta_pct"] == pytest.approx(-9.1, abs=0.2)


def test_beyond_the_measured_range_is_not_reached(api, record):
    answer = compare(api, record(), thrusts="1300").json()
    (cell,) = cells(answer, "power_w", 1300)
    assert (cell["value"], cell["absent_reason"]) == (None, "not_reached")


def test_curves_end_where_they_were_measured(api, record):
    (curves,) = compare(api, record()).json()["curves"]
    names = {(c["x_name"], c["y_name"]) for c in curves}
    assert ("throttle_pct", "thrust_gf") in names
    assert ("thrust_gf", "efficiency_g_per_w") in names
    power = next(c for c in curves if c["y_name"] == "power_w")
    assert power["x"][-1] == power["points_x"][-1] == pytest.approx(1200, abs=1)


def test_what_differs_is_listed(api, record):
    first, second = record(), record(sample=1)
    Run.objects.filter(pk=second.pk).update(nominal_voltage_v=24.0)
    answer = compare(api, first, second).json()
    states = {f["name"]: f["state"] for f in answer["factors"]}
    assert states["motor"] == states["nominal voltage"] == "differs"
    assert states["propeller"] == "same"
    assert answer["confounded"] == ["motor", "nominal voltage"]


def test_a_run_without_a_stand_is_judged_by_a_declared_guess_and_says_so(api, record):
    run = record()
    Run.objects.filter(pk=run.pk).update(stand=None)
    assert "names no stand" in compare(api, run).json()["remarks"][0]


@pytest.mark.parametrize(
    ("query", "code"),
    [
        ("runs=", "run_count"),
        ("runs=99999", "unknown_run"),
        ("runs=a", "not_a_number"),
        ("runs={run}&thrusts=x", "not_a_number"),
        ("runs={run}&baseline=99", "baseline"),
        ("runs={run},{run}", "run_count"),
        ("runs={run}&thrusts=-5", "thrust"),
    ],
)
def test_bad_questions(api, record, query, code):
    answer = api.get("/api/v1/compare/?" + query.format(run=record().pk))
    assert answer.status_code == 400
    assert answer.json()["code"] == code


def test_a_run_without_figures_cannot_be_compared(api, record):
    run = record()
    run.reduction.delete()
    assert compare(api, run).json()["code"] == "no_figures"


def test_the_table_as_csv(api, record):
    first, second = record(), record(1.1)
    address = f"/api/v1/compare.csv?runs={first.pk},{second.pk}&thrusts=600,1300"
    rows = list(csv.DictReader(io.StringIO(api.get(address).content.decode())))
    power = [r for r in rows if r["figure"] == "power_w" and r["thrust_gf"] == "600.0"]
    assert float(power[1]["delta_pct"]) == pytest.approx(10, abs=0.2)
    assert power[1]["outcome"] == "different"
    beyond = [r for r in rows if r["thrust_gf"] == "1300.0"]
    assert {r["absent"] for r in beyond} == {"not_reached"}
    assert {r["value"] for r in beyond} == {""}


def freeze(api, *runs, title="Sable against itself"):
    body = {"title": title, "runs": [r.pk for r in runs], "thrusts_gf": [600]}
    return api.post("/api/v1/snapshots/", body, format="json")


def test_a_frozen_copy_does_not_change_with_its_runs(as_role, record):
    editor = as_role("editor")
    first, second = record(), record(1.1)
    made = freeze(editor, first, second)
    assert made.status_code == 201
    before = made.json()["content"]["rows"]
    second.reduction.delete()
    (kept,) = editor.get("/api/v1/snapshots/").json()["results"]
    assert kept["content"]["rows"] == before
    assert kept["frozen_by_name"] == "editor"


def test_a_rejected_run_cannot_be_published(as_role, record):
    run = record()
    Run.objects.filter(pk=run.pk).update(review="rejected", review_reason="prop slipped")
    answer = freeze(as_role("editor"), run)
    assert answer.json()["code"] == "rejected_run"
    assert not Snapshot.objects.exists()


def test_comparing_takes_constant_queries(api, record, django_assert_num_queries):
    many = [record() for _ in range(5)]
    with django_assert_num_queries(2):  # runs, their figures
        assert compare(api, *many).status_code == 200
