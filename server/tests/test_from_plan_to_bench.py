"""What is passed over and why, limits that are bracketed run by run, the run sheet at the bench."""

from io import BytesIO

import pytest
from pypdf import PdfReader

from spindle_bench.states import Outcome, RunEnd
from spindle_server.doubles.merging import merge
from spindle_server.motors.models import Maker
from spindle_server.motors.services import put_claim, take_in_motor
from spindle_server.plan.models import DaySheet, Override, SheetTick
from spindle_server.rig.models import Propeller, Supply
from spindle_server.runs.services import review_run

from .test_plan import begun, body, matrix, propellers  # noqa: F401 - fixtures


def pass_over(api, campaign, cell, reason="the hub is too tight", **more):
    sent = {
        "supply": campaign["supplies"][0],
        "sample": cell["sample"],
        "propeller": cell["propeller"],
        "reason": reason,
        **more,
    }
    return api.post(f"/api/v1/campaigns/{campaign['id']}/overrides/", sent, format="json")


# ---- passed over ---------------------------------------------------------------------------------


def test_a_run_that_was_passed_over_is_not_proposed_until_it_is_taken_back(api, body):  # noqa: F811
    campaign = begun(api, body)
    first = matrix(api, campaign)["next"]
    made = pass_over(api, campaign, first)
    assert made.status_code == 201, made.json()
    second = matrix(api, campaign)["next"]
    assert (second["sample"], second["propeller"]) != (first["sample"], first["propeller"])
    listed = api.get(f"/api/v1/campaigns/{campaign['id']}/overrides/").json()
    assert [(one["reason"], one["active"]) for one in listed] == [("the hub is too tight", True)]
    back = api.patch(
        f"/api/v1/overrides/{listed[0]['id']}/", {"active": False, "version": 1}, format="json"
    )
    assert back.status_code == 200
    again = matrix(api, campaign)["next"]
    assert (again["sample"], again["propeller"]) == (first["sample"], first["propeller"])
    # The reason stays in the record.
    assert Override.objects.get().reason == "the hub is too tight"


def test_when_everything_was_passed_over_that_is_said(api, body):  # noqa: F811
    campaign = begun(api, body)
    for _ in range(6):
        assert pass_over(api, campaign, matrix(api, campaign)["next"]).status_code == 201
    found = matrix(api, campaign)
    assert found["next"] is None
    assert "passed over" in found["nothing_next"]
    assert len(found["cells"][0]) == 3


def test_on_another_supply_it_is_still_proposed(api, body):  # noqa: F811
    other = Supply.objects.create(
        name="Supply 12 V",
        kind="psu",
        nominal_voltage_v=12.0,
        open_circuit_v=12.0,
        resistance_ohm=0.004,
    )
    campaign = begun(api, body, supplies=[*body["supplies"], other.pk])
    elsewhere = matrix(api, campaign, supply=other.pk)["next"]
    made = pass_over(api, campaign, elsewhere, supply=body["supplies"][0])
    assert made.status_code == 201, made.json()
    assert matrix(api, campaign, supply=other.pk)["next"] == elsewhere


def test_what_was_run_instead_is_kept(api, body):  # noqa: F811
    campaign = begun(api, body)
    first = matrix(api, campaign)["next"]
    other = next(pk for pk in body["propellers"] if pk != first["propeller"])
    made = pass_over(
        api, campaign, first, chosen_sample=first["sample"], chosen_propeller=other
    ).json()
    assert "Wickett" in made["chosen_name"]


def test_what_cannot_be_passed_over_is_said_beside_its_field(api, body, people):  # noqa: F811
    campaign = begun(api, body, samples=body["samples"][:1])
    cell = {"sample": body["samples"][0], "propeller": body["propellers"][0]}
    for field, answer in {
        "reason": pass_over(api, campaign, cell, reason="   "),
        "sample": pass_over(api, campaign, {**cell, "sample": body["samples"][1]}),
        "chosen_propeller": pass_over(api, campaign, cell, chosen_sample=cell["sample"]),
        "chosen_sample": pass_over(
            api, campaign, cell, chosen_sample=cell["sample"], chosen_propeller=cell["propeller"]
        ),
    }.items():
        assert answer.status_code == 400, field
        assert field in answer.json()["fields"]
    assert not Override.objects.exists()
    assert pass_over(api, campaign, cell).status_code == 201
    assert pass_over(api, campaign, cell).status_code == 400  # twice


# ---- a limit -------------------------------------------------------------------------------------


