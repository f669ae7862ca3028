"""The demo bench as this version makes it, kept for the test of upgrades: ``python -m
e2e.keep_release NAME``, after ``./spindle demo`` has made it.

All tables are kept, and the samples of one run of each kind and of each imported run: what a
migration changes is there, and the file stays small. Whoever lands a migration adds one.
"""

from __future__ import annotations

import lzma
import subprocess
import sys
from pathlib import Path

from spindle_ops.copies import DATABASE, dump_command
from spindle_ops.instance import CHECKOUT, Instance, free_port
from spindle_ops.processes import database_alone

DATA = CHECKOUT / "server" / "tests" / "data"
SAMPLES = "runs_tracesegment"
FEW = "SELECT MIN(id) FROM runs_run GROUP BY kind UNION SELECT run_id FROM runs_sourcefile"


def keep(name: str) -> Path:
    """Write the dump of ``var/demo``; returns where it lies."""
    instance = Instance("keep", CHECKOUT / "var" / "demo", free_port(), demo=True)
    with database_alone(instance):
        command, environment = dump_command(instance)
        own = [word for word in command if word != DATABASE]

        def dumped(*words: str) -> bytes:
            done = subprocess.run(
                [*own, "--skip-comments", "--hex-blob", *words],
                env=environment,
                check=True,
                capture_output=True,
            )
            return done.stdout

        tables = dumped(f"--ignore-table-data={DATABASE}.{SAMPLES}", DATABASE)
        samples = dumped("--no-create-info", f"--where=run_id IN ({FEW})", DATABASE, SAMPLES)
    path = DATA / f"bench-{name}.sql.xz"
    path.write_bytes(lzma.compress(tables + samples, preset=9))
    return path


if __name__ == "__main__":
    if len(sys.argv) != 2:
        sys.exit("Say the name: python -m e2e.keep_release NAME")
    print(keep(sys.argv[1]))
