"""Comparisons over the API, and frozen copies."""

import csv
import io
from datetime import timedelta

import pytest
from django.utils import timezone

from spindle_server.compare import choosing
from spindle_server.motors.models import Preparation
from spindle_server.motors.services import take_in_motor
from spindle_server.publish.models import Snapshot
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run

from .house import second_motor


def compare(api, *runs, **words):
    words = {"by": "run", **words}
    query = "&".join(f"{key}={value}" for key, value in words.items())
    return api.get(f"/api/v1/compare/?runs={','.join(str(r.pk) for r in runs)}&{query}")


def cells(answer, name, thrust):
    return next(
        row["cells"] for row in answer["rows"] if (row["name"], row["at"]) == (name, thrust)
    )


def test_ten_percent_more_current_is_different(api, record):
    first, second = record(), record(1.1)
    answer = compare(api, first, second, levels="600").json()
    base, other = cells(answer, "power_w", 600)
    # 600 gf is half throttle: 15 A at 16 V, read between the plateaus at 30 and 60 %.
    assert base["value"] == pytest.approx(240, rel=0.01)
    assert base["delta"] is None
    assert other["delta_pct"] == pytest.approx(10, abs=0.2)
    assert other["outcome"] == "different"
    assert cells(answer, "efficiency_g_per_w", 600)[1]["delta_pct"] == pytest.approx(-9.1, abs=0.2)


def test_the_same_motor_twice_shows_no_measurable_difference(api, record):
    first, second = record(), record(1.001)
    answer = compare(api, first, second, levels="600").json()
    assert cells(answer, "power_w", 600)[1]["outcome"] == "equivalent"


def test_the_baseline_can_be_chosen(api, record):
    first, second = record(), record(1.1)
    answer = compare(api, first, second, levels="600", baseline=second.pk).json()
    assert cells(answer, "power_w", 600)[0]["delta_pct"] == pytest.approx(-9.1, abs=0.2)


def test_beyond_the_measured_range_is_not_reached(api, record):
    answer = compare(api, record(), levels="1300").json()
    (cell,) = cells(answer, "power_w", 1300)
    assert (cell["value"], cell["absent_reason"]) == (None, "not_reached")


def test_curves_end_where_they_were_measured(api, record):
    answer = compare(api, record(), axes="thrust_gf:throttle_pct,power_w:thrust_gf").json()
    (curves,) = answer["curves"]
    thrust, power = curves
    assert (thrust["x_name"], thrust["y_name"]) == ("throttle_pct", "thrust_gf")
    assert power["x"][-1] == pytest.approx(1200, abs=1)
    assert max(x for x, _, _ in power["points"]) == pytest.approx(1200, abs=1)
    assert all(u > 0 for u in power["u"] if u is not None)
    assert answer["band"].startswith("scatter only")


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
    found = compare(api, run).json()
    assert found["remarks"] == [
        f"Run {run.pk} without a stand whose repeatability would be known; a repeatability of 2 % "
        "is assumed."
    ]
    assert found["band"].startswith("the whole u")


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ("runs=", "code run_count"),
        ("runs=99999", "code unknown_run"),
        ("runs=a", "runs"),
        ("runs={run}&levels=x", "levels"),
        ("runs={run}&levels=nan", "levels"),
        ("runs={run}&levels=" + ",".join(str(i) for i in range(1, 40)), "levels"),
        ("runs={run}&baseline=99", "code baseline"),
        ("runs={run},{run}", "code run_count"),
        ("runs={run}&levels=-5", "levels"),
        ("runs={run}&by=maker", "by"),
        ("runs={run}&condition=luck", "condition"),
        ("runs={run}&axes=thrust_gf:thrust_gf", "axes"),
        ("runs={run}&axes=beauty:thrust_gf", "axes"),
        ("runs={run}&axes=thrust_gf:vibration_g", "axes"),
    ],
)
def test_bad_questions(api, record, query, field):
    answer = api.get("/api/v1/compare/?" + query.format(run=record().pk))
    assert answer.status_code == 400
    if field.startswith("code "):
        assert answer.json()["code"] == field.removeprefix("code ")
    else:
        assert list(answer.json()["fields"]) == [field]


def test_a_rejected_run_says_so(api, record):
    run = record()
    run.review, run.review_reason = "rejected", "prop slipped"
    run.save()
    assert f"Run {run.pk} was rejected: prop slipped." in compare(api, run).json()["remarks"]


def test_a_run_without_figures_cannot_be_compared(api, record):
    run = record()
    run.reduction.delete()
    assert compare(api, run).json()["code"] == "no_figures"


