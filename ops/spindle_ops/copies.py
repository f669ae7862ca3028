"""A copy of the database, made before anything is changed in it."""

from __future__ import annotations

import contextlib
import gzip
import os
import shutil
import subprocess
from datetime import datetime
from pathlib import Path

from spindle_ops.instance import Instance
from spindle_ops.problem import Problem

KEPT = 5
"""So many copies are kept, the newest ones."""

DATABASE = "spindle"


def copy_database(instance: Instance, now: datetime | None = None) -> Path:
    """Write every row of a running database into ``copies/`` of the installation's folder.

    :raises Problem: it cannot be written as a whole; then nothing of it is left.
    """
    folder = instance.folder / "copies"
    stamp = (now or datetime.now()).strftime("%Y-%m-%d-%H%M%S")
    path = folder / f"before-{stamp}.sql.gz"
    unfinished = path.with_suffix(".unfinished")
    command, environment = dump_command(instance)
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        with (
            open(unfinished, "wb", opener=for_nobody_else) as raw,
            gzip.open(raw, "wb", compresslevel=3) as out,
            subprocess.Popen(
                command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment
            ) as dump,
        ):
            assert dump.stdout is not None
            assert dump.stderr is not None
            shutil.copyfileobj(dump.stdout, out, 1 << 20)
            said = dump.stderr.read().decode(errors="replace").strip()
        if dump.returncode:
            raise Problem(f"The database could not be copied, so it was not changed: {said[-300:]}")
        unfinished.rename(path)
    except OSError as error:
        raise Problem(
            f"The database could not be copied to {folder} ({error}), so it was not changed."
        ) from error
    finally:
        with contextlib.suppress(OSError):
            unfinished.unlink(missing_ok=True)
    for old in sorted(folder.glob("before-*.sql.gz"))[:-KEPT]:
        old.unlink()
    return path


def dump_command(instance: Instance) -> tuple[list[str], dict[str, str]]:
    """What writes every row of a running database as it is at one moment, and its environment; the
    database's name comes last.

    :raises Problem: the program is not there.
    """
    environment = instance.environment()
    # In the environment and not among the arguments, which everybody on the machine can read.
    environment["MYSQL_PWD"] = environment["SPINDLE_DB_PASSWORD"]
    command = [
        _dump(),
        "--no-defaults",
        *instance.client_arguments,
        "--user=spindle",
        "--single-transaction",
        "--hex-blob",
        "--max-allowed-packet=1G",
        "--default-character-set=utf8mb4",
        DATABASE,
    ]
    return command, environment


def for_nobody_else(path: str, flags: int) -> int:
    """An opener of files that only their owner reads."""
    return os.open(path, flags, 0o600)


def _dump() -> str:
    for name in ("mariadb-dump", "mysqldump"):
        found = shutil.which(name)
        if found:
            return found
    raise Problem("mariadb-dump is not there; it comes with Debian's mariadb-client.")
