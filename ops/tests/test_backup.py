"""Backups: whole or not there, thinned, and back into an empty folder row for row."""

import hashlib
import io
import json
import subprocess
import tarfile
from datetime import datetime, timedelta

import pytest

from spindle_ops import backup as module
from spindle_ops import cli
from spindle_ops.backup import FORMAT, MANIFEST, SQL, Thinning, backup, checked, restore, thinned
from spindle_ops.instance import Instance, free_port
from spindle_ops.mariadb import Database
from spindle_ops.problem import Problem
from spindle_ops.processes import known_migrations

from .asking import query

NOON = datetime(2026, 11, 28, 12, 0, 0)


def written(path, members, manifest=None):
    """A tar of our making; the manifest lists the members unless it is another."""
    listed = {
        name: {"bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}
        for name, data in members.items()
    }
    whole = {
        "format": FORMAT,
        "made_at": "now",
        "of": "demo",
        "migrated": "",
        "members": listed,
        "sql_sha256": "",
    }
    text = json.dumps({**whole, **(manifest or {})}).encode()
    with tarfile.open(path, "w") as packed:
        for name, data in {MANIFEST: text, **members}.items():
            info = tarfile.TarInfo(name)
            info.size = len(data)
            packed.addfile(info, io.BytesIO(data))
    return path


GOOD = {SQL: b"rows", "files/photos/a/b.jpg": b"picture"}


def test_the_newest_and_one_of_each_day_week_and_month_are_kept():
    hours = [NOON - timedelta(hours=6 * at) for at in range(4 * 400)]
    kept = sorted(thinned(hours), reverse=True)
    assert kept[:3] == hours[:3]
    assert 3 + 6 + 7 + 10 <= len(kept) <= 3 + 7 + 8 + 12
    assert {at.date() for at in kept} >= {(NOON - timedelta(days=d)).date() for d in range(7)}
    assert min(kept) < NOON - timedelta(days=300)
    assert thinned([]) == set()
    assert thinned([NOON]) == {NOON}


def test_thinning_again_takes_nothing_more_away():
    days = [NOON - timedelta(days=at) for at in range(500)]
    once = thinned(days)
    assert thinned(once) == once
    assert thinned(days, Thinning(newest=1, days=0, weeks=0, months=0)) == {NOON}


def test_a_whole_one_says_what_it_is(tmp_path):
    assert checked(written(tmp_path / "x.tar", GOOD))["of"] == "demo"


@pytest.mark.parametrize(
    ("members", "changed", "said"),
    [
        ({**GOOD, "files/photos/../../etc/passwd": b"x"}, None, "does not list"),
        ({**GOOD, "/etc/passwd": b"x"}, None, "does not list"),
        ({**GOOD, "files/secrets.json": b"x"}, None, "does not list"),
        ({**GOOD, "files/mariadb/data/x": b"x"}, None, "does not list"),
        ({**GOOD, "extra": b"x"}, {"members": {}}, "does not list"),
        (GOOD, {"format": "spindle-backup/2"}, "no backup of a bench"),
        (GOOD, {"members": None}, "no backup"),
    ],
)
def test_what_is_no_backup_is_refused(tmp_path, members, changed, said):
    with pytest.raises(Problem, match=said):
        checked(written(tmp_path / "x.tar", members, changed))


def test_a_byte_that_changed_a_member_that_lacks_and_a_cut_are_seen(tmp_path):
    path = written(tmp_path / "x.tar", GOOD)
    whole = path.read_bytes()
    at = whole.index(b"picture")
    path.write_bytes(whole[:at] + b"P" + whole[at + 1 :])
    with pytest.raises(Problem, match="not what was backed up"):
        checked(path)
    lacking = written(
        tmp_path / "y.tar",
        {SQL: b"rows"},
        {
            "members": json.loads(
                json.dumps(
                    {
                        SQL: {"bytes": 4, "sha256": hashlib.sha256(b"rows").hexdigest()},
                        "files/photos/c.jpg": {"bytes": 1, "sha256": "x"},
                    }
                )
            )
        },
    )
    with pytest.raises(Problem, match=r"lacks 'files/photos/c\.jpg'"):
        checked(lacking)
    for length in (0, 100, 700, at - 600, at, at + 3):
        path.write_bytes(whole[:length])
        with pytest.raises(Problem):
            checked(path)


def test_a_link_in_it_is_no_file(tmp_path):
    path = tmp_path / "x.tar"
    listed = {"files/photos/a.jpg": {"bytes": 0, "sha256": hashlib.sha256(b"").hexdigest()}}
    text = json.dumps({"format": FORMAT, "members": listed}).encode()
    with tarfile.open(path, "w") as packed:
        info = tarfile.TarInfo(MANIFEST)
        info.size = len(text)
        packed.addfile(info, io.BytesIO(text))
        link = tarfile.TarInfo("files/photos/a.jpg")
        link.type, link.linkname = tarfile.SYMTYPE, "/etc/passwd"
        packed.addfile(link)
    with pytest.raises(Problem, match="does not list"):
        checked(path)


@pytest.fixture
def filled(instance, database):
    """A running database with rows of every sort, and files beside it."""
    database.start()
    query(
        instance,
        "SET NAMES utf8mb4; "
        "CREATE TABLE kept (id INT AUTO_INCREMENT PRIMARY KEY, x DOUBLE, t TEXT, b LONGBLOB) "
        "CHARACTER SET utf8mb4; INSERT INTO kept (x, t, b) VALUES "
        "(0.1, 'sweep \u2013 \U0001f680 it''s', 0x00FF0A0D1A27), "
        "(1.7976931348623157e308, '', NULL), "
        "(2.3e-308, NULL, REPEAT('x', 3000000)); DELETE FROM kept WHERE id = 2",
    )
    for name, data in (
        ("photos/ab/c.jpg", b"\xff\xd8"),
        ("packs/quoted/x.zip", b"PK"),
        ("inbox/log.csv", b"time_s\n0\n"),
        ("log/web.log", b"chatter"),
        ("photos/half.part", b"unfinished"),
    ):
        path = instance.folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    (instance.folder / "migrated").write_text(known_migrations())
    return instance


def back(tmp_path, name="back"):
    return Instance("start", tmp_path / name, free_port(), demo=False)


def quiet(text):
    assert text


def test_what_was_backed_up_comes_back_row_for_row(filled, tmp_path):
    path = backup(filled, tmp_path / "kept", NOON)
    assert path.name == "spindle-backup-demo-2026-11-28-120000.tar"
    assert oct(path.stat().st_mode)[-3:] == "600"
    assert list((tmp_path / "kept").iterdir()) == [path]
    names = set(checked(path)["members"])
    assert names == {
        SQL,
        "files/photos/ab/c.jpg",
        "files/packs/quoted/x.zip",
        "files/inbox/log.csv",
    }
    there = back(tmp_path)
    restore(path, there, known_migrations(), quiet)
    assert (there.folder / "photos/ab/c.jpg").read_bytes() == b"\xff\xd8"
    assert (there.folder / "migrated").read_text() == known_migrations()
    assert not (there.folder / SQL).exists()
    assert there.secrets() != filled.secrets()
    server = Database(there, durable=False)
    server.start()
    try:
        text = "SELECT id, x, t, MD5(b) FROM kept ORDER BY id"
        assert query(there, text) == query(filled, text)
        assert query(there, "SELECT SUM(x = 0.1), SUM(x = 2.3e-308) FROM kept") == "1\t1"
        query(there, "INSERT INTO kept (x) VALUES (1)")
        assert query(there, "SELECT MAX(id) FROM kept") == "4"
    finally:
        server.stop()


def test_the_same_rows_give_the_same_backup_twice(filled, tmp_path):
    one, two = (checked(backup(filled, tmp_path, NOON + timedelta(seconds=at))) for at in (0, 5))
    assert one["members"] == two["members"]


def test_a_database_that_came_back_otherwise_is_not_kept(filled, tmp_path, monkeypatch):
    path = backup(filled, tmp_path / "kept", NOON)
    pour = module._pour

    def one_row_less(rows, into):
        pour(io.BytesIO(rows.read().replace(b"0.1", b"0.2")), into)

    monkeypatch.setattr(module, "_pour", one_row_less)
    there = back(tmp_path)
    with pytest.raises(Problem, match="row for row"):
        restore(path, there, known_migrations(), quiet)
    assert not there.folder.exists()


def test_nothing_is_restored_over_something_nor_from_a_later_version(filled, tmp_path):
    path = backup(filled, tmp_path / "kept", NOON)
    full = back(tmp_path, "full")
    full.folder.mkdir()
    (full.folder / "mine").write_text("mine")
    with pytest.raises(Problem, match="holds files"):
        restore(path, full, known_migrations(), quiet)
    assert (full.folder / "mine").read_text() == "mine"
    older = "\n".join(known_migrations().split("\n")[2:])
    there = back(tmp_path)
    with pytest.raises(Problem, match="later version"):
        restore(path, there, older, quiet)
    assert not there.folder.exists()


def test_of_a_backup_that_failed_nothing_is_left_and_none_is_thinned(filled, tmp_path, monkeypatch):
    kept = tmp_path / "kept"
    first = backup(filled, kept, NOON - timedelta(days=900))
    monkeypatch.setattr(module, "dump_command", lambda instance: (["false", "x"], {}))
    with pytest.raises(Problem, match="could not be read"):
        backup(filled, kept, NOON)
    assert list(kept.iterdir()) == [first]


def test_old_ones_are_thinned_and_strangers_left_alone(filled, tmp_path):
    kept = tmp_path / "kept"
    kept.mkdir()
    (kept / "spindle-backup-demo-mine.tar").write_text("mine")
    (kept / "spindle-backup-start-2001-01-01-000000.tar").write_text("another's")
    rule = Thinning(newest=2, days=0, weeks=0, months=0)
    paths = [backup(filled, kept, NOON + timedelta(hours=at), rule) for at in range(4)]
    assert {path.name for path in kept.iterdir()} == {
        "spindle-backup-demo-mine.tar",
        "spindle-backup-start-2001-01-01-000000.tar",
        *(path.name for path in paths[2:]),
    }


def test_rows_that_come_meanwhile_are_in_the_next_one_or_whole(filled, tmp_path):
    """Somebody writes on while it is made: what is in it is as of one moment."""
    query(filled, "CREATE TABLE pairs (n INT PRIMARY KEY, a INT, b INT)")
    one = "START TRANSACTION; INSERT INTO pairs VALUES (%d, %d, 0); "
    other = "UPDATE pairs SET b = %d WHERE n = %d; COMMIT;"
    script = "".join((one + other) % (n, n, n, n) for n in range(400))
    environment = filled.environment() | {"MYSQL_PWD": filled.secrets()["database"]}
    command = [
        "mariadb",
        "--no-defaults",
        f"--socket={filled.database_socket}",
        "--user=spindle",
        "spindle",
    ]
    writer = subprocess.Popen([*command, "-e", script], env=environment)
    path = backup(filled, tmp_path / "kept", NOON)
    assert writer.wait() == 0
    there = back(tmp_path)
    restore(path, there, known_migrations(), quiet)
    server = Database(there, durable=False)
    server.start()
    try:
        assert query(there, "SELECT COUNT(*) FROM pairs WHERE a <> b") == "0"
    finally:
        server.stop()


def test_the_command_says_what_is_not_running(tmp_path, monkeypatch, capsys):
    monkeypatch.setattr(cli.setup, "debian_packages", lambda names: None)
    assert cli.main(["backup", str(tmp_path), "--folder", str(tmp_path / "none")]) == 1
    assert "Nothing runs" in capsys.readouterr().err
    path = written(tmp_path / "x.tar", GOOD)
    assert cli.main(["backup", str(path), "--check"]) == 0
    assert "is whole: demo" in capsys.readouterr().out
    path.write_bytes(b"x")
    assert cli.main(["restore", str(path), "--folder", str(tmp_path / "back")]) == 1
    assert "no backup" in capsys.readouterr().err
