"""The private MariaDB: its own data directory, socket and port, on loopback only."""

from __future__ import annotations

import contextlib
import ctypes
import os
import pwd
import shutil
import signal
import socket
import stat
import subprocess
import time
from pathlib import Path

from spindle_ops.instance import Instance
from spindle_ops.problem import Problem

STARTS_WITHIN_S = 40.0
LEFT_OVER_ENDS_WITHIN_S = 10.0
_PR_SET_PDEATHSIG = 1

CONFIGURATION = """\
[mariadbd]
datadir={data}
tmpdir={temporary}
socket={socket}
pid-file={pid}
port={port}
bind-address=127.0.0.1
skip-name-resolve
skip-log-bin
local-infile=0
symbolic-links=0
character-set-server=utf8mb4
collation-server=utf8mb4_unicode_ci
sql-mode=STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO
max_allowed_packet=64M
innodb_buffer_pool_size={pool}M
{durability}
init-file={init}
log-error={log}
log-warnings=1

[client]
socket={socket}
"""


DURABLE = "innodb_flush_log_at_trx_commit=1"
FORGETFUL = """\
innodb_flush_log_at_trx_commit=0
innodb_flush_method=nosync
innodb_doublewrite=0"""
"""Of tests, whose database is thrown away: nothing waits for the disk."""

LEAST_POOL_MB, MOST_POOL_MB = 256, 1024


