"""Room on the disk, backups by the clock, and what is told of both."""

import json
import shutil
from collections import namedtuple
from datetime import datetime, time, timedelta
from pathlib import Path

import pytest

from spindle_ops import cli, upkeep
from spindle_ops.instance import LEAST_FREE_BYTES, Instance
from spindle_ops.problem import Problem
from spindle_ops.upkeep import (
    MARKER,
    Backups,
    Last,
    Upkeep,
    least_free,
    note_made,
    read_backups,
    room_sentence,
    set_daily,
    size_of,
    write_backups,
)

NOON = datetime(2026, 11, 28, 12, 0, 0)
Disk = namedtuple("Disk", "total used free")


def made(at):
    return Last(at, "/backups/x.tar", 5, 1.0)


def daily(at="03:15", **more):
    return Backups(to="/backups", at=time.fromisoformat(at), **more)


@pytest.fixture
def said(monkeypatch):
    found = []
    monkeypatch.setattr(upkeep, "say", found.append)
    return found


@pytest.fixture
def disk(monkeypatch):
    """How full the disk is; changed by the test."""
    now = {"free": 500_000_000_000}
    usage = lambda path: Disk(1_000_000_000_000, 0, now["free"])  # noqa: E731
    monkeypatch.setattr(shutil, "disk_usage", usage)
    return now


@pytest.fixture
def written(monkeypatch):
    """Backups that take no time; the list says where they went. One that is set fails."""
    found = []

    def write(instance, to, now):
        found.append(now)
        if write.fails:
            raise Problem("The database could not be read: gone away")
        path = to / f"spindle-backup-{now:%H%M%S}.tar"
        path.write_bytes(b"whole")
        return path

    write.fails = False
    monkeypatch.setattr(upkeep, "backup", write)
    found.append(write)
    return found


class TestRoom:
    @pytest.mark.parametrize(
        ("total", "least"),
        [
            (1_000_000_000_000, 2_000_000_000),
            (8_000_000_000, 800_000_000),
            # Half as much again as starting needs, however small the disk.
            (1_000_000_000, 600_000_000),
        ],
    )
    def test_is_told_early_and_by_the_size_of_the_disk(self, total, least, tmp_path):
        assert least_free(total) == least
        assert room_sentence(tmp_path, least, total) == ""
        assert str(tmp_path) in room_sentence(tmp_path, least - 1, total)
        assert least_free(total) > LEAST_FREE_BYTES

    def test_its_unit_is_one_that_can_be_read(self, tmp_path):
        assert "1.9 GB" in room_sentence(tmp_path, 1_900_000_000, 10**12)
        assert "73 MB" in room_sentence(tmp_path, 73_000_000, 10**12)

    def test_every_page_says_it_and_the_terminal_once(self, instance, disk, said):
        looks = Upkeep(instance)
        looks.round(NOON)
        assert looks.troubles == []
        for free in (900_000_000, 800_000_000):
            disk["free"] = free
            looks.round(NOON)
            assert f"{free // 10**6} MB" in looks.troubles[0]
        assert len(said) == 1
        disk["free"] = 500_000_000_000
        looks.round(NOON)
        assert looks.troubles == []
        disk["free"] = 700_000_000
        looks.round(NOON)
        assert len(said) == 2


class TestWhen:
    def test_never_without_a_folder(self):
        assert not Backups().due(NOON)
        assert not Backups(last=made(NOON - timedelta(days=9))).due(NOON)

    def test_the_first_at_once_then_once_a_day(self):
        assert daily().due(NOON)
        of_today = daily(last=made(NOON.replace(hour=3, minute=15)))
        assert not of_today.due(NOON)
        assert not of_today.due(NOON + timedelta(hours=15, minutes=14))
        assert of_today.due(NOON + timedelta(hours=15, minutes=15))

    def test_one_that_was_missed_is_made_up_for(self):
        of_yesterday = daily(last=made(NOON - timedelta(days=1)))
        assert of_yesterday.due(NOON)
        assert of_yesterday.due(NOON + timedelta(days=40))

    def test_before_its_hour_that_of_yesterday_counts(self):
        early = NOON.replace(hour=2)
        assert not daily(last=made(early - timedelta(hours=20))).due(early)
        assert daily(last=made(early - timedelta(hours=23))).due(early)

    def test_a_clock_that_was_set_back_delays_none(self):
        assert daily(last=made(NOON + timedelta(days=400))).due(NOON)
        failed = daily(failed_at=NOON + timedelta(days=400), why="x")
        assert failed.due(NOON)

    def test_one_that_failed_is_tried_again_after_an_hour(self):
        failed = daily(failed_at=NOON, why="x")
        assert not failed.due(NOON + timedelta(minutes=59))
        assert failed.due(NOON + timedelta(minutes=60))


