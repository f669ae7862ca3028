"""Measures how long the machine itself stands still, so that its stalls are told from faults."""

from __future__ import annotations

import threading
import time

LOOKS_EVERY_S = 0.005
STALL_S = 0.15
"""A machine that stood still for this long may have made a bench cut, rightly."""


class Canary:
    """A thread that should wake every few milliseconds; ``worst_s`` is how late it was at most."""

    def __init__(self) -> None:
        self.worst_s = 0.0
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._watch, daemon=True)

    def __enter__(self) -> Canary:
        self._thread.start()
        return self

    def __exit__(self, *ignored: object) -> None:
        self._ended.set()
        self._thread.join()

    def _watch(self) -> None:
        last = time.monotonic()
        while not self._ended.wait(LOOKS_EVERY_S):
            now = time.monotonic()
            self.worst_s = max(self.worst_s, now - last - LOOKS_EVERY_S)
            last = now

    @property
    def disturbed(self) -> bool:
        """Whether nothing of what happened meanwhile can be judged."""
        return self.worst_s > STALL_S
