"""What never changes is answered from memory, as it was given, and nothing else is."""

import asyncio

import pytest

from spindle_server import immutable
from spindle_server.immutable import Remembered

FOREVER = (b"cache-control", b"max-age=315360000, public, immutable")


class House:
    """An application that says how often it was asked, and what it is to answer."""

    def __init__(self, body=b"let x = 1", *, status=200, headers=(FOREVER,), said=None):
        self.asked, self.body, self.status = [], body, status
        length = str(len(body) if said is None else said).encode()
        self.headers = [(b"content-length", length), *headers]

    async def __call__(self, scope, receive, send):
        self.asked.append(scope["path"])
        if self.status is None:
            raise RuntimeError("broken off")
        await send({"type": "http.response.start", "status": self.status, "headers": self.headers})
        half = len(self.body) // 2
        await send({"type": "http.response.body", "body": self.body[:half], "more_body": True})
        await send({"type": "http.response.body", "body": self.body[half:]})


def get(application, path="/static/assets/a-1.js", *headers, method="GET", query=b"", kind="http"):
    said = []

    async def send(message):
        said.append(message)

    scope = {
        "type": kind,
        "method": method,
        "path": path,
        "query_string": query,
        "scheme": "http",
        "headers": list(headers),
    }
    asyncio.run(application(scope, None, send))
    body = b"".join(one.get("body", b"") for one in said)
    return said[0]["status"], said[0]["headers"], body


def test_the_second_answer_is_the_first_and_nobody_is_asked():
    house = House(headers=(FOREVER, (b"content-security-policy", b"default-src 'self'")))
    remembered = Remembered(house, "/static/")
    first = get(remembered)
    assert first == (200, house.headers, house.body)
    assert get(remembered) == first
    assert len(house.asked) == 1
    # Another file is another answer.
    get(remembered, "/static/assets/b-1.js")
    assert len(house.asked) == 2


def test_what_the_browser_unpacks_decides_which_it_gets():
    house = House()
    remembered = Remembered(house, "/static/")
    for accepts in (b"gzip, deflate, br", b"gzip", b"", b"*"):
        get(remembered, "/static/a.js", (b"accept-encoding", accepts))
    assert len(house.asked) == 4
    get(remembered, "/static/a.js", (b"accept-encoding", b"br,gzip"))
    assert len(house.asked) == 4
    # Who weighs them is asked for each time.
    for _ in range(2):
        get(remembered, "/static/a.js", (b"accept-encoding", b"gzip;q=0, br"))
    assert len(house.asked) == 6


@pytest.mark.parametrize(
    "asking",
    [
        {"method": "HEAD"},
        {"method": "POST"},
        {"query": b"v=2"},
        {"path": "/api/v1/session/"},
        {"path": "/staticky/a.js"},
        {"headers": [(b"range", b"bytes=0-3")]},
        {"headers": [(b"if-none-match", b'"x"')]},
        {"headers": [(b"if-modified-since", b"Mon, 30 Nov 2026 00:00:00 GMT")]},
        {"kind": "websocket"},
    ],
)
def test_what_is_asked_otherwise_is_neither_kept_nor_answered_from_memory(asking):
    house = House()
    remembered = Remembered(house, "/static/")
    get(remembered)
    options = {"path": "/static/assets/a-1.js", "headers": [], **asking}
    path, headers = options.pop("path"), options.pop("headers")
    for _ in range(2):
        get(remembered, path, *headers, **options)
    assert len(house.asked) == 3


@pytest.mark.parametrize(
    "house",
    [
        House(status=404),
        House(status=304),
        House(headers=((b"cache-control", b"max-age=60"),)),
        House(headers=()),
        House(headers=(FOREVER, (b"set-cookie", b"a=1"))),
        House(said=99),
    ],
    ids=["missing", "not changed", "for a minute", "nothing said", "a cookie", "broken off"],
)
def test_what_may_change_or_is_not_whole_is_not_kept(house):
    remembered = Remembered(house, "/static/")
    assert get(remembered) == get(remembered)
    assert len(house.asked) == 2


def test_a_failure_is_not_kept():
    house = House(status=None)
    remembered = Remembered(house, "/static/")
    for _ in range(2):
        with pytest.raises(RuntimeError):
            get(remembered)
    house.status = 200
    assert get(remembered)[0] == 200


def test_memory_is_bounded(monkeypatch):
    monkeypatch.setattr(immutable, "MOST_BYTES", 25)
    house = House(b"0123456789")
    remembered = Remembered(house, "/static/")
    for _ in range(2):
        for name in "abc":
            get(remembered, f"/static/{name}.js")
    # Two fit; the third is asked for again.
    assert house.asked.count("/static/a.js") == 1
    assert house.asked.count("/static/b.js") == 1
    assert house.asked.count("/static/c.js") == 2