class TestWhatIsAmiss:
    def test_nothing_where_none_is_asked_for_or_all_is_well(self):
        assert Backups().sentence(NOON) == ""
        assert daily(last=made(NOON - timedelta(hours=47))).sentence(NOON) == ""

    def test_failures_and_old_ones_are_told(self):
        assert "gone away" in daily(failed_at=NOON, why="gone away").sentence(NOON)
        assert "3 days old" in daily(last=made(NOON - timedelta(days=3, hours=1))).sentence(NOON)


class TestKept:
    def test_nothing_yet_is_nothing(self, instance):
        assert read_backups(instance) == Backups()

    def test_comes_back_as_it_was(self, instance):
        kept = daily("23:59", last=made(NOON), failed_at=NOON, why="full")
        write_backups(instance, kept)
        assert read_backups(instance) == kept

    @pytest.mark.parametrize(
        "text", ["", "{}", "[]", "null", '{"to": "/x", "at": "late", "last": null}', "\x00"]
    )
    def test_a_damaged_file_is_told_and_ends_nothing(self, instance, disk, said, text):
        (instance.folder / "backups.json").write_text(text)
        with pytest.raises(Problem, match=r"backups\.json"):
            read_backups(instance)
        Upkeep(instance).round(NOON)
        assert "backups.json" in said[0]
        assert "backups.json" in state(instance)["backups"]["amiss"]

    def test_into_itself_it_is_refused(self, instance):
        for inside in (instance.folder, instance.folder / "photos" / "x"):
            with pytest.raises(Problem, match="belongs elsewhere"):
                set_daily(instance, inside, time(3))
        assert read_backups(instance).to == ""

    def test_where_nothing_can_be_written_it_is_refused(self, instance, tmp_path):
        (tmp_path / "file").write_text("")
        with pytest.raises(Problem, match="Nothing can be written"):
            set_daily(instance, tmp_path / "file" / "x", time(3))


def state(instance):
    return json.loads(instance.upkeep_file.read_text())


