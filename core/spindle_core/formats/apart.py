"""Strangers' files are read in a process of their own: ``python -m spindle_core.formats.apart``.

Requests come on the standard input and answers go to the standard output, each a pickle with its
length before it (8 bytes, the highest first). A request names one of :data:`JOBS` and brings its
arguments; an answer is ``("done", result)``, ``("refused", CoreError)`` or ``("stumbled", trace)``.
The process ends with its input. Whoever started it watches its time and memory, and ends it.

What an answer is made of is checked while it is taken apart (:func:`answer_from`): a reader that a
file has taken over can send nothing but data.
"""

from __future__ import annotations

import enum
import io
import pickle
import resource
import struct
import sys
import traceback
from collections.abc import Callable, Mapping
from typing import Any, BinaryIO, Final

from spindle_core.errors import CoreError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.foreign.dialect import read_sheet
from spindle_core.formats.foreign.reader import read_foreign
from spindle_core.formats.foreign.tables import as_text_table
from spindle_core.formats.large_log import log_block, log_head, parquet_block, parquet_shape
from spindle_core.formats.log_files import read_log
from spindle_core.formats.pack.quoting import QuotedRun, quoted_runs
from spindle_core.formats.pack.reading import DataPack, read_pack
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.result import Reduction


def reduce_log(log: BenchLog) -> Reduction:
    """The figures of a log.

    :raises CoreError: a trace that cannot be reduced.
    """
    return reduce_trace(log.trace())


def runs_of_pack(pack: DataPack, bench: str) -> list[QuotedRun]:
    """Every run of a pack, reduced here.

    :raises PackError: a log or a result that cannot be read.
    """
    return list(quoted_runs(pack, bench))


JOBS: Final[Mapping[str, Callable[..., Any]]] = {
    job.__name__: job
    for job in (
        read_log,
        as_text_table,
        read_sheet,
        read_foreign,
        log_head,
        log_block,
        parquet_shape,
        parquet_block,
        reduce_log,
        read_pack,
        runs_of_pack,
    )
}
"""What can be asked for, by name."""

_LENGTH = struct.Struct(">Q")

LONGEST_FRAME: Final = 4_000_000_000
"""Bytes; what says that it is longer is no frame."""


class _Sender(pickle.Pickler):
    """Packs what :class:`_DataOnly` takes apart."""

    def reducer_override(self, value: Any) -> Any:
        """A choice goes as its kind and its value: Python 3.11.2 would send it as a call of
        ``getattr``, which nobody may send here.
        """
        return (type(value), (value.value,)) if isinstance(value, enum.Enum) else NotImplemented


def write_frame(stream: BinaryIO, content: Any) -> None:
    """Send one request or answer."""
    packed = io.BytesIO()
    _Sender(packed, protocol=pickle.HIGHEST_PROTOCOL).dump(content)
    data = packed.getbuffer()  # not a copy: it can be large
    stream.write(_LENGTH.pack(len(data)))
    stream.write(data)
    stream.flush()


def read_frame(stream: BinaryIO) -> bytes | None:
    """The pickle that comes next; None where nothing more does."""
    head = stream.read(_LENGTH.size)
    if len(head) < _LENGTH.size:
        return None
    (length,) = _LENGTH.unpack(head)
    if length > LONGEST_FRAME:
        return None
    data = stream.read(length)
    return data if len(data) == length else None


_PLAIN: Final = {
    "builtins": {"set", "frozenset", "complex", "slice", "bytearray"},
    "collections": {"OrderedDict"},
    "datetime": {"date", "datetime", "time", "timedelta", "timezone"},
    "types": {"MappingProxyType"},
    "numpy": {"ndarray", "dtype"},
    "numpy._core.multiarray": {"_reconstruct", "scalar"},
    "numpy._core.numeric": {"_frombuffer"},
}


class _DataOnly(pickle.Unpickler):
    """Takes data apart: plain values, arrays, and the data classes and errors of the core."""

    def find_class(self, module: str, name: str) -> Any:
        """What a pickle names, if it is one of those.

        :raises UnpicklingError: it names something else.
        """
        if name in _PLAIN.get(module, ()):
            return super().find_class(module, name)
        if module == "spindle_core.errors" and name == "rebuilt_error":
            return super().find_class(module, name)
        if module.startswith("spindle_core."):
            found = super().find_class(module, name)
            if isinstance(found, type):
                return found
        raise pickle.UnpicklingError(f"{module}.{name} is no data")


def answer_from(data: bytes) -> tuple[str, Any]:
    """An answer, of which nothing but data is believed.

    :raises UnpicklingError: it holds something else, or is no answer.
    """
    found = _DataOnly(io.BytesIO(data)).load()
    if not (isinstance(found, tuple) and len(found) == 2 and isinstance(found[0], str)):
        raise pickle.UnpicklingError("this is no answer")
    return found


def answered(request: tuple[str, tuple[Any, ...]]) -> tuple[str, Any]:
    """Do what is asked for."""
    name, arguments = request
    try:
        return "done", JOBS[name](*arguments)
    except CoreError as error:
        return "refused", error
    except MemoryError:
        return "stumbled", "MemoryError"
    except Exception:
        return "stumbled", traceback.format_exc()


def main() -> None:
    """Answer until the input ends."""
    # It writes no files, and leaves none behind when it breaks.
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    requests, answers = sys.stdin.buffer, sys.stdout.buffer
    # Whatever a library prints must not stand among the answers.
    sys.stdout = sys.stderr
    write_frame(answers, ("done", None))
    while (data := read_frame(requests)) is not None:
        # From whoever started this process, not from a file.
        write_frame(answers, answered(pickle.loads(data)))  # noqa: S301


if __name__ == "__main__":
    main()
