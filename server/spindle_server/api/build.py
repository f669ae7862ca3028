"""Which build of the front end this server belongs to, told with every answer of the API, so that a
page that was opened before an upgrade can say so."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from functools import lru_cache
from typing import Any

from asgiref.sync import iscoroutinefunction
from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils.decorators import sync_and_async_middleware

HEADER = "X-Spindle-Build"


@lru_cache(maxsize=1)
def build_id() -> str:
    """A digest of the build's manifest; empty where there is no build."""
    path = settings.WEB_BUILD / ".vite" / "manifest.json"
    if not path.exists():
        return ""
    return hashlib.sha256(path.read_bytes()).hexdigest()[:16]


@sync_and_async_middleware
def name_build(get_response: Callable[[HttpRequest], Any]) -> Callable[[HttpRequest], Any]:
    """Middleware: names the build in answers of the API."""
    if iscoroutinefunction(get_response):

        async def later(request: HttpRequest) -> HttpResponseBase:
            return _named(request, await get_response(request))

        return later

    def at_once(request: HttpRequest) -> HttpResponseBase:
        return _named(request, get_response(request))

    return at_once


def _named(request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
    if request.path.startswith("/api/"):
        if build_id():
            response[HEADER] = build_id()
        # What only who is logged in may see is kept by nobody on the way.
        response.setdefault("Cache-Control", "no-store")
    return response
