"""Three nodes of a Galera cluster on this machine, and HAProxy before them."""

from __future__ import annotations

import contextlib
import os
import pwd
import re
import secrets
import shutil
import subprocess
import tempfile
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from http.server import ThreadingHTTPServer
from pathlib import Path

from spindle_ops.galera import PROVIDER, Node, balancer_configuration, node_configuration
from spindle_ops.instance import free_port
from spindle_ops.node_check import server, status_of

HOST = "127.0.0.1"
JOINS_WITHIN_S = 60.0
CHECKER = "node_check"


def found(name: str) -> str:
    """A program of Debian's packages."""
    path = shutil.which(name, path=f"{os.environ.get('PATH', '')}:/usr/sbin:/usr/local/sbin")
    if path is None:
        raise SystemExit(f"{name} is not installed.")
    return path


def install(data: Path, user: str) -> None:
    """An empty data directory of a server that runs as ``user``, and lets whoever runs this in."""
    me = pwd.getpwuid(os.geteuid()).pw_name
    subprocess.run(
        [
            found("mariadb-install-db"),
            "--no-defaults",
            f"--datadir={data}",
            "--auth-root-authentication-method=socket",
            f"--auth-root-socket-user={me}",
            "--skip-test-db",
            f"--user={user}",
        ],
        check=True,
        capture_output=True,
    )


