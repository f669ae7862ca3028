"""Logs that do not grow for ever.

The processes write to files that the launcher opened for them, at their end. A log that has grown
is copied, packed, and emptied in place, so that nobody has to open anything anew.
"""

from __future__ import annotations

import contextlib
import gzip
import shutil
from pathlib import Path

MOST_BYTES = 5_000_000
KEPT = 5
"""So many packed logs of each process are kept, the newest ones; text packs to a tenth or less."""

BLOCK = 1 << 20


def rotate(log: Path, most_bytes: int = MOST_BYTES, kept: int = KEPT) -> bool:
    """Pack a log that has grown beyond ``most_bytes`` as ``NAME.1.gz``; True when it was.

    What is written while it is copied is copied too. On a full disk the log stays as it is.
    """
    try:
        if log.stat().st_size <= most_bytes:
            return False
        unfinished = log.with_name(f"{log.name}.unfinished")
        try:
            with log.open("r+b") as source, gzip.open(unfinished, "wb", 6) as out:
                shutil.copyfileobj(source, out, BLOCK)
                # The last lines may have come meanwhile; what is left to lose is one write.
                while late := source.read(BLOCK):
                    out.write(late)
                source.truncate(0)
            _move_on(log, kept)
            unfinished.rename(_packed(log, 1))
        finally:
            unfinished.unlink(missing_ok=True)
    except OSError:
        return False
    return True


def _packed(log: Path, number: int) -> Path:
    return log.with_name(f"{log.name}.{number}.gz")


def _move_on(log: Path, kept: int) -> None:
    _packed(log, kept).unlink(missing_ok=True)
    for number in range(kept - 1, 0, -1):
        with contextlib.suppress(FileNotFoundError):
            _packed(log, number).rename(_packed(log, number + 1))


def rotate_all(folder: Path) -> list[str]:
    """Pack every log of a folder that has grown; returns the names of those that were."""
    return [log.name for log in sorted(folder.glob("*.log")) if rotate(log)]
