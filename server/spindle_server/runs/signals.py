"""What other apps may want to know of runs, without runs knowing them."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from django.dispatch import Signal

evidence_changed = Signal()
"""A run was accepted, rejected or reduced anew (``run``; ``reduced``: its figures are new, and
``trace`` is what they were made of; None where there are none). Sent inside the write."""

evidence_settled = Signal()
"""Many runs were reduced anew, and no more follow (``progress``: who is told how far what rests on
them is)."""

_more_follow: ContextVar[bool] = ContextVar("more_follow", default=False)


@contextmanager
def many_reductions() -> Iterator[None]:
    """While many runs are reduced anew: what rests on several of them is only marked, and made
    once afterwards, when who reduces them sends :data:`evidence_settled`."""
    before = _more_follow.set(True)
    try:
        yield
    finally:
        _more_follow.reset(before)


def more_follow() -> bool:
    """Whether more runs are about to be reduced anew."""
    return _more_follow.get()
