"""The private database server: starts, stops, comes back, and says what is wrong."""

import gzip
import os
import signal
import socket
import subprocess
import sys
import time
from datetime import datetime

import pytest

from spindle_ops import processes
from spindle_ops.copies import KEPT, copy_database
from spindle_ops.instance import CHECKOUT
from spindle_ops.leftovers import started_at
from spindle_ops.mariadb import pool_mb
from spindle_ops.problem import Problem

from .asking import query


def test_it_starts_twice_and_keeps_what_it_holds(instance, database):
    database.start()
    query(instance, "CREATE TABLE kept (n INT); INSERT INTO kept VALUES (7)")
    database.stop()
    assert not instance.database_socket.exists()
    database.start()
    assert query(instance, "SELECT n FROM kept") == "7"
    assert "STRICT_TRANS_TABLES" in query(instance, "SELECT @@sql_mode")
    assert query(instance, "SELECT @@bind_address, @@local_infile") == "127.0.0.1\t0"


@pytest.mark.parametrize(
    ("memory_gb", "pool"),
    [(0.5, 256), (1, 256), (2, 256), (4, 500), (8, 1000), (8.6, 1024), (24, 1024), (512, 1024)],
)
def test_it_keeps_an_eighth_of_the_memory_in_bounds(memory_gb, pool):
    assert pool_mb(int(memory_gb * 1e9)) == pool


def test_the_server_does_what_its_configuration_says(instance, database):
    database.start()
    found = query(instance, "SELECT @@innodb_buffer_pool_size DIV 1048576")
    asked = [
        line.removeprefix("innodb_buffer_pool_size=").removesuffix("M")
        for line in database.configuration.read_text().splitlines()
        if line.startswith("innodb_buffer_pool_size=")
    ]
    # Rounded up to whole chunks.
    assert 0 <= int(found) - int(asked[0]) <= 128


def test_a_server_left_behind_by_a_killed_launcher_is_ended_first(instance, database):
    database.start()
    query(instance, "CREATE TABLE kept (n INT); INSERT INTO kept VALUES (7)")
    left_behind, database.process = database.process, None
    database.start()
    assert left_behind.wait(10) == 0
    assert query(instance, "SELECT n FROM kept") == "7"


def test_a_frozen_server_left_behind_is_ended_too(instance, database, monkeypatch):
    monkeypatch.setattr("spindle_ops.mariadb.LEFT_OVER_ENDS_WITHIN_S", 0.5)
    database.start()
    left_behind, database.process = database.process, None
    os.kill(left_behind.pid, signal.SIGSTOP)
    database.start()
    assert left_behind.wait(10) == -signal.SIGKILL
    assert query(instance, "SELECT 1") == "1"


def test_what_it_puts_aside_lies_where_no_other_server_clears_up(instance, database):
    database.start()
    assert query(instance, "SELECT @@tmpdir") == str(instance.folder / "mariadb" / "tmp")
    assert database.temporary.stat().st_mode & 0o077 == 0
    query(instance, "CREATE TEMPORARY TABLE aside (n INT) ENGINE=Aria")


def test_it_ends_with_a_launcher_that_is_killed(instance):
    """Whoever it runs as: the order to end with its parent survives the change of user."""
    code = (
        "import sys, time; from pathlib import Path; from spindle_ops.instance import Instance; "
        "from spindle_ops.mariadb import Database; "
        f"made = Instance('demo', Path({str(instance.folder)!r}), {instance.port}, demo=True); "
        "d = Database(made, durable=False); d.start(); "
        "print(d.process.pid, flush=True); time.sleep(60)"
    )
    launcher = subprocess.Popen(
        [sys.executable, "-c", code], stdout=subprocess.PIPE, text=True, cwd=CHECKOUT / "ops"
    )
    pid = int(launcher.stdout.readline())
    launcher.kill()
    launcher.wait()
    until = time.monotonic() + 15
    while started_at(pid) is not None and time.monotonic() < until:
        time.sleep(0.05)
    assert started_at(pid) is None


def test_it_recovers_from_being_killed(instance, database):
    database.durable = True
    database.start()
    query(instance, "CREATE TABLE kept (n INT); INSERT INTO kept VALUES (7)")
    os.kill(database.process.pid, signal.SIGKILL)
    database.process.wait()
    database.start()
    assert query(instance, "SELECT n FROM kept") == "7"


def test_a_half_made_data_directory_is_said(instance, database):
    database.data.mkdir(parents=True)
    (database.data / "leftover").write_text("x")
    with pytest.raises(Problem, match="an earlier set-up was cut short"):
        database.start()


def test_a_broken_data_directory_is_said_with_a_way_out(instance, database):
    database.start()
    database.stop()
    (database.data / "ibdata1").write_bytes(b"broken")
    with pytest.raises(Problem, match=r"does not start; the reason is at the end of .*mariadb.log"):
        database.start()


def test_a_taken_port_is_said(instance, database):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", instance.database_port))
        taken.listen()
        with pytest.raises(Problem, match=f"port {instance.database_port} is in use"):
            database.start()


# A copy before anything is changed


def restored(path):
    return gzip.decompress(path.read_bytes()).decode()


def test_a_copy_holds_every_row_and_is_nobody_elses(instance, database):
    database.start()
    query(instance, "CREATE TABLE kept (b BLOB); INSERT INTO kept VALUES (0x00FF27)")
    path = copy_database(instance)
    assert "0x00FF27" in restored(path)
    assert path.stat().st_mode & 0o077 == 0
    assert path.parent.stat().st_mode & 0o077 == 0


def test_only_the_newest_copies_are_kept(instance, database):
    database.start()
    days = [datetime(2026, 11, day) for day in range(1, KEPT + 3)]
    paths = [copy_database(instance, now) for now in days]
    assert [path.exists() for path in paths] == [False] * 2 + [True] * KEPT


@pytest.mark.parametrize("broken", ["the server is away", "the disk is not there"])
def test_a_copy_that_cannot_be_whole_is_none(instance, database, monkeypatch, broken):
    database.start()
    if broken == "the server is away":
        database.stop()
    else:
        (instance.folder / "copies").write_text("a file in its place")
    with pytest.raises(Problem, match="could not be copied"):
        copy_database(instance)
    if (instance.folder / "copies").is_dir():
        assert list((instance.folder / "copies").iterdir()) == []


def test_a_new_version_copies_first_and_changes_nothing_if_it_cannot(
    instance, database, monkeypatch
):
    asked = []
    monkeypatch.setattr(processes, "manage", lambda _, *words: asked.append(words[0]))
    processes.migrate(instance)
    assert asked == ["prepare_database", "reduce_stale", "identify_stale"]
    processes.migrate(instance)
    assert len(asked) == 3
    (instance.folder / "migrated").write_text("of another version")
    with pytest.raises(Problem, match="could not be copied"):
        processes.migrate(instance)
    assert len(asked) == 3
    database.start()
    processes.migrate(instance)
    assert asked[3:] == ["prepare_database", "reduce_stale", "identify_stale"]
    assert len(list((instance.folder / "copies").iterdir())) == 1
