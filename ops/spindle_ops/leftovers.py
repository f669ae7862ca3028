"""What an earlier launcher left behind when it was killed: found by its record, and ended."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import time
from pathlib import Path

ENDS_WITHIN_S = 5.0


def started_at(pid: int) -> str | None:
    """When a process began, as the kernel counts it: tells a process from a later one of its id."""
    try:
        text = Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return None
    fields = text.rpartition(")")[2].split()
    return None if fields[0] == "Z" else fields[19]


def record(path: Path, pids: dict[str, int]) -> None:
    """Write down which processes belong to this installation."""
    known = {
        name: [pid, begun] for name, pid in pids.items() if (begun := started_at(pid)) is not None
    }
    part = path.with_suffix(".part")
    part.write_text(json.dumps(known))
    part.rename(path)


def end_leftovers(path: Path, *, within_s: float = ENDS_WITHIN_S) -> list[str]:
    """End what the record names and still runs; returns the names. A frozen one is killed."""
    try:
        known = json.loads(path.read_text())
    except (OSError, ValueError):
        return []
    living: dict[str, tuple[int, str]] = {}
    for name, entry in known.items() if isinstance(known, dict) else ():
        pid, begun = entry if isinstance(entry, list) and len(entry) == 2 else (None, None)
        if isinstance(pid, int) and isinstance(begun, str) and started_at(pid) == begun:
            living[name] = (pid, begun)
            _signal(pid, signal.SIGTERM)
    until = time.monotonic() + within_s
    while time.monotonic() < until and any(started_at(p) == b for p, b in living.values()):
        time.sleep(0.05)
    for pid, begun in living.values():
        if started_at(pid) == begun:
            _signal(pid, signal.SIGKILL)
    until = time.monotonic() + within_s
    while time.monotonic() < until and any(started_at(p) == b for p, b in living.values()):
        time.sleep(0.02)
    path.unlink(missing_ok=True)
    return list(living)


def _signal(pid: int, number: int) -> None:
    with contextlib.suppress(ProcessLookupError):
        os.kill(pid, number)
