"""``identify_stale``: motors and propellers are fitted again where runs or core changed."""

from typing import Any

from django.core.management.base import BaseCommand

from spindle_server.identification.rebuilding import mark_old, rebuild_stale
from spindle_server.runs.tasks import REBUILD
from spindle_server.work.models import ACTIVE, LongWork


class Command(BaseCommand):
    """Fits whatever was left stale, was never fitted, or was fitted by an earlier core."""

    help = "Fit motors and propellers again whose runs or core have changed."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Fit, and say how many; where figures are still being made again, these come first."""
        if LongWork.objects.filter(title=REBUILD, state__in=ACTIVE).exists():
            return
        mark_old()
        made = rebuild_stale()
        if made:
            self.stdout.write(f"Motors and propellers fitted again: {made}")