def test_the_table_as_csv(api, record):
    first, second = record(), record(1.1)
    address = f"/api/v1/compare.csv?by=run&runs={first.pk},{second.pk}&levels=600,1300"
    text = api.get(address).content.decode().lstrip("\ufeff")
    rows = list(csv.DictReader(io.StringIO(text)))
    power = [r for r in rows if r["figure"] == "power_w" and float(r["at"]) == 600]
    assert float(power[1]["delta_pct"]) == pytest.approx(10, abs=0.2)
    assert power[1]["outcome"] == "different"
    assert power[1]["against"] == f"run {first.pk}"
    beyond = [r for r in rows if float(r["at"]) == 1300]
    assert {r["absent"] for r in beyond} == {"not_reached"}
    assert {r["value"] for r in beyond} == {""}


def freeze(api, *runs, title="Sable against itself"):
    body = {"title": title, "runs": ",".join(str(r.pk) for r in runs), "levels": "600"}
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
    # Two revisions; runs, their figures; what was done to their samples, and what befell them; what
    # is claimed of their loads.
    with django_assert_num_queries(7):
        assert compare(api, *many).status_code == 200
    with django_assert_num_queries(3):
        assert compare(api, *many).status_code == 200


def test_an_answer_that_was_kept_is_forgotten_with_the_record(api, people, record):
    run = record()
    before = compare(api, run).json()["subjects"][0]["motor_name"]
    motor = run.sample.motor
    motor.name = "Marten"
    motor.save()
    after = compare(api, run).json()["subjects"][0]["motor_name"]
    assert before != after
    assert "Marten" in after


def test_runs_of_one_setup_are_one_with_their_spread(api, record):
    runs = [record(1.0), record(1.02), record(1.1, sample=1)]
    answer = compare(api, *runs, by="repeats", levels="600").json()
    assert [one["runs"] for one in answer["subjects"]] == [[runs[0].pk, runs[1].pk], [runs[2].pk]]
    base, other = cells(answer, "power_w", 600)
    assert base["runs"] == 2
    assert base["value"] == pytest.approx(242.4, rel=0.01)
    # 240 and 244.8 W: s = 3.4 W.
    assert base["spread"] == pytest.approx(3.4, abs=0.2)
    assert (other["runs"], other["spread"]) == (1, None)
    # The baseline is a run of a subject, whichever of them it is.
    again = compare(api, *runs, by="repeats", levels="600", baseline=runs[1].pk).json()
    assert cells(again, "power_w", 600)[0]["delta"] is None


def test_a_model_is_what_its_samples_are(api, record):
    runs = [record(1.0), record(1.1, sample=1)]
    answer = compare(api, *runs, by="model", condition="full").json()
    (model,) = answer["subjects"]
    assert model["samples"] == ["A", "B"]
    assert (answer["levels"], answer["rows"][0]["at"]) == ([], None)
    (current,) = cells(answer, "current_a", None)
    assert (current["samples"], current["runs"]) == (2, 2)
    (alone,) = cells(compare(api, runs[0], condition="full").json(), "current_a", None)
    assert current["u"] > 2 * alone["u"]


def test_what_was_done_to_a_sample_divides_its_repeats(api, people, record):
    before, after = record(), record(1.03)
    Run.objects.filter(pk=before.pk).update(started_at=timezone.now() - timedelta(days=9))
    sample = before.sample
    Preparation.objects.create(
        sample=sample,
        kind="leads_cut",
        done_on=timezone.now().date() - timedelta(days=4),
        lead_length_mm=60.0,
    )
    answer = compare(api, before, after, by="repeats").json()
    assert [one["runs"] for one in answer["subjects"]] == [[before.pk], [after.pk]]
    assert "after: leads cut" in answer["subjects"][1]["setup"]
    found = api.get(f"/api/v1/compare/choices/?what=before_after&motor={sample.motor_id}").json()
    assert (found["differ"], sorted(found["runs"])) == (2, sorted([before.pk, after.pk]))


def test_each_against_the_one_before(api, record):
    runs = [record(1.0), record(1.1), record(1.1)]
    answer = compare(api, *runs, levels="600", against="previous").json()
    deltas = [cell["delta_pct"] for cell in cells(answer, "power_w", 600)]
    assert deltas == [None, pytest.approx(10, abs=0.2), pytest.approx(0, abs=0.2)]


