"""How the installation stands: what is amiss is said, and what cannot be known is not guessed."""

import copy
import datetime
import json

import pytest
from django.db import OperationalError, connection
from django.test import Client

from spindle_server.upkeep.judging import findings

NOW = datetime.datetime(2026, 11, 28, 12, 0, tzinfo=datetime.UTC)
SEEN = {
    "at": "2026-11-28T11:59:50+00:00",
    "folder": "/srv/spindle/var/start",
    "parts": [
        {"name": "web process", "running": True, "answers": True, "silent_s": 0.4, "restarts": 0},
        {"name": "long work", "running": True, "answers": True, "silent_s": None, "restarts": 0},
    ],
    "disk": {"free_bytes": 50 * 10**9, "total_bytes": 100 * 10**9, "least_bytes": 2 * 10**9},
    "sizes": {"database": 5_000_000, "photos": 0},
    "backups": {
        "to": "/backups",
        "at": "03:15",
        "last": {"at": NOW.isoformat(), "path": "/backups/x.tar", "bytes": 16, "took_s": 1.8},
        "amiss": "",
        "same_disk": False,
    },
}
BENCH = {
    "state": "idle",
    "simulated": True,
    "link": True,
    "waiting_runs": 0,
    "delivery_problem": "",
    "aside": 0,
}


def told(bench=BENCH, ahead=0.0, now=NOW, **changes):
    seen = copy.deepcopy(SEEN)
    for path, value in changes.items():
        place, *rest = path.split("__")
        if rest:
            seen[place][int(rest[0]) if rest[0].isdigit() else rest[0]] |= value
        else:
            seen[place] = {**seen[place], **value} if isinstance(value, dict) else value
    return [(one.level, one.about, one.sentence) for one in findings(seen, bench, now, ahead)]


def only(found):
    assert len(found) == 1, found
    return found[0]


class TestJudging:
    def test_nothing_is_amiss(self):
        assert told() == []

    def test_without_a_launcher_that_is_said(self):
        [one] = findings(None, BENCH, NOW, 0.0)
        assert (one.level, one.about) == ("note", "launcher")

    @pytest.mark.parametrize(
        ("seconds", "words"), [(61, "71 s ago"), (600, "10 min ago"), (10_000, "3 h ago")]
    )
    def test_a_launcher_that_stopped_looking(self, seconds, words):
        level, about, said = only(told(now=NOW + datetime.timedelta(seconds=seconds)))
        assert (level, about) == ("act", "launcher")
        assert words in said

    def test_a_look_from_the_future_is_a_clock_that_was_set_back(self):
        said = only(told(now=NOW - datetime.timedelta(minutes=5)))[2]
        assert "set back" in said

    def test_a_part_that_is_silent_and_one_that_does_not_run(self):
        said = only(told(parts__0={"answers": False, "silent_s": 12.4}))[2]
        assert said == "The web process has not answered for 12 s."
        gone = {"answers": False, "running": False}
        assert "long work has not been running." in only(told(parts__1=gone))[2]

    def test_one_that_ends_again_and_again(self):
        assert told(parts__0={"restarts": 2}) == []
        level, _, said = only(told(parts__0={"restarts": 3}))
        assert level == "note"
        assert "3 times" in said

    def test_a_disk_that_is_nearly_full(self):
        assert told(disk={"free_bytes": 2 * 10**9}) == []
        assert "2.0 GB of 100 GB" in only(told(disk={"free_bytes": 2 * 10**9 - 1}))[2]

    def test_backups(self):
        assert only(told(backups={"amiss": "The daily backup failed: x"}))[2].endswith("x")
        by_hand = only(told(backups={"to": ""}))
        assert by_hand[0] == "note"
        never = only(told(backups={"to": "", "last": None}))
        assert never[0] == "act"
        assert "takes both" in only(told(backups={"same_disk": True}))[2]
        # One that is asked for and not yet due is nothing amiss.
        assert told(backups={"last": None}) == []

    def test_runs_that_do_not_arrive(self):
        assert told(bench={**BENCH, "waiting_runs": 2}) == []
        stuck = {**BENCH, "waiting_runs": 1, "delivery_problem": "the database is away"}
        assert only(told(bench=stuck))[2] == (
            "1 run cannot be brought to the record: the database is away"
        )
        assert "2 runs lie aside" in only(told(bench={**BENCH, "aside": 2}))[2]
        assert "does not answer" in only(told(bench=None))[2]

    @pytest.mark.parametrize(("ahead", "side"), [(3.4, "3 s ahead of"), (-90.0, "90 s behind")])
    def test_clocks_that_differ(self, ahead, side):
        assert side in only(told(ahead=ahead))[2]

    def test_what_has_to_be_done_comes_first(self):
        found = told(parts__0={"restarts": 9}, disk={"free_bytes": 0}, bench=None)
        assert [one[0] for one in found] == ["act", "act", "note"]


@pytest.fixture
def launcher(settings, tmp_path):
    """What a launcher left; written anew by the test."""
    settings.UPKEEP_FILE = tmp_path / "upkeep.json"
    now = datetime.datetime.now(datetime.UTC).isoformat()
    settings.UPKEEP_FILE.write_text(json.dumps({**SEEN, "at": now}))
    return settings.UPKEEP_FILE


@pytest.fixture
def bench(monkeypatch):
    frame = {**BENCH, "set_aside": [{"run_id": "x"}], "more": "not told"}
    monkeypatch.setattr("spindle_server.bench.services.command", lambda name, **_: frame)


class TestPage:
    def test_an_administrator_sees_all_of_it(self, as_role, launcher, bench):
        found = as_role("administrator").get("/api/v1/upkeep/").json()
        assert [one["about"] for one in found["findings"]] == ["bench"]
        assert found["bench"]["aside"] == 1
        assert found["sizes"] == [
            {"what": "database", "bytes": 5_000_000},
            {"what": "photos", "bytes": 0},
        ]
        assert abs(found["clock"]["database_ahead_s"]) < 2
        assert "MariaDB" in found["versions"]["database"]
        assert found["backups"]["last"]["took_s"] == 1.8

    @pytest.mark.parametrize(
        "text", ["", "[]", "{}", "nothing", "\x00", '{"parts": [], "backups": {}}']
    )
    def test_whatever_lies_there_is_no_crash(self, as_role, launcher, bench, text):
        launcher.write_text(text)
        found = as_role("administrator").get("/api/v1/upkeep/")
        assert found.status_code == 200
        assert found.json()["disk"] is None
        assert "launcher" in {one["about"] for one in found.json()["findings"]}

    def test_an_agent_that_is_away_is_said(self, as_role, launcher):
        found = as_role("administrator").get("/api/v1/upkeep/").json()
        assert found["bench"] is None
        assert "bench" in {one["about"] for one in found["findings"]}


class TestHealthz:
    def test_says_ok_to_anybody_and_nothing_else(self, db):
        answer = Client().get("/healthz")
        assert answer.status_code == 200
        assert answer.json() == {"status": "ok"}
        assert answer["Cache-Control"] == "no-store"
        assert Client().head("/healthz").status_code == 200
        assert Client().post("/healthz").status_code == 405

    def test_says_503_where_the_database_is_away(self, db, monkeypatch):
        def away():
            raise OperationalError(2002, "away")

        monkeypatch.setattr(connection, "cursor", away)
        answer = Client().get("/healthz")
        assert answer.status_code == 503
        assert answer.json() == {"status": "database away"}
