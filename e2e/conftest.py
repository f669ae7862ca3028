"""One running demo for all browser tests, and a browser that is logged in."""

from __future__ import annotations

import os

import pytest
from playwright.sync_api import expect

from e2e.application import BROWSER, Application, running_copy
from e2e.records import token

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# Patience costs nothing when all is well; a machine that stands still for a moment needs it.
expect.set_options(timeout=20_000)

DOOR = 3
"""The stop door's port, from the application's."""

READ_ONLY_NOISE = ("status of 401", "status of 400", "status of 409", "status of 503")


@pytest.fixture(scope="session")
def demo():
    # Two sessions beside each other have a demo each.
    with running_copy(os.environ.get("SPINDLE_DEMO", "e2e")) as application:
        yield application


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return BROWSER


@pytest.fixture(scope="session")
def browser_context_args():
    return {
        "viewport": {"width": 1280, "height": 800},
        "accept_downloads": True,
        # As somebody who asked for it: what fades and slides is drawn anew for each of its frames.
        "reduced_motion": "reduce",
    }


@pytest.fixture
def problems():
    """What the browser complained about; a test may look, and every test must end with none."""
    return []


SESSIONS: dict[tuple[str, str], list] = {}
"""Cookies of who logged in once at an address: a password takes long to check, on purpose."""


def by_request(page, demo: Application, username: str) -> None:
    """The cookies of somebody's session, as the form of the login gets them.

    Those of a test before serve again, unless it logged out.
    """
    asked, session = page.context.request, f"{demo.address}/api/v1/session/"
    page.context.add_cookies(SESSIONS.get((demo.address, username), []))
    user = asked.get(session).json()["user"]
    if user is not None and user["username"] == username:
        return
    answer = asked.post(
        session,
        data={"username": username, "password": demo.password(username)},
        headers={"X-CSRFToken": token(page), "Origin": demo.address},
    )
    assert answer.ok, answer.text()
    SESSIONS[demo.address, username] = page.context.cookies()


@pytest.fixture
def log_in(demo: Application, page, problems):
    """Log in as a person of the demo and give the page back, which shows nothing yet.

    By two requests: the form is what ``test_strangers_are_led_to_the_login_and_back`` and others
    are for, and eighty times over it costs minutes.
    """

    def note(message):
        if message.type == "error" and not any(n in message.text for n in READ_ONLY_NOISE):
            problems.append(message.text)

    page.on("console", note)
    page.on("pageerror", lambda error: problems.append(str(error)))

    def enter(username: str = "ilse"):
        by_request(page, demo, username)
        return page

    told = len(demo.told)
    yield enter
    since = demo.told[told:]
    if any(f"The stop door {ended}" in line for line in since for ended in ("ended", "does not")):
        # A launcher that hears nothing of the door for three seconds starts it again, as it should
        # on a machine that stood still; the page tries until it is there.
        problems[:] = [text for text in problems if f":{demo.port + DOOR}/' failed" not in text]
    assert problems == [], "".join(since)


@pytest.fixture
def board(demo: Application, log_in):
    """Log in and open the Board, where a day begins."""

    def enter(username: str = "ilse"):
        page = log_in(username)
        page.goto(demo.address)
        page.get_by_role("heading", name="Board").wait_for()
        return page

    return enter
