"""How far the record of some tables has come: one number each, which every write moves.

Answers that rest on whole tables are kept under it. Each write leaves a line of history, so the
newest line's number says whether anything was written since; it is read off the index.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from django.apps import apps
from django.db import connection, connections, models

import spindle_core
from spindle_server.records.reading_copy import read_by


def revision(tables: Iterable[type[models.Model]]) -> tuple[int | None, ...]:
    """The number of each table's newest line of history, in one query; None where there is none.

    :param tables: models that keep a history.
    """
    # Where the rows are read: another's would name an answer after what it does not hold yet.
    with connections[read_by()].cursor() as cursor:
        cursor.execute(_question(tuple(tables)))
        row = cursor.fetchone()
    return tuple(row)


def whole_record(but: Iterable[str] = ()) -> str:
    """What stands for everything that keeps a history: another text after any write.

    :param but: labels of apps whose writes do not matter.
    """
    left_out = frozenset(but)
    return f"{spindle_core.__version__}:{revision(_kept_in_history(left_out))}"


@lru_cache
def _kept_in_history(but: frozenset[str]) -> tuple[type[models.Model], ...]:
    return tuple(
        model
        for model in apps.get_models()
        if hasattr(model, "history") and model._meta.app_label not in but
    )


@lru_cache
def _question(tables: tuple[type[models.Model], ...]) -> str:
    names = [table.history.model._meta.db_table for table in tables]  # type: ignore[attr-defined]
    quoted = connection.ops.quote_name
    # The names are those of our own tables; nothing that somebody typed gets here.
    parts = ", ".join(f"(SELECT MAX(history_id) FROM {quoted(n)})" for n in names)  # noqa: S608
    return f"SELECT {parts}"
