"""One process that is kept running."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import time
from collections import deque
from dataclasses import dataclass, field
from pathlib import Path

from spindle_ops.instance import CHECKOUT
from spindle_ops.mariadb import die_with_parent
from spindle_ops.problem import Problem
from spindle_ops.setup import say

RESTARTS_IN_A_MINUTE = 10
FOREMOST = -10


def _foremost() -> None:
    """For what must answer in milliseconds: first at the processor, where the system allows it."""
    die_with_parent()
    with contextlib.suppress(OSError):
        os.setpriority(os.PRIO_PROCESS, 0, FOREMOST)


@dataclass
class Child:
    """One process that is kept running."""

    name: str
    command: list[str]
    environment: dict[str, str]
    log: Path
    foremost: bool = False
    process: subprocess.Popen[bytes] | None = None
    starts: deque[float] = field(default_factory=deque)
    restarts: int = 0

    def start(self) -> None:
        """Start, with output to its log."""
        self.starts.append(time.monotonic())
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(
                self.command,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                env=self.environment,
                cwd=CHECKOUT,
                start_new_session=True,
                preexec_fn=_foremost if self.foremost else die_with_parent,
            )

    def stop(self, within_s: float = 10.0) -> None:
        """Ask it to end; end it if it does not."""
        if self.process is None:
            return
        if self.process.poll() is None:
            self.process.terminate()
            try:
                self.process.wait(within_s)
            except subprocess.TimeoutExpired:
                self.kill()
        self.process = None

    def kill(self) -> None:
        """End it at once, and what it started: it does not answer."""
        if self.process is not None and self.process.poll() is None:
            # It leads a group of its own.
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()

    def revive(self) -> bool:
        """Start it again if it has ended; True when it was.

        :raises Problem: it ends over and over.
        """
        if self.process is None or self.process.poll() is None:
            return False
        while self.starts and self.starts[0] < time.monotonic() - 60:
            self.starts.popleft()
        if len(self.starts) > RESTARTS_IN_A_MINUTE:
            raise Problem(f"The {self.name} ends again and again; see {self.log}.")
        say(f"The {self.name} ended (status {self.process.returncode}); starting it again.")
        self.restarts += 1
        self.start()
        return True
