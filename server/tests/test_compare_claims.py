"""What sources claim of the loads that are compared: beside the curves, in no figure."""

import pytest

from spindle_server.motors.claimed_loads import add_claimed_load
from spindle_server.motors.models import ClaimedLoad


@pytest.fixture
def claim(rig, people):
    def add(**changes):
        row = {
            "source": "web page",
            "cells": 4,
            "propeller": rig["propeller"].size,
            "thrust_gf": 1300.0,
            "power_w": 520.0,
            **changes,
        }
        return add_claimed_load(actor=people["reviewer"], motor=rig["motor"], **row)

    return add


def claims(api, *runs):
    numbers = ",".join(str(run.pk) for run in runs)
    answer = api.get("/api/v1/compare/", {"runs": numbers, "by": "run"})
    assert answer.status_code == 200, answer.json()
    return answer.json()


def test_a_claim_of_the_very_load_is_quoted_and_changes_no_figure(api, record, claim):
    runs = [record(1.0), record(1.1)]
    before = claims(api, *runs)
    assert before["claims"] == []
    claim()
    # Asked again, though nothing that was measured changed.
    after = claims(api, *runs)
    assert [one["subject"] for one in after["claims"]] == [0, 1]
    said = {one["name"]: one["value"] for one in after["claims"][0]["said"]}
    assert said == {"thrust_gf": 1300.0, "power_w": 520.0, "efficiency_g_per_w": 2.5}
    assert after["rows"] == before["rows"]
    assert after["curves"] == before["curves"]


@pytest.mark.parametrize(
    "other", [{"propeller": "7x4x3"}, {"cells": 6}, {"propeller": "the stock one"}]
)
def test_a_claim_of_another_load_is_not(api, record, claim, other):
    run = record()
    claim(**other)
    assert claims(api, run, record(1.1))["claims"] == []


def test_a_claim_that_says_little_says_only_that(api, record, claim):
    run = record()
    claim(power_w=None, current_a=30.0)
    [first, _] = claims(api, run, record(1.1))["claims"]
    assert [one["name"] for one in first["said"]] == ["thrust_gf", "current_a"]
    ClaimedLoad.objects.all().delete()
    assert claims(api, run, record(1.2))["claims"] == []
