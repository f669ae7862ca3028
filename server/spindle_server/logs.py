"""The server's log: one JSON object a line, so that a person and a program can read it.

What people typed is not in it, nor are passwords, keys and cookies: a line names who, what and
how it ended, never the content of a request.
"""

from __future__ import annotations

import json
import logging
from datetime import UTC, datetime

OWN = ("actor", "path", "method", "status", "code", "write", "took_ms", "trace", "address")
"""What a line may carry besides its message; nothing else of a record's attributes is written."""


class JsonLines(logging.Formatter):
    """``{"at", "level", "logger", "message", ...}``, with ``trace`` where something was raised."""

    def format(self, record: logging.LogRecord) -> str:
        """One line, whatever the message holds."""
        line: dict[str, object] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": record.getMessage(),
        }
        line.update({name: getattr(record, name) for name in OWN if hasattr(record, name)})
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False, default=str)