@pytest.fixture
def limited(api, body, rig, people):  # noqa: F811
    """Of the three propellers the rating lies between the lightest and the heaviest."""
    campaign = begun(api, body, question="limit", samples=body["samples"][:1])
    cells = matrix(api, campaign)["cells"][0]
    currents = sorted(cell["current_a"] for cell in cells)
    put_claim(
        actor=people["reviewer"],
        motor=rig["motor"],
        quantity="max_current_a",
        value=round(sum(currents[-2:]) / 2, 2),
        source="box",
    )
    return campaign


def test_a_limit_is_bracketed_by_what_is_foreseen_and_the_smallest_step_is_next(api, limited):
    found = matrix(api, limited)
    (row,) = found["brackets"]
    # Nothing was run: the lightest is foreseen to stay below, no other is sure.
    assert row["below"]["used"] < 1
    assert not row["below"]["tried"]
    assert row["above"] is None
    assert not row["tried"]
    assert row["next"]["propeller"] == row["below"]["propeller"]
    assert found["next"]["propeller"] == row["next"]["propeller"]
    assert found["next"]["takes_off_pct"] is None
    assert "smallest step" in found["next"]["sentence"]


def test_runs_bracket_it_anew(api, limited, rig, record):
    propeller = rig["propeller"].pk
    record()
    row = matrix(api, limited)["brackets"][0]
    assert (row["below"]["propeller"], row["below"]["tried"]) == (propeller, True)
    record(end=RunEnd(Outcome.LIMIT, "current_a", "41 A: the limit is 40 A."))
    row = matrix(api, limited)["brackets"][0]
    # One went through and one was cut: the cut is what is said of it.
    assert (row["above"]["propeller"], row["above"]["tried"]) == (propeller, True)


def test_a_rejected_or_stopped_run_brackets_nothing(api, limited, record, people):
    run = record(end=RunEnd(Outcome.STOPPED, "stopped", "By hand."))
    assert not matrix(api, limited)["brackets"][0]["below"]["tried"]
    run = record(end=RunEnd(Outcome.LIMIT, "current_a", "41 A: the limit is 40 A."))
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="glitch", base=1)
    assert matrix(api, limited)["brackets"][0]["above"] is None


def test_a_step_of_a_limit_can_be_passed_over(api, limited):
    first = matrix(api, limited)["next"]
    assert pass_over(api, limited, first, "not this one").status_code == 201
    found = matrix(api, limited)
    assert found["next"] is None
    assert found["brackets"][0]["next"]["propeller"] == first["propeller"]


def test_only_a_campaign_that_asks_for_it_is_bracketed(api, body):  # noqa: F811
    assert matrix(api, begun(api, body))["brackets"] == []


# ---- the sheet at the bench ----------------------------------------------------------------------


@pytest.fixture
def taken(api, body):  # noqa: F811
    campaign = begun(api, body)
    answer = api.post(f"/api/v1/campaigns/{campaign['id']}/day-sheets/", {}, format="json")
    assert answer.status_code == 201, answer.json()
    return answer.json()


def in_use(api):
    return api.get("/api/v1/day-sheets/in-use/").json()["found"]


def tick(api, sheet, step, done=True):
    return api.post(
        f"/api/v1/day-sheets/{sheet['id']}/steps/", {"step": step, "done": done}, format="json"
    )


def test_a_sheet_stays_as_it_was_taken_and_runs_tick_it(api, taken, rig, record):
    assert taken["next"] == 0
    kinds = [step["kind"] for step in taken["steps"]]
    at = next(
        i
        for i, step in enumerate(taken["steps"])
        if step["kind"] == "run"
        and (step["sample"], step["propeller"]) == (rig["samples"][0].pk, rig["propeller"].pk)
    )
    record()
    found = in_use(api)
    assert [step["kind"] for step in found["steps"]] == kinds
    assert found["steps"][at]["done"]
    # What comes before it and is no run is done as well: nobody mounts a motor after its run.
    assert all(step["done"] for step in found["steps"][:at] if step["kind"] != "run")
    assert not any(step["done"] for step in found["steps"][at + 1 :])


def test_a_propeller_that_became_another_is_followed_at_the_bench(api, taken, rig, record, people):
    record()
    before = in_use(api)
    old = rig["propeller"]
    maker = Maker.objects.create(name="Another writing of it")
    kept = Propeller.objects.create(
        maker=maker, diameter_in=old.diameter_in, pitch_in=old.pitch_in, blades=old.blades
    )
    kept.refresh_from_db()
    old.refresh_from_db()
    versions = {"stays_version": kept.version, "gone_version": old.version}
    merge(actor=people["editor"], thing="propeller", stays=kept.pk, gone=old.pk, **versions)
    after = in_use(api)
    assert [s["done"] for s in after["steps"]] == [s["done"] for s in before["steps"]]
    was = [s["propeller"] for s in before["steps"]]
    assert old.pk in was
    expected = [kept.pk if one == old.pk else one for one in was]
    assert [s["propeller"] for s in after["steps"]] == expected
    # What it says on it is what was taken to the bench.
    assert DaySheet.objects.get().steps[0] == {
        key: value for key, value in before["steps"][0].items() if key != "done"
    }


