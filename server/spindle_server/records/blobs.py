"""Columns of bytes that are written as hexadecimal literals.

MariaDB's client escapes bytes one by one and the server takes the escapes out again one by one:
104 ms for 1.9 MB, and 44 ms as ``x'…'`` (docs/decisions/0074-bytes-are-written-as-hexadecimal.md).
"""

from __future__ import annotations

from typing import Any

from django.db import models

from spindle_server.records.hexadecimal import Hexadecimal


class Bytes(models.BinaryField):
    """A ``BinaryField`` that is written the quick way."""

    def deconstruct(self) -> Any:
        """To a migration it is what it stands on: the column is the same."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.BinaryField", args, kwargs

    def get_placeholder(self, value: Any, compiler: Any, connection: Any) -> str:
        """No introducer stands before a hexadecimal literal."""
        return "%s"

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        """Bytes for the statement; nothing and expressions stay what they are."""
        if value is None or hasattr(value, "as_sql"):
            return value
        return Hexadecimal(bytes(value))
