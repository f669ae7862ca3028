"""``bench_agent``: the bench agent, with the database as its run store."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from spindle_bench.agent.process import run_agent
from spindle_bench.known_stands import stand_from
from spindle_server.garbage import settle
from spindle_server.runs.store import DatabaseRunStore


class Command(BaseCommand):
    """Runs the agent until SIGTERM."""

    help = "Run the bench agent, which owns the stand."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where the stands are offered."""
        parser.add_argument(
            "--stand", type=stand_from, action="append", required=True, metavar="PORT=NAME"
        )
        parser.add_argument("--driven", type=Path, help="the file that says which is driven")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        folder = Path(settings.VAR) / "bench"
        store = DatabaseRunStore()
        # To look through all that is loaded takes 40 ms of a calm machine, in mid-run.
        settle()
        run_agent(folder, settings.AGENT_SOCKET, options["stand"], store, options["driven"])
