"""Where people are logged in, and when that ends: after hours in which nobody did anything, or when
somebody ends it from elsewhere."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from asgiref.sync import iscoroutinefunction, sync_to_async
from django.conf import settings
from django.contrib.auth import HASH_SESSION_KEY, SESSION_KEY, logout
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.utils.crypto import constant_time_compare
from django.utils.decorators import sync_and_async_middleware

from spindle_server.accounts.models import User

SINCE, SEEN, ADDRESS, BROWSER = "since", "seen", "address", "browser"
SEEN_EVERY_S = 60.0
"""How exactly it is known when somebody was last there; each time is a write."""

MAY_NOT_END: list[Callable[[], bool]] = []
"""What keeps sessions from ending by themselves; the bench says so while it is hot."""


def note_login(request: HttpRequest) -> None:
    """Keep with the session where and when it began."""
    now = timezone.now().isoformat()
    request.session[SINCE] = request.session[SEEN] = now
    request.session[ADDRESS] = str(request.META.get("REMOTE_ADDR", ""))[:45]
    request.session[BROWSER] = str(request.META.get("HTTP_USER_AGENT", ""))[:160]


def handle_of(key: str | None) -> str:
    """What stands for a session where its key must not."""
    return hashlib.sha256((key or "").encode()).hexdigest()[:24]


def sessions_of(user: User, own: str | None) -> list[dict[str, Any]]:
    """Where a person is logged in, the one seen last first.

    :param own: the key of the session that asks.
    """
    found = [
        {
            "handle": handle_of(row.session_key),
            "own": row.session_key == own,
            "since": _time(data.get(SINCE)),
            "seen": _time(data.get(SEEN)),
            "address": data.get(ADDRESS, ""),
            "browser": data.get(BROWSER, ""),
        }
        for row, data in _open(user)
        if _stands(user, data)
    ]
    return sorted(found, key=lambda one: (one["own"], str(one["seen"])), reverse=True)


def _open(user: User) -> list[tuple[Session, dict[str, Any]]]:
    rows = Session.objects.filter(expire_date__gt=timezone.now())
    decoded = ((row, row.get_decoded()) for row in rows)
    return [(row, data) for row, data in decoded if data.get(SESSION_KEY) == str(user.pk)]


def _stands(user: User, data: dict[str, Any]) -> bool:
    """Whether a session is of the password that is now: one of an earlier lets nobody in."""
    return constant_time_compare(data.get(HASH_SESSION_KEY, ""), user.get_session_auth_hash())


def _time(text: object) -> datetime | None:
    try:
        return datetime.fromisoformat(str(text))
    except ValueError:
        return None


def end_sessions(user: User, handle: str | None = None) -> int:
    """Log a person out: everywhere, or at the place of a handle; how many ended."""
    ended = 0
    for row, _ in _open(user):
        if handle is None or handle_of(row.session_key) == handle:
            row.delete()
            ended += 1
    return ended


def still_open(key: str | None) -> bool:
    """Whether a session stands and its person may come in; for streams that outlive a request."""
    row = Session.objects.filter(session_key=key, expire_date__gt=timezone.now()).first()
    if row is None:
        return False
    data = row.get_decoded()
    number = str(data.get(SESSION_KEY, ""))
    user = User.objects.filter(pk=number, is_active=True).first() if number.isdigit() else None
    return user is not None and _stands(user, data)


@sync_and_async_middleware
def idle_ends(get_response: Callable[[HttpRequest], Any]) -> Any:
    """Middleware: a session in which nobody did anything for hours ends, and others are noted."""
    if iscoroutinefunction(get_response):

        async def later(request: HttpRequest) -> HttpResponseBase:
            if settings.SESSION_COOKIE_NAME in request.COOKIES:
                await sync_to_async(_look)(request)
            response: HttpResponseBase = await get_response(request)
            return response

        return later

    def at_once(request: HttpRequest) -> HttpResponseBase:
        # Only who sends a session is looked at: strangers cost no query.
        if settings.SESSION_COOKIE_NAME in request.COOKIES:
            _look(request)
        response: HttpResponseBase = get_response(request)
        return response

    return at_once


def _look(request: HttpRequest) -> None:
    if SESSION_KEY not in request.session:
        return
    seen, now = _time(request.session.get(SEEN)), timezone.now()
    idle = timedelta(0) if seen is None else now - seen
    if idle.total_seconds() > settings.SESSION_IDLE_S and not any(one() for one in MAY_NOT_END):
        logout(request)
    elif seen is None or idle.total_seconds() > SEEN_EVERY_S:
        request.session[SEEN] = now.isoformat()
