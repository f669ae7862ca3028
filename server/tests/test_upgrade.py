"""A bench from before: its database migrates, nothing that was recorded changes."""

import hashlib
import lzma
import os
import re
import shutil
import subprocess
import sys
from functools import cache
from importlib.metadata import version
from itertools import pairwise
from pathlib import Path

import MySQLdb
import pytest
from django.conf import settings

HERE = Path(__file__).parent
RELEASED = {
    "8951730": "before motors had an app of their own",
    "608d8de": "before sheets, bench days and other people's files",
    "06b1793": "before campaigns, comparisons by name and crafts",
    "cb2f006": "before packs, flights and second factors",
    "dd492fc": "before large files",
    "aa7c58c": "before doubles",
    "85bd368": "before picks",
}
"""The demo as these commits made it, with the samples of some of its runs. A release that
changes a table adds one: ``python -m e2e.keep_release``."""

NAMES = list(RELEASED)
THE_WHOLE_WAY = (NAMES[0], NAMES[-1])
"""The oldest goes through every migration there is, the newest as most benches do."""

TO_THE_NEXT = list(pairwise(NAMES[1:]))
"""Those between go as far as the one after them, which goes on from there."""

UNALIKE = {(table, "`blades` >= 0") for table in ("rig_propeller", "rig_historicalpropeller")}
"""Checks that the server dropped when a column of an old bench became one that may be empty; what
is written goes through the services, which ask for whole blades."""

UNALIKE |= {("auth_group_permissions", "id")}
"""A column of Django's own that nothing here writes to: its migration makes it narrower."""

PROVED = HERE / "data" / "ways-proved.txt"
"""What the ways between releases hung on when they were last gone. Nothing of it changes any more
once a release is out: while it is the same they are not gone again, which takes a minute of both
processors. Whoever changes it has them gone by the next test; once they are,
``python -m server.tests.test_upgrade`` says what to write in here."""


@cache
def kept(name):
    """The dump of a release as it is kept."""
    return (HERE / "data" / f"bench-{name}.sql.xz").read_bytes()


@cache
def counted_as_done(name):
    """The migrations that a release had carried out, as (app, name)."""
    dump = lzma.decompress(kept(name)).decode()
    (rows,) = re.findall(r"INSERT INTO `django_migrations` .*?;\n", dump, re.DOTALL)
    return re.findall(r"\(\d+,'(\w+)','(\w+)',", rows)


def what_the_ways_hang_on(apps=HERE.parent / "spindle_server"):
    """One digest of what these releases held, of the migrations up to the newest of them, of the
    packages that carry those out, and of what is asked in here."""
    total = hashlib.sha256(Path(__file__).read_bytes())
    for name in NAMES[1:]:
        total.update(kept(name))
    for app, name in counted_as_done(NAMES[-1]):
        path = apps / app / "migrations" / f"{name}.py"
        if path.exists():
            total.update(f"{app} {name}".encode() + path.read_bytes())
    for package in ("django", "django-simple-history", "mysqlclient"):
        total.update(f"{package} {version(package)}".encode())
    return total.hexdigest()


NAME, NEW, NEXT = "test_spindle_upgrade", "test_spindle_new", "test_spindle_next"
KEPT_AS_THEY_WERE = {
    "runs_tracesegment": "id, run_id, `index`, first_row, row_count, digest, SHA2(parquet, 256)",
    "runs_sourcefile": "id, run_id, name, digest, SHA2(gzip, 256)",
    "runs_runend": "id, run_id, outcome, code, reason",
    "runs_run": "id, uid, kind, origin, sample_id, propeller_id, review, started_at",
    "teardown_observation": "id, sample_id, attribute, status, choice, value, u",
    "rig_propeller": "id, maker_id, diameter_in, pitch_in, blades, bore_mm",
}
INTAKE_WAS = "8951730"
"""Where these tables had another app."""

MOVED = {
    "claim": "id, motor_id, quantity, value, words, source, version",
    "motormodel": "id, maker_id, name, size_code, kv_label_rpm_per_v, version",
    "sample": "id, motor_id, parcel_id, mark, turning",
    "weighing": "id, sample_id, mass_g, resolution_g, lead_length_mm",
    "historicalclaim": "history_id, id, value, history_type, history_user_id",
}


def connected():
    own = settings.DATABASES["default"]
    return MySQLdb.connect(
        unix_socket=own["HOST"], user=own["USER"], passwd=own["PASSWORD"], charset="utf8mb4"
    )


