"""Campaigns: what they name, what is predicted of every cell, and which run is proposed."""

import csv

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from spindle_server.motors.services import put_claim
from spindle_server.plan.cells import Predicted
from spindle_server.plan.models import Campaign
from spindle_server.plan.run_sheets import sheet_page
from spindle_server.plan.serializers import DayStepSerializer
from spindle_server.rig.adapters import add_adapter, change_adapter
from spindle_server.rig.models import Supply
from spindle_server.rig.services import add_propeller, change_propeller
from spindle_server.runs.services import review_run

from .intake_steps import measure


@pytest.fixture
def propellers(rig, people):
    more = [
        add_propeller(
            actor=people["reviewer"], maker="Wickett", diameter_in=5.0, pitch_in=p, blades=b
        )
        for p, b in ((3.6, 3), (3.1, 2))
    ]
    return [rig["propeller"], *more]


@pytest.fixture
def body(rig, propellers):
    return {
        "title": "Which of them?",
        "samples": [sample.pk for sample in rig["samples"]],
        "propellers": [propeller.pk for propeller in propellers],
        "supplies": [rig["supply"].pk],
    }


def begun(api, body, **changes):
    answer = api.post("/api/v1/campaigns/", {**body, **changes}, format="json")
    assert answer.status_code == 201, answer.json()
    return answer.json()


def matrix(api, campaign, **query):
    answer = api.get(f"/api/v1/campaigns/{campaign['id']}/matrix/", query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def test_every_combination_is_predicted_and_one_is_proposed(api, body, rig, propellers):
    found = matrix(api, begun(api, body))
    assert [row["mark"] for row in found["rows"]] == ["A", "B"]
    assert len(found["columns"]) == 3
    assert [len(row) for row in found["cells"]] == [3, 3]
    for row in found["cells"]:
        for cell in row:
            assert 300 < cell["thrust_gf"] < 2000
            assert cell["thrust_u_gf"] > 0.05 * cell["thrust_gf"]  # nothing was run yet
            assert cell["tightest"] in {limit["name"] for limit in cell["limits"]}
            assert cell["worth"] is True
            assert cell["runs"] == 0
    proposed = found["next"]
    assert proposed["sample"] in body["samples"]
    assert proposed["propeller"] in body["propellers"]
    assert "%" in proposed["sentence"]
    assert "min" in proposed["sentence"]


def test_a_rating_that_is_passed_says_up_to_which_duty(api, body, rig, people):
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=12.0,
        source="box",
    )
    cell = matrix(api, begun(api, body))["cells"][0][2]
    used = {limit["name"]: limit["used"] for limit in cell["limits"]}
    assert used["rated current"] == pytest.approx(cell["current_a"] / 12.0, rel=1e-3)
    assert cell["used"] > 1
    assert cell["tightest"] == "rated current"
    assert 30 < cell["most_duty_pct"] < 95


def test_a_rating_that_may_be_passed_is_run_and_said(api, body, rig, people):
    """What is foreseen stands a little below it, nearer than it is known."""
    campaign = begun(api, body)
    proposed = matrix(api, campaign)["next"]

    def cell_of(found, run):
        i = [row["sample"] for row in found["rows"]].index(run["sample"])
        j = [column["propeller"] for column in found["columns"]].index(run["propeller"])
        return found["cells"][i][j]

    cell = cell_of(matrix(api, campaign), proposed)
    assert 0 < cell["current_u_a"] < cell["current_a"]
    assert "may pass" not in proposed["sentence"]
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=round(cell["current_a"] + 0.3 * cell["current_u_a"], 2),
        source="box",
    )
    found = matrix(api, campaign)
    limits = {one["name"]: one for one in cell_of(found, proposed)["limits"]}
    rated = limits["rated current"]
    assert rated["may_pass"] is True
    assert rated["used"] < 1 < rated["used"] + 2 * rated["u"]
    assert rated["u"] == pytest.approx(
        rated["used"] * cell["current_u_a"] / cell["current_a"], rel=1e-3
    )
    for name in ("power_u_w", "speed_u_rpm", "efficiency_u_g_per_w", "common_u_g_per_w"):
        assert cell_of(found, proposed)[name] > 0, name
    said = found["next"]
    passes = [one["name"] for one in cell_of(found, said)["limits"] if one["may_pass"]]
    assert ("may pass a limit: " + ", ".join(passes) in said["sentence"]) is bool(passes)


def test_no_cell_within_its_limits_is_said(api, body, rig, people):
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=1.0,
        source="box",
    )
    found = matrix(api, begun(api, body))
    assert found["next"] is None
    assert "within its limits" in found["nothing_next"]


