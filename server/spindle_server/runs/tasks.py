"""Long work on runs."""

from __future__ import annotations

from django_tasks import task

from spindle_server.runs.models import Reduction
from spindle_server.runs.reducing import is_stale, reduce_run
from spindle_server.work.doing import StoppedError, doing


@task()
def rebuild_stale(work: int) -> None:
    """Make every figure again that rests on an older core or on other data than there is now."""
    try:
        with doing(work) as progress:
            numbers = list(Reduction.objects.order_by("run").values_list("pk", flat=True))
            progress.of(len(numbers), "runs")
            made = 0
            for done, number in enumerate(numbers, start=1):
                reduction = Reduction.objects.select_related("run__stand").get(pk=number)
                if is_stale(reduction):
                    reduce_run(reduction.run)
                    made += 1
                progress.step(done)
            progress.say(f"{made} of {len(numbers)} runs had old figures; they are made again.")
    except StoppedError:
        return
