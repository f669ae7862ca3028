"""A database on other machines: one MariaDB, or the balancer of a Galera cluster.

Where it is stays in the installation's folder, so that every later command finds it.
"""

from __future__ import annotations

import contextlib
import json
import os
import socket
import time
from dataclasses import dataclass, replace
from pathlib import Path

from spindle_ops.problem import Problem

FILE = "database.json"
ANSWERS_WITHIN_S = 40.0
HERE = "here"
NONE = "none"
PASSWORD = "SPINDLE_DB_PASSWORD"  # noqa: S105 - the name of a variable


@dataclass(frozen=True)
class Elsewhere:
    """Where the database answers, and the password of its user ``spindle``."""

    host: str
    port: int
    password: str
    copy: tuple[str, int] | None = None
    """Where a copy for reading answers, to the same user."""

    def environment(self) -> dict[str, str]:
        """What the server's settings read."""
        told = {
            "SPINDLE_DB_HOST": self.host,
            "SPINDLE_DB_PORT": str(self.port),
            PASSWORD: self.password,
        }
        if self.copy is not None:
            told |= {
                "SPINDLE_DB_COPY_HOST": self.copy[0],
                "SPINDLE_DB_COPY_PORT": str(self.copy[1]),
            }
        return told

    def arguments(self) -> list[str]:
        """How MariaDB's own programs reach it."""
        return ["--protocol=tcp", f"--host={self.host}", f"--port={self.port}"]


def elsewhere_of(folder: Path) -> Elsewhere | None:
    """Where the database of an installation is, unless it is its own.

    :raises Problem: what says so is damaged.
    """
    path = folder / FILE
    if not path.exists():
        return None
    try:
        kept = json.loads(path.read_text())
        there = Elsewhere(str(kept["host"]), int(kept["port"]), str(kept["password"]))
        copy = kept.get("copy")
        return replace(there, copy=copy and (str(copy["host"]), int(copy["port"])))
    except (ValueError, KeyError, TypeError) as error:
        raise Problem(
            f"{path} is damaged; say --database HOST:PORT again, or --database {HERE}."
        ) from error


def choose(folder: Path, text: str) -> None:
    """Keep where the database is: ``HOST:PORT``, or ``here`` for the installation's own. Another
    database has other copies: the one for reading is forgotten.

    :raises Problem: neither of the two, no password in the environment, or a database here that
        holds the record already.
    """
    path = folder / FILE
    if text == HERE:
        path.unlink(missing_ok=True)
        return
    host, port = _place("--database", text, HERE)
    password = os.environ.get(PASSWORD, "")
    if not password:
        raise Problem(
            f"Set {PASSWORD} to the password that the database's user 'spindle' has there."
        )
    if (folder / "mariadb" / "data" / "mysql").exists():
        raise Problem(
            f"{folder} has a database of its own. Back it up, restore it into the other "
            "(docs/cluster.md says how), and choose a folder that is new."
        )
    folder.mkdir(parents=True, exist_ok=True)
    _keep(path, Elsewhere(host, port, password))


def choose_copy(folder: Path, text: str) -> None:
    """Keep where the database's copy for reading is: ``HOST:PORT``, or ``none``.

    :raises Problem: neither of the two, or a database of the installation's own, which keeps no log
        that a copy could follow.
    """
    there = elsewhere_of(folder)
    if text == NONE:
        if there is not None:
            _keep(folder / FILE, replace(there, copy=None))
        return
    place = _place("--reading", text, NONE)
    if there is None:
        raise Problem(
            "--reading goes with --database: a copy follows a database that keeps a log, which "
            "the one in this folder does not (docs/cluster.md)."
        )
    if place == (there.host, there.port):
        raise Problem(f"--reading names the database itself; got {text!r}.")
    _keep(folder / FILE, replace(there, copy=place))


def _place(option: str, text: str, other: str) -> tuple[str, int]:
    host, _, port = text.rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65_536:
        raise Problem(f"{option} is HOST:PORT, or {other!r}; got {text!r}.")
    return host.strip("[]"), int(port)


def _keep(path: Path, there: Elsewhere) -> None:
    told: dict[str, object] = {"host": there.host, "port": there.port, "password": there.password}
    if there.copy is not None:
        told["copy"] = {"host": there.copy[0], "port": there.copy[1]}
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w") as file:
        json.dump(told, file)


class DatabaseElsewhere:
    """In the place of the private server: nothing to start, to end or to revive here."""

    process: None = None

    def __init__(self, there: Elsewhere) -> None:
        self.there = there

    def start(self) -> None:
        """Wait until it answers.

        :raises Problem: it does not.
        """
        until = time.monotonic() + ANSWERS_WITHIN_S
        while time.monotonic() < until:
            with (
                contextlib.suppress(OSError),
                socket.create_connection((self.there.host, self.there.port), 2.0) as line,
            ):
                line.settimeout(2.0)
                if line.recv(1):
                    return
            time.sleep(0.2)
        raise Problem(
            f"No database answers at {self.there.host}:{self.there.port}. Is the balancer up, and "
            "does it reach a node that belongs to the majority?"
        )

    def stop(self) -> None:
        """It goes on for others."""

    def kill(self) -> None:
        """Not ours to end."""

    def end_left_over(self) -> None:
        """Nothing of it is ours."""
