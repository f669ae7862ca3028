"""``publish_pages``: everything that is published as a folder of files."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from spindle_server.errors import ServiceError
from spindle_server.publish.exporting import export


class Command(BaseCommand):
    """Writes what changed, removes what is gone."""

    help = "Write all that is published as files into a folder."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """The folder, and whether with PDFs and data."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--pdf", action="store_true", help="each page as PDF too")
        parser.add_argument("--no-packs", action="store_true", help="without the data packs")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write, and say how far it is."""
        last = [-1]

        def say(done: int, total: int) -> None:
            share = 100 * done // total
            if share // 10 != last[0]:
                last[0] = share // 10
                self.stdout.write(f"{done} of {total} files")

        try:
            found = export(
                options["folder"], pdf=options["pdf"], packs=not options["no_packs"], say=say
            )
        except ServiceError as error:
            raise CommandError(error.message) from error
        self.stdout.write(
            f"{found.files} files in {options['folder']}: {found.written} written, "
            f"{found.removed} removed."
        )
