"""A write with an ``Idempotency-Key`` is carried out once, however often it is sent.

The row of the key and what the request writes are one transaction. Whoever sends the same at the
same instant waits at the row until the first is done and gets its answer; where the first comes to
nothing, nothing of it is left, and the next try is the first.
"""

from __future__ import annotations

import hashlib
import logging
import re
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from asgiref.sync import iscoroutinefunction, markcoroutinefunction
from django.db import IntegrityError, InterfaceError, OperationalError, connection, transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.utils import timezone

from spindle_server.api.errors import MET_ANOTHER, OTHERS_WROTE, database_trouble, error_body
from spindle_server.once.models import CarriedOut
from spindle_server.records.meeting import (
    DEADLOCK,
    LOCK_WAIT_EXCEEDED,
    met_another,
    number_of,
    pause,
)
from spindle_server.records.writes import DUPLICATE_ENTRY

HEADER = "Idempotency-Key"
ANSWERED_BEFORE = "Answered-Before"
"""Set on an answer that is the answer of an earlier try."""

KEPT = timedelta(days=1)
WAIT_S = 8
"""How long a second try waits for the first; its sender waits 30 s."""

TRIES = 8

logger = logging.getLogger(__name__)

LONGEST_BODY = 2_500_000
"""Bytes of a body that are read here; of longer ones, which are files, the length has to do."""

_KEY = re.compile(r"[A-Za-z0-9_-]{8,64}")
_PURGED_EVERY = 64


class CarriedOutOnce:
    """Middleware around every POST of somebody who is logged in.

    A view with ``answers_once = False`` is always carried out: commands to the bench, which has its
    own states, and answers that hold a secret.
    """

    sync_capable = True
    async_capable = True

    def __init__(self, get_response: Callable[[HttpRequest], Any]) -> None:
        self.get_response = get_response
        if iscoroutinefunction(get_response):
            markcoroutinefunction(self)

    def __call__(self, request: HttpRequest) -> Any:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Callable[..., Any], args: Any, kwargs: Any
    ) -> HttpResponseBase | None:
        """Carry out the view under its key, or answer as it was answered."""
        key = request.headers.get(HEADER)
        if key is None or request.method != "POST" or iscoroutinefunction(view):
            return None
        if not getattr(getattr(view, "cls", None), "answers_once", True):
            return None
        person = request.user.pk
        if person is None:
            return None
        if not _KEY.fullmatch(key):
            return _refused(
                "key_unreadable",
                f"{HEADER} needs 8 to 64 letters, digits, hyphens or underscores.",
                400,
            )
        asked = _asked(request)
        met = False
        for tries in range(TRIES):
            try:
                return _first(person, key, asked, lambda: view(request, *args, **kwargs))
            except _AlreadyError:
                answer = _again(person, key, asked)
                if answer is not None:
                    return answer
            except _UnderWayError:
                break
            except _TogetherError:
                continue
            except _MetAnotherError:
                met = True
                if not _can_be_read_again(request):
                    break
                logger.info("made again after it met another write", extra={"tries": tries + 1})
                pause(tries)
            except (OperationalError, InterfaceError) as error:
                # Whether it was written is not known: sent again under its key, it is known.
                return JsonResponse(database_trouble(error), status=503)
        if met:
            return _refused(MET_ANOTHER, OTHERS_WROTE, 503)
        return _refused(
            "still_under_way",
            "The same request is still being carried out; try again in a moment.",
            409,
        )


class _AlreadyError(Exception):
    """The key has been used."""


class _UnderWayError(Exception):
    """Another is at it for longer than is waited."""


class _TogetherError(Exception):
    """Several waited for one that came to nothing; the database chose who goes on."""


class _MetAnotherError(Exception):
    """Its write met another, which was let through instead."""


def _first(
    person: int, key: str, asked: str, carry_out: Callable[[], HttpResponse]
) -> HttpResponse:
    try:
        return _first_of_all(person, key, asked, carry_out)
    except OperationalError as error:
        # A cluster says it at the commit.
        if met_another(error):
            raise _MetAnotherError from error
        raise


def _first_of_all(
    person: int, key: str, asked: str, carry_out: Callable[[], HttpResponse]
) -> HttpResponse:
    with transaction.atomic():
        row = _claim(person, key, asked)
        answer = carry_out()
        render = getattr(answer, "render", None)
        if render is not None:
            answer = render()
        if _code_of(answer) == MET_ANOTHER:
            raise _MetAnotherError
        if answer.status_code >= 500 or connection.needs_rollback:
            transaction.set_rollback(True)
        elif _worth_keeping(answer):
            row.status, row.answer = answer.status_code, answer.content.decode()
            row.save(update_fields=["status", "answer"])
        else:
            row.delete()
    return answer


def _code_of(answer: HttpResponse) -> str:
    said = getattr(answer, "data", None)
    return str(said.get("code", "")) if answer.status_code >= 500 and isinstance(said, dict) else ""


def _claim(person: int, key: str, asked: str) -> CarriedOut:
    with connection.cursor() as cursor:
        # The wait is for the row of the key alone; the write itself may wait as it always may.
        cursor.execute("SET innodb_lock_wait_timeout = %s", [WAIT_S])
        try:
            with transaction.atomic():
                row = CarriedOut.objects.create(person_id=person, key=key, asked=asked)
        except (IntegrityError, OperationalError) as error:
            known = {
                DUPLICATE_ENTRY: _AlreadyError,
                LOCK_WAIT_EXCEEDED: _UnderWayError,
                DEADLOCK: _TogetherError,
            }
            told = known.get(number_of(error) or 0)
            if told is None:
                raise
            raise told from error
        finally:
            if not connection.needs_rollback:
                cursor.execute("SET innodb_lock_wait_timeout = DEFAULT")
    if row.pk % _PURGED_EVERY == 0:
        CarriedOut.objects.filter(at__lt=timezone.now() - KEPT).delete()
    return row


def _again(person: int, key: str, asked: str) -> HttpResponse | None:
    row = CarriedOut.objects.filter(person_id=person, key=key).first()
    if row is None:  # Thrown away between the two.
        return None
    if row.asked != asked:
        return _refused(
            "key_of_another_request",
            "Something else was sent under this key before; every request needs its own.",
            409,
        )
    answer = HttpResponse(row.answer, status=row.status, content_type="application/json")
    answer[ANSWERED_BEFORE] = "yes"
    return answer


def _worth_keeping(answer: HttpResponse) -> bool:
    """Whether it stands for a write; what was refused may be sent again under its key."""
    if not 200 <= answer.status_code < 300 or answer.streaming:
        return False
    return not answer.content or answer.headers.get("Content-Type", "").startswith(
        "application/json"
    )


def _can_be_read_again(request: HttpRequest) -> bool:
    """Whether the body is kept: that of a form with files has gone through already."""
    kind, length = request.content_type or "", request.META.get("CONTENT_LENGTH") or "0"
    return _is_read_here(kind, length) or length == "0"


def _is_read_here(kind: str, length: str) -> bool:
    return kind == "application/json" and length.isdigit() and int(length) <= LONGEST_BODY


def _asked(request: HttpRequest) -> str:
    said = [request.method or "", request.get_full_path()]
    kind, length = request.content_type or "", request.META.get("CONTENT_LENGTH") or "0"
    said += [kind, length]
    found = hashlib.sha256("\n".join(said).encode(errors="surrogatepass"))
    if _is_read_here(kind, length):
        found.update(request.body)
    return found.hexdigest()


def _refused(code: str, message: str, status: int) -> JsonResponse:
    return JsonResponse(error_body(code, message), status=status)
