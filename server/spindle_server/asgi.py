"""The web process's entry point."""

import ctypes
import multiprocessing
import os
import signal
import threading
from importlib import import_module
from typing import Any

from django.conf import settings
from django.core.asgi import get_asgi_application

from spindle_core.figures import numerics
from spindle_server.garbage import settle
from spindle_server.immutable import Remembered
from spindle_server.reading import READ
from spindle_server.uploads import guarded

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "spindle_server.settings")
django_application = Remembered(guarded(get_asgi_application()), settings.STATIC_URL)
if multiprocessing.parent_process() is not None:
    # One of several: where what started them is killed, none stays behind and holds the port.
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)  # PR_SET_PDEATHSIG
# What every request needs is loaded before one comes, and never looked through for garbage again.
import_module(settings.ROOT_URLCONF)
numerics.load()
settle()
# The first file that somebody drops finds a reader that has started, and the first judgement finds
# what it rests on read.
threading.Thread(target=READ.start_ahead, daemon=True).start()
ahead = import_module("spindle_server.runs.ahead").ahead
threading.Thread(target=ahead, daemon=True).start()


async def application(scope: Any, receive: Any, send: Any) -> None:
    """Django, but for ``/health``: that the process answers, without thread and database."""
    if scope["type"] == "http" and scope["path"] == "/health":
        headers = [(b"content-type", b"text/plain"), (b"cache-control", b"no-store")]
        await send({"type": "http.response.start", "status": 200, "headers": headers})
        await send({"type": "http.response.body", "body": b"open\n"})
        return
    await django_application(scope, receive, send)
