"""The one way a fact is written.

A function under :func:`writes` says whose role it needs; it runs in one transaction, and whatever
it saves or deletes carries the name of who did it in the history.
"""

from __future__ import annotations

import functools
import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import ParamSpec, Protocol, TypeVar

from django.db import IntegrityError, transaction

from spindle_server.errors import ForbiddenError
from spindle_server.records.meeting import made_again

DUPLICATE_ENTRY = 1062
"""MariaDB's number for a row that a uniqueness refuses."""


class Actor(Protocol):
    """Somebody with a role."""

    def has_role(self, needed: str) -> bool:
        """Whether the role includes ``needed``."""


Parameters = ParamSpec("Parameters")
Result = TypeVar("Result")

_acting: ContextVar[Actor | None] = ContextVar("acting", default=None)
_depth: ContextVar[int] = ContextVar("depth", default=0)

logger = logging.getLogger(__name__)


def who_acts() -> Actor | None:
    """Who writes at the moment; None is the house itself (the agent, the demo, a command)."""
    return _acting.get()


@contextmanager
def acting(actor: Actor | None) -> Iterator[None]:
    """Name ``actor`` in every history entry that is made inside."""
    token, deeper = _acting.set(actor), _depth.set(_depth.get() + 1)
    try:
        yield
    finally:
        _depth.reset(deeper)
        _acting.reset(token)


def writes(role: str) -> Callable[[Callable[Parameters, Result]], Callable[Parameters, Result]]:
    """A function that changes the record. It takes ``actor`` by name; None is the house itself.

    Of two people who add the same thing at one instant the database refuses the second; their
    call is made once more, finds what is there by now, and says so in its own words. A write that
    another was let through instead of is made again too.

    :raises ForbiddenError: the actor's role does not include ``role``.
    """

    def decorate(function: Callable[Parameters, Result]) -> Callable[Parameters, Result]:
        @functools.wraps(function)
        def write(*args: Parameters.args, **kwargs: Parameters.kwargs) -> Result:
            actor: Actor | None = kwargs["actor"]  # type: ignore[assignment]
            if actor is not None and not actor.has_role(role):
                raise ForbiddenError(f"This needs the role of {_article(role)}.")

            def once() -> Result:
                with transaction.atomic(), acting(actor):
                    return function(*args, **kwargs)

            try:
                result = made_again(once)
            except IntegrityError as error:
                if error.args[:1] != (DUPLICATE_ENTRY,):
                    raise
                result = made_again(once)
            _say(function.__qualname__, actor)
            return result

        write.needed_role = role  # type: ignore[attr-defined]
        return write

    return decorate


def _say(write: str, actor: Actor | None) -> None:
    # A service of another service is part of its write, and of its line in the log.
    if _depth.get() == 0:
        who = getattr(actor, "pk", None)
        logger.info("%s", write, extra={"write": write, "actor": who})


def _article(role: str) -> str:
    return f"an {role}" if role[:1] in "aeiou" else f"a {role}"
