"""Where one installation keeps its things, and its secrets."""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import secrets
import shutil
import socket
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from spindle_ops.elsewhere import Elsewhere, elsewhere_of
from spindle_ops.problem import Problem
from spindle_ops.public import Public, check_workers, refuse_half
from spindle_ops.stands import StandPort, stand_ports
from spindle_ops.zone import first_zone, zone_of

CHECKOUT = Path(__file__).resolve().parents[2]
LONGEST_SOCKET_PATH = 100
LEAST_FREE_BYTES = 400_000_000


@dataclass(frozen=True)
class Instance:
    """One installation: its folder under ``var/``, its ports, and whether it is the demo."""

    name: str
    folder: Path
    port: int
    demo: bool
    stands: tuple[str, ...] = ("simulated",)
    """The stands it knows, see :mod:`spindle_ops.stands`; the bench drives one at a time."""
    public: Public | None = None
    """Where people on other machines reach it, by a proxy on this one."""
    workers: int = 1
    """So many web processes."""

    def __post_init__(self) -> None:
        stand_ports(self.stands, self.port)
        check_workers(self.workers)
        refuse_half(os.environ, self.public)

    @property
    def stand_ports(self) -> tuple[StandPort, ...]:
        """The stands with their ports, the first one first."""
        return stand_ports(self.stands, self.port)

    @property
    def stand_port(self) -> int:
        """Where the first stand is offered."""
        return self.stand_ports[0].port

    @property
    def driven_file(self) -> Path:
        """Which of the stands the agent is linked to; the stop door reads it."""
        return self.run / "driven.json"

    @property
    def database_port(self) -> int:
        """Where MariaDB listens on loopback."""
        return self.port + 2

    @property
    def door_port(self) -> int:
        """Where the stop door listens."""
        return self.port + 3

    @property
    def health_file(self) -> Path:
        """What the launcher says of its processes; the stop door shows it on every page."""
        return self.run / "health.json"

    @property
    def upkeep_file(self) -> Path:
        """What the launcher saw of parts, disk and backups; the web process reads it."""
        return self.run / "upkeep.json"

    @property
    def children_file(self) -> Path:
        """Which processes belong to this installation."""
        return self.run / "children.json"

    @property
    def origins(self) -> list[str]:
        """The page addresses that the stop door lets in."""
        own = [f"http://{host}:{self.port}" for host in ("127.0.0.1", "localhost")]
        if self.public is not None:
            own.append(self.public.origin)
        return [*own, *(o for o in os.environ.get("SPINDLE_ORIGINS", "").split(",") if o)]

    @property
    def address(self) -> str:
        """The address to open."""
        return f"http://127.0.0.1:{self.port}/"

    @property
    def run(self) -> Path:
        """Sockets and process ids. Elsewhere when the path is too long for a socket."""
        wanted = self.folder / "run"
        if len(str(wanted / "mariadb.sock")) <= LONGEST_SOCKET_PATH:
            return wanted
        digest = hashlib.sha256(str(self.folder).encode()).hexdigest()[:12]
        return Path(tempfile.gettempdir()) / f"spindle-{os.getuid()}-{digest}"

    @property
    def log(self) -> Path:
        """One log file per process."""
        return self.folder / "log"

    @property
    def database_socket(self) -> Path:
        """MariaDB's socket."""
        return self.run / "mariadb.sock"

    @property
    def elsewhere(self) -> Elsewhere | None:
        """Where the database is, when it is not this installation's own."""
        return elsewhere_of(self.folder)

    @property
    def client_arguments(self) -> list[str]:
        """How MariaDB's own programs reach the database."""
        there = self.elsewhere
        return there.arguments() if there else [f"--socket={self.database_socket}"]

    @property
    def pid_file(self) -> Path:
        """The launcher's process id and address while it runs."""
        return self.folder / "spindle.pid"

    def prepare(self) -> None:
        """Make the folders, and check rights and disk.

        :raises Problem: no right to write, or too little disk.
        """
        try:
            for folder in (self.folder, self.log, self.run, self.folder / "static"):
                folder.mkdir(parents=True, exist_ok=True)
            probe = self.folder / ".probe"
            probe.write_text("x")
            probe.unlink()
        except OSError as error:
            raise Problem(
                f"Cannot write to {self.folder} ({error.strerror}); "
                "run as the owner of this checkout, or free some disk."
            ) from error
        first_zone(self.folder, demo=self.demo)
        free = shutil.disk_usage(self.folder).free
        if free < LEAST_FREE_BYTES:
            raise Problem(
                f"Only {free / 1e6:.0f} MB are free on the disk of {self.folder}; "
                f"at least {LEAST_FREE_BYTES / 1e6:.0f} MB are needed."
            )

    def secrets(self) -> dict[str, str]:
        """This installation's secrets, made at the first call and kept in a private file."""
        path = self.folder / "secrets.json"
        if not path.exists():
            fresh = {"secret_key": secrets.token_urlsafe(48), "database": secrets.token_urlsafe(24)}
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(handle, "w") as file:
                json.dump(fresh, file)
        try:
            kept: dict[str, str] = json.loads(path.read_text())
            return {"secret_key": kept["secret_key"], "database": kept["database"]}
        except (ValueError, KeyError) as error:
            raise Problem(
                f"{path} is damaged; restore it from a backup, since the database needs it."
            ) from error

    def environment(self) -> dict[str, str]:
        """The environment of every process of this installation."""
        kept = self.secrets()
        environment = {
            key: value
            for key, value in os.environ.items()
            # Without cached bytecode every process starts three times slower.
            if key not in ("PYTHONDONTWRITEBYTECODE", "PYTHONPATH", "DJANGO_SETTINGS_MODULE")
        }
        environment.update(
            PATH=f"{CHECKOUT / '.venv' / 'bin'}{os.pathsep}{environment.get('PATH', '')}",
            SPINDLE_VAR=str(self.folder),
            SPINDLE_SECRET_KEY=kept["secret_key"],
            SPINDLE_DB_PASSWORD=kept["database"],
            SPINDLE_DB_SOCKET=str(self.database_socket),
            SPINDLE_AGENT_SOCKET=str(self.run / "agent.sock"),
            SPINDLE_UPKEEP_FILE=str(self.upkeep_file),
            SPINDLE_DOOR_PORT=str(self.door_port),
            # Derived, so that the door can check a pass without holding the web's own secret.
            SPINDLE_DOOR_KEY=hashlib.sha256(f"stop door {kept['secret_key']}".encode()).hexdigest(),
            SPINDLE_DEMO="1" if self.demo else "0",
            SPINDLE_TIME_ZONE=zone_of(self.folder),
            PYTHONUNBUFFERED="1",
            # Whichever module loads NumPy first: see spindle_core.
            OPENBLAS_NUM_THREADS=environment.get("OPENBLAS_NUM_THREADS", "1"),
            **(self.public.environment() if self.public is not None else {}),
        )
        if (there := self.elsewhere) is not None:
            environment.update(there.environment())
        return environment

    def lock(self) -> IO[str]:
        """Hold the installation; the lock ends with the process.

        :raises Problem: another launcher holds it.
        """
        file = (self.folder / "lock").open("a+")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            file.close()
            running = self.pid_file.read_text().split() if self.pid_file.exists() else []
            where = f" at {running[1]}" if len(running) > 1 else ""
            raise Problem(
                f"Taut Spindle ({self.name}) is running from this checkout already{where}; "
                "./spindle stop ends it."
            ) from error
        return file


def check_ports(instance: Instance) -> None:
    """See that the ports are free.

    :raises Problem: one is not.
    """
    for port, use in (
        (instance.port, "the web page"),
        *((one.port, f"the {one.words}") for one in instance.stand_ports),
        (instance.database_port, "the database"),
        (instance.door_port, "the stop door"),
    ):
        if port == instance.database_port and instance.elsewhere is not None:
            continue
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError as error:
                raise Problem(
                    f"Port {port}, wanted for {use}, is in use ({error.strerror}); "
                    "stop what uses it, or choose another with --port."
                ) from error


def free_port(span: int = 4) -> int:
    """A port that is free together with the ones after it."""
    # Two that look at one moment begin apart.
    for base in range(20_000 + os.getpid() % 1_000 * 16, 60_000, 16):
        try:
            sockets = []
            try:
                for port in range(base, base + span):
                    probe = socket.socket()
                    sockets.append(probe)
                    probe.bind(("127.0.0.1", port))
            finally:
                for probe in sockets:
                    probe.close()
            return base
        except OSError:
            continue
    raise Problem("No free ports were found on this machine.")
