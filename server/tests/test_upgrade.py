"""A bench from before: its database migrates, nothing that was recorded changes."""

import lzma
import os
import subprocess
import sys
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

NAME = "test_spindle_upgrade"
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


def command(*words):
    environment = {
        **os.environ,
        "SPINDLE_DB_NAME": NAME,
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


@pytest.fixture(scope="module", params=RELEASED)
def old_bench(request, django_db_setup):
    """The old database, and rows of it as they were before the upgrade."""
    dump = HERE / "data" / f"bench-{request.param}.sql.xz"
    line = connected()
    cursor = line.cursor()
    cursor.execute(f"DROP DATABASE IF EXISTS {NAME}")
    cursor.execute(f"CREATE DATABASE {NAME} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
    own = settings.DATABASES["default"]
    subprocess.run(
        ["mariadb", f"--socket={own['HOST']}", f"--user={own['USER']}", NAME],
        input=lzma.decompress(dump.read_bytes()),
        env={**os.environ, "MYSQL_PWD": own["PASSWORD"]},
        check=True,
    )

    def rows(table, columns):
        cursor.execute(f"SELECT {columns} FROM {NAME}.{table} ORDER BY 1")  # noqa: S608
        found = cursor.fetchall()
        line.commit()
        return found

    before = {table: rows(table, columns) for table, columns in KEPT_AS_THEY_WERE.items()}
    was = "intake" if request.param == INTAKE_WAS else "motors"
    before |= {table: rows(f"{was}_{table}", columns) for table, columns in MOVED.items()}
    yield rows, before
    cursor.execute(f"DROP DATABASE {NAME}")
    line.close()


def test_an_old_bench_comes_to_this_version_with_all_it_recorded(old_bench):
    rows, before = old_bench
    assert len({segment[1] for segment in before["runs_tracesegment"]}) >= 2
    assert len(before["teardown_observation"]) > 100
    command("migrate", "--noinput")
    for table, columns in KEPT_AS_THEY_WERE.items():
        assert rows(table, columns) == before[table], table
    for table, columns in MOVED.items():
        assert rows(f"motors_{table}", columns) == before[table], table
    # Once more does nothing, and no model differs from the tables.
    assert "No migrations to apply" in command("migrate", "--noinput")
    command("makemigrations", "--check", "--dry-run")
    # Its figures are those of today's core on the same raw data, and again nothing raw changed.
    command("reduce_stale")
    assert "equal" in command("shell", "-v", "0", "-c", COMPARE)
    for table, columns in KEPT_AS_THEY_WERE.items():
        assert rows(table, columns) == before[table], table


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
