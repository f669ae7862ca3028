"""Bring a database to this version: ``python -m spindle_server prepare_database``."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

OWN = "spindle_server."

FIRST = ("contenttypes", "auth")
"""What our tables point at, and what asks nothing of ours."""


class Command(BaseCommand):
    """An empty database gets our tables as they are today, and all our migrations count as done:
    a hundred of them take a minute. One that holds something is migrated. The test of upgrades
    compares what both come to."""

    help = "Make the tables of an empty database, or migrate one that is older."

    def handle(self, *args: Any, **options: Any) -> None:
        """Make or migrate; the second time nothing is left to do."""
        quietly = {"interactive": False, "verbosity": 0}
        if not connection.introspection.table_names():
            own = [one.label for one in apps.get_app_configs() if one.name.startswith(OWN)]
            with without_migrations(own):
                for app in FIRST:
                    call_command("migrate", app, **quietly)
                call_command("migrate", run_syncdb=True, **quietly)
            done = MigrationRecorder(connection)
            for (app, name), one in sorted((MigrationLoader(None).disk_migrations or {}).items()):
                for counted in one.replaces or [(app, name)] if app in own else ():
                    done.record_applied(*counted)
        call_command("migrate", **quietly)


@contextmanager
def without_migrations(own: Iterable[str]) -> Iterator[None]:
    """Models of apps as they are, as if they had never been others."""
    before = settings.MIGRATION_MODULES
    settings.MIGRATION_MODULES = {**before, **dict.fromkeys(own)}
    try:
        yield
    finally:
        settings.MIGRATION_MODULES = before