def pool_mb(memory_bytes: int) -> int:
    """How much of the record the database may keep in memory [MB]: an eighth of the machine's, in
    bounds. It takes what it comes to use. With 256 MB, half of what is asked of 50,000 runs came
    from the disk.
    """
    return max(LEAST_POOL_MB, min(MOST_POOL_MB, memory_bytes // 8 // 1_000_000))


def die_with_parent() -> None:
    """A child of a launcher that was killed must not live on."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


class Database:
    """One private server. ``durable`` is relaxed only for tests."""

    def __init__(self, instance: Instance, *, durable: bool = True) -> None:
        self.instance = instance
        self.folder = instance.folder / "mariadb"
        self.data = self.folder / "data"
        self.temporary = self.folder / "tmp"
        """Of its own: a server that starts throws away what others left in a common one, though
        they may be at it."""
        self.configuration = self.folder / "my.cnf"
        self.log = instance.log / "mariadb.log"
        self.pid_file = instance.run / "mariadb.pid"
        self.durable = durable
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Initialise if new, start, and wait until it answers.

        :raises Problem: it does not start.
        """
        self.end_left_over()
        fresh = not (self.data / "mysql").exists()
        if fresh and self.data.exists() and any(self.data.iterdir()):
            raise Problem(
                f"{self.data} holds files but no database; an earlier set-up was cut short. "
                "Move that folder away and start again."
            )
        user = self._user()
        self._write_configuration(user)
        if fresh:
            self._initialise(user)
        # What a killed server left would look like one that is ready.
        self.pid_file.unlink(missing_ok=True)
        self.instance.database_socket.unlink(missing_ok=True)
        # The user is changed before the server starts: one that changed it by itself would lose
        # the order to end with its launcher.
        other = user if user and user != "root" else None
        own = ["--user=root"] if user == "root" else []
        self.process = subprocess.Popen(
            [_find("mariadbd"), f"--defaults-file={self.configuration}", *own],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=die_with_parent,
            user=other,
            group=pwd.getpwnam(other).pw_gid if other else None,
            extra_groups=[] if other else None,
        )
        self._wait()

    def stop(self) -> None:
        """Shut down cleanly."""
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            try:
                self.process.wait(30)
            except subprocess.TimeoutExpired:
                self.process.kill()
                self.process.wait()
        self.process = None

    def kill(self) -> None:
        """End it at once: it does not answer. The next start recovers every acknowledged commit."""
        if self.process is not None and self.process.poll() is None:
            self.process.kill()
            self.process.wait()

    def _wait(self) -> None:
        assert self.process is not None
        until = time.monotonic() + STARTS_WITHIN_S
        while time.monotonic() < until:
            if self.process.poll() is not None:
                raise Problem(self._why_not())
            if self.pid_file.exists() and self._greets():
                return
            time.sleep(0.05)
        self.stop()
        raise Problem(f"The database did not start within {STARTS_WITHIN_S:.0f} s; see {self.log}.")

    def _greets(self) -> bool:
        """Whether it speaks to who connects: its socket is there some time before it does, and an
        order to end that arrives in between is lost."""
        with contextlib.suppress(OSError), socket.socket(socket.AF_UNIX) as line:
            line.settimeout(1.0)
            line.connect(str(self.instance.database_socket))
            return bool(line.recv(1))
        return False

    def _why_not(self) -> str:
        text = self.log.read_text(errors="replace")[-6000:] if self.log.exists() else ""
        if "No space left" in text or "OS errno 28" in text:
            return "The database cannot start: the disk is full."
        if "Permission denied" in text or "OS errno 13" in text:
            return f"The database cannot start: it may not read or write {self.data}."
        if "Address already in use" in text:
            return f"The database cannot start: port {self.instance.database_port} is in use."
        return (
            f"The database in {self.data} does not start; the reason is at the end of {self.log}. "
            "If the folder is broken, move it away and start again, or restore a backup."
        )

    def _user(self) -> str | None:
        """The system user to run as: None when we are an ordinary user."""
        if os.geteuid() != 0:
            return None
        if self.data.exists():
            return pwd.getpwuid(self.data.stat().st_uid).pw_name
        try:
            pwd.getpwnam("mysql")
        except KeyError:
            return "root"
        parents = [self.folder.parent, *self.folder.parent.parents]
        reachable = all(parent.stat().st_mode & stat.S_IXOTH for parent in parents)
        return "mysql" if reachable else "root"

    def _write_configuration(self, user: str | None) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        self.temporary.mkdir(mode=0o700, exist_ok=True)
        init = self.folder / "init.sql"
        self.configuration.write_text(
            CONFIGURATION.format(
                data=self.data,
                temporary=self.temporary,
                socket=self.instance.database_socket,
                pid=self.pid_file,
                port=self.instance.database_port,
                init=init,
                log=self.log,
                durability=DURABLE if self.durable else FORGETFUL,
                pool=pool_mb(os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")),
            )
        )
        password = self.instance.secrets()["database"]
        lines = [
            "CREATE DATABASE IF NOT EXISTS spindle CHARACTER SET utf8mb4 "
            "COLLATE utf8mb4_unicode_ci;"
        ]
        # With skip-name-resolve, localhost (the socket) and 127.0.0.1 (the port) are two hosts.
        for host in ("localhost", "127.0.0.1"):
            account = f"'spindle'@'{host}'"
            lines += [
                f"CREATE USER IF NOT EXISTS {account} IDENTIFIED BY '{password}';",
                f"ALTER USER {account} IDENTIFIED BY '{password}';",
                f"GRANT ALL ON spindle.* TO {account};",
                f"GRANT ALL ON `test\\_spindle%`.* TO {account};",
            ]
        init.touch(mode=0o600)
        init.write_text("\n".join(lines) + "\n")
        self.log.touch()
        if user and user != "root":
            for path in (self.folder, self.temporary, init, self.log, self.instance.run):
                shutil.chown(path, user)

    def _initialise(self, user: str | None) -> None:
        command = [
            _find("mariadb-install-db"),
            "--no-defaults",
            f"--datadir={self.data}",
            "--auth-root-authentication-method=socket",
            "--skip-test-db",
        ]
        if user:
            command.append(f"--user={user}")
        done = subprocess.run(command, check=False, capture_output=True, text=True)
        if done.returncode != 0:
            shutil.rmtree(self.data, ignore_errors=True)
            last = (done.stderr or done.stdout).strip().splitlines()[-1:] or ["no reason given"]
            raise Problem(f"The database could not be set up in {self.data}: {last[0]}")

    def end_left_over(self) -> None:
        """End a server that an earlier launcher left behind; it is ours by its configuration."""
        try:
            pid = int(self.pid_file.read_text())
            command_line = Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace")
        except (OSError, ValueError):
            return
        if str(self.configuration) not in command_line:
            return
        os.kill(pid, signal.SIGTERM)
        until = time.monotonic() + LEFT_OVER_ENDS_WITHIN_S
        while Path(f"/proc/{pid}").exists() and time.monotonic() < until:
            time.sleep(0.05)
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def _find(name: str) -> str:
    for folder in (None, "/usr/sbin", "/usr/local/sbin"):
        found = shutil.which(name, path=folder)
        if found:
            return found
    raise Problem(f"{name} is not installed; it comes with Debian's package mariadb-server.")
