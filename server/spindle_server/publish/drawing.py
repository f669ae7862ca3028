"""Drawings for readers' pages: made once, at publication, by the application's own chart code."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from typing import Any

from django.conf import settings

from spindle_server.errors import ServiceError

WITHIN_S = 40.0


class DrawWorker:
    """The program that draws: it makes itself ready while its caller finds out what there is to
    draw, and draws once."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None
        self._fault: ServiceError | None = None

    def begin(self) -> None:
        """Begin it; where that fails :meth:`draw` says so, if there is anything to draw."""
        if not settings.DRAW_WORKER.exists():
            self._fault = ServiceError(
                "What draws the pages is not built; ./spindle build makes it.", code="no_worker"
            )
            return
        try:
            self._process = subprocess.Popen(
                [settings.NODE, str(settings.DRAW_WORKER)],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.PIPE,
                text=True,
            )
        except OSError as error:
            self._fault = _not_drawn(f": {error}.")

    def end(self) -> None:
        """End it, whether it has drawn or not."""
        if self._process is None:
            return
        if self._process.poll() is None:
            self._process.kill()
        for pipe in (self._process.stdin, self._process.stdout, self._process.stderr):
            with suppress(OSError):
                if pipe is not None:
                    pipe.close()
        self._process.wait()

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
        lines = [{"draw": "words", "words": words}, *asked]
        sent = "".join(f"{json.dumps(line)}\n" for line in lines)
        try:
            out, complaint = self._process.communicate(sent, timeout=WITHIN_S)
        except (OSError, subprocess.TimeoutExpired) as error:
            raise _not_drawn(f": {error}.") from error
        answers = [json.loads(line) for line in out.splitlines()]
        faults = [one["fault"] for one in answers if "fault" in one]
        if faults or len(answers) != len(lines):
            what = faults[0] if faults else complaint.strip()[:200] or "it stopped"
            raise _not_drawn(f": {what}")
        return answers[1:]


@contextmanager
def draw_worker() -> Iterator[DrawWorker]:
    """The worker, begun, for as long as it is needed."""
    worker = DrawWorker()
    worker.begin()
    try:
        yield worker
    finally:
        worker.end()


def _not_drawn(why: str) -> ServiceError:
    return ServiceError(f"The pages could not be drawn{why}", code="not_drawn")