def test_runs_that_nobody_rejected_are_counted_at_their_voltage(api, body, record, people):
    first, second = record(), record()
    review_run(
        actor=people["reviewer"], run=second, review="rejected", reason="loose", base=second.version
    )
    campaign = begun(api, body)

    def counted():
        found = matrix(api, campaign)
        at = [column["propeller"] for column in found["columns"]].index(body["propellers"][0])
        return [row[at]["runs"] for row in found["cells"]]

    assert counted() == [1, 0]
    first.refresh_from_db()
    first.nominal_voltage_v = 24.0
    first.save()
    assert counted() == [0, 0]


def test_a_motor_of_which_nothing_is_known_keeps_its_row(api, body, rig):
    motor = rig["motor"]
    motor.kv_label_rpm_per_v = None
    motor.save()
    found = matrix(api, begun(api, body))
    assert found["cells"][0][0]["thrust_gf"] is None
    assert "no kV on its label" in found["cells"][0][0]["why_not"]
    assert found["next"] is None


def test_a_supply_without_cells_is_a_sentence(api, body):
    old = Supply.objects.create(name="Old pack", kind="pack")
    campaign = begun(api, body, supplies=[*body["supplies"], old.pk])
    found = matrix(api, campaign, supply=old.pk)
    assert found["cells"] == []
    assert "cells" in found["nothing_next"]
    other = Supply.objects.create(name="Elsewhere", kind="pack", cells=4)
    assert (
        api.get(f"/api/v1/campaigns/{campaign['id']}/matrix/?supply={other.pk}").status_code == 404
    )
    assert api.get(f"/api/v1/campaigns/{campaign['id']}/matrix/?supply=x").status_code == 404


def test_once_everything_is_known_nothing_is_proposed(api, body):
    found = matrix(api, begun(api, body, goal_pct=50.0))
    assert found["next"] is None
    assert "known within 50 %" in found["nothing_next"]
    assert "still lack" in found["nothing_next"]


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"title": ""}, "title"),
        ({"samples": []}, "samples"),
        ({"propellers": [99999]}, "propellers"),
        ({"goal_pct": 0}, "goal_pct"),
        ({"common_thrust_gf": -5}, "common_thrust_gf"),
        ({"question": "why"}, "question"),
    ],
)
def test_what_a_campaign_cannot_be_is_said_beside_its_field(api, body, wrong, field):
    answer = api.post("/api/v1/campaigns/", {**body, **wrong}, format="json")
    assert answer.status_code == 400
    assert field in answer.json()["fields"]
    assert not Campaign.objects.exists()


def test_a_campaign_is_changed_from_the_version_that_was_read(api, body, rig):
    campaign = begun(api, body)
    address = f"/api/v1/campaigns/{campaign['id']}/"
    change = {"samples": body["samples"][:1], "closed": True, "version": campaign["version"]}
    changed = api.patch(address, change, format="json")
    assert changed.status_code == 200, changed.json()
    assert changed.json()["samples"] == body["samples"][:1]
    assert changed.json()["closed"] is True
    late = api.patch(address, {"title": "Late", "version": campaign["version"]}, format="json")
    assert late.status_code == 409
    assert Campaign.objects.get().title == "Which of them?"


# ---- the run sheet -------------------------------------------------------------------------------


def sheet(api, campaign, **query):
    answer = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet/", query)
    assert answer.status_code == 200, answer.json()
    return answer.json()


def test_a_run_sheet_orders_what_is_still_to_run(api, body, rig, propellers):
    found = sheet(api, begun(api, body, runs_wanted=2))
    runs = [step for step in found["steps"] if step["kind"] == "run"]
    assert found["runs"] == len(runs) == 2 * 2 * 3
    assert found["reference"] == ""  # nothing is known from runs of its own yet
    # Each motor is mounted once, its light propeller first.
    assert [step["kind"] for step in found["steps"]].count("mount") == 2
    assert found["motor_swaps"] == 2
    first = [step["current_a"] for step in runs[:6]]
    assert first == sorted(first)
    assert set(found["propellers"]) == {propeller.full_name for propeller in propellers}
    assert found["packs"] is None
    clock = 0.0
    for step in found["steps"]:
        assert step["starts_min"] == pytest.approx(clock, abs=0.2)
        clock = step["starts_min"] + step["minutes"]
    assert found["minutes"] == pytest.approx(clock, abs=0.2)


def test_a_sheet_looks_at_each_cell_a_few_times_however_many_there_are(
    api, body, rig, propellers, monkeypatch
):
    """Which cells may run is a look at all of them: asked of each, 400 cells took 160,000."""
    campaign = begun(api, body, runs_wanted=2)
    asked = []
    look = Predicted.cannot_sit
    monkeypatch.setattr(
        Predicted, "cannot_sit", lambda made, i, j: asked.append((i, j)) or look(made, i, j)
    )
    sheet(api, campaign)
    cells = len(set(asked))
    assert cells > 1
    assert len(asked) <= 4 * cells