def command(*words, name=NAME):
    environment = {
        **os.environ,
        "SPINDLE_DB_NAME": name,
        "DJANGO_SETTINGS_MODULE": "spindle_server.settings",
    }
    done = subprocess.run(
        [sys.executable, "-m", "spindle_server", *words],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


def emptied(cursor, name):
    cursor.execute(f"DROP DATABASE IF EXISTS {name}")
    cursor.execute(f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")


def tables_of(cursor, name):
    """Columns, and what keys and indexes there are, as the server knows them."""
    cursor.execute(
        "SELECT table_name, column_name, column_type, is_nullable, column_default, extra, "
        "collation_name FROM information_schema.columns WHERE table_schema = %s",
        [name],
    )
    columns = sorted(cursor.fetchall(), key=str)
    cursor.execute(
        "SELECT table_name, non_unique, GROUP_CONCAT(column_name ORDER BY seq_in_index) "
        "FROM information_schema.statistics WHERE table_schema = %s "
        "GROUP BY table_name, index_name, non_unique",
        [name],
    )
    found = {row[:3] for row in cursor.fetchall()}
    # Which of two indexes stands for a key hangs on which was there first: one that another begins
    # with says nothing of its own.
    indexes = sorted(
        row
        for row in found
        if not row[1]
        or not any(
            one != row and one[0] == row[0] and f"{one[2]},".startswith(f"{row[2]},")
            for one in found
        )
    )
    cursor.execute(
        "SELECT table_name, column_name, referenced_table_name, referenced_column_name "
        "FROM information_schema.key_column_usage "
        "WHERE table_schema = %s AND referenced_table_name IS NOT NULL",
        [name],
    )
    keys = sorted(cursor.fetchall())
    cursor.execute(
        "SELECT table_name, check_clause FROM information_schema.check_constraints "
        "WHERE constraint_schema = %s",
        [name],
    )
    return columns, indexes, keys, sorted(cursor.fetchall())


@pytest.fixture(scope="module")
def new_tables(django_db_setup):
    """The tables of a database that was empty, and what it counts as done; it stays there."""
    line = connected()
    cursor = line.cursor()
    emptied(cursor, NEW)
    command("prepare_database", name=NEW)
    found = tables_of(cursor, NEW)
    done = done_in(cursor, NEW)
    line.commit()
    assert "No migrations to apply" in command("migrate", "--noinput", name=NEW)
    yield found, done
    cursor.execute(f"DROP DATABASE {NEW}")
    line.close()


ROWS_OF_OTHERS = re.compile(rb"INSERT INTO `(?!django_migrations`)\w+` .*?;\n", re.DOTALL)


def put(cursor, release, name, *, only_tables=False):
    """The database of a release, or its tables and what it counts as done."""
    dump = lzma.decompress(kept(release))
    if only_tables:
        dump = ROWS_OF_OTHERS.sub(b"", dump)
    emptied(cursor, name)
    own = settings.DATABASES["default"]
    subprocess.run(
        ["mariadb", f"--socket={own['HOST']}", f"--user={own['USER']}", name],
        input=dump,
        env={**os.environ, "MYSQL_PWD": own["PASSWORD"]},
        check=True,
    )


def done_in(cursor, name):
    cursor.execute(f"SELECT app, name FROM {name}.django_migrations")  # noqa: S608
    return set(cursor.fetchall())


@pytest.fixture(scope="module")
def old_bench(request, django_db_setup):
    """The old database, and rows of it as they were before the upgrade."""
    line = connected()
    cursor = line.cursor()
    put(cursor, request.param, NAME)

    def rows(table, columns):
        cursor.execute(f"SELECT {columns} FROM {NAME}.{table} ORDER BY 1")  # noqa: S608
        found = cursor.fetchall()
        line.commit()
        return found

    before = {table: rows(table, columns) for table, columns in KEPT_AS_THEY_WERE.items()}
    was = "intake" if request.param == INTAKE_WAS else "motors"
    before |= {table: rows(f"{was}_{table}", columns) for table, columns in MOVED.items()}
    yield rows, before, cursor
    cursor.execute(f"DROP DATABASE {NAME}")
    line.close()


def assert_kept(rows, before):
    for table, columns in KEPT_AS_THEY_WERE.items():
        assert rows(table, columns) == before[table], table
    for table, columns in MOVED.items():
        assert rows(f"motors_{table}", columns) == before[table], table


def assert_alike(cursor, tables, done):
    """Tables, and what counts as done, are those of another database."""
    for own, new in zip(tables_of(cursor, NAME), tables, strict=True):
        assert {row[:2] for row in set(own) ^ set(new)} <= UNALIKE
    assert done_in(cursor, NAME) >= done


@pytest.mark.parametrize("old_bench", THE_WHOLE_WAY, indirect=True)
def test_an_old_bench_comes_to_this_version_with_all_it_recorded(old_bench, new_tables):
    rows, before, cursor = old_bench
    assert len({segment[1] for segment in before["runs_tracesegment"]}) >= 2
    assert len(before["teardown_observation"]) > 100
    command("prepare_database")
    assert_kept(rows, before)
    # Its tables are those that an empty database gets at once, and the same counts as done.
    assert_alike(cursor, *new_tables)
    # Its figures are those of today's core on the same raw data, and again nothing raw changed.
    command("reduce_stale")
    assert "equal" in command("shell", "-v", "0", "-c", COMPARE)
    assert_kept(rows, before)


@pytest.mark.skipif(
    PROVED.read_text().strip() == what_the_ways_hang_on(),
    reason="gone before, and nothing that they hang on has changed since",
)
@pytest.mark.parametrize(
    ("old_bench", "after"), TO_THE_NEXT, indirect=["old_bench"], ids=[one for one, _ in TO_THE_NEXT]
)
def test_a_release_between_comes_to_the_one_after_it(old_bench, after):
    """Its rows come to the tables from which the test of that one goes on, and so to the end."""
    rows, before, cursor = old_bench
    put(cursor, after, NEXT, only_tables=True)
    tables, done = tables_of(cursor, NEXT), done_in(cursor, NEXT)
    cursor.execute(f"DROP DATABASE {NEXT}")
    assert done - done_in(cursor, NAME)
    command("shell", "-v", "0", "-c", f"WANTED = {sorted(done)!r}\n{AS_FAR_AS}")
    assert_kept(rows, before)
    assert_alike(cursor, tables, done)


def test_what_was_ended_while_its_tables_were_made_is_begun_anew(new_tables):
    """Nothing counts as done before all is there; what holds something is never dropped."""
    tables, _ = new_tables
    line = connected()
    cursor = line.cursor()
    cursor.execute(f"USE {NEW}")
    ended = "DELETE FROM django_migrations WHERE app NOT IN ('contenttypes', 'auth')"
    for begun in (ended, "DELETE FROM django_migrations"):
        cursor.execute(begun)
        cursor.execute("DROP TABLE runs_historicalrun")
        line.commit()
        command("prepare_database", name=NEW)
        for own, new in zip(tables_of(cursor, NEW), tables, strict=True):
            assert own == new
        line.commit()
    cursor.execute("INSERT INTO motors_maker (name) VALUES ('Quillmoor')")
    cursor.execute(ended)
    line.commit()
    with pytest.raises(AssertionError, match="motors_maker holds something"):
        command("prepare_database", name=NEW)
    cursor.execute("SELECT name FROM motors_maker")
    assert cursor.fetchall() == (("Quillmoor",),)
    line.close()


def test_the_ways_are_gone_again_once_a_migration_of_theirs_is_another(tmp_path):
    ours = HERE.parent / "spindle_server"
    for folder in ours.glob("*/migrations"):
        shutil.copytree(folder, tmp_path / folder.relative_to(ours))
    was = what_the_ways_hang_on(tmp_path)
    assert was == what_the_ways_hang_on()
    # One that no kept release had is not on them.
    (tmp_path / "runs" / "migrations" / "0999_later.py").write_text("")
    assert what_the_ways_hang_on(tmp_path) == was
    for path in sorted(tmp_path.glob("*/migrations/0001_*.py")):
        before = path.read_text()
        path.write_text(f"{before}\n")
        assert what_the_ways_hang_on(tmp_path) != was, path
        path.write_text(before)
    assert what_the_ways_hang_on(tmp_path) == was


AS_FAR_AS = """
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
executor = MigrationExecutor(connection)
graph = executor.loader.graph
known = {node for node in WANTED if node in graph.nodes}
last = [
    node for node in sorted(known)
    if not any(child in known and child[0] == node[0] for child in graph.node_map[node].children)
]
plan = executor.migration_plan(last)
assert plan and not any(backwards for _, backwards in plan), plan
executor.migrate(last)
"""

COMPARE = """
import json, spindle_core
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace
from spindle_server.runs.as_core import run_trace
from spindle_server.runs.models import Run
seen = 0
for run in Run.objects.filter(segments__isnull=False).distinct():
    stored = run.reduction
    assert stored.core_version == spindle_core.__version__, stored.core_version
    fresh = json.loads(json.dumps(reduction_to_json(reduce_trace(run_trace(run)))))
    assert stored.result == fresh, run.pk
    assert stored.history.count() >= 1
    seen += 1
assert seen >= 2, seen
print("equal")
"""

if __name__ == "__main__":
    print(what_the_ways_hang_on())
