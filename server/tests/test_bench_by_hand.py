"""A throttle in somebody's hand and a guard that is off, over the API; which stand is driven."""

import time

import pytest

from spindle_bench.plan import checklist_of
from spindle_server.bench.services import plan_run
from spindle_server.runs.models import Run
from spindle_server.runs.store import DatabaseRunStore

from .test_bench import LIMITS, OFF, agent, arm_body, post  # noqa: F401 - a fixture


def by_hand(rig, **changed):
    said = {"by_hand": True, "hand": "servo_tester"}
    return arm_body(rig, **said, checklist=checklist_of(OFF, by_hand=True), **changed)


def state_of(api):
    return api.get("/api/v1/bench/").json()


def waited(api, wanted, seconds=15.0):
    until = time.monotonic() + seconds
    while not wanted(frame := state_of(api)) and time.monotonic() < until:
        time.sleep(0.05)
    return frame


def test_a_record_by_hand_begins_at_once_and_arms_nothing(api, rig, agent):  # noqa: F811
    begun = post(api, "arm", by_hand(rig))
    assert begun.status_code == 200, begun.json()
    frame = begun.json()
    assert frame["state"] == "watching"
    assert not agent.armed
    assert frame["by_hand"]["phase"] == "rest_first"
    assert (frame["drives"], frame["has_hand"]) == (True, True)
    assert api.get("/api/v1/bench/in-hand/").json()["guarded"] is False
    ended = post(api, "stop").json()
    assert (ended["state"], ended["end"]["outcome"]) == ("watched", "stopped")
    assert ended["by_hand"] is None


def test_the_simulated_transmitter_is_moved_while_it_is_recorded(api, rig, agent):  # noqa: F811
    refused = post(api, "hand", {"pct": 20})
    assert refused.status_code == 409
    assert "while its run is recorded" in refused.json()["message"]
    assert post(api, "arm", by_hand(rig)).status_code == 200
    assert post(api, "hand", {"pct": 20}).status_code == 200
    frame = waited(api, lambda frame: frame["values"].get("throttle_pct", 0) > 19)
    assert agent.applied_pct == 20.0
    assert frame["by_hand"]["says"] == "Throttle to zero."
    post(api, "stop")
    assert post(api, "hand", {"pct": 0}).status_code == 200


@pytest.mark.parametrize("pct", [-1, 101, "x", None, True, "nan"])
def test_a_hand_that_is_nowhere_is_refused(api, rig, agent, pct):  # noqa: F811
    answer = post(api, "hand", {"pct": pct})
    assert answer.status_code == 400
    assert "pct" in answer.json()["fields"]


def test_what_it_is_moved_with_has_to_be_said(api, rig, agent):  # noqa: F811
    answer = post(api, "arm", {**by_hand(rig), "hand": ""})
    assert answer.status_code == 400
    assert "hand" in answer.json()["fields"]
    assert post(api, "arm", {**by_hand(rig), "hand": "stand"}).status_code == 400
    assert state_of(api)["state"] == "idle"


def test_that_nothing_cuts_has_to_be_confirmed(api, rig, agent):  # noqa: F811
    answer = post(api, "arm", {**by_hand(rig), "checklist": checklist_of(OFF)})
    assert answer.status_code == 409
    assert "hand cuts" in answer.json()["message"]


def test_bursts_are_not_made_by_hand(api, rig, agent):  # noqa: F811
    answer = post(api, "arm", by_hand(rig, profile={"kind": "peak"}))
    assert answer.status_code == 409
    assert "choose steps" in answer.json()["message"]


def test_a_guard_that_is_off_is_confirmed_and_named(api, rig, agent):  # noqa: F811
    answer = post(api, "arm", arm_body(rig, guarded=False))
    assert answer.status_code == 409
    assert "guard off" in answer.json()["message"]
    body = arm_body(rig, guarded=False, checklist=checklist_of(OFF, guard_off=True))
    armed = post(api, "arm", body)
    assert armed.status_code == 200, armed.json()
    assert api.get("/api/v1/bench/in-hand/").json()["guarded"] is False
    post(api, "stop")


@pytest.mark.parametrize(
    ("asked", "item"), [("by_hand=true", "hand_cuts"), ("guarded=false", "guard_off")]
)
def test_the_look_around_asks_for_what_was_chosen(api, rig, asked, item):
    found = api.get(f"/api/v1/bench/checklist/?kind=steps&{asked}").json()
    assert item in found["items"]
    assert item not in api.get("/api/v1/bench/checklist/?kind=steps").json()["items"]


def plan_of(people, rig, **more):
    return plan_run(
        actor=people["reviewer"],
        sample=rig["samples"][0],
        propeller=rig["propeller"],
        supply=rig["supply"],
        stand=rig["stand"],
        profile={"levels_pct": [30]},
        limits=LIMITS,
        limits_off=OFF,
        **more,
    )


def test_the_record_says_whose_hand_it_was(api, people, rig):
    plan = plan_of(people, rig, by_hand=True, hand="transmitter")
    assert not plan.guarded
    assert plan.curve == ()
    DatabaseRunStore().begin_run(plan, ["thrust_gf"])
    run = Run.objects.get(uid=plan.run_id)
    told = api.get(f"/api/v1/runs/{run.pk}/").json()
    assert (told["by_hand"], told["command_source"]) == (True, "transmitter")
    assert told["guard_off_by"] == ""
    assert "command_source" not in told["inherited"]


def test_the_record_says_who_switched_the_guard_off(api, people, rig):
    plan = plan_of(people, rig, guarded=False)
    DatabaseRunStore().begin_run(plan, ["thrust_gf"])
    run = Run.objects.get(uid=plan.run_id)
    told = api.get(f"/api/v1/runs/{run.pk}/").json()
    assert (told["by_hand"], told["guard_off_by"]) == (False, people["reviewer"].shown_name)


def test_the_stand_that_is_driven_is_named_and_another_unknown(api, rig, agent):  # noqa: F811
    frame = state_of(api)
    assert (frame["stand"], frame["stands"]) == ("stand", ["stand"])
    answer = post(api, "stand", {"stand": "another"})
    assert answer.status_code == 409
    assert "no stand of this bench" in answer.json()["message"]
    assert post(api, "stand", {"stand": "stand"}).status_code == 200