@pytest.mark.parametrize("outcome", [Outcome.STOPPED, Outcome.FAULT, Outcome.INTERRUPTED])
def test_a_run_that_did_not_come_through_is_still_to_be_made(api, taken, record, outcome):
    record(end=RunEnd(outcome, "x", "x"))
    assert not any(step["done"] for step in in_use(api)["steps"])


def test_a_rejected_run_is_to_be_made_again(api, taken, record, people):
    run = record()
    assert any(step["done"] for step in in_use(api)["steps"])
    review_run(actor=people["reviewer"], run=run, review="rejected", reason="loose", base=1)
    assert not any(step["done"] for step in in_use(api)["steps"])


def test_one_run_ticks_one_step(api, body, record, rig):  # noqa: F811
    campaign = begun(api, body, runs_wanted=2)
    api.post(f"/api/v1/campaigns/{campaign['id']}/day-sheets/", {}, format="json")
    record()
    runs = [s for s in in_use(api)["steps"] if s["kind"] == "run" and s["done"]]
    assert len(runs) == 1
    record()
    record()
    runs = [s for s in in_use(api)["steps"] if s["kind"] == "run" and s["done"]]
    assert len(runs) == 2


def test_steps_are_ticked_by_hand_and_unticked(api, taken):
    found = tick(api, taken, 0).json()
    assert found["steps"][0]["done"]
    assert found["next"] == 1
    assert tick(api, taken, 0).status_code == 200  # pressed twice
    assert SheetTick.objects.count() == 1
    assert tick(api, taken, 0, done=False).json()["next"] == 0


def test_a_run_that_was_made_is_not_unticked(api, taken, record):
    record()
    at = next(i for i, s in enumerate(in_use(api)["steps"]) if s["kind"] == "run" and s["done"])
    answer = tick(api, taken, at, done=False)
    assert answer.status_code == 400
    assert "reject" in answer.json()["message"]


def test_a_tick_of_a_run_is_the_run_that_is_made_after_it(api, body, record):  # noqa: F811
    campaign = begun(api, body, runs_wanted=2)
    sheet = api.post(f"/api/v1/campaigns/{campaign['id']}/day-sheets/", {}, format="json").json()
    record()
    at = next(i for i, s in enumerate(in_use(api)["steps"]) if s["kind"] == "run" and s["done"])
    tick(api, sheet, at)
    assert sum(s["kind"] == "run" and s["done"] for s in in_use(api)["steps"]) == 1


@pytest.mark.parametrize("step", [-1, 999, "first", 1.5])
def test_steps_that_are_not_there_are_refused(api, taken, step):
    assert tick(api, taken, step).status_code == 400


def test_another_sheet_puts_the_first_away(api, taken, body):  # noqa: F811
    campaign = begun(api, body, title="Another")
    api.post(f"/api/v1/campaigns/{campaign['id']}/day-sheets/", {}, format="json")
    assert in_use(api)["title"] == "Another"
    assert DaySheet.objects.filter(put_away=True).count() == 1
    assert tick(api, taken, 0).status_code == 400
    away = api.post(
        f"/api/v1/day-sheets/{in_use(api)['id']}/put-away/", {"version": 1}, format="json"
    )
    assert away.status_code == 200
    assert in_use(api) is None


def test_nothing_left_to_run_makes_no_sheet(api, body):  # noqa: F811
    campaign = begun(api, body, runs_wanted=0)
    answer = api.post(f"/api/v1/campaigns/{campaign['id']}/day-sheets/", {}, format="json")
    assert answer.status_code == 400
    assert "Nothing is left" in answer.json()["message"]
    assert in_use(api) is None


def test_the_sheet_as_a_page_says_what_is_on_it(api, body, rig):  # noqa: F811
    rig["propeller"].maker.name = "<b>Wickett & Sons</b>"
    rig["propeller"].maker.save()
    campaign = begun(api, body)
    answer = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet.pdf")
    assert answer["Content-Type"] == "application/pdf"
    text = " ".join(page.extract_text() for page in PdfReader(BytesIO(answer.content)).pages)
    assert "Which of them?" in text
    assert "<b>Wickett & Sons</b>" in text
    assert "gf" in text
    assert "glasses on" in text


