"""Drawings for readers' pages: made once, at publication, by the application's own chart code."""

from __future__ import annotations

import json
import queue
import subprocess
import tempfile
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from typing import IO, Any

from django.conf import settings

from spindle_server.errors import ServiceError

WITHIN_S = 40.0


class DrawWorker:
    """The program that draws, a line of JSON for each drawing: it makes itself ready while its
    caller finds out what there is to draw, and is faster from its second drawing on."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None
        self._fault: ServiceError | None = None
        self._complaints: IO[bytes] | None = None
        self._answers: queue.SimpleQueue[str | None] = queue.SimpleQueue()
        self._words: dict[str, Any] | None = None

    def begin(self) -> None:
        """Begin it; where that fails :meth:`draw` says so, if there is anything to draw."""
        if not settings.DRAW_WORKER.exists():
            self._fault = ServiceError(
                "What draws the pages is not built; ./spindle build makes it.", code="no_worker"
            )
            return
        self._complaints = tempfile.TemporaryFile()  # noqa: SIM115 - end() closes it
        try:
            self._process = subprocess.Popen(
                [settings.NODE, str(settings.DRAW_WORKER)],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=self._complaints,
                text=True,
            )
        except OSError as error:
            self._fault = _not_drawn(f": {error}.")
            return
        threading.Thread(target=self._listen, args=(self._process,), daemon=True).start()

    def end(self) -> None:
        """End it, whether it has drawn or not."""
        process, self._process = self._process, None
        if process is not None:
            if process.poll() is None:
                process.kill()
            process.wait()
            with suppress(OSError):
                if process.stdin is not None:
                    process.stdin.close()
        if self._complaints is not None:
            self._complaints.close()

    def draw(self, asked: Sequence[dict[str, Any]], words: dict[str, Any]) -> list[dict[str, Any]]:
        """Each drawing that is asked for: ``{"svg", "reading"}``.

        :param asked: lines for the worker, each with a ``draw`` and a ``key``.
        :param words: the vocabulary as the screens get it.
        :raises ServiceError: there is no worker, or it cannot draw one of them.
        """
        if not asked:
            return []
        if self._process is None:
            raise self._fault or _not_drawn(": it was not begun.")
        before = [] if words == self._words else [{"draw": "words", "words": words}]
        lines = [*before, *asked]
        sent = "".join(f"{json.dumps(line)}\n" for line in lines)
        # Beside, since it answers the first before it has heard the last.
        threading.Thread(target=self._say, args=(self._process, sent), daemon=True).start()
        try:
            until = time.monotonic() + WITHIN_S
            answers = [self._answer(until - time.monotonic()) for _ in lines]
        except ServiceError as error:
            # Whatever it says now belongs to nothing that is asked later.
            self._fault = error
            self.end()
            raise
        faults = [one["fault"] for one in answers if "fault" in one]
        if faults:
            raise _not_drawn(f": {faults[0]}")
        self._words = words
        return answers[len(before) :]

    def _answer(self, within_s: float) -> dict[str, Any]:
        try:
            line = self._answers.get(timeout=max(0.0, within_s))
        except queue.Empty:
            raise _not_drawn(f": nothing came within {WITHIN_S:g} s.") from None
        if line is None:
            raise _not_drawn(f": {self._complaint() or 'it stopped'}")
        answer: dict[str, Any] = json.loads(line)
        return answer

    def _complaint(self) -> str:
        assert self._process is not None
        assert self._complaints is not None
        with suppress(subprocess.TimeoutExpired):
            self._process.wait(timeout=1.0)
        self._complaints.seek(0)
        return self._complaints.read(10_000).decode(errors="replace").strip()[:200]

    @staticmethod
    def _say(process: subprocess.Popen[str], sent: str) -> None:
        assert process.stdin is not None
        with suppress(OSError, ValueError):
            process.stdin.write(sent)
            process.stdin.flush()

    def _listen(self, process: subprocess.Popen[str]) -> None:
        assert process.stdout is not None
        with process.stdout as lines:
            for line in lines:
                self._answers.put(line)
        self._answers.put(None)


_shared: ContextVar[DrawWorker | None] = ContextVar("draw_worker", default=None)


@contextmanager
def draw_worker() -> Iterator[DrawWorker]:
    """The worker, begun, for as long as it is needed; inside of another of these, that one's."""
    shared = _shared.get()
    if shared is not None:
        yield shared
        return
    worker = DrawWorker()
    worker.begin()
    token = _shared.set(worker)
    try:
        yield worker
    finally:
        _shared.reset(token)
        worker.end()


def _not_drawn(why: str) -> ServiceError:
    return ServiceError(f"The pages could not be drawn{why}", code="not_drawn")
