"""Starting, watching and stopping the processes of one installation."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Any

from spindle_ops.child import Child
from spindle_ops.copies import copy_database
from spindle_ops.elsewhere import DatabaseElsewhere
from spindle_ops.health import Act, Prober, line_answers, web_answers, write_troubles
from spindle_ops.instance import CHECKOUT, Instance, check_ports
from spindle_ops.leftovers import end_leftovers, record
from spindle_ops.mariadb import Database
from spindle_ops.problem import Problem
from spindle_ops.setup import PYTHON, manage, say
from spindle_ops.stands import StandPort
from spindle_ops.upkeep import Upkeep

ANSWERS_WITHIN_S = 40.0
REDUCED_FIRST_S = 60.0
"""So long a new version makes old figures again before the bench opens; the rest follows while
it is open."""
PROGRESS = "  demo: "
"""So begin the lines in which the loader of the demo says how far it is."""

BUSY = frozenset({"armed", "running", "aborting", "coasting", "watching"})
"""States of the bench in which nothing else is begun."""


def stand_command(stand: StandPort) -> list[str]:
    """How a stand's process is started: the simulated one, or the driver of a device."""
    return [*stand.command(str(PYTHON)), *(stand_patience() if stand.simulated else [])]


def stands_told(instance: Instance) -> list[str]:
    """The stands as agent and stop door are told of them."""
    return [f"--stand={one.port}={one.words}" for one in instance.stand_ports]


def database_of(instance: Instance) -> Database | DatabaseElsewhere:
    """The private server of an installation, or the one elsewhere that it was told of."""
    there = instance.elsewhere
    return Database(instance) if there is None else DatabaseElsewhere(there)


