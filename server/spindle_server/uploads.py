"""Uploads are measured, and who sends them is looked at, before their body is taken.

Django reads a whole body before a view sees any of it. What nobody is logged in for, or what is too
large, is refused here by its first lines, so that it fills neither memory nor disk.
"""

from __future__ import annotations

import json
from collections.abc import Awaitable, Callable
from http.cookies import CookieError, SimpleCookie
from typing import Any

from asgiref.sync import sync_to_async
from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.db import close_old_connections

LOOKED_AT_BYTES = 1_000_000
"""A body that is smaller may come in; Django's own checks see it."""

LARGEST_BYTES = 36_000_000
"""A log of 30 MB in its form, and some words beside it."""

Application = Callable[[Any, Any, Any], Awaitable[None]]


def guarded(application: Application) -> Application:
    """The application behind this guard."""

    async def guard(scope: Any, receive: Any, send: Any) -> None:
        refusal = await _refusal(scope) if scope["type"] == "http" else None
        if refusal is None:
            await application(scope, receive, send)
            return
        status, code, message = refusal
        body = json.dumps({"code": code, "message": message, "fields": {}}).encode()
        headers = [
            (b"content-type", b"application/json"),
            (b"content-length", str(len(body)).encode()),
            # The rest of the body is not read: the connection cannot be used again.
            (b"connection", b"close"),
        ]
        await send({"type": "http.response.start", "status": status, "headers": headers})
        await send({"type": "http.response.body", "body": body})

    return guard


async def _refusal(scope: Any) -> tuple[int, str, str] | None:
    headers = {name.lower(): value for name, value in scope["headers"]}
    length = headers.get(b"content-length", b"")
    if scope["method"] in ("GET", "HEAD", "OPTIONS"):
        return None
    if b"chunked" in headers.get(b"transfer-encoding", b"").lower():
        return 411, "no_length", "Say how long the body is; nothing was taken."
    if not length.isdigit() or int(length) <= LOOKED_AT_BYTES:
        return None
    if int(length) > LARGEST_BYTES:
        megabytes = int(length) / 1e6
        message = f"{megabytes:.0f} MB are more than the {LARGEST_BYTES / 1e6:.0f} MB of an upload."
        return 413, "too_large", message
    if not await sync_to_async(_is_logged_in)(headers.get(b"cookie", b"").decode("latin-1")):
        return 401, "not_authenticated", "Log in first; nothing was taken."
    return None


def _is_logged_in(cookies: str) -> bool:
    try:
        session = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
    except CookieError:
        return False
    if session is None:
        return False
    close_old_connections()
    return SESSION_KEY in SessionStore(session.value)
