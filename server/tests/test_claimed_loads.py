"""A maker's table, held against the runs on the same propeller and as many cells."""

import datetime

import pytest
from django.utils import timezone

from spindle_server.doubles.merging import merge
from spindle_server.motors.models import Claim, ClaimedLoad
from spindle_server.motors.services import take_in_motor
from spindle_server.rig.services import add_propeller
from spindle_server.runs.models import Run

ROW = {"source": "web page", "cells": 4, "propeller": "5.1x4.2x3", "thrust_gf": 1300}


@pytest.fixture
def motor(rig):
    return rig["motor"]


@pytest.fixture
def add(api, motor):
    def post(status=201, **changes):
        body = {key: value for key, value in {**ROW, **changes}.items() if value is not ...}
        answer = api.post(f"/api/v1/motors/{motor.pk}/claimed-loads/", body, format="json")
        assert answer.status_code == status, answer.json()
        return answer.json()

    return post


@pytest.fixture
def told(api, motor):
    def ask():
        return api.get(f"/api/v1/motors/{motor.pk}/").json()["claimed_loads"]

    return ask


def test_each_figure_stands_beside_the_run_on_the_same(add, told, record):
    run = record()
    add(current_a=40)
    [row] = told()
    thrust, current = row["figures"]
    assert (thrust["name"], thrust["said"], thrust["unit"]) == ("thrust_gf", 1300, "gf")
    measured = Run.objects.get(pk=run.pk).figures.get(name="max_thrust_gf").value
    assert thrust["measured"]["value"] == pytest.approx(measured)
    assert thrust["measured_from"] == "highest of 1 run"
    assert thrust["deviation_pct"]["value"] == pytest.approx(100 * (measured / 1300 - 1), abs=0.01)
    assert thrust["resolved"] is True
    assert current["said"] == 40
    assert row["odd"] == []


@pytest.mark.parametrize(
    "other", [{"propeller": "5x4.3x3"}, {"cells": 6}, {"cells": 3}, {"propeller": "Tri-blade"}]
)
def test_another_load_is_not_held_against_it(add, told, record, other):
    record()
    add(**other)
    [row] = told()
    [figure] = row["figures"]
    assert figure["measured"]["value"] is None
    assert "no run on that propeller" in figure["measured"]["reason"]
    assert figure["deviation_pct"]["value"] is None


def test_a_rejected_run_is_no_evidence(add, told, record):
    run = record()
    Run.objects.filter(pk=run.pk).update(review="rejected", review_reason="loose")
    add()
    assert told()[0]["figures"][0]["measured"]["value"] is None


def test_a_supply_of_16_volts_is_four_cells_by_what_they_hold(add, told, record, rig):
    record()
    Run.objects.update(nominal_voltage_v=25.2)
    add(cells=6)
    add(cells=4)
    four, six = sorted(told(), key=lambda row: row["cells"])
    assert six["figures"][0]["measured"]["value"] is not None
    assert four["figures"][0]["measured"]["value"] is None


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"thrust_gf": ...}, "thrust_gf"),
        ({"thrust_gf": 0}, "thrust_gf"),
        ({"thrust_gf": 1e6}, "thrust_gf"),
        ({"cells": 0}, "cells"),
        ({"cells": 99}, "cells"),
        ({"propeller": "   "}, "propeller"),
        ({"propeller": "x" * 81}, "propeller"),
        ({"current_a": "many"}, "current_a"),
        ({"source": ""}, "source"),
    ],
)
def test_what_says_nothing_or_too_much_is_refused_at_its_field(add, changes, field):
    assert field in add(400, **changes)["fields"]
    assert not ClaimedLoad.objects.exists()


def test_a_day_that_has_not_come_is_refused(add, api, motor):
    day = (timezone.localdate() + datetime.timedelta(days=3)).isoformat()
    assert "stated_on" in add(400, stated_on=day)["fields"]
    body = {"quantity": "mass_g", "value": 30, "source": "page", "stated_on": day}
    answer = api.post(f"/api/v1/motors/{motor.pk}/claims/", body, format="json")
    assert "stated_on" in answer.json()["fields"]


def test_a_source_states_a_load_once_and_another_may_state_it_too(add, told):
    add()
    assert add(409)["code"] == "load_exists"
    assert add(409, propeller=" 5.1X4.2X3 ")["code"] == "load_exists"
    add(source="box label", thrust_gf=1250)
    assert len(told()) == 2


def test_it_is_corrected_and_taken_off_from_what_was_read(add, api, told):
    made = add()
    address = f"/api/v1/claimed-loads/{made['id']}/"
    answer = api.patch(address, {"thrust_gf": 1350, "version": 1}, format="json")
    assert (answer.status_code, answer.json()["thrust_gf"]) == (200, 1350)
    assert api.patch(address, {"thrust_gf": 1, "version": 1}, format="json").status_code == 409
    nothing = api.patch(address, {"thrust_gf": None, "version": 2}, format="json")
    assert nothing.json()["code"] == "nothing"
    assert api.delete(address + "?version=1").status_code == 409
    assert api.delete(address + "?version=2").status_code == 204
    assert told() == []


def test_the_history_keeps_it(add, api, motor):
    made = add()
    api.delete(f"/api/v1/claimed-loads/{made['id']}/?version=1")
    changes = api.get(f"/api/v1/motors/{motor.pk}/").json()["changes"]
    kinds = [one["kind"] for one in changes if one["what"] == "claim on 4 cells: 5.1x4.2x3"]
    assert kinds == ["removed", "added"]


def test_what_cannot_be_is_said_beside_it(add, told):
    add(cells=3, thrust_gf=1300, current_a=25)
    add(cells=4, thrust_gf=1300, current_a=30, power_w=620)
    odd = {row["cells"]: row["odd"] for row in told()}
    assert odd[3] == []
    assert len(odd[4]) == 2


