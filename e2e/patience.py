"""Waiting for what a page comes to, where the browser's own waiting does not reach."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

from playwright.sync_api import Page

Seen = TypeVar("Seen")

PATIENCE_S = 20.0
EVERY_S = 0.1
STILL_S = 0.6
"""What did not change for so long has come to rest."""

STANDS = """() => [
  performance.getEntriesByType('resource').length,
  document.getElementsByTagName('*').length,
  document.querySelectorAll('.el-skeleton').length,
  ...[document.documentElement, document.querySelector('.page')]
    .filter(Boolean).flatMap(e => [e.scrollWidth, e.scrollHeight]),
]"""


def until(see: Callable[[], Seen], right: Callable[[Seen], bool]) -> Seen:
    """What is seen as soon as it is right; what was seen last where it never was, for a test to
    say so."""
    end = time.monotonic() + PATIENCE_S
    while not right(seen := see()) and time.monotonic() < end:
        time.sleep(EVERY_S)
    return seen


def at_rest(page: Page, still_s: float = STILL_S) -> None:
    """Until nothing has come from the server and nothing on the page has grown for a while.

    A page that is measured or judged before shows its heading and not yet what it is about. A page
    that never rests (a live one) is taken as it stands once the patience is over.
    """
    end = time.monotonic() + PATIENCE_S
    last = None
    since = time.monotonic()
    while time.monotonic() < end:
        now = page.evaluate(STANDS)
        if now != last:
            last, since = now, time.monotonic()
        elif time.monotonic() - since >= still_s:
            return
        time.sleep(EVERY_S)