def test_corrected_to_nominal_with_what_it_changed(api, record):
    run = record()
    raw = compare(api, run, condition="full").json()
    assert raw["correction"] == []
    run.air_temp_c = None
    run.save()
    unknown = compare(api, run, condition="full", correct="true").json()
    assert unknown["correction"][0]["reason"] == "the air was not noted"
    assert unknown["rows"] == raw["rows"]
    run.air_temp_c, run.air_pressure_hpa = 10.0, 1013.0
    run.nominal_voltage_v = 16.8
    run.save()
    found = compare(api, run, condition="full", correct="true").json()
    (one,) = found["correction"]
    assert one["way"] == "powers"
    changes = {row["name"]: row["pct"] for row in one["changed"]}
    # 16 V to 16.8 V: 1.05^1.7, and a little less air.
    assert changes["thrust_gf"] == pytest.approx(
        100 * (1.05**1.7 * (1.225 / 1.246) ** 0.65 - 1), abs=0.3
    )
    (before,), (after,) = (cells(one, "thrust_gf", None) for one in (raw, found))
    assert after["value"] == pytest.approx(before["value"] * (1 + changes["thrust_gf"] / 100))
    assert after["u"] > before["u"]


def test_the_feel_of_the_stick_stands_beside(api, record):
    (feel,) = compare(api, record()).json()["feel"]
    assert "of the stick gives" in feel["words"]
    assert feel["no_expo"] == "it is what the others are made to feel like"


def test_a_frozen_copy_of_the_first_format_is_still_readable(as_role, people, record):
    run = record()
    cell = {
        "value": 240.0,
        "u": 2.0,
        "absent_reason": "",
        "absent_note": "",
        "delta": None,
        "delta_pct": None,
        "u_pct": None,
        "outcome": "",
    }
    old = {
        "runs": [
            {
                "id": run.pk,
                "motor": 1,
                "motor_name": "Quillmoor Sable",
                "sample_mark": "A",
                "propeller_name": "W",
                "supply_name": "Supply 16 V",
                "nominal_voltage_v": 16.0,
                "stand_name": "Yard",
                "started_at": "2026-10-05T10:00:00Z",
            }
        ],
        "baseline": run.pk,
        "thrusts_gf": [600.0],
        "margin_pct": 2.0,
        "curves": [[]],
        "rows": [{"thrust_gf": 600.0, "name": "power_w", "cells": [cell]}],
        "crossings": [
            {"run_a": 1, "run_b": 2, "thrust_gf": 700.0, "from_gf": 600.0, "to_gf": 800.0}
        ],
        "factors": [],
        "confounded": [],
        "remarks": [],
    }
    Snapshot.objects.create(title="Old", content=old, frozen_by=people["editor"])
    (kept,) = as_role("reader").get("/api/v1/snapshots/").json()["results"]
    content = kept["content"]
    assert content["subjects"][0]["motor_name"] == "Quillmoor Sable"
    assert cells(content, "power_w", 600.0)[0]["value"] == 240.0
    assert content["crossings"][0]["low"] == 600.0


# What may be compared


def choice(api, what, motor, **words):
    answer = api.get("/api/v1/compare/choices/", {"what": what, "motor": motor.pk, **words})
    assert answer.status_code == 200, answer.json()
    return answer.json()


def test_runs_that_differ_in_one_thing(api, people, rig, record):
    first, second, other = record(), record(), record(sample=1)
    motor = first.sample.motor
    samples = choice(api, "samples", motor)
    assert (samples["by"], samples["differ"]) == ("sample", 2)
    assert sorted(samples["runs"]) == [first.pk, second.pk, other.pk]
    nothing = choice(api, "propellers", motor)
    assert nothing["differ"] == 1
    assert "no two propellers on one motor" in nothing["why_none"]
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    third = record()
    assert choice(api, "propellers", motor)["differ"] == 2
    assert third.pk in choice(api, "propellers", motor)["runs"]
    # Asked for the new propeller, the samples that were run on it are taken: one.
    assert choice(api, "samples", motor, propeller=rig["propeller"].pk)["runs"] == [third.pk]
    Run.objects.filter(pk=second.pk).update(nominal_voltage_v=24.0)
    assert choice(api, "voltages", motor)["differ"] == 2
    assert choice(api, "escs", motor)["differ"] == 1


def test_winds_are_motors_of_one_name_and_size(api, people, rig, record):
    wind = take_in_motor(
        actor=people["reviewer"],
        maker="Quillmoor",
        name="Sable",
        size_code="2105.5",
        kv_label_rpm_per_v=2650,
        sample_marks=["A"],
    )
    stranger = second_motor(people)
    rig["samples"] += [*wind.samples.all(), *stranger.samples.all()]
    own, other, third = record(), record(sample=2), record(sample=3)
    assert sorted(choice(api, "winds", rig["motor"])["runs"]) == [own.pk, other.pk]
    assert sorted(choice(api, "models", rig["motor"])["runs"]) == [own.pk, other.pk, third.pk]
    Run.objects.filter(pk=other.pk).update(review="rejected", review_reason="prop slipped")
    assert choice(api, "winds", rig["motor"])["runs"] == [own.pk]