class Supervisor:
    """All processes of one installation, from start to stop."""

    def __init__(self, instance: Instance) -> None:
        self.instance = instance
        self.database = database_of(instance)
        there = instance.elsewhere
        environment = instance.environment()
        python = str(PYTHON)
        # The order of starting; stopping goes the other way but for the agent, which is first
        # so that it can still make the stand safe.
        self.children = [
            *(
                Child(
                    one.words,
                    stand_command(one),
                    environment,
                    instance.log / f"stand{number or ''}.log",
                    foremost=True,
                )
                for number, one in enumerate(instance.stand_ports)
            ),
            Child(
                "web process",
                [
                    python,
                    "-m",
                    "uvicorn",
                    "spindle_server.asgi:application",
                    "--host",
                    "127.0.0.1",
                    "--port",
                    str(instance.port),
                    "--no-access-log",
                    *trusted_proxy(instance),
                    "--workers",
                    str(instance.workers),
                    "--lifespan",
                    "off",
                    "--timeout-graceful-shutdown",
                    "2",
                    "--log-level",
                    "warning",
                ],
                {**environment, "SPINDLE_DB_ANSWERS_WITHIN_S": "10"},
                instance.log / "web.log",
            ),
            Child(
                "stop door",
                [
                    python,
                    "-m",
                    "spindle_bench.door.process",
                    "--port",
                    str(instance.door_port),
                    *stands_told(instance),
                    "--driven",
                    str(instance.driven_file),
                    "--agent-socket",
                    str(instance.run / "agent.sock"),
                    "--health",
                    str(instance.health_file),
                    *(f"--origin={origin}" for origin in instance.origins),
                ],
                environment,
                instance.log / "door.log",
                foremost=True,
            ),
            Child(
                "long work",
                [python, "-m", "spindle_server", "long_work"],
                environment,
                instance.log / "work.log",
            ),
            Child(
                "bench agent",
                [
                    python,
                    "-m",
                    "spindle_server",
                    "bench_agent",
                    *stands_told(instance),
                    "--driven",
                    str(instance.driven_file),
                ],
                {**environment, "SPINDLE_DB_ANSWERS_WITHIN_S": "10"},
                instance.log / "agent.log",
                foremost=True,
            ),
        ]
        self.prober = Prober(
            {
                **{
                    one.words: line_answers(
                        ("127.0.0.1", one.port), {"type": "hello", "protocol": "stand/1"}
                    )
                    for one in instance.stand_ports
                },
                "web process": web_answers(instance.port),
                "stop door": web_answers(instance.door_port),
                "bench agent": line_answers(instance.run / "agent.sock", {"do": "status"}),
                "database": line_answers(
                    (there.host, there.port) if there else instance.database_socket, None
                ),
            }
        )
        self.upkeep = Upkeep(instance, self._parts, self._bench_is_busy)
        self._lock: IO[str] | None = None

    def start(self) -> str:
        """Start everything and wait for the page; returns what setting up had to say."""
        self._lock = self.instance.lock()
        # What a killed launcher left holds the ports.
        if left := end_leftovers(self.instance.children_file):
            say(f"Ended what an earlier start had left: {', '.join(left)}.")
        self.database.end_left_over()
        check_ports(self.instance)
        write_troubles(self.instance.health_file, [])
        # Stand and web take a second to load and need no database for that.
        *stands, web, door, work, agent = self.children
        for stand in stands:
            stand.start()
        web.start()
        door.start()
        self.database.start()
        self._record()
        said = self._prepare_data()
        agent.start()
        work.start()
        self._record()
        self._wait_for_page()
        self.prober.start()
        self.upkeep.start()
        own = Path("/proc/self").resolve().name
        self.instance.pid_file.write_text(f"{own} {self.instance.address}")
        return said

    def _prepare_data(self) -> str:
        migrate(self.instance)
        if self.instance.demo:
            return self._demo()
        done = subprocess.run(
            [str(PYTHON), "-m", "spindle_server", "first_start"],
            check=False,
            capture_output=True,
            text=True,
            env=self.instance.environment(),
            cwd=CHECKOUT,
        )
        if done.returncode:
            raise Problem(f"The first account could not be made: {done.stderr.strip()[-200:]}")
        return done.stdout.strip()

    def _demo(self) -> str:
        logins = self.instance.folder / "demo-logins.json"
        if not logins.exists():
            say("Loading the demo")
            manage(self.instance, "load_demo", tell=_tell_progress)
        lines = ["Demo logins:"]
        for login in json.loads(logins.read_text()):
            lines.append(
                f"  {login['username']:<8} {login['password']:<16} {login['name']}, {login['role']}"
            )
        return "\n".join(lines)

    def _wait_for_page(self) -> None:
        until = time.monotonic() + ANSWERS_WITHIN_S
        while time.monotonic() < until:
            for child in self.children:
                if child.process is not None and child.process.poll() is not None:
                    raise Problem(f"The {child.name} did not start; see {child.log}.")
            try:
                with urllib.request.urlopen(self.instance.address, timeout=2) as answer:  # noqa: S310
                    if answer.status == 200:
                        return
            except (urllib.error.URLError, OSError):
                time.sleep(0.05)
        raise Problem(f"The page did not answer; see {self.instance.log / 'web.log'}.")

    def _record(self) -> None:
        """Write down what runs, for a start after this launcher was killed."""
        pids = {c.name: c.process.pid for c in self.children if c.process is not None}
        if self.database.process is not None:
            pids["database"] = self.database.process.pid
        record(self.instance.children_file, pids)

    def watch(self) -> None:
        """Keep everything running until the launcher is told to end."""
        said: list[str] = []
        while True:
            time.sleep(0.2)
            if self._revive():
                self._record()
            troubles = [*self._judge(time.monotonic()), *self.upkeep.troubles]
            if troubles != said:
                said = troubles
                write_troubles(self.instance.health_file, troubles)

    def _parts(self) -> list[dict[str, Any]]:
        """Every process as it is now, for the page *Upkeep*."""
        now = time.monotonic()
        found = []
        for child in self.children:
            running = child.process is not None and child.process.poll() is None
            found.append(self._part(child.name, running, now, child.restarts))
        process = self.database.process
        found.append(self._part("database", process is not None and process.poll() is None, now, 0))
        return found

    def _part(self, name: str, running: bool, now: float, restarts: int) -> dict[str, Any]:
        watch = self.prober.watches.get(name)
        return {
            "name": name,
            "running": running,
            # Long work answers nobody while it is at something; that it runs has to do.
            "silent_s": None if watch is None else round(max(0.0, now - watch.answered), 1),
            "answers": running and not (watch is not None and watch.told),
            "restarts": restarts,
        }

    def _bench_is_busy(self) -> bool:
        """Whether something is armed or turns; an agent that does not answer holds nothing up."""
        with (
            contextlib.suppress(OSError, ValueError, LookupError, TypeError),
            socket.socket(socket.AF_UNIX) as line,
        ):
            line.settimeout(2.0)
            line.connect(str(self.instance.run / "agent.sock"))
            line.sendall(b'{"do": "status"}\n')
            return json.loads(line.makefile().readline())["frame"]["state"] in BUSY
        return False

    def _revive(self) -> bool:
        changed = False
        for child in self.children:
            if child.revive():
                if child.name in self.prober.watches:
                    self.prober.watches[child.name].begin(time.monotonic())
                changed = True
        if self.database.process is not None and self.database.process.poll() is not None:
            say("The database ended; starting it again.")
            self.database.start()
            self.prober.watches["database"].begin(time.monotonic())
            changed = True
        return changed

    def _judge(self, now: float) -> list[str]:
        """Tell and act on what does not answer; returns what the pages shall show."""
        troubles = []
        for name, watch in self.prober.watches.items():
            act = watch.judge(now)
            if act is Act.TELL:
                say(watch.sentence(now))
            elif act is Act.WELL_AGAIN:
                say(f"The {name} answers again.")
            elif act is Act.RESTART:
                say(f"The {name} does not answer; ending it, to start it again.")
                self._end_hung(name)
            if watch.told:
                troubles.append(watch.sentence(now))
        return troubles

    def _end_hung(self, name: str) -> None:
        if name == "database":
            self.database.kill()
        for child in self.children:
            if child.name == name:
                child.kill()

    def _ends_within_s(self, name: str) -> float:
        """How long a process may take to end [s]."""
        watch = self.prober.watches.get(name)
        # Long work answers nobody: what it was at is named at the next start. One that has not
        # answered for a while will not hear that it shall end either.
        return 2.0 if watch is None or watch.told else 10.0

    def stop(self) -> None:
        """Stop everything; the agent first, which makes the stand safe."""
        self.prober.stop()
        self.upkeep.stop()
        for child in reversed(self.children):
            child.stop(self._ends_within_s(child.name))
        self.database.stop()
        home = self.instance
        for path in (home.children_file, home.health_file, home.upkeep_file):
            path.unlink(missing_ok=True)
        self.instance.pid_file.unlink(missing_ok=True)
        if self._lock is not None:
            self._lock.close()
            self._lock = None


