"""Libraries that read files: whatever they stumble over in a stranger's file is said as a fault of
the file."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Final

from spindle_core.errors import CoreError, LogFormatError

MOST_CELLS: Final = 20_000_000
"""Rows times columns of a table that is taken in whole."""


@contextmanager
def read_outside(what: str, code: str) -> Iterator[None]:
    """Around the calls of a library that takes a file apart, and of nothing of ours.

    Such a library raises what its own code happens to raise (an index, a key, a type) when a file
    is damaged in a way that its authors did not foresee. The trace stays behind the error.

    :param what: what the file should be, "Parquet file".
    :raises LogFormatError: anything went wrong. :raises MemoryError: as it is.
    """
    try:
        yield
    except (CoreError, MemoryError):
        raise
    except Exception as problem:
        raise LogFormatError(
            f"the file is no {what}, or it is damaged ({type(problem).__name__})",
            code=code,
            expected=f"a whole {what}",
        ) from problem


def check_table_size(rows: int, columns: int) -> None:
    """Refuse a table that would fill the memory, however small its file.

    :raises LogFormatError: more than :data:`MOST_CELLS`.
    """
    if rows * columns > MOST_CELLS:
        raise LogFormatError(
            f"the table has {rows:,} rows of {columns}",
            code="too_large",
            expected=f"at most {MOST_CELLS:,} cells",
        )
