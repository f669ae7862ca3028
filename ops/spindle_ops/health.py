"""Whether each process of an installation answers: asked once a second, told, and acted on.

A process that runs but does not answer (stopped, swapped out, deadlocked) is told on the terminal
and, through the stop door, on every open page. It is started again where that is safe.
"""

from __future__ import annotations

import contextlib
import json
import socket
import threading
import time
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import Enum
from pathlib import Path

ASK_EVERY_S = 1.0
ANSWER_WITHIN_S = 1.0
STARTS_WITHIN_S = 40.0
ASKED_IN_VAIN = 2
"""So often a process was asked without an answer before its silence counts: where this machine or
the launcher itself stood still, nobody was asked, and nobody is to blame."""


class Act(Enum):
    """What to do about a process."""

    NOTHING = "nothing"
    TELL = "tell"
    RESTART = "restart"
    WELL_AGAIN = "well again"


@dataclass(frozen=True)
class Patience:
    """How long a process may be silent before it is told, and before it is started again [s].

    ``while_silent``: what that means for the person at the bench.
    """

    tell_s: float
    restart_s: float
    while_silent: str


WITH_A_STAND = Patience(
    2.0, 12.0, "Nothing can be confirmed: cut the supply by hand if anything turns."
)
PATIENCE = {
    "web process": Patience(3.0, 10.0, "A run goes on, and STOP works."),
    "stop door": Patience(1.5, 3.0, "STOP goes the long way, by the web process."),
    "bench agent": Patience(1.5, 6.0, "The stand cuts by itself; STOP works."),
    "database": Patience(3.0, 30.0, "A run goes on, STOP works, and runs wait on disk."),
}
"""Restarting is safe: the agent's death cuts the throttle at the stand, the others raise none. The
database is given longest, since what looks like a hang may be a slow disk."""


@dataclass
class Watch:
    """The silence of one process. It is not judged before it has answered once, or for too long."""

    name: str
    answered: float = 0.0
    in_vain: int = 0
    seen: bool = False
    told: bool = False
    acted: bool = False

    def begin(self, now: float) -> None:
        """It was started."""
        self.answered, self.in_vain, self.seen, self.acted = now, 0, False, False

    def heard(self, now: float) -> None:
        """It answered."""
        self.answered, self.in_vain, self.seen = now, 0, True

    def not_heard(self) -> None:
        """It was asked, and did not answer in time."""
        self.in_vain += 1

    @property
    def patience(self) -> Patience:
        """How long it is waited for; a stand is called by its port."""
        return PATIENCE.get(self.name, WITH_A_STAND)

    def judge(self, now: float) -> Act:
        """What its silence asks for now; each act is asked for once."""
        patience, silent_s = self.patience, now - self.answered
        allowed = 0.0 if self.seen else STARTS_WITHIN_S
        if self.in_vain < ASKED_IN_VAIN and silent_s > patience.tell_s:
            return Act.NOTHING
        if silent_s > patience.restart_s + allowed and not self.acted:
            self.acted = True
            return Act.RESTART
        if silent_s > patience.tell_s + allowed and not self.told:
            self.told = True
            return Act.TELL
        if self.told and self.seen and silent_s <= patience.tell_s:
            self.told = False
            return Act.WELL_AGAIN
        return Act.NOTHING

    def sentence(self, now: float) -> str:
        """The trouble in words."""
        silent = f"{now - self.answered:.0f}"
        return f"The {self.name} has not answered for {silent} s. {self.patience.while_silent}"


Probe = Callable[[], bool]


@dataclass
class Prober:
    """Asks every process in a thread of its own, so that a silent one delays no other."""

    probes: dict[str, Probe]
    watches: dict[str, Watch] = field(init=False)
    _ended: threading.Event = field(default_factory=threading.Event)

    def __post_init__(self) -> None:
        self.watches = {name: Watch(name) for name in self.probes}

    def start(self) -> None:
        """Begin to ask."""
        for name, probe in self.probes.items():
            self.watches[name].begin(time.monotonic())
            threading.Thread(target=self._ask, args=(name, probe), daemon=True).start()

    def stop(self) -> None:
        """Ask no more."""
        self._ended.set()

    def _ask(self, name: str, probe: Probe) -> None:
        while not self._ended.wait(ASK_EVERY_S / 2):
            if probe():
                self.watches[name].heard(time.monotonic())
            else:
                self.watches[name].not_heard()


def web_answers(port: int, path: str = "/health") -> Probe:
    """Over HTTP on loopback."""

    def probe() -> bool:
        with contextlib.suppress(OSError, ValueError):
            address = f"http://127.0.0.1:{port}{path}"
            with urllib.request.urlopen(address, timeout=ANSWER_WITHIN_S) as answer:
                return bool(answer.status == 200)
        return False

    return probe


def line_answers(where: Path | tuple[str, int], request: dict[str, object] | None) -> Probe:
    """One line there and one back; only back where the other side speaks first."""

    def probe() -> bool:
        family = socket.AF_UNIX if isinstance(where, Path) else socket.AF_INET
        with contextlib.suppress(OSError), socket.socket(family) as connection:
            connection.settimeout(ANSWER_WITHIN_S)
            connection.connect(str(where) if isinstance(where, Path) else where)
            if request is not None:
                connection.sendall(json.dumps(request).encode() + b"\n")
            return bool(connection.recv(1))
        return False

    return probe


def write_troubles(path: Path, troubles: list[str]) -> None:
    """Leave the troubles where the stop door reads them, whole or not at all."""
    part = path.with_suffix(".part")
    with contextlib.suppress(OSError):
        part.write_text(json.dumps({"troubles": troubles}))
        part.rename(path)
