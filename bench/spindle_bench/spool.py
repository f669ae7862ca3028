"""Every sample goes to local disk first.

One folder per run: ``plan.json`` (what was to be run and which channels), ``samples.f64`` (rows
of little-endian doubles, time first, appended as they come) and, at the end, ``end.json``. A
folder without ``end.json`` is a run that was interrupted. A half-written last row is ignored.
Room for the end record is taken before the run starts, so that a full disk does not cost it.

Before a run is armed its plan is forced to disk (:meth:`Spool.prepare`); starting it is then a
rename. The engine's thread only writes; a write outlives a killed process. Forcing samples to the
disk, which can take a third of a second, is left to the delivery's thread (:func:`sync`), so that a
busy disk never delays a heartbeat.
"""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO, Any

import numpy as np
from numpy.typing import NDArray

from spindle_bench.errors import BenchError, PlanError
from spindle_bench.plan import RunPlan, spooled_plan
from spindle_bench.states import RunEnd

PLAN, SAMPLES, END, PROBLEM = "plan.json", "samples.f64", "end.json", "problem.json"
PREPARED, DONE = ".prepared-", ".done-"
END_ROOM_BYTES = 4096


@dataclass(slots=True)
class Spool:
    """The recorder the engine writes to."""

    root: Path
    current_run: str | None = field(default=None)
    _folder: Path | None = None
    _file: IO[bytes] | None = None
    _late_end: tuple[Path, RunEnd] | None = None

    def prepare(self, plan: RunPlan, channels: list[str]) -> None:
        """Write a run's plan and take room for its end, forced to disk; may take a while.

        :raises BenchError: the id was used before, or the disk does not take it.
        """
        if (self.root / plan.run_id).exists():
            raise BenchError(f"Run {plan.run_id} was recorded already.", code="run_id")
        folder = self.root / f"{PREPARED}{plan.run_id}"
        for earlier in self.root.glob(f"{PREPARED}*"):
            shutil.rmtree(earlier, ignore_errors=True)  # armed, and never started
        try:
            folder.mkdir(parents=True, exist_ok=True)
            with (folder / f"{END}.room").open("wb") as room:
                room.write(b" " * END_ROOM_BYTES)
                _force(room)
            _write_json(folder / PLAN, {"plan": plan.as_json(), "channels": channels}, forced=True)
            _force_folder(self.root)
        except OSError as error:
            shutil.rmtree(folder, ignore_errors=True)
            raise BenchError(
                f"The run cannot be recorded: {error.strerror} ({self.root}).", code="disk"
            ) from error

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """Open the run's folder; a run id that was used before is refused.

        :raises BenchError: the id was used before.
        """
        folder, prepared = self.root / plan.run_id, self.root / f"{PREPARED}{plan.run_id}"
        if not prepared.exists():
            self.prepare(plan, channels)
        if folder.exists():
            raise BenchError(f"Run {plan.run_id} was recorded already.", code="run_id")
        prepared.rename(folder)
        self._file = (folder / SAMPLES).open("ab", buffering=0)
        self._folder, self.current_run = folder, plan.run_id

    def add(self, times_s: list[float], rows: list[list[float | None]]) -> None:
        """Append samples; a missing value becomes NaN."""
        if self._file is None:
            raise BenchError("No run is being recorded.", code="not_recording")
        block = np.array(
            [
                [time, *(np.nan if v is None else v for v in row)]
                for time, row in zip(times_s, rows, strict=True)
            ],
            dtype="<f8",
        ).tobytes()
        written = self._file.write(block)
        if written != len(block):
            # The next row must begin at a row's boundary: half a row is worth nothing.
            whole = len(block) // len(times_s)
            self._file.truncate(self._file.tell() // whole * whole)
            raise OSError(28, "No space left on device")

    def close(self) -> None:
        """Leave the run in hand as it is, without an end record, as a crash would."""
        if self._file is not None:
            self._file.close()
        self._file = self._folder = self.current_run = None

    def end(self, end: RunEnd) -> None:
        """Close the run with its one end record; one that the disk does not take now is kept.

        :raises OSError: the disk did not take it; :meth:`flush` tries again.
        """
        if self._file is None or self._folder is None:
            raise BenchError("No run is being recorded.", code="not_recording")
        folder = self._folder
        self.close()
        try:
            _write_end(folder, end)
        except OSError:
            self._late_end = (folder, end)
            raise

    def flush(self) -> bool:
        """Write an end record that the disk did not take; True when none is left."""
        if self._late_end is not None:
            folder, end = self._late_end
            try:
                _write_end(folder, end)
            except OSError:
                return False
            self._late_end = None
        return True


@dataclass(frozen=True, slots=True)
class SpooledRun:
    """A run on disk, finished or not."""

    folder: Path
    plan: RunPlan
    channels: list[str]

    @property
    def end(self) -> dict[str, str] | None:
        """The end record, None while there is none.

        :raises PlanError: there is one, and it cannot be read.
        """
        path = self.folder / END
        if not path.exists():
            return None
        end = _read_json(path)
        if not all(isinstance(end.get(name), str) for name in ("outcome", "code", "reason")):
            raise PlanError("The end record cannot be read.")
        return end

    def row_count(self) -> int:
        """Complete rows on disk."""
        path = self.folder / SAMPLES
        return path.stat().st_size // self._row_bytes() if path.exists() else 0

    def rows(self, start: int, stop: int) -> NDArray[np.float64]:
        """Rows ``start`` to ``stop`` (exclusive), shape (n, 1 + channels), time first."""
        size = self._row_bytes()
        with (self.folder / SAMPLES).open("rb") as file:
            file.seek(start * size)
            data = file.read((stop - start) * size)
        return np.frombuffer(data, dtype="<f8").reshape(-1, 1 + len(self.channels))

    def write_end(self, end: RunEnd) -> None:
        """Give an interrupted run its end record; a run that has one keeps it."""
        if not (self.folder / END).exists():
            _write_end(self.folder, end)

    def remove(self) -> None:
        """Delete the run from disk, once it was delivered whole.

        It first goes out of sight in one step: a kill in the middle of deleting it leaves no run
        that looks interrupted.
        """
        done = self.folder.with_name(f"{DONE}{self.folder.name}")
        self.folder.rename(done)
        shutil.rmtree(done, ignore_errors=True)

    def _row_bytes(self) -> int:
        return 8 * (1 + len(self.channels))


@dataclass(frozen=True, slots=True)
class SetAside:
    """A run in the spool that cannot be read or stored; it waits for a person."""

    run_id: str
    title: str
    reason: str

    def as_json(self) -> dict[str, str]:
        """For the screen."""
        return {"run_id": self.run_id, "title": self.title, "reason": self.reason}


def spooled_runs(root: Path) -> Iterator[SpooledRun | SetAside]:
    """Every run in the spool, oldest first; a damaged one is told, and harms no other."""
    if not root.exists():
        return
    folders = [path for path in root.iterdir() if path.is_dir() and path.name[0] != "."]
    for folder in sorted(folders, key=_age):
        problem = _problem(folder)
        try:
            run = _read_run(folder)
        except (PlanError, OSError) as error:
            text = error.message if isinstance(error, PlanError) else str(error)
            yield SetAside(folder.name, "", problem or text)
            continue
        title = str(run.plan.record.get("title", ""))
        yield SetAside(folder.name, title, problem) if problem else run


def _read_run(folder: Path) -> SpooledRun:
    data = _read_json(folder / PLAN)
    channels = data.get("channels")
    if not isinstance(channels, list) or not all(isinstance(name, str) for name in channels):
        raise PlanError(f"{folder / PLAN} names no channels.")
    run = SpooledRun(folder, spooled_plan(data.get("plan") or {}), channels)
    _ = run.end
    return run


def set_aside(root: Path, run_id: str, reason: str) -> None:
    """Leave a run out of delivery until :func:`take_back`, with the reason beside it."""
    _write_json(root / run_id / PROBLEM, {"reason": reason[:500]})


def take_back(root: Path, run_id: str) -> None:
    """Let a run that was set aside be tried again.

    :raises BenchError: there is no such run.
    """
    folder = root / run_id
    if "/" in run_id or run_id.startswith(".") or not folder.is_dir():
        raise BenchError("That run is not waiting on the bench's disk.", code="no_run")
    (folder / PROBLEM).unlink(missing_ok=True)


def tidy(root: Path) -> None:
    """Remove what earlier processes left half done: runs never started, runs delivered whole."""
    if root.exists():
        for folder in root.iterdir():
            if folder.name.startswith((PREPARED, DONE)):
                shutil.rmtree(folder, ignore_errors=True)


def sync(root: Path) -> None:
    """Force what is in the spool to the disk, for the case of a power cut."""
    for run in spooled_runs(root):
        if isinstance(run, SetAside):
            continue
        for path in (run.folder / PLAN, run.folder / SAMPLES, run.folder):
            if path.exists():
                handle = os.open(path, os.O_RDONLY)
                try:
                    os.fsync(handle)
                finally:
                    os.close(handle)


def _age(folder: Path) -> float:
    try:
        return (folder / PLAN).stat().st_mtime
    except OSError:
        return 0.0


def _problem(folder: Path) -> str:
    path = folder / PROBLEM
    if not path.exists():
        return ""
    try:
        return str(_read_json(path).get("reason") or "It could not be stored.")
    except PlanError:
        return "It could not be stored."


def _read_json(path: Path) -> dict[str, Any]:
    try:
        data = json.loads(path.read_text())
    except OSError as error:
        raise PlanError(f"{path} cannot be read: {error.strerror}.") from error
    except ValueError as error:
        raise PlanError(f"{path} is empty or damaged.") from error
    if not isinstance(data, dict):
        raise PlanError(f"{path} is no JSON object.")
    return data


def _write_end(folder: Path, end: RunEnd) -> None:
    """Into the room taken for it, whole or not at all."""
    room, text = folder / f"{END}.room", json.dumps(end.as_json()).encode()
    if room.exists() and len(text) <= END_ROOM_BYTES:
        with room.open("r+b") as file:
            file.write(text.ljust(END_ROOM_BYTES))
        room.rename(folder / END)
    else:
        _write_json(folder / END, end.as_json())


def _write_json(path: Path, data: dict[str, Any], *, forced: bool = False) -> None:
    """Write whole or not at all."""
    part = path.with_suffix(".part")
    with part.open("wb") as file:
        file.write(json.dumps(data).encode())
        if forced:
            _force(file)
    part.rename(path)
    if forced:
        _force_folder(path.parent)


def _force(file: IO[bytes]) -> None:
    file.flush()
    os.fsync(file.fileno())


def _force_folder(path: Path) -> None:
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