class TestByTheClock:
    def test_is_made_noted_and_told_once_a_day(self, instance, tmp_path, disk, written, said):
        set_daily(instance, tmp_path / "to", time(3, 15))
        looks = Upkeep(instance)
        looks.round(NOON, fresh=True)
        assert written[1:] == []
        for minutes in (0, 1, 900, 930, 931):
            looks.round(NOON + timedelta(minutes=minutes))
        # At once, and after the next 3:15, which is 915 minutes away.
        assert written[1:] == [NOON, NOON + timedelta(minutes=930)]
        told = state(instance)["backups"]
        assert told["last"]["path"].endswith(".tar")
        assert told["last"]["bytes"] == 5
        assert (told["amiss"], told["at"]) == ("", "03:15")
        assert said == []

    def test_waits_while_something_turns(self, instance, tmp_path, disk, written):
        set_daily(instance, tmp_path / "to", time(3, 15))
        busy = [True]
        looks = Upkeep(instance, busy=lambda: busy[0])
        looks.round(NOON)
        assert written[1:] == []
        busy[0] = False
        looks.round(NOON + timedelta(minutes=5))
        assert len(written[1:]) == 1

    def test_a_failure_is_kept_told_and_tried_again(self, instance, tmp_path, disk, written, said):
        set_daily(instance, tmp_path / "to", time(3, 15))
        written[0].fails = True
        looks = Upkeep(instance)
        for minutes in (0, 1, 30, 59, 61):
            looks.round(NOON + timedelta(minutes=minutes))
        assert len(written[1:]) == 2
        assert "gone away" in state(instance)["backups"]["amiss"]
        assert len(said) == 1
        written[0].fails = False
        looks.round(NOON + timedelta(minutes=130))
        assert state(instance)["backups"]["amiss"] == ""
        assert read_backups(instance).failed_at is None

    def test_a_disk_that_is_not_mounted_is_not_written_below(
        self, instance, tmp_path, disk, written
    ):
        set_daily(instance, tmp_path / "to", time(3, 15))
        (tmp_path / "to" / MARKER).unlink()
        Upkeep(instance).round(NOON)
        assert written[1:] == []
        assert "mounted" in state(instance)["backups"]["amiss"]

    def test_one_by_hand_counts(self, instance, tmp_path, disk, written):
        set_daily(instance, tmp_path / "to", time(3, 15))
        (tmp_path / "by-hand.tar").write_bytes(b"by hand")
        note_made(instance, tmp_path / "by-hand.tar", NOON, 1.25)
        Upkeep(instance).round(NOON + timedelta(hours=1))
        assert written[1:] == []
        assert state(instance)["backups"]["last"]["bytes"] == 7

    def test_on_the_disk_of_the_record_itself_that_is_noted(
        self, instance, tmp_path, disk, written, monkeypatch
    ):
        elsewhere = Path("/dev/shm") / tmp_path.name  # noqa: S108
        Upkeep(instance).round(NOON)
        assert state(instance)["backups"]["same_disk"] is False
        set_daily(instance, tmp_path / "to", time(3, 15))
        Upkeep(instance).round(NOON)
        assert state(instance)["backups"]["same_disk"] is True
        set_daily(instance, elsewhere, time(3, 15))
        Upkeep(instance).round(NOON)
        assert state(instance)["backups"]["same_disk"] is False
        shutil.rmtree(elsewhere)

    def test_no_more(self, instance, tmp_path, disk, written):
        set_daily(instance, tmp_path / "to", time(3, 15))
        set_daily(instance, None, time(3, 15))
        Upkeep(instance).round(NOON)
        assert written[1:] == []
        assert state(instance)["backups"]["to"] == ""


def test_sizes_are_of_files_and_what_is_missing_is_nothing(instance, disk):
    (instance.folder / "photos" / "a").mkdir(parents=True)
    (instance.folder / "photos" / "a" / "b.jpg").write_bytes(b"x" * 1234)
    (instance.folder / "photos" / "there").symlink_to("/")
    Upkeep(instance).round(NOON)
    sizes = state(instance)["sizes"]
    assert 1234 <= sizes["photos"] < 1300
    assert sizes["packs"] == 0
    assert size_of(instance.folder / "nowhere") == 0


def test_logs_are_packed_on_the_way(instance, disk, said):
    (instance.log / "web.log").write_bytes(b"x" * 6_000_000)
    Upkeep(instance).round(NOON)
    assert (instance.log / "web.log.1.gz").exists()
    assert said == ["web.log had grown; it was packed."]


class TestCommand:
    @pytest.fixture
    def running(self, tmp_path, monkeypatch):
        monkeypatch.setattr(cli.setup, "debian_packages", lambda names: None)
        home = Instance("start", tmp_path / "home", 8137, demo=False)
        home.prepare()
        home.pid_file.write_text("1 http://x/")
        return home

    def test_sets_and_unsets(self, running, tmp_path, capsys):
        asked = ["backup", str(tmp_path / "to"), "--folder", str(running.folder), "--daily"]
        assert cli.main([*asked, "04:30"]) == 0
        assert read_backups(running).at == time(4, 30)
        assert "every day at 04:30" in capsys.readouterr().out
        assert cli.main([*asked, "never"]) == 0
        assert read_backups(running).to == ""

    @pytest.mark.parametrize("when", ["", "25:00", "3", "noon", "03:15:00"])
    def test_refuses_what_is_no_time(self, running, tmp_path, capsys, when):
        asked = ["backup", str(tmp_path / "to"), "--folder", str(running.folder), "--daily", when]
        assert cli.main(asked) == 1
        assert "HH:MM" in capsys.readouterr().err
        assert read_backups(running) == Backups()
