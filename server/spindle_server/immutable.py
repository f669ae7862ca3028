"""Files of the build that never change, answered from memory before Django is asked."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
Application = Callable[[Scope, Receive, Send], Awaitable[None]]

MOST_BYTES = 24_000_000
"""A whole build, plain and packed, is a third of it."""

ASKED_OTHERWISE = (b"range", b"if-none-match", b"if-modified-since", b"if-range")


class Remembered:
    """An application whose answers that call themselves immutable are kept as they were given.

    A page takes fifty to a hundred such files, and each cost three milliseconds of the processor
    on its way through the middleware and two threads.
    """

    def __init__(self, application: Application, beneath: str) -> None:
        """:param beneath: where such files lie, as ``/static/``."""
        self._application, self._beneath = application, beneath
        self._kept: dict[tuple[object, ...], tuple[dict[str, Any], bytes]] = {}
        self._bytes = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer from memory, or ask and remember."""
        key = self._key(scope)
        if key is None:
            await self._application(scope, receive, send)
        elif (kept := self._kept.get(key)) is not None:
            start, body = kept
            await send({**start, "headers": list(start["headers"])})
            await send({"type": "http.response.body", "body": body})
        else:
            await self._ask(key, scope, receive, send)

    def _key(self, scope: Scope) -> tuple[object, ...] | None:
        """What an answer depends on; None where it may be another one."""
        if scope["type"] != "http" or scope["method"] != "GET" or scope["query_string"]:
            return None
        if not scope["path"].startswith(self._beneath):
            return None
        headers = dict(scope["headers"])
        accepts = headers.get(b"accept-encoding", b"")
        if b"q=" in accepts or any(name in headers for name in ASKED_OTHERWISE):
            return None
        packed = frozenset(part.strip() for part in accepts.lower().split(b","))
        known = (b"gzip" in packed, b"br" in packed, b"zstd" in packed, b"*" in packed)
        return (scope["path"], scope.get("scheme"), *known)

    async def _ask(
        self, key: tuple[object, ...], scope: Scope, receive: Receive, send: Send
    ) -> None:
        started: list[MutableMapping[str, Any]] = []
        parts: list[bytes] = []

        async def heard(message: MutableMapping[str, Any]) -> None:
            if message["type"] == "http.response.start":
                started.append(message)
            elif message["type"] == "http.response.body":
                parts.append(message.get("body", b""))
                if not message.get("more_body", False):
                    self._keep(key, started, b"".join(parts))
            await send(message)

        await self._application(scope, receive, heard)

    def _keep(
        self, key: tuple[object, ...], started: list[MutableMapping[str, Any]], body: bytes
    ) -> None:
        headers = {name.lower(): value for name, value in started[0]["headers"]} if started else {}
        immutable = b"immutable" in headers.get(b"cache-control", b"")
        if not started or started[0]["status"] != 200 or not immutable or b"set-cookie" in headers:
            return
        if self._bytes + len(body) > MOST_BYTES or key in self._kept:
            return
        if int(headers.get(b"content-length", b"-1")) != len(body):
            return  # broken off
        self._bytes += len(body)
        self._kept[key] = (dict(started[0]), body)
