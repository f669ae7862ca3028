"""Readers' pages by themselves, for everybody: exactly what is published and nothing else."""

from __future__ import annotations

from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseNotModified
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_safe

from spindle_server.publish.readers import Site, etag_of, type_of

POLICY = (
    "default-src 'none'; img-src 'self'; font-src 'self'; script-src 'self'; connect-src 'self'; "
    # The charts' drawings carry style attributes.
    "style-src 'self' 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)


def _kept(path: str) -> str:
    """How long a browser keeps a file: a page is asked for again, or a correction would come late;
    photos bear the digest of their bytes, and fonts stay."""
    return "public, max-age=86400" if path.endswith((".jpg", ".woff2")) else "public, no-cache"


def _pack(request: HttpRequest, path: str) -> HttpResponseBase:
    """An archive, handed out as it is read: it may be large, and anybody may ask for it."""
    found = Site().pack_at(path)
    if found is None:
        return HttpResponse(
            "There is no such file here.", status=404, content_type="text/plain; charset=utf-8"
        )
    tag = f'"{found.stem[:32]}"'
    response: HttpResponseBase
    if request.headers.get("If-None-Match") == tag:
        response = HttpResponseNotModified()
    else:
        name = path.rpartition("/")[2]
        response = FileResponse(
            found.open("rb"), as_attachment=True, filename=name, content_type=type_of(path)
        )
    response["ETag"] = tag
    response["Cache-Control"] = _kept(path)
    response["Content-Security-Policy"] = POLICY
    return response


@require_safe
def read(request: HttpRequest, path: str = "") -> HttpResponseBase:
    """One file of the folder; a path that ends in a folder is its index."""
    if path == "" or path.endswith("/"):
        path = f"{path}index.html"
    if path.endswith(".zip"):
        return _pack(request, path)
    data = Site().file(path)
    if data is None:
        response = HttpResponse(
            "There is no such page here.", status=404, content_type="text/plain; charset=utf-8"
        )
    else:
        tag = etag_of(data)
        if request.headers.get("If-None-Match") == tag:
            response = HttpResponseNotModified()
        else:
            response = HttpResponse(data, content_type=type_of(path))
        response["ETag"] = tag
    response["Cache-Control"] = _kept(path) if data is not None else "no-store"
    response["Content-Security-Policy"] = POLICY
    return response
