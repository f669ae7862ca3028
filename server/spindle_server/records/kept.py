"""Answers that take a while, kept as long as nothing of what they rest on is written."""

from __future__ import annotations

import hashlib
import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from typing import Any, TypeVar

from django.core.cache import cache

Answer = TypeVar("Answer")

KEPT_S = 24 * 3600

MOST_WHOLE = 16
"""Large answers that a process keeps as they are, the newest."""

_whole: OrderedDict[str, Any] = OrderedDict()
_whole_lock = threading.Lock()


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


def kept_whole(name: str, rests_on: object, make: Callable[[], Answer]) -> Answer:
    """The same for an answer that is large and that nobody who reads it changes: it stays as it is
    in this process, since packing and unpacking it would take longer than all that is asked of it.
    """
    # Whoever empties the cache empties this.
    emptied = cache.get_or_set("kept-whole", lambda: uuid.uuid4().hex, None)
    key = f"{emptied}:{name}:{hashlib.sha256(repr(rests_on).encode()).hexdigest()}"
    with _whole_lock:
        if key in _whole:
            _whole.move_to_end(key)
            found: Answer = _whole[key]
            return found
    made = make()
    with _whole_lock:
        _whole[key] = made
        while len(_whole) > MOST_WHOLE:
            _whole.popitem(last=False)
    return made
