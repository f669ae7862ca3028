"""Final temperatures of runs: beside each other, compared from equal starts only."""

import pytest

from spindle_server.rig.models import BenchDay
from spindle_server.runs.models import SummaryFigure

DAY = "2026-10-05"


@pytest.fixture
def typed(api, rig):
    """Keeps one block of typed readings; returns the run's number."""

    def make(before, after, *, sample=0, rows=1, day=DAY, air=None, propeller=None):
        cells = [{"throttle_pct": 0, "scale_g": 0}]
        cells += [{"throttle_pct": 100, "scale_g": 900 + at} for at in range(rows - 1)]
        last = {"throttle_pct": 100, "scale_g": 905, "motor_temp_c": after}
        last["motor_temp_before_c"] = before
        cells.append({**last, "ambient_temp_c": air} if air is not None else last)
        block = {
            "sample": rig["samples"][sample].pk,
            "propeller": rig["propeller"].pk,
            "supply": rig["supply"].pk,
            "rows": cells,
        }
        answer = api.post("/api/v1/readings/", {"day": day, "blocks": [block]}, format="json")
        assert answer.status_code == 201, answer.json()
        return answer.json()[0]["id"]

    return make


def warmth(api, *runs):
    return api.get("/api/v1/compare/", {"runs": ",".join(map(str, runs))}).json()["warmth"]


def test_like_starts_are_compared_and_what_nobody_noted_is_said(api, typed):
    found = warmth(api, typed(21, 48), typed(22, 41, sample=1, air=None))
    assert found["refused"] == ""
    assert [one["rise"]["value"] for one in found["runs"]] == [27.0, 19.0]
    assert found["against"][1]["value"] == pytest.approx(-8.0)
    assert found["against"][1]["u"] > 0
    assert found["unknown"] == ["how long each was loaded", "how warm the air was"]


def test_unlike_starts_are_refused(api, typed):
    found = warmth(api, typed(21, 48), typed(35, 61, sample=1))
    assert found["refused"] == "They did not begin equally warm: 21 and 35 °C."
    assert found["against"] == []


def test_a_run_that_follows_another_at_once_is_not_alike(api, typed):
    first = typed(21, 48)
    again = typed(22, 55)
    other = typed(21, 44, sample=1)
    found = warmth(api, first, other)
    assert [one["runs_before"] for one in found["runs"]] == [0, 0]
    found = warmth(api, again, other)
    assert [one["runs_before"] for one in found["runs"]] == [1, 0]
    assert "without time to cool: 0 and 1" in found["refused"]


def test_the_day_says_the_air_where_the_row_does_not(api, typed, db):
    BenchDay.objects.create(day=DAY, air_temp_c=19.0)
    found = warmth(api, typed(21, 48, air=19.0), typed(21, 40, sample=1))
    assert [one["air_c"] for one in found["runs"]] == [19.0, 19.0]
    assert found["unknown"] == ["how long each was loaded"]


def test_without_a_thermometer_there_is_no_warmth_and_one_alone_is_said(api, typed, record):
    logged = [record(1.0 + 0.01 * at).pk for at in range(2)]
    assert warmth(api, *logged) is None
    found = warmth(api, typed(21, 48), logged[0])
    assert len(found["runs"]) == 1
    assert "fewer than two" in found["refused"]


def test_more_than_can_be_shown_are_said(api, typed, monkeypatch):
    monkeypatch.setattr("spindle_server.compare.warmth.MOST_RUNS", 1)
    found = warmth(api, typed(21, 48), typed(21, 40, sample=1))
    assert (len(found["runs"]), found["more"]) == (1, 1)


def test_the_sheet_says_when_the_motor_is_cool_again_by_what_its_soak_measured(api, rig, record):
    rows = [{"throttle_pct": 100, "scale_g": 900, "motor_temp_c": 45, "ambient_temp_c": 20}]
    sample = rig["samples"][0].pk

    def ready():
        answer = api.post(
            "/api/v1/readings/look/",
            {"day": DAY, "blocks": [{"rows": rows, "sample": sample}]},
            format="json",
        )
        return answer.json()[0]["rows"][0]["ready_s"]

    assert ready() == pytest.approx(225.3, abs=0.1)
    run = record()
    SummaryFigure.objects.create(run=run, name="case_time_constant_s", value=100.0)
    assert ready() == pytest.approx(225.3, abs=0.1)  # not accepted yet
    run.review = "accepted"
    run.save()
    assert ready() == pytest.approx(160.9, abs=0.1)
