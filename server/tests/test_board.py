"""The board: gaps, next acts, and constant queries."""

from spindle_bench.states import Outcome, RunEnd
from spindle_server.motors.services import take_in_motor
from spindle_server.runs.models import Run


def test_a_motor_moves_along_the_stations(api, rig, record):
    def row():
        return api.get("/api/v1/board/").json()["motors"][0]

    assert row()["next_station"] == "intake"
    motor, sample = rig["motor"], rig["samples"][0]
    claim = {"quantity": "max_current_a", "value": 26, "source": "box label"}
    api.post(f"/api/v1/motors/{motor.pk}/claims/", claim, format="json")
    assert row()["next_station"] == "teardown"
    for attribute, choice in (
        ("radial_play", "none"),
        ("axial_play", "none"),
        ("free_spin", "long"),
        ("bell_retention", "circlip"),
        ("magnet_shape", "arc"),
        ("winding", "single"),
    ):
        answer = {"attribute": attribute, "status": "observed", "choice": choice}
        api.put(f"/api/v1/samples/{sample.pk}/teardown/", answer, format="json")
    assert row()["next_act"] == "Make its first run"
    record()
    assert row()["next_act"] == "Repeat a run: 1 of 3 with one prop"
    record()
    record()
    assert row()["next_station"] == "compare"


def test_runs_wait_for_a_verdict_until_they_have_one(api, record):
    run = record()
    board = api.get("/api/v1/board/").json()
    assert (board["unreviewed_count"], board["unreviewed"][0]["id"]) == (1, run.pk)
    api.patch(
        f"/api/v1/runs/{run.pk}/", {"review": "accepted", "version": run.version}, format="json"
    )
    assert api.get("/api/v1/board/").json()["unreviewed_count"] == 0


def test_constant_queries(api, rig, record, people, django_assert_num_queries):
    record()
    with django_assert_num_queries(20) as first:
        api.get("/api/v1/board/")
    for number in range(5):
        take_in_motor(
            actor=None, maker="Ostrel", name=f"D{number}", size_code="2206", kv_label_rpm_per_v=1900
        )
    with django_assert_num_queries(len(first.captured_queries)):
        assert len(api.get("/api/v1/board/").json()["motors"]) == 6


def test_the_bench_day_is_the_last_one_on_which_something_ran(api, record, people):
    assert api.get("/api/v1/board/").json()["bench_day"] is None
    old, first, cut, last = (
        record(),
        record(),
        record(end=RunEnd(Outcome.STOPPED, "stopped", "Stopped.")),
        record(),
    )
    for run, at in (
        (old, "2026-10-07T23:59:59Z"),
        (first, "2026-10-08T00:00:00Z"),
        (cut, "2026-10-08T09:30:00Z"),
        (last, "2026-10-08T17:00:00Z"),
    ):
        Run.objects.filter(pk=run.pk).update(started_at=at)
    Run.objects.filter(pk=last.pk).update(review="rejected", review_reason="slipped")
    assert api.get("/api/v1/board/").json()["bench_day"] == {
        "day": "2026-10-08",
        "today": False,
        "runs": 3,
        "not_completed": 1,
        "rejected": 1,
        "first_at": "2026-10-08T00:00:00Z",
        "last_at": "2026-10-08T17:00:00Z",
    }


def test_a_day_with_one_run_is_today(api, record):
    record()
    day = api.get("/api/v1/board/").json()["bench_day"]
    assert (day["runs"], day["today"], day["first_at"]) == (1, True, day["last_at"])
