"""The history of a fact: who, when, what."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import Any

from django.db import models
from simple_history.manager import HistoryManager
from simple_history.models import HistoricalRecords

from spindle_server.records.writes import who_acts


class MadeOnce(HistoryManager):
    """The class of a manager is made once; the package makes one each time a history is looked
    at, which every save does."""

    @classmethod
    @cache
    def from_queryset(cls, queryset_class: type, class_name: str | None = None) -> type:
        """As Django's."""
        made: type = super().from_queryset(queryset_class, class_name)
        return made


class History(HistoricalRecords):
    """Every save and every removal, with who acts (see :mod:`spindle_server.records.writes`)."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **{"history_manager": MadeOnce, **options})

    def get_history_user(self, instance: models.Model) -> Any:
        """Who acts; None is the house itself."""
        return who_acts()


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
                    if c.field != "version"
                ]
            who = entry.history_user.shown_name if entry.history_user else "the system"
            kind = {"+": "added", "~": "changed", "-": "removed"}[entry.history_type]
            change = {"at": entry.history_date, "who": who, "kind": kind, "changed": fields}
            result.append({**change, "entry": entry})
    return result
