"""Answers that take a while, kept as long as nothing of what they rest on is written."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import TypeVar

from django.core.cache import cache

Answer = TypeVar("Answer")

KEPT_S = 24 * 3600


def kept(name: str, rests_on: object, make: Callable[[], Answer]) -> Answer:
    """What ``make`` returned for this; it is made where that is not known any more.

    :param rests_on: whatever the answer depends on; another of it is another answer. Never None
        for an answer that is None: that one is made each time.
    """
    key = f"{name}:{hashlib.sha256(repr(rests_on).encode()).hexdigest()}"
    found: Answer | None = cache.get(key)
    if found is None:
        found = make()
        cache.set(key, found, KEPT_S)
    return found
