"""The one HTML page: the built front end, found through Vite's manifest."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

ENTRY = "index.html"


@lru_cache(maxsize=1)
def _manifest() -> dict[str, Any]:
    path = settings.WEB_BUILD / ".vite" / "manifest.json"
    manifest: dict[str, Any] = json.loads(path.read_text())
    return manifest


def _styles(manifest: dict[str, Any], name: str, seen: set[str]) -> list[str]:
    if name in seen:
        return []
    seen.add(name)
    found = [
        path for part in manifest[name].get("imports", []) for path in _styles(manifest, part, seen)
    ]
    return found + list(manifest[name].get("css", []))


@never_cache
@ensure_csrf_cookie
def front_page(request: HttpRequest) -> HttpResponse:
    """The application; every address that is not the API's or a file's."""
    try:
        manifest = _manifest()
    except OSError:
        text = "The front end is not built yet; run ./spindle start, which builds it."
        return HttpResponse(text, status=503, content_type="text/plain; charset=utf-8")
    context = {"script": manifest[ENTRY]["file"], "styles": _styles(manifest, ENTRY, set())}
    return render(request, "front_page.html", context)