def test_runs_that_were_made_are_off_the_sheet(api, body, rig, record):
    campaign = begun(api, body, runs_wanted=1)
    before = sheet(api, campaign)
    record()
    after = sheet(api, campaign)
    assert after["runs"] == before["runs"] - 1
    # What the last run left on the stand comes first.
    assert after["steps"][0]["sample"] == rig["samples"][0].pk
    assert after["steps"][0]["kind"] in ("swap", "run", "cool")


def test_what_may_not_be_run_is_left_out_aloud(api, body, people, rig):
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=8.0,
        source="box",
    )
    found = sheet(api, begun(api, body))
    assert found["runs"] == 0
    assert found["steps"] == []
    assert len(found["left_out"]) == 6
    assert all("would pass a limit" in sentence for sentence in found["left_out"])


def test_what_likely_passes_is_left_out_as_such(api, body, people, rig):
    campaign = begun(api, body)
    (cell, *_) = matrix(api, campaign)["cells"][0]
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=round(cell["current_a"] - 0.3 * cell["current_u_a"], 2),
        source="box",
    )
    left_out = sheet(api, campaign)["left_out"]
    column = matrix(api, campaign)["columns"][0]["name"]
    said = [sentence for sentence in left_out if column in sentence]
    assert len(said) == 2  # on both samples
    assert all("full throttle likely passes a limit" in sentence for sentence in said)


def test_a_pack_says_how_many_are_to_be_charged(api, body, rig):
    pack = Supply.objects.create(
        name="Pack 4-1",
        kind="pack",
        cells=4,
        capacity_mah=850,
        nominal_voltage_v=14.8,
        open_circuit_v=16.6,
    )
    found = sheet(api, begun(api, body, supplies=[pack.pk], runs_wanted=3))
    assert found["packs"] >= 2


def test_going_round_and_ways_to_ask_wrongly(api, body, rig):
    campaign = begun(api, body, runs_wanted=2)
    assert sheet(api, campaign, drift="interleaved")["motor_swaps"] > 2
    address = f"/api/v1/campaigns/{campaign['id']}/sheet/"
    assert api.get(address, {"drift": "hope"}).status_code == 400
    assert api.get(address, {"supply": "99999"}).status_code == 404
    too_many = begun(api, body, runs_wanted=20, title="Too many")
    many = api.get(f"/api/v1/campaigns/{too_many['id']}/sheet/")
    assert many.status_code == 200  # 120 runs are a long week, and still a plan


def test_the_sheet_as_a_file_holds_no_formula(api, body, rig, people):
    rig["propeller"].maker.name = "=cmd|x"
    rig["propeller"].maker.save()
    campaign = begun(api, body)
    answer = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet.csv")
    assert answer["Content-Type"].startswith("text/csv")
    text = answer.content.decode()
    lines = text.splitlines()
    assert lines[0].startswith("step,starts (min),takes (min),what,motor,propeller")
    assert len(lines) > 6
    assert "'=cmd" in text
    assert ",=cmd" not in text


def test_what_a_sheet_expects_says_how_well(api, body):
    """On paper it is held against what the needle shows: without u every run looks odd."""
    campaign = begun(api, body)
    address = f"/api/v1/campaigns/{campaign['id']}/sheet"
    steps = api.get(f"{address}/").json()["steps"]
    (run, *_) = (step for step in steps if step["kind"] == "run")
    assert 0.03 < run["thrust_u_gf"] / run["thrust_gf"] < 0.5
    assert 0.03 < run["current_u_a"] / run["current_a"] < 0.5
    (mount, *_) = (step for step in steps if step["kind"] == "mount")
    assert mount["thrust_u_gf"] is mount["current_u_a"] is None
    (row, *_) = [
        row
        for row in csv.DictReader(api.get(f"{address}.csv").content.decode().splitlines())
        if row["expected thrust at full (gf)"]
    ]
    assert float(row["u (gf)"]) == run["thrust_u_gf"]
    assert float(row["u (A)"]) == run["current_u_a"]
    # One that was taken to the bench before this was said stays as it was.
    old = {name: value for name, value in run.items() if "_u_" not in name}
    assert DayStepSerializer({**old, "done": False}).data["thrust_u_gf"] is None
    whole = api.get(f"{address}/").json()
    assert "±" in sheet_page(whole)
    assert "±" not in sheet_page({**whole, "steps": [old]})


# ---- the next run on the Board -------------------------------------------------------------------


