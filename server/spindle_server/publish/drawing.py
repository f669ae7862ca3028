"""Drawings for readers' pages: made once, at publication, by the application's own chart code."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Sequence
from typing import Any

from django.conf import settings

from spindle_server.errors import ServiceError

WITHIN_S = 40.0


def drawn(asked: Sequence[dict[str, Any]], words: dict[str, Any]) -> list[dict[str, Any]]:
    """Each drawing that is asked for: ``{"svg", "reading"}``.

    :param asked: lines for the worker, each with a ``draw`` and a ``key``.
    :param words: the vocabulary as the screens get it.
    :raises ServiceError: there is no worker, or it cannot draw one of them.
    """
    if not asked:
        return []
    if not settings.DRAW_WORKER.exists():
        raise ServiceError(
            "What draws the pages is not built; ./spindle build makes it.", code="no_worker"
        )
    lines = [{"draw": "words", "words": words}, *asked]
    sent = "".join(f"{json.dumps(line)}\n" for line in lines)
    try:
        done = subprocess.run(
            [settings.NODE, str(settings.DRAW_WORKER)],
            input=sent,
            capture_output=True,
            text=True,
            timeout=WITHIN_S,
            check=False,
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise ServiceError(f"The pages could not be drawn: {error}.", code="not_drawn") from error
    answers = [json.loads(line) for line in done.stdout.splitlines()]
    faults = [one["fault"] for one in answers if "fault" in one]
    if faults or len(answers) != len(lines):
        what = faults[0] if faults else done.stderr.strip()[:200] or "it stopped"
        raise ServiceError(f"The pages could not be drawn: {what}", code="not_drawn")
    return answers[1:]