@dataclass
class Running:
    """One node in a folder of its own."""

    node: Node
    folder: Path
    user: str
    password: str
    process: subprocess.Popen[bytes] | None = None

    @property
    def socket(self) -> str:
        return str(self.folder / "mariadb.sock")

    def initialise(self, members: list[Node]) -> None:
        """An empty data directory and the configuration."""
        (self.folder / "tmp").mkdir(parents=True)
        path = self.folder / "my.cnf"
        path.write_text(node_configuration(self.node, members, self.folder))
        for folder in (self.folder, self.folder / "tmp"):
            shutil.chown(folder, self.user)
        install(self.folder / "data", self.user)

    def _command(self, *more: str) -> list[str]:
        return [found("mariadbd"), f"--defaults-file={self.folder / 'my.cnf'}", *more]

    def start(self, *, first: bool = False) -> None:
        """Begin a cluster, or join the one there is from where this node stood."""
        more = ["--wsrep-new-cluster"] if first else self._from_where_it_stood()
        self.process = self._open(more)

    def _open(self, more: list[str]) -> subprocess.Popen[bytes]:
        other = self.user if os.geteuid() == 0 else None
        return subprocess.Popen(
            self._command(*more),
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
            user=other,
            group=pwd.getpwnam(other).pw_gid if other else None,
            extra_groups=[] if other else None,
        )

    def _from_where_it_stood(self) -> list[str]:
        """What a node that was killed last held, so that it is given only what it lacks."""
        told = self.folder / "recovered.log"
        told.unlink(missing_ok=True)
        told.touch()
        shutil.chown(told, self.user)
        self._open(["--wsrep-recover", f"--log-error={told}"]).wait(60)
        text = told.read_text(errors="replace")
        position = re.search(r"Recovered position:?\s*([0-9a-f-]{36}:-?\d+)", text)
        return [f"--wsrep_start_position={position.group(1)}"] if position else []

    def status(self) -> dict[str, str]:
        return status_of(self.socket, CHECKER, self.password)

    def size(self) -> int:
        """How many nodes it sees, itself counted, once it has caught up; else 0."""
        said = self.status()
        if said.get("wsrep_local_state") != "4" or said.get("wsrep_ready") != "ON":
            return 0
        return int(said.get("wsrep_cluster_size", "0"))

    def sql(self, statement: str, *, root: bool = False) -> list[list[str]]:
        """Rows of a statement, asked of this node itself."""
        command = [found("mariadb"), "--no-defaults", f"--socket={self.socket}", "-N", "-B"]
        environment = dict(os.environ)
        if root:
            command.append(f"--user={pwd.getpwuid(os.geteuid()).pw_name}")
        else:
            command += ["--user=spindle", "spindle"]
            environment["MYSQL_PWD"] = self.password
        done = subprocess.run(
            [*command, "-e", statement],
            check=False,
            capture_output=True,
            text=True,
            env=environment,
        )
        if done.returncode:
            raise AssertionError(done.stderr.strip().splitlines()[-1])
        return [line.split("\t") for line in done.stdout.splitlines()]

    def kill(self) -> None:
        """As a power cut does."""
        assert self.process is not None
        self.process.kill()
        self.process.wait(20)

    def stop(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(30)
            if self.process.poll() is None:
                self.process.kill()


@dataclass
class Cluster:
    """The nodes and the balancer's port."""

    nodes: list[Running]
    port: int
    password: str
    checks: list[ThreadingHTTPServer] = field(default_factory=list)

    def wait_for(self, size: int, within_s: float = JOINS_WITHIN_S) -> float:
        """Seconds until so many nodes have caught up, seen by each of them."""
        begun = time.monotonic()
        while time.monotonic() - begun < within_s:
            seen = [one.size() for one in self.nodes]
            if seen.count(size) == size:
                return time.monotonic() - begun
            time.sleep(0.1)
        raise AssertionError(f"no cluster of {size} within {within_s:.0f} s: {seen}")


def _nodes(folder: Path, user: str, password: str) -> list[Running]:
    first = free_port(16)
    made = [
        Node(name, HOST, *(first + 5 * k + part for part in range(5)))
        for k, name in enumerate(("one", "two", "three"))
    ]
    return [Running(node, folder / node.name, user, password) for node in made]


def _accounts(first: Running, password: str) -> None:
    statements = [
        "CREATE DATABASE spindle CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
        f"CREATE USER '{CHECKER}'@'localhost' IDENTIFIED BY '{password}'",
    ]
    for host in ("localhost", HOST):
        account = f"'spindle'@'{host}'"
        statements += [
            f"CREATE USER {account} IDENTIFIED BY '{password}'",
            f"GRANT ALL ON spindle.* TO {account}",
        ]
    until = time.monotonic() + JOINS_WITHIN_S
    while True:
        try:
            first.sql("; ".join(statements), root=True)
            return
        except AssertionError:
            if time.monotonic() > until:
                raise
            time.sleep(0.2)


@contextlib.contextmanager
def cluster_of_three() -> Iterator[Cluster]:
    """Three nodes that are one cluster, reached at one port."""
    if not PROVIDER.exists():
        raise SystemExit(f"{PROVIDER} is not there; it comes with Debian's galera-4.")
    user = "mysql" if os.geteuid() == 0 else pwd.getpwuid(os.geteuid()).pw_name
    password = secrets.token_urlsafe(18)
    with tempfile.TemporaryDirectory(prefix="spindle-cluster-") as place:
        folder = Path(place)
        folder.chmod(0o755)
        nodes = _nodes(folder, user, password)
        members = [one.node for one in nodes]
        port = members[-1].check + 1
        cluster = Cluster(nodes, port, password)
        balancer: subprocess.Popen[bytes] | None = None
        try:
            for one in nodes:
                one.initialise(members)
            nodes[0].start(first=True)
            _accounts(nodes[0], password)
            cluster.wait_for(1)
            for size, one in enumerate(nodes[1:], start=2):
                one.start()
                cluster.wait_for(size)
            for one in nodes:
                check = server(HOST, one.node.check, one.socket, CHECKER, password)
                cluster.checks.append(check)
                threading.Thread(target=check.serve_forever, daemon=True).start()
            path = folder / "haproxy.cfg"
            path.write_text(balancer_configuration(f"{HOST}:{port}", members))
            balancer = subprocess.Popen(
                [found("haproxy"), "-f", str(path), "-db"],
                stdout=subprocess.DEVNULL,
                stderr=(folder / "haproxy.log").open("wb"),
            )
            yield cluster
        finally:
            if balancer is not None:
                balancer.terminate()
                balancer.wait(20)
            for check in cluster.checks:
                check.shutdown()
            for one in reversed(nodes):
                one.stop()
