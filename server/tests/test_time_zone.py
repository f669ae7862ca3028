"""The bench's days begin at midnight where it stands, summer or winter."""

import datetime

import pytest

from spindle_server.board.selectors import bench_day
from spindle_server.publish.freezing import _run as frozen_run
from spindle_server.runs.bench_days import runs_of
from spindle_server.runs.models import Run
from spindle_server.runs.sheets import _begin_of


def at(text):
    return datetime.datetime.fromisoformat(text)


@pytest.fixture
def run_at(record):
    def make(text):
        run = record()
        Run.objects.filter(pk=run.pk).update(started_at=at(text))
        return Run.objects.get(pk=run.pk)

    return make


def days(run):
    """On which of the days around it a run is."""
    middle = run.started_at.date()
    around = [middle + datetime.timedelta(days=k) for k in (-1, 0, 1)]
    return [day.isoformat() for day in around if run.pk in {one.pk for one in runs_of(day)}]


@pytest.mark.parametrize(
    ("zone", "when", "day"),
    [
        ("UTC", "2026-06-01T23:59:59+00:00", "2026-06-01"),
        ("Europe/Oslo", "2026-06-01T22:30:00+00:00", "2026-06-02"),
        ("Europe/Oslo", "2026-06-01T21:59:59+00:00", "2026-06-01"),
        ("Europe/Oslo", "2026-12-01T22:30:00+00:00", "2026-12-01"),
        ("America/Lima", "2026-06-02T04:30:00+00:00", "2026-06-01"),
        ("Pacific/Chatham", "2026-06-01T11:30:00+00:00", "2026-06-02"),
        # Days of 25 and of 23 hours, their first and last half hour.
        ("Europe/Oslo", "2026-10-24T22:10:00+00:00", "2026-10-25"),
        ("Europe/Oslo", "2026-10-25T22:50:00+00:00", "2026-10-25"),
        ("Europe/Oslo", "2026-10-25T23:10:00+00:00", "2026-10-26"),
        ("Europe/Oslo", "2026-03-28T23:10:00+00:00", "2026-03-29"),
        ("Europe/Oslo", "2026-03-29T21:50:00+00:00", "2026-03-29"),
        ("Europe/Oslo", "2026-03-29T22:10:00+00:00", "2026-03-30"),
        # Here midnight itself is left out when summer begins.
        ("America/Santiago", "2026-09-06T04:10:00+00:00", "2026-09-06"),
    ],
)
def test_a_run_is_of_one_day_everywhere(settings, run_at, zone, when, day):
    settings.TIME_ZONE = zone
    run = run_at(when)
    assert days(run) == [day]
    assert bench_day()["day"].isoformat() == day
    assert frozen_run(run)["on"] == day


def test_what_is_told_of_it_is_told_in_its_zone(settings, run_at, api):
    settings.TIME_ZONE = "Europe/Oslo"
    run = run_at("2026-06-01T22:30:00+00:00")
    started = api.get(f"/api/v1/runs/{run.pk}/").json()["started_at"]
    assert started.startswith("2026-06-02T00:30:00")
    assert at(started) == run.started_at
    assert api.get("/api/v1/session/").json()["time_zone"] == "Europe/Oslo"


def test_a_day_that_is_typed_is_a_day_of_the_bench(settings):
    settings.TIME_ZONE = "Pacific/Kiritimati"
    day = datetime.date(2026, 6, 1)
    assert _begin_of(day).astimezone(datetime.UTC).isoformat() == "2026-05-31T22:00:00+00:00"