def test_the_next_run_of_the_newest_open_campaign(api, body, rig):
    assert api.get("/api/v1/plan/next/").json() == {"found": None}
    begun(api, body, title="Older")
    campaign = begun(api, body, title="Newer")
    found = api.get("/api/v1/plan/next/").json()["found"]
    assert (found["title"], found["supply_name"]) == ("Newer", rig["supply"].name)
    assert found["next"]["sample"] in body["samples"]
    answer = api.patch(
        f"/api/v1/campaigns/{campaign['id']}/",
        {"closed": True, "version": campaign["version"]},
        format="json",
    )
    assert answer.status_code == 200
    assert api.get("/api/v1/plan/next/").json()["found"]["title"] == "Older"


def test_its_queries_do_not_grow_with_what_it_names(api, body, rig, record, people):
    one = begun(api, {**body, "samples": body["samples"][:1], "propellers": body["propellers"][:1]})
    all_of_them = begun(api, {**body, "title": "All of them"})
    review_run(actor=people["reviewer"], run=record(), review="accepted", base=1)
    counts = []
    for campaign in (one, all_of_them):
        matrix(api, campaign)
        with CaptureQueriesContext(connection) as asked:
            found = matrix(api, campaign)
        counts.append((len(found["rows"]) * len(found["columns"]), len(asked)))
    assert counts[0][0] == 1
    assert counts[1][0] == 6
    assert counts[1][1] <= counts[0][1]


@pytest.fixture
def pin(rig, people, propellers):
    """The rig's motor has a pin of 3 mm; the first propeller a bore of 5 mm, the second of 3 mm."""
    measure(rig["samples"][0], shaft_diameter=3.0, shaft_free_length=9.0)
    for propeller, bore in zip(propellers, (5.0, 3.02), strict=False):
        change_propeller(
            actor=people["reviewer"],
            propeller=propeller,
            base=propeller.version,
            bore_mm=bore,
            hub_thickness_mm=6.0,
        )
    return propellers


def column_of(found, propeller):
    at = [column["propeller"] for column in found["columns"]].index(propeller.pk)
    return [row[at] for row in found["cells"]]


def test_what_cannot_be_mounted_says_why_and_is_never_proposed(api, body, rig, pin):
    campaign = begun(api, body)
    found = matrix(api, campaign)
    wide, fitting, unmeasured = (column_of(found, propeller) for propeller in pin)
    # A sibling without measures of its own has the same shaft.
    assert [cell["sits"] for cell in wide] == ["impossible"] * 2
    assert "the propeller is not centred" in wide[0]["sits_words"]
    assert [(cell["barred"], cell["worth"]) for cell in wide] == [(True, False)] * 2
    assert wide[0]["thrust_gf"] is not None  # it is predicted all the same
    assert [cell["sits"] for cell in fitting] == ["good"] * 2
    assert [cell["sits"] for cell in unmeasured] == ["unknown"] * 2
    assert unmeasured[0]["sits_words"] == "Measure the propeller's bore and hub (Rig)."
    assert not any(cell["barred"] for cell in (*fitting, *unmeasured))
    assert found["next"]["propeller"] != pin[0].pk
    sheet = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet/", {"supply": rig["supply"].pk})
    left_out = " ".join(sheet.json()["left_out"])
    assert "the propeller is not centred" in left_out
    only = begun(api, body, title="Only that", propellers=[pin[0].pk])
    assert matrix(api, only)["nothing_next"].startswith("No cell can be mounted")


def test_an_adapter_or_a_run_puts_it_on_at_once(api, body, rig, pin, record, people):
    campaign = begun(api, body)
    assert column_of(matrix(api, campaign), pin[0])[0]["barred"] is True
    ring = {"kind": "ring", "inner_mm": 3.01, "outer_mm": 4.98, "height_mm": 5.0}
    adapter = add_adapter(actor=people["reviewer"], name="3 to 5", **ring)
    cell = column_of(matrix(api, campaign), pin[0])[0]
    assert (cell["sits"], cell["barred"], cell["sits_words"]) == ("good", False, "with a ring")
    change_adapter(actor=people["reviewer"], adapter=adapter, base=1, retired=True)
    assert column_of(matrix(api, campaign), pin[0])[0]["barred"] is True
    # What ran can be mounted, whatever was measured; its sibling still cannot.
    record()
    first, second = column_of(matrix(api, campaign), pin[0])
    assert (first["sits"], first["barred"], second["barred"]) == ("impossible", False, True)


def test_tips_that_strike_bar_a_cell(api, body, rig, pin):
    api.patch("/api/v1/bench-declaration/", {"nearest_part_mm": 60, "version": 1}, format="json")
    cell = column_of(matrix(api, begun(api, body)), pin[1])[0]
    assert (cell["sits"], cell["barred"]) == ("impossible", True)
    assert "tip strikes" in cell["sits_words"]
