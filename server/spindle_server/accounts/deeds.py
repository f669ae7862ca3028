"""What somebody wrote, from the histories of everything on record."""

from __future__ import annotations

from typing import Any

from django.apps import apps

from spindle_server.accounts.models import User

MOST = 60
WORDS = {"+": "added", "~": "changed", "-": "removed"}


def deeds_of(user: User) -> list[dict[str, Any]]:
    """The newest entries in every history that bear a person's name; a query per kind of thing."""
    found: list[dict[str, Any]] = []
    for model in apps.get_models():
        history = getattr(model, "history", None)
        if history is None:
            continue
        rows = history.filter(history_user=user).order_by("-history_date", "-history_id")[:MOST]
        found += [
            {
                "at": row.history_date,
                "kind": WORDS[row.history_type],
                "what": str(model._meta.verbose_name),
                "which": _named(row),
            }
            for row in rows
        ]
    return sorted(found, key=lambda one: one["at"], reverse=True)[:MOST]


def _named(row: Any) -> str:
    """What a row calls itself, or its number: an entry's own names, never what it points to."""
    for name in ("full_name", "name", "title", "username", "mark"):
        value = getattr(row, name, None)
        if isinstance(value, str) and value:
            return value
    return f"number {row.id}"
