"""Somebody who uses the API as a page does."""

from __future__ import annotations

import http.cookiejar
import json
import time
import urllib.error
import urllib.request
import uuid
from collections import Counter
from typing import Any

from e2e.application import Application

GIVES_UP_S = 60.0


class Person:
    """Somebody with a browser's cookies, who sends again under one key what was not answered."""

    def __init__(self, demo: Application, name: str) -> None:
        self.root = demo.address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.tried = Counter[int]()
        self.ask("GET", "session/")
        said = {"username": name, "password": demo.password(name)}
        assert self.ask("POST", "session/", said)[0] == 200

    def ask(
        self,
        method: str,
        path: str,
        body: Any = None,
        *,
        form: bytes | None = None,
        kind: str = "application/json",
        key: str = "",
    ) -> tuple[int, Any]:
        """Status and body of one try; 0 where nobody answered."""
        data = form if form is not None else None if body is None else json.dumps(body).encode()
        token = next((one.value for one in self.jar if one.name == "csrftoken"), "") or ""
        headers = {"Content-Type": kind, "X-CSRFToken": token, "Origin": self.root}
        if key:
            headers["Idempotency-Key"] = key
        request = urllib.request.Request(  # noqa: S310 - an address of our own
            f"{self.root}/api/v1/{path}", data=data, method=method, headers=headers
        )
        try:
            with self.opener.open(request, timeout=40) as answer:
                return answer.status, _read(answer.read())
        except urllib.error.HTTPError as error:
            return error.code, _read(error.read())
        except OSError:
            return 0, None

    def insist(self, path: str, **sent: Any) -> tuple[int, Any]:
        """A POST that is sent until it is answered, always under one key."""
        key, until = uuid.uuid4().hex, time.monotonic() + GIVES_UP_S
        while True:
            status, body = self.ask("POST", path, key=key, **sent)
            self.tried[status] += 1
            under_way = status == 409 and body.get("code") == "still_under_way"
            if (0 < status < 500 and not under_way) or time.monotonic() > until:
                return status, body
            time.sleep(0.3)


def _read(data: bytes) -> Any:
    try:
        return json.loads(data)
    except ValueError:
        return data.decode(errors="replace")
