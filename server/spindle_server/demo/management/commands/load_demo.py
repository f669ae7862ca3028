"""``load_demo``: the made-up bench, into an empty database."""

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from spindle_server.accounts.models import User
from spindle_server.demo.loading import load_demo
from spindle_server.garbage import seldom


class Command(BaseCommand):
    """Loads the demo once and writes its logins to a file only the owner can read."""

    help = "Load the demo data into an empty database (demo mode only)."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Load, unless it is there already."""
        if not settings.DEMO:
            raise CommandError("Demo data is loaded in demo mode only: use ./spindle demo.")
        logins_path = Path(settings.VAR) / "demo-logins.json"
        if User.objects.exists():
            if logins_path.exists():
                return
            raise CommandError(
                "The database holds accounts but no demo logins; it is not a demo database."
            )
        seldom()
        logins = load_demo(self._say)
        logins_path.touch(mode=0o600)
        logins_path.write_text(json.dumps(logins, indent=2))

    def _say(self, text: str) -> None:
        # The launcher shows these lines as they come.
        self.stdout.write(f"  demo: {text}")
        self.stdout.flush()
