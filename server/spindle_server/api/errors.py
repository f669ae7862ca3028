"""One shape for every error: ``{code, message, fields, where, current}``."""

from __future__ import annotations

import sys
from typing import Any

from django.core.exceptions import DisallowedHost, PermissionDenied
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import set_rollback

from spindle_bench.errors import BenchError, UnreachableError
from spindle_core.errors import CoreError, LogFormatError
from spindle_server.errors import ServiceError
from spindle_server.records.meeting import NO_MAJORITY, met_another, number_of
from spindle_server.records.reading_copy import AWAY

DATABASE_AWAY = "The database does not answer. What you typed is still here; try again in a moment."

MET_ANOTHER = "met_another"
OTHERS_WROTE = (
    "Others wrote to the same rows each time this was tried; nothing was changed. What you typed "
    "is still here; try again in a moment."
)
WITHOUT_MAJORITY = (
    "The database's machines cannot reach a majority of themselves, so nothing is read or written "
    "until they do. What you typed is still here, and what a stand records is kept and delivered "
    "later; an administrator has to see to the machines."
)


def error_body(
    code: str,
    message: str,
    fields: dict[str, list[str]] | None = None,
    where: dict[str, Any] | None = None,
    current: dict[str, Any] | None = None,
) -> dict[str, Any]:
    """The one shape; ``current`` is what stands there when somebody else wrote first."""
    return {
        "code": code,
        "message": message,
        "fields": fields or {},
        "where": where,
        "current": current,
    }


def answer_error(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an exception of a view into an answer; None for a defect, which becomes a 500."""
    set_rollback()
    if isinstance(error, ServiceError):
        body = error_body(error.code, error.message, error.fields, error.where, error.current)
        return Response(body, error.status)
    if isinstance(error, LogFormatError):
        where = {"line": error.line, "column": error.column, "expected": error.expected}
        return Response(error_body(error.code, error.describe("the file"), where=where), 400)
    if isinstance(error, CoreError):
        return Response(error_body(error.code, error.message), 400)
    if isinstance(error, UnreachableError):
        return Response(error_body(error.code, error.message), 503)
    if isinstance(error, BenchError):
        fields = {error.field: [error.message]} if error.field else None
        return Response(error_body(error.code, error.message, fields), 409)
    if isinstance(error, OperationalError | InterfaceError):
        return Response(database_trouble(error), 503)
    return _answer_framework_error(error)


def database_trouble(error: OperationalError | InterfaceError) -> dict[str, Any]:
    """What a person is told of a database that did not do it."""
    if met_another(error):
        return error_body(MET_ANOTHER, OTHERS_WROTE)
    if number_of(error) == NO_MAJORITY:
        return error_body("no_majority", WITHOUT_MAJORITY)
    return error_body(AWAY, DATABASE_AWAY)


def _answer_framework_error(error: Exception) -> Response | None:
    if isinstance(error, Http404):
        error = exceptions.NotFound()
    elif isinstance(error, PermissionDenied):
        error = exceptions.PermissionDenied()
    if not isinstance(error, exceptions.APIException):
        return None
    scheme = getattr(error, "auth_header", None)
    headers = {"WWW-Authenticate": scheme} if scheme else {}
    if isinstance(error, exceptions.ValidationError):
        fields = _fields(error.detail)
        first = next((messages[0] for messages in fields.values()), "The input is not valid.")
        return Response(error_body("invalid", first, fields), error.status_code)
    detail = error.detail
    code = getattr(detail, "code", error.default_code)
    return Response(error_body(str(code), str(detail)), error.status_code, headers=headers)


def _fields(detail: Any, prefix: str = "") -> dict[str, list[str]]:
    if isinstance(detail, dict):
        found: dict[str, list[str]] = {}
        for name, inner in detail.items():
            found.update(_fields(inner, f"{prefix}.{name}" if prefix else str(name)))
        return found
    if isinstance(detail, list) and any(isinstance(item, dict) for item in detail):
        found = {}
        for index, inner in enumerate(detail):
            found.update(_fields(inner, f"{prefix}.{index}"))
        return found
    messages = detail if isinstance(detail, list) else [detail]
    return {prefix or "non_field_errors": [str(message) for message in messages]}


def json_bad_request(request: HttpRequest, exception: Exception) -> JsonResponse:
    """What Django itself refuses before a view is asked; a host that is not ours above all."""
    if isinstance(exception, DisallowedHost):
        # What was asked for is not repeated: it is a stranger's text.
        message = "This installation does not answer for that host; see --public in the README."
        return JsonResponse(error_body("unknown_host", message), status=400)
    return JsonResponse(error_body("bad_request", "This request cannot be read."), status=400)


def json_forged(request: HttpRequest, reason: str = "") -> JsonResponse:
    """A write without the token of a page of ours."""
    message = "This did not come from a page of Taut Spindle; load the page anew and try again."
    return JsonResponse(error_body("forged", message), status=403)


def json_not_found(request: HttpRequest, exception: Exception) -> JsonResponse:
    """Unknown addresses."""
    return JsonResponse(error_body("not_found", "There is nothing at this address."), status=404)


def json_server_error(request: HttpRequest) -> JsonResponse:
    """A defect of ours; what was sent is not stored in part. A database that is away before a view
    is asked is none."""
    error = sys.exc_info()[1]
    if isinstance(error, OperationalError | InterfaceError):
        return JsonResponse(database_trouble(error), status=503)
    message = (
        "Something went wrong on our side; nothing was changed. The log of the server says more."
    )
    return JsonResponse(error_body("defect", message), status=500)
