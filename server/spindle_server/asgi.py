"""The web process's entry point."""

import os
import threading
from typing import Any

from django.core.asgi import get_asgi_application

from spindle_server.reading import READ
from spindle_server.uploads import guarded

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "spindle_server.settings")
django_application = guarded(get_asgi_application())
# The first file that somebody drops finds a reader that has started.
threading.Thread(target=READ.start_ahead, daemon=True).start()


async def application(scope: Any, receive: Any, send: Any) -> None:
    """Django, but for ``/health``: that the process answers, without thread and database."""
    if scope["type"] == "http" and scope["path"] == "/health":
        headers = [(b"content-type", b"text/plain"), (b"cache-control", b"no-store")]
        await send({"type": "http.response.start", "status": 200, "headers": headers})
        await send({"type": "http.response.body", "body": b"open\n"})
        return
    await django_application(scope, receive, send)
