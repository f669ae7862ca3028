"""``reduce_stale``: figures made by an earlier core are made again."""

import time
from contextlib import suppress
from typing import Any

from django.core.management.base import BaseCommand

from spindle_server.errors import ConflictError
from spindle_server.runs.signals import many_reductions
from spindle_server.runs.tasks import REBUILD, make_again, of_an_earlier_core, rebuild_stale
from spindle_server.work.services import ask_for

SAY_EVERY = 100


class Command(BaseCommand):
    """Reduces runs whose figures another version of the core made; recordings are kept. What rests
    on them is made again by ``identify_stale``, or with what is left, as long work."""

    help = "Make figures again that an earlier version of the core made."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: Any) -> None:
        """A bound, so that a large bench opens."""
        parser.add_argument(
            "--within-s",
            type=float,
            default=None,
            help="after so long the rest becomes long work, done while the bench is open",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Reduce, the newest first, saying how far it is."""
        within, begun = options["within_s"], time.monotonic()
        numbers = of_an_earlier_core()
        with many_reductions():
            for done, number in enumerate(numbers, start=1):
                make_again([number])
                if done % SAY_EVERY == 0 or done == len(numbers):
                    self.stdout.write(f"Figures made again: {done} of {len(numbers)} runs")
                if within is not None and time.monotonic() - begun > within and numbers[done:]:
                    self._leave(len(numbers) - done)
                    return

    def _leave(self, count: int) -> None:
        with suppress(ConflictError):
            ask_for(actor=None, title=REBUILD, task=rebuild_stale)
        self.stdout.write(
            f"{count} runs still have figures of an earlier version: they are made again while "
            "the bench is open, as the Board shows."
        )
