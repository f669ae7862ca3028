"""Two writes that meet in the database: it lets one through, and the other is made again.

One server says so where two wait for each other; the nodes of a cluster, where another node's write
of the same rows was certified first, at the latest when one commits. Nothing of the refused try is
left, so that making it again doubles nothing.
"""

from __future__ import annotations

import logging
import random
import time
from collections.abc import Callable
from typing import TypeVar

from django.db import OperationalError, connection

Result = TypeVar("Result")

logger = logging.getLogger(__name__)

DEADLOCK = 1213
LOCK_WAIT_EXCEEDED = 1205
NO_MAJORITY = 1047
"""What a node of a cluster answers to everything while it belongs to no majority."""

TRIES = 6
PAUSE_S = 0.02


def number_of(error: Exception) -> int | None:
    """MariaDB's number for an error; None where it has none."""
    first = error.args[0] if error.args else None
    return first if isinstance(first, int) else None


def met_another(error: Exception) -> bool:
    """Whether the database let another write through instead; nothing of this one is left."""
    return isinstance(error, OperationalError) and number_of(error) == DEADLOCK


def pause(tries: int) -> None:
    """Wait before the next try, longer each time and not as long as the other waits."""
    time.sleep(PAUSE_S * 2**tries * random.uniform(0.5, 1.5))  # noqa: S311 - no secret


def made_again(once: Callable[[], Result]) -> Result:
    """What ``once`` returns, a whole transaction, tried again while it meets others.

    Inside of another transaction it is tried once: that whole is what has to be made again.
    """
    for tries in range(TRIES):
        try:
            return once()
        except OperationalError as error:
            if not met_another(error) or connection.in_atomic_block or tries == TRIES - 1:
                raise
            logger.info("made again after it met another write", extra={"tries": tries + 1})
            pause(tries)
    raise AssertionError("the last try returns or raises")
