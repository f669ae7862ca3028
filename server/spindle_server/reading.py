"""Files of strangers are read apart: in processes that are watched, and ended when a file takes
more time or memory than one of its size should."""

from __future__ import annotations

import atexit
import logging
import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, BinaryIO, cast

from spindle_core.errors import LogFormatError
from spindle_core.formats.apart import JOBS, answer_from, read_frame, write_frame
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.pack.reading import DataPack
from spindle_server.errors import UnavailableError

logger = logging.getLogger(__name__)

READERS = 2
"""Processes at most; more files at once wait."""

WAIT_S = 60.0
STARTS_WITHIN_S = 30.0
LEAST_S, S_PER_MB = 2.0, 8.0
LEAST_BYTES, BYTES_PER_BYTE = 300_000_000, 40
"""What a file may take, beside what its size allows: a log of 30 MB takes its minute and its
gigabyte, a small one that takes so much is no log."""

LOOKS_EVERY_S = 0.02

TOOK_TOO_MUCH = frozenset({"too_slow", "too_large", "broke_reader"})
"""Codes of files that are not looked at in another way."""


class Reader:
    """One process that reads."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "spindle_core.formats.apart"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            env=_without_secrets(),
        )
        self._requests = cast(BinaryIO, self._process.stdin)
        self._answers = cast(BinaryIO, self._process.stdout)
        # It says so when it has everything that it needs; what it holds then is its own.
        with self._watched(time.monotonic() + STARTS_WITHIN_S, None):
            self._answer()
        self._own_bytes = self.held_bytes()

    @property
    def alive(self) -> bool:
        """Whether it can be asked."""
        return self._process.poll() is None

    def held_bytes(self) -> int:
        """Memory that it holds; 0 once it has ended."""
        try:
            pages = Path(f"/proc/{self._process.pid}/statm").read_text().split()[1]
        except (OSError, IndexError):
            return 0
        return int(pages) * os.sysconf("SC_PAGE_SIZE")

    def ask(self, job: str, arguments: tuple[Any, ...], size: int) -> tuple[str, Any]:
        """What came of a job.

        :raises LogFormatError: it took too much, or the process broke over it.
        """
        until = time.monotonic() + LEAST_S + S_PER_MB * size / 1e6
        most = self._own_bytes + LEAST_BYTES + BYTES_PER_BYTE * size
        with self._watched(until, most):
            write_frame(self._requests, (job, arguments))
            return self._answer()

    def _answer(self) -> tuple[str, Any]:
        data = read_frame(self._answers)
        if data is None:
            raise EOFError("the reader ended")
        return answer_from(data)

    @contextmanager
    def _watched(self, until: float, most: int | None) -> Iterator[None]:
        """Around everything that waits for the process: a frozen one takes no request and one that
        was taken over may end an answer nowhere, so the watch ends it from outside.

        :raises LogFormatError: it took too much, or broke.
        """
        over, why = threading.Event(), list[LogFormatError]()

        def watch() -> None:
            while not over.wait(LOOKS_EVERY_S):
                if time.monotonic() > until:
                    why.append(
                        _refused("takes too long to read for its size", "too_slow", "fewer rows")
                    )
                elif most is not None and self.held_bytes() > most:
                    why.append(
                        _refused("unpacks to more than its size allows", "too_large", "less of it")
                    )
                else:
                    continue
                self._process.kill()
                return

        watcher = threading.Thread(target=watch, daemon=True)
        watcher.start()
        try:
            yield
        except Exception as problem:
            # Taking hostile data apart raises whatever it likes.
            over.set()
            watcher.join()
            self.end()
            if why:
                raise why[0] from problem
            logger.exception("A reader broke over a file")
            raise _refused("breaks what reads it", "broke_reader", "a whole file") from problem
        finally:
            over.set()
            watcher.join()

    def end(self) -> None:
        """End the process at once."""
        self._process.kill()
        self._process.wait()
        for stream in (self._requests, self._answers):
            try:
                stream.close()
            except OSError:
                continue


def _without_secrets() -> dict[str, str]:
    """The environment of who reads strangers' files: neither keys nor passwords are in it."""
    kept = {name: text for name, text in os.environ.items() if not name.startswith("SPINDLE")}
    return {**kept, "OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}


def _refused(message: str, code: str, expected: str) -> LogFormatError:
    return LogFormatError(f"the file {message}", code=code, expected=expected)


class Readers:
    """A few readers, kept for the next file."""

    def __init__(self, most: int = READERS) -> None:
        self._free = threading.BoundedSemaphore(most)
        self._idle: list[Reader] = []
        self._lock = threading.Lock()

    @contextmanager
    def one(self) -> Iterator[Reader]:
        """A reader for one job.

        :raises UnavailableError: none is free within a minute.
        """
        if not self._free.acquire(timeout=WAIT_S):
            raise UnavailableError("Other files are being read; try again in a moment.")
        try:
            with self._lock:
                reader = self._idle.pop() if self._idle else None
            if reader is None or not reader.alive:
                reader = Reader()
            try:
                yield reader
            finally:
                if reader.alive:
                    with self._lock:
                        self._idle.append(reader)
        finally:
            self._free.release()

    def start_ahead(self) -> None:
        """Have one ready before it is asked for."""
        with self.one():
            pass

    def end(self) -> None:
        """End all that wait."""
        with self._lock:
            while self._idle:
                self._idle.pop().end()


READ = Readers()
atexit.register(READ.end)


def read_apart(job: Callable[..., Any], *arguments: Any, size: int | None = None) -> Any:
    """The result of one of the core's jobs, done apart.

    :param job: one of :data:`spindle_core.formats.apart.JOBS`.
    :param size: what it may take time and memory for [bytes]; by the arguments when None.
    :raises CoreError: what the job raises. :raises LogFormatError: it broke the reader, or took too
        much. :raises UnavailableError: other files are being read, and stay so.
    """
    assert JOBS[job.__name__] is job
    if size is None:
        size = sum(_bytes_of(one) for one in arguments)
    with READ.one() as reader:
        what, found = reader.ask(job.__name__, arguments, size)
    if what == "refused":
        raise found
    if what == "stumbled":
        logger.error("A reader stumbled over a file", extra={"trace": found})
        raise _refused("was not understood; nothing was stored", "not_understood", "a bench log")
    return found


def _bytes_of(one: Any) -> int:
    """How large an argument is: bytes, a log that was read, or a pack that was opened."""
    if isinstance(one, bytes):
        return len(one)
    if isinstance(one, BenchLog):
        return sum(values.nbytes for values in one.channels.values())
    return one.size_bytes if isinstance(one, DataPack) else 0