# Kept by name


def keep(api, run, **changed):
    body = {
        "name": "Sable on 16 V",
        "asked": {"runs": str(run.pk), "by": "model", "rubbish": "x"},
        "marks": [{"x_name": "throttle_pct", "y_name": "thrust_gf", "x": 90, "text": "bends here"}],
        **changed,
    }
    return api.post("/api/v1/compare/saved/", body, format="json")


def test_a_comparison_is_kept_with_its_marks(api, record):
    run = record()
    made = keep(api, run)
    assert made.status_code == 201, made.json()
    kept = made.json()
    # What no comparison can be asked is not kept.
    assert kept["asked"] == {"runs": str(run.pk), "by": "model"}
    assert kept["marks"][0]["text"] == "bends here"
    again = keep(api, run)
    assert (again.status_code, again.json()["code"]) == (400, "name_taken")
    address = f"/api/v1/compare/saved/{kept['id']}/"
    body = {"name": " Sable, both ", "marks": [], "version": 1}
    changed = api.patch(address, body, format="json").json()
    assert (changed["name"], changed["marks"], changed["version"]) == ("Sable, both", [], 2)
    stale = api.patch(address, {"note": "mine", "version": 1}, format="json")
    assert stale.status_code == 409
    (listed,) = api.get("/api/v1/compare/saved/").json()
    assert listed["name"] == "Sable, both"
    assert api.delete(f"{address}?version=1").status_code == 409
    assert api.delete(f"{address}?version=2").status_code == 204
    assert api.get("/api/v1/compare/saved/").json() == []


@pytest.mark.parametrize(
    "changed",
    [
        {"name": "  "},
        {"asked": {"runs": "a"}},
        {"marks": [{"x_name": "luck", "y_name": "thrust_gf", "x": 1, "text": "t"}]},
        {"marks": [{"x_name": "throttle_pct", "y_name": "thrust_gf", "x": -1, "text": "t"}]},
        {"marks": [{"x_name": "throttle_pct", "y_name": "thrust_gf", "x": 1, "text": "t"}] * 21},
    ],
)
def test_what_cannot_be_kept(api, record, changed):
    assert keep(api, record(), **changed).status_code == 400


# Torque over speed


def test_torque_of_a_guessed_motor_says_that_it_is_one(api, rig, record):
    run = record()
    answer = api.get("/api/v1/compare/torque/", {"motor": rig["motor"].pk})
    assert answer.status_code == 200, answer.json()
    found = answer.json()
    assert found["estimated"]
    assert [line["name"] for line in found["motor_lines"]] == ["16 V"]
    (load,) = found["load_lines"]
    assert load["propeller"] == run.propeller_id
    (meeting,) = found["meetings"]
    torque = next(one for one in meeting["figures"] if one["name"] == "torque_nm")["figure"]
    assert torque["u"] > 0
    assert torque["origin"] == "estimated"
    lines = api.get(
        "/api/v1/compare/torque/", {"motor": rig["motor"].pk, "voltages": "24,12"}
    ).json()
    assert lines["voltages"] == [12.0, 24.0]


def test_a_motor_that_was_never_run_asks_for_voltages(api, rig):
    found = api.get("/api/v1/compare/torque/", {"motor": rig["motor"].pk}).json()
    assert found["reason"] == "it was never run; choose voltages"
    assert api.get("/api/v1/compare/torque/", {"motor": 9999}).status_code == 404


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("voltages", "0"),
        ("voltages", "1,2,3,4,5"),
        ("voltages", "x"),
        ("propellers", "1,2,3,4,5,6,7"),
    ],
)
def test_what_no_torque_chart_can_show(api, rig, record, name, text):
    record()
    answer = api.get("/api/v1/compare/torque/", {"motor": rig["motor"].pk, name: text})
    assert answer.status_code == 400
    assert name in answer.json()["fields"]


def test_many_newer_runs_of_others_do_not_hide_ones_own(api, people, rig, record, monkeypatch):
    """On a large bench the newest runs may all be of other motors on other propellers."""
    monkeypatch.setattr(choosing, "MOST_RUNS", 1)
    own = record()
    other = take_in_motor(
        actor=people["reviewer"],
        maker="Ostrel",
        name="Drift",
        size_code="2206",
        kv_label_rpm_per_v=1900,
        sample_marks=["A"],
    )
    rig["samples"] += list(other.samples.all())
    alike = record(sample=2)
    ours = rig["propeller"]
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=4.0, pitch_in=3.0, blades=2
    )
    for _ in range(6):
        record(sample=2)
    found = choice(api, "models", own.sample.motor, propeller=ours.pk)
    assert found["differ"] == 2
    assert set(found["runs"]) & {own.pk, alike.pk}
