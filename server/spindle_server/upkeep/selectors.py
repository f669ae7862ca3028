"""How the installation stands, from what the launcher left, the agent, and the database."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

from django.conf import settings
from django.db import Error, connection
from django.utils import timezone

from spindle_bench.errors import BenchError
from spindle_core import __version__ as core_version
from spindle_server.bench import services
from spindle_server.records.reading_copy import COPY, what_is_amiss
from spindle_server.upkeep.judging import findings

WANTED = {"at", "folder", "parts", "disk", "sizes", "backups"}


def upkeep() -> dict[str, Any]:
    """Everything the page shows."""
    seen, bench = what_was_seen(), _bench()
    database, ahead = _database()
    now = timezone.now()
    return {
        "findings": findings(seen, bench, now, ahead, _copy()),
        "seen_at": seen and seen["at"],
        "parts": seen["parts"] if seen else [],
        "disk": seen and seen["disk"],
        "sizes": [
            {"what": what, "bytes": count}
            for what, count in (seen["sizes"] if seen else {}).items()
        ],
        "folder": seen["folder"] if seen else "",
        "backups": seen and seen["backups"],
        "bench": bench,
        "clock": {"server_at": now, "database_ahead_s": ahead},
        "versions": {"core": core_version, "database": database},
    }


def what_was_seen() -> dict[str, Any] | None:
    """What the launcher saw last; None where it left nothing that can be read."""
    try:
        seen = json.loads(settings.UPKEEP_FILE.read_text())
    except (OSError, ValueError):
        return None
    # A launcher of another version leaves other things.
    whole = isinstance(seen, dict) and seen.keys() >= WANTED and "same_disk" in seen["backups"]
    return seen if whole else None


def _bench() -> dict[str, Any] | None:
    try:
        frame = services.command("status")
    except BenchError:
        return None
    kept = ("state", "simulated", "link", "waiting_runs", "delivery_problem")
    return {**{name: frame[name] for name in kept}, "aside": len(frame["set_aside"])}


def _database() -> tuple[str, float]:
    """Its version, and how far its clock is ahead of this process's [s]."""
    with connection.cursor() as cursor:
        before = datetime.now(UTC)
        cursor.execute("SELECT VERSION(), UTC_TIMESTAMP(6)")
        version, at = cursor.fetchone()
        after = datetime.now(UTC)
    middle = before + (after - before) / 2
    return str(version), (at.replace(tzinfo=UTC) - middle).total_seconds()


def _copy() -> str:
    """What is amiss with the copy for reading; blank also where there is none."""
    return what_is_amiss() if COPY in settings.DATABASES else ""


def database_answers() -> bool:
    """Whether it answers a question."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
            return bool(cursor.fetchone()[0] == 1)
    except Error:
        return False
