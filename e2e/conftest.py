"""One running demo for all browser tests, and a browser that is logged in."""

from __future__ import annotations

import os

import pytest
from playwright.sync_api import expect

from e2e.application import BROWSER, Application, running_demo

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

# Patience costs nothing when all is well; a machine that stands still for a moment needs it.
expect.set_options(timeout=20_000)

READ_ONLY_NOISE = ("status of 401", "status of 400", "status of 409", "status of 503")


@pytest.fixture(scope="session")
def demo():
    with running_demo("e2e") as application:
        yield application


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return BROWSER


@pytest.fixture(scope="session")
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture
def problems():
    """What the browser complained about; a test may look, and every test must end with none."""
    return []


@pytest.fixture
def log_in(demo: Application, page, problems):
    """Log in as a person of the demo and give the page back."""

    def note(message):
        if message.type == "error" and not any(n in message.text for n in READ_ONLY_NOISE):
            problems.append(message.text)

    page.on("console", note)
    page.on("pageerror", lambda error: problems.append(str(error)))

    def enter(username: str = "ilse"):
        page.goto(f"{demo.address}/login")
        page.get_by_label("Name").fill(username)
        page.get_by_label("Password", exact=True).fill(demo.password(username))
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("heading", name="Board").wait_for()
        return page

    yield enter
    assert problems == []
