"""The local socket between web and agent: requests with answers, and a stream of frames.

Newline-delimited JSON over a Unix socket that only its owner may open. A request is
``{"do": name, …}``; the answer ``{"ok": true, …}`` or ``{"ok": false, "code", "message"}``.
``{"do": "watch"}`` turns the connection into a stream of frames.
"""

from __future__ import annotations

import asyncio
import json
import socket
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

from spindle_bench.errors import BenchError, RefusedError, UnreachableError

LONGEST_LINE = 1_000_000
ANSWER_WITHIN_S = 6.0
STOP_WITHIN_S = 1.0


def _line(message: dict[str, Any]) -> bytes:
    return json.dumps(message, separators=(",", ":")).encode() + b"\n"


def ask(path: Path, request: dict[str, Any]) -> dict[str, Any]:
    """Send one request and wait for its answer.

    :raises UnreachableError: the agent is not running or does not answer.
    :raises RefusedError: the agent refused, with its code and sentence.
    """
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as connection:
            connection.settimeout(STOP_WITHIN_S if request.get("do") == "stop" else ANSWER_WITHIN_S)
            connection.connect(str(path))
            connection.sendall(_line(request))
            with connection.makefile("rb") as file:
                answer = file.readline(LONGEST_LINE)
    except OSError as error:
        raise UnreachableError("The bench agent does not answer. Is it running?") from error
    return _checked(answer)


async def watch(path: Path) -> AsyncIterator[dict[str, Any]]:
    """Frames from the agent until it goes away.

    :raises UnreachableError: the agent is not running.
    """
    try:
        reader, writer = await asyncio.open_unix_connection(str(path), limit=LONGEST_LINE)
    except OSError as error:
        raise UnreachableError("The bench agent does not answer. Is it running?") from error
    try:
        writer.write(_line({"do": "watch"}))
        while line := await reader.readline():
            yield json.loads(line)
    finally:
        writer.close()


def _checked(answer: bytes) -> dict[str, Any]:
    if not answer:
        raise UnreachableError("The bench agent closed the connection.")
    data: dict[str, Any] = json.loads(answer)
    if not data.get("ok"):
        raise RefusedError(
            data.get("message", "Refused."),
            code=data.get("code", "refused"),
            field=data.get("field", ""),
        )
    return data


def refusal(error: BenchError) -> dict[str, Any]:
    """An error as an answer."""
    return {"ok": False, "code": error.code, "message": error.message, "field": error.field}
