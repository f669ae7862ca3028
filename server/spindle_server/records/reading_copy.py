"""Reads by a copy of the database (a MariaDB replica) that are never older than the record is.

Before a page asks for anything, the database says how far it has come and the copy is waited for
until it is there, for a moment; where it does not get there, the database itself is read. So who
wrote reads it, and who was told of something by anybody finds it.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from asgiref.sync import iscoroutinefunction, sync_to_async
from django.conf import settings
from django.core.exceptions import MiddlewareNotUsed
from django.db import DEFAULT_DB_ALIAS, Error, connections, models
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils.decorators import sync_and_async_middleware

COPY = "copy"

CATCHES_UP_WITHIN_S = 0.2
LEFT_ALONE_S = 2.0
"""How long a copy that was away or late is not asked, so that not every page waits for it."""

PAGES = ("/api/v1/", "/read/")
NOT_BY_A_COPY = "/api/v1/bench/"
"""What turns is asked of the database itself, and the stream is no page."""

AWAY = "database_away"

_read_by: ContextVar[str] = ContextVar("read_by", default=DEFAULT_DB_ALIAS)
_left_alone_until = 0.0

logger = logging.getLogger(__name__)


class ByCopy:
    """Which database is asked: the copy while a page that may is answered, until it writes."""

    def db_for_read(self, model: type[models.Model], **hints: Any) -> str:
        """Where rows of a model are read."""
        return read_by()

    def db_for_write(self, model: type[models.Model], **hints: Any) -> str:
        """Where they are written; what was just written is read there too."""
        _read_by.set(DEFAULT_DB_ALIAS)
        return DEFAULT_DB_ALIAS

    def allow_relation(self, one: models.Model, other: models.Model, **hints: Any) -> bool:
        """Rows of the two are those of one record."""
        return True

    def allow_migrate(self, db: str, app_label: str, **hints: Any) -> bool:
        """The copy is given its tables by the database."""
        return db == DEFAULT_DB_ALIAS


def read_by() -> str:
    """The alias of the database that is read at the moment."""
    return _read_by.get()


@sync_and_async_middleware
def reads_by_a_copy(get_response: Callable[[HttpRequest], Any]) -> Any:
    """Middleware: pages are answered by the copy where it has come as far as the database.

    A copy that goes away in the middle is told by a 503, and the database is asked instead.
    """
    if COPY not in settings.DATABASES:
        raise MiddlewareNotUsed

    if iscoroutinefunction(get_response):
        turn = sync_to_async(_turn_to_the_copy)

        async def later(request: HttpRequest) -> HttpResponseBase:
            if not (_may(request) and await turn()):
                answered: HttpResponseBase = await get_response(request)
                return answered
            _read_by.set(COPY)
            try:
                answer: HttpResponseBase = await get_response(request)
                if _came_to_nothing(answer):
                    _leave_alone("went away")
                    _read_by.set(DEFAULT_DB_ALIAS)
                    answer = await get_response(request)
            finally:
                _read_by.set(DEFAULT_DB_ALIAS)
            return answer

        return later

    def at_once(request: HttpRequest) -> HttpResponseBase:
        if not (_may(request) and _turn_to_the_copy()):
            answered: HttpResponseBase = get_response(request)
            return answered
        _read_by.set(COPY)
        try:
            answer: HttpResponseBase = get_response(request)
            if _came_to_nothing(answer):
                _leave_alone("went away")
                _read_by.set(DEFAULT_DB_ALIAS)
                answer = get_response(request)
        finally:
            _read_by.set(DEFAULT_DB_ALIAS)
        return answer

    return at_once


def _may(request: HttpRequest) -> bool:
    path = request.path
    return (
        request.method in ("GET", "HEAD")
        and path.startswith(PAGES)
        and not path.startswith(NOT_BY_A_COPY)
    )


def _came_to_nothing(answer: HttpResponseBase) -> bool:
    if answer.status_code != 503 or read_by() != COPY:
        return False
    return AWAY.encode() in getattr(answer, "content", b"")


def _turn_to_the_copy() -> bool:
    """Whether the copy has come as far as the database has by now."""
    if time.monotonic() < _left_alone_until:
        return False
    amiss = what_is_amiss()
    if amiss:
        _leave_alone(amiss)
    return not amiss


def what_is_amiss() -> str:
    """Why the copy cannot be read as far as the database has come by now; blank where it can."""
    with connections[DEFAULT_DB_ALIAS].cursor() as cursor:
        cursor.execute("SELECT @@gtid_binlog_pos")
        position = cursor.fetchone()[0]
    if not position:
        return "follows a database that keeps no log (log_bin)"
    try:
        with connections[COPY].cursor() as cursor:
            cursor.execute("SELECT MASTER_GTID_WAIT(%s, %s)", [position, CATCHES_UP_WITHIN_S])
            there = cursor.fetchone()[0] == 0
    except Error:
        connections[COPY].close()
        return "does not answer"
    return "" if there else f"is more than {CATCHES_UP_WITHIN_S} s late, or does not follow"


def _leave_alone(why: str) -> None:
    global _left_alone_until
    _left_alone_until = time.monotonic() + LEFT_ALONE_S
    logger.warning("the copy for reading %s", why)