def trusted_proxy(instance: Instance) -> list[str]:
    """Whose word is taken for where a request comes from: the proxy's on this machine, where there
    is one by configuration; else nobody's."""
    if instance.public is None:
        return ["--no-proxy-headers"]
    return ["--proxy-headers", "--forwarded-allow-ips", "127.0.0.1"]


def stand_patience() -> list[str]:
    """Options for a stand on a machine that its host often stops.

    ``SPINDLE_STAND_HEARTBEAT_MS`` lengthens how long the *simulated* stand waits for its owner;
    never shorter than the protocol's 300 ms, and of no effect on a real stand.

    :raises Problem: not 300 to 1000 ms; the agent arms no more patient stand.
    """
    text = os.environ.get("SPINDLE_STAND_HEARTBEAT_MS", "")
    if not text:
        return []
    if not text.isdigit() or not 300 <= int(text) <= 1000:
        raise Problem(f"SPINDLE_STAND_HEARTBEAT_MS is {text!r}; it is 300 to 1000 ms.")
    return ["--heartbeat-ms", text]


def _migrations() -> str:
    files = sorted((CHECKOUT / "server").rglob("migrations/*.py"))
    return "\n".join(f"{path.parent.parent.name}/{path.name}" for path in files)


def known_migrations() -> str:
    """What this checkout migrates a database to: a line for each migration, and the core's
    version."""
    core = (CHECKOUT / "core" / "pyproject.toml").read_text().partition('version = "')[2]
    return f"{_migrations()}\ncore {core.partition(chr(34))[0]}"


def migrate(instance: Instance) -> None:
    """Bring the database to the checkout's migrations, and its figures to the checkout's core."""
    stamp = instance.folder / "migrated"
    wanted = known_migrations()
    if not stamp.exists() or stamp.read_text() != wanted:
        say("Preparing the database")
        if stamp.exists():
            say(f"It was copied to {copy_database(instance)}")
        manage(instance, "prepare_database")
        manage(instance, "reduce_stale", "--within-s", f"{REDUCED_FIRST_S:g}")
        manage(instance, "identify_stale")
        stamp.write_text(wanted)


@contextlib.contextmanager
def database_alone(instance: Instance) -> Iterator[None]:
    """The migrated database of an installation, with nothing else running on it."""
    lock = instance.lock()
    database = database_of(instance)
    try:
        database.start()
        migrate(instance)
        yield
    finally:
        database.stop()
        lock.close()


def serve(instance: Instance, *, started: float) -> None:
    """Run one installation in the foreground until Ctrl-C or SIGTERM."""

    def end(number: int, frame: object) -> None:
        raise KeyboardInterrupt

    for name in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(name, end)
    supervisor = Supervisor(instance)
    try:
        said = supervisor.start()
        say("")
        took = time.monotonic() - started
        say(f"Taut Spindle is at {instance.address}  (ready after {took:.1f} s)")
        if instance.public is not None:
            say(f"For other machines at {instance.public.origin}, by the proxy.")
        if said:
            say(said)
        say("Ctrl-C stops it.")
        supervisor.watch()
    except KeyboardInterrupt:
        say("\nStopping.")
    finally:
        for name in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            signal.signal(name, signal.SIG_IGN)
        supervisor.stop()
    sys.stdout.flush()


def _tell_progress(line: str) -> None:
    """Show how far the demo is; the rest of what loading it says is its log."""
    if line.startswith(PROGRESS):
        say(f"  {line.removeprefix(PROGRESS)}")
