"""Writing a fact and its history in one step: who, when, what."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import models

from spindle_server.accounts.models import User


def save_as(instance: models.Model, actor: User | None, **save_options: Any) -> None:
    """Save, with ``actor`` named in the history entry that the save makes."""
    instance._history_user = actor  # type: ignore[attr-defined]
    instance.save(**save_options)


def delete_as(instance: models.Model, actor: User) -> None:
    """Delete, with ``actor`` named in the history entry."""
    instance._history_user = actor  # type: ignore[attr-defined]
    instance.delete()


def changes_in(entries: Iterable[Any]) -> list[dict[str, Any]]:
    """History entries of one model as changes: when, who and which fields changed.

    ``entries`` may cover several rows; they come with ``history_user`` selected.
    """
    by_row: dict[Any, list[Any]] = {}
    for entry in entries:
        by_row.setdefault(entry.id, []).append(entry)
    result = []
    for row in by_row.values():
        row.sort(key=lambda entry: (entry.history_date, entry.history_id))
        for before, entry in zip([None, *row], row, strict=False):
            fields = []
            if before is not None and entry.history_type == "~":
                fields = [
                    {"field": c.field, "before": str(c.old), "after": str(c.new)}
                    for c in entry.diff_against(before).changes
                ]
            who = entry.history_user.shown_name if entry.history_user else "the system"
            kind = {"+": "added", "~": "changed", "-": "removed"}[entry.history_type]
            change = {"at": entry.history_date, "who": who, "kind": kind, "changed": fields}
            result.append({**change, "entry": entry})
    return result