def test_no_table_costs_no_question(api, motor, django_assert_max_num_queries, add, record):
    record()

    def asked():
        with django_assert_max_num_queries(60) as made:
            api.get(f"/api/v1/motors/{motor.pk}/")
        return len(made)

    asked()
    without = asked()
    add()
    assert asked() == without + 1
    add(cells=6)
    assert asked() == without + 1


def test_words_that_mean_several_propellers_are_held_against_none(
    add, told, record, rig, people, foreseen
):
    record()
    add(propeller="5.1 inch", thrust_gf=1300)
    # One propeller of 5.1 in was run: what the maker does not say is no claim of it.
    assert told()[0]["figures"][0]["measured"]["value"] is not None
    assert foreseen()[0]["why_not"] == ""
    rig["propeller"] = add_propeller(
        actor=people["reviewer"], maker="Corran", diameter_in=5.1, pitch_in=3.1, blades=2
    )
    record(0.8)
    [figure] = told()[0]["figures"]
    assert figure["measured"]["value"] is None
    assert figure["measured"]["reason"] == (
        "“5.1 inch” may mean Corran 5.1x3.1x2 or Wickett 5.1x4.2x3"
    )
    assert "may mean" in foreseen()[0]["why_not"]


@pytest.fixture
def foreseen(api, motor):
    def ask():
        answer = api.get(f"/api/v1/motors/{motor.pk}/foreseen-loads/")
        assert answer.status_code == 200, answer.json()
        return answer.json()

    return ask


def test_a_row_is_foreseen_before_anything_was_run(add, foreseen):
    assert foreseen() == []
    add(current_a=30, power_w=460)
    [row] = foreseen()
    assert row["why_not"] == ""
    assert "propeller guessed from diameter, pitch and blades" in row["rests_on"]
    thrust, current, power = (one["foreseen"] for one in row["figures"])
    assert thrust["origin"] == current["origin"] == "estimated"
    # A guess of a propeller nobody ran is known to no better than a tenth, and says so.
    assert 0.08 < current["u"] / current["value"] < 0.5
    assert 600 < thrust["value"] < 3000
    assert power["value"] == pytest.approx(
        current["value"] * 15.8, rel=0.05
    )  # 3.95 V a cell, less what the wires take
    assert not row["figures"][0]["differs"]


def test_what_no_motor_can_give_is_told(add, foreseen):
    add(current_a=300)
    figure = foreseen()[0]["figures"][1]
    assert figure["differs"] is True
    assert figure["off_pct"]["value"] < -70


def test_more_cells_are_foreseen_to_take_more(add, foreseen):
    add(current_a=30)
    add(cells=6, current_a=50)
    four, six = (
        next(one["foreseen"]["value"] for one in row["figures"] if one["name"] == "current_a")
        for row in sorted(foreseen(), key=lambda row: row["id"])
    )
    assert six > 1.3 * four


@pytest.mark.parametrize(
    ("words", "why"),
    [
        ("Tri-blade", "“Tri-blade” says no diameter and pitch"),
        ("9 inch", "needs the propeller's pitch and blades"),
        ("2540", "can be read in 2 ways"),
    ],
)
def test_words_that_are_no_propeller_are_not_foreseen(add, foreseen, words, why):
    add(propeller=words)
    [row] = foreseen()
    assert why in row["why_not"]
    assert row["figures"][0]["foreseen"] == {
        "value": None,
        "u": None,
        "n": None,
        "origin": "",
        "reason": row["why_not"],
        "assumed": False,
    }
    assert row["figures"][0]["differs"] is False


def test_two_motors_that_become_one_keep_both_tables(add, told, motor, people):
    other = take_in_motor(actor=None, maker="Quill moor", name="Sable", size_code="")
    add()
    add(cells=3, thrust_gf=1000)
    for cells, thrust in ((4, 1400), (3, 1000), (6, 2000)):
        ClaimedLoad.objects.create(
            motor=other, source="Web page", cells=cells, propeller="5.1X4.2X3", thrust_gf=thrust
        )
    merge(
        actor=people["editor"],
        thing="motor",
        stays=motor.pk,
        gone=other.pk,
        stays_version=motor.version,
        gone_version=other.version,
    )
    found = sorted((row["cells"], row["figures"][0]["said"], row["source"]) for row in told())
    assert [one[:2] for one in found] == [(3, 1000), (4, 1300), (4, 1400), (6, 2000)]
    assert found[2][2] == "Web page, of Quill moor Sable"


def test_a_claim_says_when_its_source_said_it(api, motor):
    body = {
        "quantity": "kv_rpm_per_v",
        "value": 1930,
        "source": "web page",
        "stated_on": "2026-05-04",
    }
    address = f"/api/v1/motors/{motor.pk}/claims/"
    assert api.post(address, body, format="json").json()["stated_on"] == "2026-05-04"
    # The same again without a day leaves it, another value does not lose it.
    again = {key: value for key, value in body.items() if key != "stated_on"}
    assert api.post(address, again, format="json").json()["stated_on"] == "2026-05-04"
    changed = api.post(address, {**again, "value": 1940, "version": 1}, format="json")
    assert changed.json()["stated_on"] == "2026-05-04"
    later = api.post(
        address, {**body, "value": 1940, "stated_on": "2026-06-01", "version": 2}, format="json"
    )
    assert later.json()["stated_on"] == "2026-06-01"
    assert Claim.objects.get().stated_on == datetime.date(2026, 6, 1)
    row = next(
        one
        for one in api.get(f"/api/v1/motors/{motor.pk}/").json()["against_claims"]
        if one["source"] == "web page"
    )
    assert row["stated_on"] == "2026-06-01"
