"""What is too large, or comes from nobody, is refused before its body is read."""

import json

import pytest
from asgiref.sync import async_to_sync
from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore

from spindle_server import uploads
from spindle_server.uploads import LARGEST_BYTES, LOOKED_AT_BYTES, guarded


class TakenError(Exception):
    """The application was asked: the body may come in."""


async def application(scope, receive, send):
    raise TakenError


def knock(method="POST", length=None, cookie="", **headers):
    """What the guard answers, without reading; raises TakenError where it lets the request in."""
    sent = []

    async def receive():
        pytest.fail("the body was read")

    async def send(message):
        sent.append(message)

    named = {"cookie": cookie, **{k.replace("_", "-"): v for k, v in headers.items()}}
    if length is not None:
        named["content-length"] = str(length)
    scope = {
        "type": "http",
        "method": method,
        "headers": [(k.encode(), v.encode("latin-1")) for k, v in named.items() if v],
    }
    async_to_sync(guarded(application))(scope, receive, send)
    start, body = sent
    return start["status"], json.loads(body["body"])["code"]


@pytest.fixture
def cookie(db, monkeypatch):
    # The test's own connection, in its transaction, has to stay.
    monkeypatch.setattr(uploads, "close_old_connections", lambda: None)
    session = SessionStore()
    session[SESSION_KEY] = "1"
    session.save()
    return f"theme=dark; sessionid={session.session_key}"


def test_small_bodies_and_questions_come_in():
    for asked in (
        {"method": "GET"},
        {"method": "GET", "length": LARGEST_BYTES * 2},
        {"length": LOOKED_AT_BYTES},
        {"length": 0},
        {},
        {"content_length": "many"},
    ):
        with pytest.raises(TakenError):
            knock(**asked)


def test_what_is_too_large_is_refused_whoever_sends_it(cookie):
    for who in ("", cookie):
        assert knock(length=LARGEST_BYTES + 1, cookie=who) == (413, "too_large")


def test_a_body_without_a_length_is_refused(cookie):
    assert knock(cookie=cookie, transfer_encoding="Chunked") == (411, "no_length")


@pytest.mark.parametrize(
    "cookies", ["", "sessionid=", "sessionid=nobody", "sessionid", "a=b; c", "sessionid=\x00;;;"]
)
def test_a_large_body_of_nobody_is_refused(db, monkeypatch, cookies):
    monkeypatch.setattr(uploads, "close_old_connections", lambda: None)
    assert knock(length=LOOKED_AT_BYTES + 1, cookie=cookies) == (401, "not_authenticated")


def test_a_large_body_of_somebody_comes_in(cookie):
    with pytest.raises(TakenError):
        knock(length=LARGEST_BYTES, cookie=cookie)


def test_a_session_that_nobody_is_logged_in_to_is_nobody(db, monkeypatch):
    monkeypatch.setattr(uploads, "close_old_connections", lambda: None)
    session = SessionStore()
    session["theme"] = "dark"
    session.save()
    got = knock(length=LOOKED_AT_BYTES + 1, cookie=f"sessionid={session.session_key}")
    assert got == (401, "not_authenticated")
