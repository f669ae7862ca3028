"""Reading and writing the files a command names; every problem says which file."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from spindle_core.errors import CoreError, LogFormatError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.log_files import SUFFIXES, read_log


class FileError(Exception):
    """One line that names file, place, problem and expectation."""


@contextmanager
def naming(path: Path) -> Iterator[None]:
    """Errors about a file become one line that names it.

    :raises FileError: instead of a core error or an operating-system error.
    """
    try:
        yield
    except LogFormatError as error:
        raise FileError(error.describe(str(path))) from error
    except CoreError as error:
        raise FileError(f"{path}: {error.message}") from error
    except OSError as error:
        raise FileError(
            f"{path}: {error.strerror}; expected a file that can be read or written"
        ) from error


def load_log(path: Path) -> BenchLog:
    """A bench log in any of its formats."""
    with naming(path):
        return read_log(path.name, path.read_bytes())


def logs_in(paths: list[Path]) -> list[Path]:
    """The files named, and those inside the folders named, in a fixed order.

    :raises FileError: a folder without logs.
    """
    found: list[Path] = []
    for path in paths:
        if not path.is_dir():
            found.append(path)
            continue
        inside = sorted(item for item in path.rglob("*") if item.suffix.lower() in SUFFIXES)
        if not inside:
            raise FileError(f"{path}: no logs in this folder; expected {', '.join(SUFFIXES)}")
        found += inside
    return found


def write(path: Path, data: bytes) -> None:
    """Write a result; an existing file is replaced."""
    with naming(path):
        path.write_bytes(data)
