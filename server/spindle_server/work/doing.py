"""Doing long work: its progress is told, it stops when it is asked to, and it has bounds."""

from __future__ import annotations

import logging
import resource
import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_server.errors import ServiceError
from spindle_server.work.models import LongWork

LONGEST_S = 1800
"""Longer than this no piece of work may take."""

MOST_MEMORY_BYTES = 6_000_000_000
"""Address space of the process; what asks for more fails alone and not the whole machine."""

logger = logging.getLogger(__name__)


class StoppedError(Exception):
    """Somebody asked for a stop."""


class GaveWayError(Exception):
    """Others waited, and go first; the rest comes after them."""


class TooLongError(Exception):
    """The work took longer than it may."""


class Progress:
    """How far a piece of work is."""

    def __init__(self, pk: int) -> None:
        self.pk = pk

    def of(self, total: int, unit: str = "") -> None:
        """How much there is, and of what."""
        self._set(done=0, total=total, unit=unit)

    def step(self, done: int) -> None:
        """So much is done.

        :raises StoppedError: somebody has asked for a stop meanwhile.
        """
        self._set(done=done)
        if LongWork.objects.filter(pk=self.pk, stop_asked=True).exists():
            raise StoppedError

    def let_others_go_first(self) -> None:
        """Where others wait, leave them the process.

        :raises GaveWayError: they do.
        """
        if LongWork.objects.filter(state="waiting").exclude(pk=self.pk).exists():
            raise GaveWayError

    def say(self, text: str) -> None:
        """The result in a sentence."""
        self._set(said=text[:300])

    def _set(self, **values: object) -> None:
        LongWork.objects.filter(pk=self.pk).update(**values)


@contextmanager
def doing(pk: int, longest_s: int = LONGEST_S) -> Iterator[Progress]:
    """The work, from its beginning to its end; whatever happens inside, the record says how it
    ended. What is asked to stop before it began does not begin."""
    work = LongWork.objects.get(pk=pk)
    if work.stop_asked:
        _end(pk, "cancelled", "It had not begun.")
        raise StoppedError
    LongWork.objects.filter(pk=pk).update(state="running", begun_at=timezone.now())
    try:
        with _at_most(longest_s):
            yield Progress(pk)
    except StoppedError:
        _end(pk, "cancelled", "What was done so far stays.")
    except GaveWayError:
        LongWork.objects.filter(pk=pk).update(state="waiting", begun_at=None)
    except TooLongError:
        _end(pk, "failed", f"It took longer than {longest_s / 60:g} minutes; what was done stays.")
    except MemoryError:
        logger.exception("long work %s ran out of memory", pk)
        _end(pk, "failed", "It needed more memory than it may have; what was done stays.")
    except (CoreError, ServiceError) as error:
        _end(pk, "failed", str(error))
    except Exception as error:
        logger.exception("long work %s failed", pk)
        _end(pk, "failed", f"Something unforeseen ({type(error).__name__}); the log has its trace.")
    else:
        _end(pk, "done")


def _end(pk: int, state: str, said: str = "") -> None:
    changed: dict[str, object] = {"state": state, "ended_at": timezone.now()}
    if said:
        changed["said"] = said[:300]
    LongWork.objects.filter(pk=pk).update(**changed)


@contextmanager
def _at_most(seconds: int) -> Iterator[None]:
    """A bound of time; only where signals arrive, in the main thread of the work's process."""
    if threading.current_thread() is not threading.main_thread():
        yield
        return

    def over(signum: int, frame: FrameType | None) -> None:
        raise TooLongError

    before = signal.signal(signal.SIGALRM, over)
    signal.setitimer(signal.ITIMER_REAL, seconds)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGALRM, before)


def bound_memory() -> None:
    """Bound the memory of this process."""
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = MOST_MEMORY_BYTES if hard == resource.RLIM_INFINITY else min(MOST_MEMORY_BYTES, hard)
    resource.setrlimit(resource.RLIMIT_AS, (most, hard))


def name_the_lost() -> list[str]:
    """What was running when its process ended; returns the titles. Called once, by the only process
    that does long work, before it takes any."""
    lost = list(LongWork.objects.filter(state="running"))
    for work in lost:
        far = f"{work.done} of {work.total}" if work.total else f"{work.done}"
        _end(
            work.pk,
            "lost",
            f"The process ended while it worked; {far} were done and stay. Ask for it again.",
        )
    return [work.title for work in lost]
