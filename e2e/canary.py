"""Measures how long the machine itself stands still, so that its stalls are told from faults."""

from __future__ import annotations

import os
import threading
import time

LOOKS_EVERY_S = 0.005
STALL_S = 0.15
"""A machine that stood still for this long may have made a bench cut, rightly."""


class Canary:
    """Threads that should wake every few milliseconds; ``worst_s`` is how late one was at most.

    One on each processor: a host that takes one of two away stops whoever was on it, and nobody on
    the other sees anything of it.
    """

    def __init__(self) -> None:
        self.worst_s = 0.0
        self._ended = threading.Event()
        self._threads = [
            threading.Thread(target=self._watch, args=(processor,), daemon=True)
            for processor in sorted(os.sched_getaffinity(0))
        ]

    def __enter__(self) -> Canary:
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *ignored: object) -> None:
        self._ended.set()
        for thread in self._threads:
            thread.join()

    def _watch(self, processor: int) -> None:
        os.sched_setaffinity(threading.get_native_id(), {processor})
        last = time.monotonic()
        while not self._ended.wait(LOOKS_EVERY_S):
            now = time.monotonic()
            self.worst_s = max(self.worst_s, now - last - LOOKS_EVERY_S)
            last = now

    @property
    def disturbed(self) -> bool:
        """Whether nothing of what happened meanwhile can be judged."""
        return self.worst_s > STALL_S
