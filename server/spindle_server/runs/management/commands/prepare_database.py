"""Bring a database to this version: ``python -m spindle_server prepare_database``."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection, transaction
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from spindle_server.garbage import seldom

OWN = "spindle_server."

QUIETLY = {"interactive": False, "verbosity": 0}


class Command(BaseCommand):
    """An empty database gets all tables as they are today, and all migrations count as done: a
    hundred and fifty of them take a minute. One that holds something is migrated. The test of
    upgrades compares what both come to."""

    help = "Make the tables of an empty database, or migrate one that is older."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Make or migrate; the second time nothing is left to do.

        :raises CommandError: tables of ours that hold something, and no migration that made them.
        """
        seldom()
        own = [one.label for one in apps.get_app_configs() if one.name.startswith(OWN)]
        if any(app in own for app, _ in MigrationRecorder(connection).applied_migrations()):
            call_command("migrate", **QUIETLY)
            return
        clear_what_was_begun(own)
        with without_migrations(one.label for one in apps.get_app_configs()):
            call_command("migrate", run_syncdb=True, **QUIETLY)
        recorder = MigrationRecorder(connection)
        recorder.ensure_schema()
        # All or none: what was ended in between is begun anew.
        with transaction.atomic():
            count_as_done(recorder)


def count_as_done(recorder: MigrationRecorder) -> None:
    """Write down all migrations, and those that they took the place of."""
    known = MigrationLoader(None).disk_migrations or {}
    for (app, name), one in sorted(known.items()):
        for counted in one.replaces or [(app, name)]:
            recorder.record_applied(*counted)


def clear_what_was_begun(own: Iterable[str]) -> None:
    """Drop the tables of a database that was ended while it was made: they never held anything."""
    there = connection.introspection.table_names()
    ours = {
        table
        for label in own
        for model in apps.get_app_config(label).get_models(include_auto_created=True)
        if (table := model._meta.db_table) in there
    }
    quote = connection.ops.quote_name
    with connection.cursor() as cursor:
        for table in sorted(ours):
            cursor.execute(f"SELECT 1 FROM {quote(table)} LIMIT 1")  # noqa: S608
            if cursor.fetchone():
                raise CommandError(
                    f"{table} holds something, but no migration counts as done: this database was "
                    "not made by this program, or django_migrations was lost. Restore a backup, "
                    "or give it an empty database."
                )
        cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
        for table in there:
            cursor.execute(f"DROP TABLE {quote(table)}")
        cursor.execute("SET FOREIGN_KEY_CHECKS = 1")


@contextmanager
def without_migrations(labels: Iterable[str]) -> Iterator[None]:
    """Models of apps as they are, as if they had never been others."""
    before = settings.MIGRATION_MODULES
    settings.MIGRATION_MODULES = {**before, **dict.fromkeys(labels)}
    try:
        yield
    finally:
        settings.MIGRATION_MODULES = before
