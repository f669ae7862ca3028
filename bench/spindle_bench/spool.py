"""Every sample goes to local disk first.

One folder per run: ``plan.json`` (what was to be run and which channels), ``samples.f64`` (rows
of little-endian doubles, time first, appended as they come) and, at the end, ``end.json``. A
folder without ``end.json`` is a run that was interrupted. A half-written last row is ignored.

The engine's thread only writes; a write outlives a killed process. Forcing it to the disk, which
can take a third of a second, is left to the delivery's thread (:func:`sync`), so that a busy disk
never delays a heartbeat.
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

from spindle_bench.errors import BenchError
from spindle_bench.plan import RunPlan, plan_from_json
from spindle_bench.states import RunEnd

PLAN, SAMPLES, END = "plan.json", "samples.f64", "end.json"


@dataclass(slots=True)
class Spool:
    """The recorder the engine writes to."""

    root: Path
    _folder: Path | None = None
    _file: IO[bytes] | None = None
    current_run: str | None = field(default=None)

    def begin(self, plan: RunPlan, channels: list[str]) -> None:
        """Open the run's folder; a run id that was used before is refused."""
        folder = self.root / plan.run_id
        try:
            folder.mkdir(parents=True)
        except FileExistsError as error:
            raise BenchError(f"Run {plan.run_id} was recorded already.", code="run_id") from error
        _write_json(folder / PLAN, {"plan": plan.as_json(), "channels": channels})
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
        )
        self._file.write(block.tobytes())

    def close(self) -> None:
        """Leave the run in hand as it is, without an end record, as a crash would."""
        if self._file is not None:
            self._file.close()
        self._file = self._folder = self.current_run = None

    def end(self, end: RunEnd) -> None:
        """Close the run with its one end record."""
        if self._file is None or self._folder is None:
            raise BenchError("No run is being recorded.", code="not_recording")
        _write_json(self._folder / END, end.as_json())
        self.close()


@dataclass(frozen=True, slots=True)
class SpooledRun:
    """A run on disk, finished or not."""

    folder: Path
    plan: RunPlan
    channels: list[str]

    @property
    def end(self) -> dict[str, str] | None:
        """The end record, None while there is none."""
        path = self.folder / END
        result: dict[str, str] | None = json.loads(path.read_text()) if path.exists() else None
        return result

    def row_count(self) -> int:
        """Complete rows on disk."""
        return (self.folder / SAMPLES).stat().st_size // self._row_bytes()

    def rows(self, start: int, stop: int) -> NDArray[np.float64]:
        """Rows ``start`` to ``stop`` (exclusive), shape (n, 1 + channels), time first."""
        size = self._row_bytes()
        with (self.folder / SAMPLES).open("rb") as file:
            file.seek(start * size)
            data = file.read((stop - start) * size)
        return np.frombuffer(data, dtype="<f8").reshape(-1, 1 + len(self.channels))

    def write_end(self, end: RunEnd) -> None:
        """Give an interrupted run its end record; a run that has one keeps it."""
        if self.end is None:
            _write_json(self.folder / END, end.as_json())

    def remove(self) -> None:
        """Delete the run from disk, once it was delivered whole."""
        shutil.rmtree(self.folder)

    def _row_bytes(self) -> int:
        return 8 * (1 + len(self.channels))


def spooled_runs(root: Path) -> Iterator[SpooledRun]:
    """Every readable run in the spool, oldest first."""
    if not root.exists():
        return
    folders = [path for path in root.iterdir() if (path / PLAN).exists()]
    for folder in sorted(folders, key=lambda path: (path / PLAN).stat().st_mtime):
        data: dict[str, Any] = json.loads((folder / PLAN).read_text())
        (folder / SAMPLES).touch()
        yield SpooledRun(folder, plan_from_json(data["plan"]), list(data["channels"]))


def sync(root: Path) -> None:
    """Force what is in the spool to the disk, for the case of a power cut."""
    for run in spooled_runs(root):
        for path in (run.folder / PLAN, run.folder / SAMPLES, run.folder):
            handle = os.open(path, os.O_RDONLY)
            try:
                os.fsync(handle)
            finally:
                os.close(handle)


def _write_json(path: Path, data: dict[str, Any]) -> None:
    """Write whole or not at all."""
    part = path.with_suffix(".part")
    part.write_text(json.dumps(data))
    part.rename(path)
