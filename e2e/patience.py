"""Waiting for what a page comes to, where the browser's own waiting does not reach."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

Seen = TypeVar("Seen")

PATIENCE_S = 20.0
EVERY_S = 0.1


def until(see: Callable[[], Seen], right: Callable[[Seen], bool]) -> Seen:
    """What is seen as soon as it is right; what was seen last where it never was, for a test to
    say so."""
    end = time.monotonic() + PATIENCE_S
    while not right(seen := see()) and time.monotonic() < end:
        time.sleep(EVERY_S)
    return seen
