"""What a process that has just started reads before anybody asks it anything."""

from __future__ import annotations

import logging

from django.db import connections

from spindle_server.runs.ran import read_ahead

log = logging.getLogger(__name__)


def ahead() -> None:
    """Read the runs that judgements rest on; where that fails, whoever asks first reads them, and
    is told why if it fails again."""
    try:
        log.info("read ahead", extra={"runs": read_ahead()})
    except Exception:
        log.exception("could not read ahead")
    finally:
        # A thread's connection is its own.
        connections.close_all()
