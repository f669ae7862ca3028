"""``bench_agent``: the bench agent, with the database as its run store."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from spindle_bench.agent.process import run_agent
from spindle_server.runs.store import DatabaseRunStore


class Command(BaseCommand):
    """Runs the agent until SIGTERM."""

    help = "Run the bench agent, which owns the stand."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where the stand listens."""
        parser.add_argument("--stand-port", type=int, default=7531)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        folder = Path(settings.VAR) / "bench"
        run_agent(folder, settings.AGENT_SOCKET, options["stand_port"], DatabaseRunStore())
