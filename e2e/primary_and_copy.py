"""A MariaDB that keeps a log, and another that follows it, on this machine."""

from __future__ import annotations

import contextlib
import os
import pwd
import secrets
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from e2e.cluster_of_three import found, install
from spindle_ops.instance import free_port

HOST = "127.0.0.1"
ANSWERS_WITHIN_S = 40.0

CONFIGURATION = """\
[mariadbd]
datadir={folder}/data
tmpdir={folder}/tmp
socket={folder}/mariadb.sock
pid-file={folder}/mariadb.pid
log-error={folder}/mariadb.log
bind-address={host}
port={port}
skip-name-resolve
local-infile=0
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
max_allowed_packet=64M
innodb_buffer_pool_size=128M
server_id={number}
gtid_strict_mode=1
"""
PRIMARY = """log_bin={folder}/log
binlog_format=ROW
"""
COPY = """read_only=1
"""


@dataclass
class Server:
    """One MariaDB in a folder of its own."""

    folder: Path
    number: int
    port: int
    password: str
    process: subprocess.Popen[bytes] | None = None

    def initialise(self, user: str, *, read_only: bool) -> None:
        """An empty data directory and the configuration."""
        (self.folder / "tmp").mkdir(parents=True)
        path = self.folder / "my.cnf"
        path.write_text(
            (CONFIGURATION + (COPY if read_only else PRIMARY)).format(
                folder=self.folder, host=HOST, port=self.port, number=self.number
            )
        )
        for folder in (self.folder, self.folder / "tmp"):
            shutil.chown(folder, user)
        install(self.folder / "data", user)

    def start(self) -> None:
        """Start it and wait until it answers."""
        own = ["--user=mysql"] if os.geteuid() == 0 else []
        self.process = subprocess.Popen(
            [found("mariadbd"), f"--defaults-file={self.folder / 'my.cnf'}", *own],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        until = time.monotonic() + ANSWERS_WITHIN_S
        while True:
            with contextlib.suppress(AssertionError):
                self.sql("SELECT 1")
                return
            if time.monotonic() > until:
                raise AssertionError(f"{self.folder.name} does not start")
            time.sleep(0.1)

    def sql(self, *statements: str) -> list[list[str]]:
        """Ask as root; the rows of what was asked."""
        command = [found("mariadb"), f"--socket={self.folder / 'mariadb.sock'}", "-N", "-B"]
        done = subprocess.run(
            [*command, "-e", "; ".join(statements)], check=False, capture_output=True, text=True
        )
        if done.returncode:
            raise AssertionError(done.stderr.strip().splitlines()[-1])
        return [line.split("\t") for line in done.stdout.splitlines()]

    def selects(self) -> int:
        """How many questions of rows it was asked since it started."""
        return int(self.sql("SHOW GLOBAL STATUS LIKE 'Com_select'")[0][1])

    def kill(self) -> None:
        """As a power cut does."""
        assert self.process is not None
        self.process.kill()
        self.process.wait(20)

    def stop(self) -> None:
        """End it, as it may be."""
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(30)
            if self.process.poll() is None:
                self.process.kill()


@contextlib.contextmanager
def primary_and_copy() -> Iterator[tuple[Server, Server]]:
    """Two that are set up as docs/cluster.md says."""
    user = "mysql" if os.geteuid() == 0 else pwd.getpwuid(os.geteuid()).pw_name
    password = secrets.token_urlsafe(18)
    with tempfile.TemporaryDirectory(prefix="spindle-copy-") as place:
        folder = Path(place)
        folder.chmod(0o755)
        port = free_port()
        primary = Server(folder / "primary", 1, port, password)
        copy = Server(folder / "copy", 2, port + 1, password)
        try:
            for one in (primary, copy):
                one.initialise(user, read_only=one is copy)
                one.start()
            # What an empty server is begun with is not part of its log.
            primary.sql("RESET MASTER")
            primary.sql(
                f"CREATE USER 'follower'@'{HOST}' IDENTIFIED BY '{password}'",
                f"GRANT REPLICATION SLAVE ON *.* TO 'follower'@'{HOST}'",
                "CREATE DATABASE spindle CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
                f"CREATE USER 'spindle'@'{HOST}' IDENTIFIED BY '{password}'",
                f"GRANT ALL ON spindle.* TO 'spindle'@'{HOST}'",
            )
            copy.sql(
                f"CHANGE MASTER TO MASTER_HOST='{HOST}', MASTER_PORT={primary.port}, "
                f"MASTER_USER='follower', MASTER_PASSWORD='{password}', "
                "MASTER_CONNECT_RETRY=1, MASTER_USE_GTID=slave_pos",
                "START SLAVE",
            )
            yield primary, copy
        finally:
            copy.stop()
            primary.stop()
