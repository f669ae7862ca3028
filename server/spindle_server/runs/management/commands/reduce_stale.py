"""``reduce_stale``: figures made by an earlier core are made again."""

from typing import Any

from django.core.management.base import BaseCommand

import spindle_core
from spindle_server.runs.models import Reduction
from spindle_server.runs.reducing import reduce_run

SAY_EVERY = 100


class Command(BaseCommand):
    """Reduces every run whose figures another version of the core made; recordings are kept."""

    help = "Make figures again that an earlier version of the core made."

    def handle(self, *args: Any, **options: Any) -> None:
        """Reduce, saying how far it is."""
        old = Reduction.objects.exclude(core_version=spindle_core.__version__)
        numbers = list(old.order_by("run").values_list("run", flat=True))
        for done, number in enumerate(numbers, start=1):
            reduction = Reduction.objects.select_related("run__stand").get(run=number)
            reduce_run(reduction.run)
            if done % SAY_EVERY == 0 or done == len(numbers):
                self.stdout.write(f"Figures made again: {done} of {len(numbers)} runs")
