"""The whole application as a newcomer starts it: ``./spindle demo`` in a folder of its own."""

from __future__ import annotations

import contextlib
import json
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

CHECKOUT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(CHECKOUT / "ops"))

from spindle_ops.checks import FURNISHED  # noqa: E402 - needs the path above
from spindle_ops.instance import free_port  # noqa: E402

BROWSER = {
    # Chromium without windows: a page costs the processor less than half.
    "executable_path": "/usr/bin/chromium-headless-shell",
    "args": [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        # A page is gone before what is compiled in the background pays for itself.
        "--js-flags=--no-maglev --no-opt",
    ],
}


@dataclass(frozen=True)
class Application:
    """A running application."""

    folder: Path
    port: int
    said: str = ""
    """What the launcher said while it started."""
    told: list[str] = field(default_factory=list)
    """And every line of it since."""

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def password(self, username: str) -> str:
        """Of somebody in the demo, or of a new bench's first administrator."""
        made = re.search(rf"First administrator: {re.escape(username)} / (\S+)", self.said)
        if made is not None:
            return made.group(1)
        logins = json.loads((self.folder / "demo-logins.json").read_text())
        return next(item["password"] for item in logins if item["username"] == username)

    def ask_stand(self, kind: str = "status", **rest: Any) -> dict[str, Any]:
        """Ask the simulated stand directly, as an observer that does not own it."""
        with socket.create_connection(("127.0.0.1", self.port + 1), timeout=5) as connection:
            line = json.dumps({"type": kind, "seq": 1, **rest}).encode() + b"\n"
            connection.sendall(line)
            return json.loads(connection.makefile().readline())


NOT_KEPT = shutil.ignore_patterns("run", "lock", "log")


def running_demo(name: str, *more: str) -> contextlib.AbstractContextManager[Application]:
    """A fresh demo with options."""
    return running("demo", name, *more)


def running_copy(name: str) -> contextlib.AbstractContextManager[Application]:
    """A demo as it was furnished; without one, a fresh demo."""
    return running("demo", name, begins_as=FURNISHED if FURNISHED.exists() else None)


@contextlib.contextmanager
def running(
    kind: str, name: str, *more: str, begins_as: Path | None = None
) -> Iterator[Application]:
    """Start a fresh bench (``demo`` or ``start``) with options, wait until it says so, and stop it
    as Ctrl-C does."""
    folder = CHECKOUT / "var" / name
    shutil.rmtree(folder, ignore_errors=True)
    if begins_as is not None:
        shutil.copytree(begins_as, folder, symlinks=True, ignore=NOT_KEPT)
        os.sync()  # not in the middle of a run, which waits for its own bytes
    port = free_port(6)
    command = [str(CHECKOUT / "spindle"), kind, "--folder", str(folder), "--port", str(port)]
    command += more
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    said: list[str] = []
    assert process.stdout is not None
    for line in process.stdout:
        said.append(line)
        if line.startswith("Ctrl-C"):
            break
    else:
        raise AssertionError(f"the {kind} did not start:\n" + "".join(said))
    application = Application(folder, port, "".join(said))
    listener = threading.Thread(target=application.told.extend, args=(process.stdout,), daemon=True)
    listener.start()
    try:
        yield application
    finally:
        process.send_signal(signal.SIGTERM)
        listener.join(60)
        rest = "".join(application.told)
        assert process.wait(60) == 0, rest
        assert "Traceback" not in rest, rest
        for log in [*folder.glob("log/stand*.log"), folder / "log" / "door.log"]:
            assert "Traceback" not in (wrong := log.read_text()), wrong


def wait_for(condition: Any, seconds: float, what: str) -> Any:
    """Poll until a condition holds; for the few things no event tells."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        found = condition()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError(f"not within {seconds} s: {what}")
