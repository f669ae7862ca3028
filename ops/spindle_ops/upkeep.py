"""What an installation needs while nobody thinks of it: room on the disk, logs that do not grow for
ever, a backup every day. The launcher sees to it; what it saw is on the page *Upkeep*.
"""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import threading
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import datetime, time, timedelta
from pathlib import Path
from typing import Any

from spindle_ops.backup import backup
from spindle_ops.instance import LEAST_FREE_BYTES, Instance
from spindle_ops.problem import Problem
from spindle_ops.rotation import rotate_all
from spindle_ops.setup import say

EVERY_S = 15.0
AFTER_START_S = 120.0
"""Nothing is backed up while an installation is still busy with starting."""

AGAIN_AFTER = timedelta(hours=1)
"""A backup that failed is tried again then."""

FULL_SHARE = 0.1
FULL_BYTES = 2_000_000_000
"""The disk is nearly full below this, or below a tenth of it where that is less."""

MARKER = ".spindle-backups"
"""Lies in the folder of the daily backups. Where it is missing, the disk that they go to is not
mounted, and a backup would fill the one below."""


def least_free(total_bytes: int) -> int:
    """Below so many bytes free a disk of this size is nearly full; never below what starting needs
    half as much again."""
    return max(min(FULL_BYTES, int(total_bytes * FULL_SHARE)), LEAST_FREE_BYTES * 3 // 2)


def room_sentence(folder: Path, free_bytes: int, total_bytes: int) -> str:
    """What the person is told about a disk; blank while there is room."""
    if free_bytes >= least_free(total_bytes):
        return ""
    left = f"{free_bytes / 1e9:.1f} GB" if free_bytes >= 1e9 else f"{free_bytes / 1e6:.0f} MB"
    return (
        f"Only {left} are free on the disk of {folder}: make room before it is full, "
        "since runs, photos and backups find none then."
    )


@dataclass(frozen=True)
class Last:
    """The newest backup that was made."""

    at: datetime
    path: str
    bytes: int
    took_s: float


@dataclass(frozen=True)
class Backups:
    """Where backups go every day and when, how the last one went, and whether one failed since."""

    to: str = ""
    at: time = time(3, 15)
    last: Last | None = None
    failed_at: datetime | None = None
    why: str = ""

    def due(self, now: datetime) -> bool:
        """Whether the daily one has to be made now. One that was missed, since nothing ran at its
        hour, is made at the next occasion; a clock that was set back delays none."""
        if not self.to:
            return False
        if self.failed_at is not None and timedelta(0) <= now - self.failed_at < AGAIN_AFTER:
            return False
        if self.last is None or self.last.at > now:
            return True
        today = datetime.combine(now.date(), self.at)
        moment = today if today <= now else today - timedelta(days=1)
        return self.last.at < moment

    def sentence(self, now: datetime) -> str:
        """What is amiss with the daily backups; blank where nothing is, or none are asked for."""
        if not self.to:
            return ""
        if self.why:
            return f"The daily backup failed: {self.why}"
        if self.last is not None and now - self.last.at > timedelta(days=2):
            days = (now - self.last.at).days
            return f"The last backup is {days} days old, though one is due every day."
        return ""


def _file(instance: Instance) -> Path:
    return instance.folder / "backups.json"


def read_backups(instance: Instance) -> Backups:
    """What is kept about the backups of an installation; nothing where there is nothing yet.

    :raises Problem: the file is damaged.
    """
    path = _file(instance)
    try:
        kept = json.loads(path.read_text())
    except FileNotFoundError:
        return Backups()
    except (OSError, ValueError) as error:
        raise Problem(
            f"{path} cannot be read ({error}); delete it and set backups anew."
        ) from error
    try:
        last = kept["last"]
        return Backups(
            to=str(kept["to"]),
            at=time.fromisoformat(kept["at"]),
            last=last
            and Last(
                datetime.fromisoformat(last["at"]),
                str(last["path"]),
                int(last["bytes"]),
                float(last["took_s"]),
            ),
            failed_at=kept["failed_at"] and datetime.fromisoformat(kept["failed_at"]),
            why=str(kept["why"]),
        )
    except (KeyError, TypeError, ValueError) as error:
        raise Problem(f"{path} is damaged ({error}); delete it and set backups anew.") from error


def write_backups(instance: Instance, kept: Backups) -> None:
    """Keep it, whole or not at all."""
    path = _file(instance)
    part = path.with_suffix(".part")
    part.write_text(json.dumps(asdict(kept), default=lambda one: one.isoformat()))
    part.rename(path)


def set_daily(instance: Instance, to: Path | None, at: time) -> Backups:
    """Back up every day into a folder, or no more (``None``).

    :raises Problem: nothing can be written there, or it is inside of what is backed up.
    """
    kept = read_backups(instance)
    if to is not None:
        if to == instance.folder or instance.folder in to.parents:
            raise Problem(f"{to} lies in the installation itself; a backup belongs elsewhere.")
        try:
            to.mkdir(parents=True, exist_ok=True)
            (to / MARKER).write_text(f"Daily backups of {instance.name} go here.\n")
        except OSError as error:
            raise Problem(f"Nothing can be written to {to} ({error.strerror}).") from error
    kept = replace(kept, to=str(to or ""), at=at, failed_at=None, why="")
    write_backups(instance, kept)
    return kept


def note_made(instance: Instance, path: Path, at: datetime, took_s: float) -> None:
    """A backup was made, by hand or by the clock."""
    last = Last(at, str(path), path.stat().st_size, round(took_s, 1))
    kept = replace(read_backups(instance), last=last, failed_at=None, why="")
    write_backups(instance, kept)


class Upkeep:
    """Looks after one installation, in a thread of its own: a slow disk delays no watching."""

    def __init__(
        self,
        instance: Instance,
        parts: Callable[[], list[dict[str, Any]]] = list,
        busy: Callable[[], bool] = lambda: False,
    ) -> None:
        self.instance = instance
        self.parts = parts
        self.busy = busy
        self.troubles: list[str] = []
        """What every page shows."""
        self._told: set[str] = set()
        self._ended = threading.Event()

    def start(self) -> None:
        """Begin."""
        threading.Thread(target=self._go_on, daemon=True).start()

    def stop(self) -> None:
        """No more; a backup that is being made ends with its launcher and leaves nothing."""
        self._ended.set()

    def _go_on(self) -> None:
        # The last at the processor, and what it starts too: nothing here is in a hurry.
        with contextlib.suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 15)
        self.round(datetime.now(), fresh=True)
        waited = 0.0
        while not self._ended.wait(EVERY_S):
            waited += EVERY_S
            self.round(datetime.now(), fresh=waited < AFTER_START_S)

    def round(self, now: datetime, *, fresh: bool = False) -> None:
        """One look around, and what has to be done; nothing that fails ends it."""
        for name in rotate_all(self.instance.log):
            say(f"{name} had grown; it was packed.")
        room = shutil.disk_usage(self.instance.folder)
        full = room_sentence(self.instance.folder, room.free, room.total)
        self.troubles = [full] if full else []
        amiss = ""
        kept = Backups()
        try:
            kept = read_backups(self.instance)
            if not fresh and kept.due(now) and not self.busy():
                kept = self._back_up(kept, now)
            amiss = kept.sentence(now)
        except (Problem, OSError) as error:
            amiss = str(error)
        self._tell({"room": full, "backup": amiss})
        self._write(now, kept, room.free, room.total, amiss)

    def _back_up(self, kept: Backups, now: datetime) -> Backups:
        to = Path(kept.to)
        begun = datetime.now()
        try:
            if not (to / MARKER).exists():
                raise Problem(f"{to} is not there as it was; is its disk mounted?")
            path = backup(self.instance, to, now)
            note_made(self.instance, path, now, (datetime.now() - begun).total_seconds())
        except Problem as problem:
            write_backups(self.instance, replace(kept, failed_at=now, why=str(problem)))
        return read_backups(self.instance)

    def _tell(self, sentences: dict[str, str]) -> None:
        """On the terminal, once each as long as it lasts; its numbers change with every look."""
        for what, sentence in sentences.items():
            if sentence and what not in self._told:
                say(sentence)
        self._told = {what for what, sentence in sentences.items() if sentence}

    def _write(self, now: datetime, kept: Backups, free: int, total: int, amiss: str) -> None:
        """Leave what was seen where the web process reads it."""
        state = {
            "at": now.astimezone().isoformat(timespec="seconds"),
            "folder": str(self.instance.folder),
            "parts": self.parts(),
            "disk": {"free_bytes": free, "total_bytes": total, "least_bytes": least_free(total)},
            "sizes": self._sizes(),
            "backups": {
                "to": kept.to,
                "at": kept.at.isoformat(timespec="minutes"),
                "last": kept.last
                and {**asdict(kept.last), "at": kept.last.at.astimezone().isoformat()},
                "amiss": amiss,
                "same_disk": bool(kept.to) and _same_disk(Path(kept.to), self.instance.folder),
            },
        }
        path = self.instance.upkeep_file
        part = path.with_suffix(".part")
        with contextlib.suppress(OSError):
            part.write_text(json.dumps(state))
            part.rename(path)

    def _sizes(self) -> dict[str, int]:
        names = {"database": "mariadb", "photos": "photos", "packs": "packs", "logs": "log"}
        names |= {"inbox": "inbox", "copies": "copies", "waiting_runs": "bench"}
        return {what: size_of(self.instance.folder / name) for what, name in names.items()}


def _same_disk(one: Path, other: Path) -> bool:
    with contextlib.suppress(OSError):
        return one.stat().st_dev == other.stat().st_dev
    return False


def size_of(folder: Path) -> int:
    """Bytes of all files in a folder; what vanishes or may not be read meanwhile is not counted."""
    total = 0
    for place, _, files in os.walk(folder):
        for name in files:
            with contextlib.suppress(OSError):
                total += (Path(place) / name).lstat().st_size
    return total
