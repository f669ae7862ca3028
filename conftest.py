"""For all tests: one thread of linear algebra, and how a process that makes benches over and over
looks for garbage."""

import gc
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # see spindle_core

YOUNG, MIDDLE, OLD = 50_000, 20, 100
"""Net allocations before what is young is looked through, and how often before what is older is:
with Python's own a seventh of the time of the server's tests went there."""


def pytest_collection_finish() -> None:
    """What is loaded by now stays; what tests leave is looked for seldom."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(YOUNG, MIDDLE, OLD)