# ---- what is not at hand -------------------------------------------------------------------------


@pytest.fixture
def elsewhere(people):
    """A model of which nobody here has a sample."""
    return take_in_motor(
        actor=people["reviewer"],
        maker="Brackwater",
        name="No. 4",
        size_code="2306",
        kv_label_rpm_per_v=1850,
        sample_marks=[],
    )


def test_a_motor_that_is_not_at_hand_is_predicted_and_never_proposed(api, body, elsewhere):  # noqa: F811
    campaign = begun(api, body, motors=[elsewhere.pk])
    found = matrix(api, campaign)
    row = found["rows"][2]
    assert row["sample"] is None
    assert row["away"].startswith("Brackwater No. 4 2306 1850 is not at hand; the nearest that is")
    assert "kV" in row["away"]
    for cell in found["cells"][2]:
        assert cell["thrust_gf"] > 300
        assert cell["away"] == row["away"]
        assert not cell["worth"]
    for _ in range(6):
        proposed = matrix(api, campaign)["next"]
        assert proposed["sample"] in body["samples"]
        pass_over(api, campaign, proposed)
    sheet = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet/").json()
    assert {step["sample"] for step in sheet["steps"]} == set(body["samples"])
    assert sum("not at hand" in one for one in sheet["left_out"]) == 3


@pytest.mark.parametrize("change", [{"at_hand": False}, {"retired": True}])
def test_a_propeller_that_is_not_at_hand_names_the_nearest(api, body, rig, change):  # noqa: F811
    campaign = begun(api, body)
    propeller = rig["propeller"]
    answer = api.patch(
        f"/api/v1/propellers/{propeller.pk}/",
        {**change, "version": propeller.version},
        format="json",
    )
    assert answer.status_code == 200, answer.json()
    found = matrix(api, campaign)
    at = [one["propeller"] for one in found["columns"]].index(propeller.pk)
    assert "the nearest that is: Wickett 5x3.6x3 (load" in found["columns"][at]["away"]
    assert all(not row[at]["worth"] for row in found["cells"])
    assert all(row[at]["thrust_gf"] for row in found["cells"])
    sheet = api.get(f"/api/v1/campaigns/{campaign['id']}/sheet/").json()
    assert propeller.pk not in {step["propeller"] for step in sheet["steps"]}


def test_with_nothing_at_hand_that_is_said_without_a_neighbour(api, body, rig, elsewhere):  # noqa: F811
    campaign = begun(api, body, motors=[elsewhere.pk], propellers=[rig["propeller"].pk])
    rig["propeller"].at_hand = False
    rig["propeller"].save()
    found = matrix(api, campaign)
    assert found["next"] is None
    assert found["columns"][0]["away"] == f"{rig['propeller'].full_name} is not at hand."


def test_a_limit_is_never_sought_on_what_is_not_at_hand(api, body, elsewhere):  # noqa: F811
    campaign = begun(api, body, question="limit", motors=[elsewhere.pk])
    found = matrix(api, campaign)
    assert [row["sample"] for row in found["brackets"]] == body["samples"]


def test_motors_not_at_hand_are_changed_and_left_out_of_old_requests(api, body, elsewhere):  # noqa: F811
    campaign = begun(api, body)
    assert campaign["motors"] == []
    address = f"/api/v1/campaigns/{campaign['id']}/"
    changed = api.patch(address, {"motors": [elsewhere.pk], "version": 1}, format="json").json()
    assert changed["motors"] == [elsewhere.pk]
    assert len(matrix(api, campaign)["rows"]) == 3


# ---- which way it pulls --------------------------------------------------------------------------


def test_a_direction_check_is_no_run_of_the_plan_the_sheet_or_the_board(api, taken, record, rig):
    run = record()
    board = api.get("/api/v1/board/").json()["motors"][0]
    assert (board["runs"], board["most_repeats"]) == (1, 1)
    run.kind = "direction"
    run.save()
    board = api.get("/api/v1/board/").json()["motors"][0]
    assert (board["runs"], board["most_repeats"]) == (0, 0)
    assert not any(step["done"] for step in in_use(api)["steps"])
    campaign = api.get("/api/v1/campaigns/").json()["results"][0]
    assert sum(cell["runs"] for row in matrix(api, campaign)["cells"] for cell in row) == 0


def test_a_direction_check_that_was_cut_brackets_no_limit(api, limited, record):
    run = record(end=RunEnd(Outcome.LIMIT, "limit_current_a", "41 A: the limit is 40 A."))
    run.kind = "direction"
    run.save()
    assert matrix(api, limited)["brackets"][0]["above"] is None
