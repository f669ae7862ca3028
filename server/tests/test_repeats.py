"""Repeats of a run as they are made: which count, and what is said of them."""

from datetime import timedelta

import pytest

from spindle_bench.states import Outcome, RunEnd
from spindle_server.rig.models import Stand
from spindle_server.runs.models import Run
from spindle_server.runs.services import review_run

pytestmark = pytest.mark.django_db


def state(api, run, **query):
    answer = api.get("/api/v1/bench/repeats/", {"run": str(run.uid), **query})
    assert answer.status_code == 200, answer.json()
    return answer.json()


def declare(rig, repeatability):
    Stand.objects.filter(pk=rig["stand"].pk).update(repeatability_rel=repeatability)


def test_one_run_and_then_its_like(api, rig, record):
    declare(rig, 0.01)
    first = record()
    found = state(api, first)
    assert (found["n"], found["wanted"], found["advice"]) == (1, 3, "run")
    assert found["rows"][0]["name"] == "max_thrust_gf"
    assert found["rows"][0]["agrees"] is None
    second = record()
    found = state(api, second)
    assert [row["id"] for row in found["runs"]] == [first.pk, second.pk]
    assert found["advice"] == "enough"
    assert "agree well" in found["words"]
    assert found["rows"][0]["mean"]["u"] > 0


def test_runs_that_draw_more_and_more_want_a_fourth(api, rig, record):
    declare(rig, 0.005)
    runs = [record(scale) for scale in (1.0, 1.06, 1.12)]
    found = state(api, runs[-1])
    assert found["advice"] == "another"
    by_name = {row["name"]: row for row in found["rows"]}
    assert by_name["max_thrust_gf"]["agrees"] is True
    assert by_name["max_current_a"]["agrees"] is False
    assert len(by_name["max_current_a"]["values"]) == 3
    assert state(api, record(1.2))["advice"] == "look"


def test_a_stand_that_declares_nothing_is_assumed_aloud(api, rig, record):
    declare(rig, None)
    record()
    found = state(api, record())
    assert found["advice"] == "run"
    assert "assumed" in found["words"]


def test_what_is_no_repeat_does_not_count(api, rig, record, people):
    declare(rig, 0.01)
    run = record()
    record(sample=1)
    record(end=RunEnd(Outcome.LIMIT, "limit_current_a", "Cut."))
    rejected = record()
    review_run(
        actor=people["reviewer"],
        run=rejected,
        review="rejected",
        reason="a loose screw",
        base=rejected.version,
    )
    other = record()
    Run.objects.filter(pk=other.pk).update(profile={"kind": "steps", "levels_pct": [40]})
    yesterday = record()
    Run.objects.filter(pk=yesterday.pk).update(started_at=run.started_at - timedelta(days=1))
    assert state(api, run)["n"] == 1


def test_how_many_are_wanted_is_asked_within_reason(api, rig, record):
    declare(rig, 0.01)
    run = record()
    assert state(api, run, wanted=1)["advice"] == "enough"
    for wanted in ("0", "11", "three"):
        answer = api.get("/api/v1/bench/repeats/", {"run": str(run.uid), "wanted": wanted})
        assert answer.status_code == 400
    assert api.get("/api/v1/bench/repeats/", {"run": "x"}).status_code == 400
    unknown = "00000000-0000-4000-8000-000000000000"
    assert api.get("/api/v1/bench/repeats/", {"run": unknown}).status_code == 404
    assert api.get("/api/v1/bench/repeats/").status_code == 400
