"""What a process that has just started reads before anybody asks it anything."""

from __future__ import annotations

import logging
import time

from django.db import DatabaseError, connections

from spindle_server.garbage import settle
from spindle_server.runs.ran import read_ahead

log = logging.getLogger(__name__)

AGAIN_S = 2.0
"""Where the database is not there yet, or its tables are still made: it is asked again."""

GIVEN_UP_S = 600.0


def ahead() -> None:
    """Read the runs that judgements rest on; where that fails, whoever asks first reads them, and
    is told why if it fails again."""
    until = time.monotonic() + GIVEN_UP_S
    try:
        while not _read():
            if time.monotonic() > until:
                log.warning("nothing was read ahead: the database did not answer")
                return
            time.sleep(AGAIN_S)
        settle()
    except Exception:
        log.exception("could not read ahead")


def _read() -> bool:
    try:
        log.info("read ahead", extra={"runs": read_ahead()})
    except DatabaseError:
        return False
    finally:
        # A thread's connection is its own.
        connections.close_all()
    return True
