"""Long work on runs."""

from __future__ import annotations

import time
from collections.abc import Sequence

from django_tasks import task

import spindle_core
from spindle_server.runs.models import Reduction
from spindle_server.runs.reducing import is_stale, reduce_run
from spindle_server.runs.signals import evidence_settled, many_reductions
from spindle_server.work.doing import Progress, StoppedError, doing
from spindle_server.work.services import gives_way

REBUILD = "Make old figures again"

LONGEST_S = 24 * 3600
"""All figures of a large bench, after its core became another."""

GIVES_WAY_AFTER_S = 60.0
"""What else waits is done in between; the rest of the old figures comes after it."""


@task()
def rebuild_stale(work: int) -> None:
    """Make every figure again that rests on an older core or on other data than there is now."""
    try:
        with doing(work, longest_s=LONGEST_S) as progress, gives_way(work, rebuild_stale):
            made = _of_an_earlier_core(progress)
            others, count = _of_other_data(progress)
            evidence_settled.send(Reduction, progress=progress)
            progress.say(f"{made + others} of {count} runs had old figures; they are made again.")
    except StoppedError:
        return


def of_an_earlier_core() -> list[int]:
    """Numbers of the runs whose figures another core made, the newest first."""
    old = Reduction.objects.exclude(core_version=spindle_core.__version__)
    return list(old.order_by("-run").values_list("run", flat=True))


def make_again(runs: Sequence[int]) -> None:
    """Make figures again with the core as it is."""
    for number in runs:
        reduce_run(Reduction.objects.select_related("run__stand").get(run=number).run)


def _of_an_earlier_core(progress: Progress) -> int:
    numbers = of_an_earlier_core()
    progress.of(len(numbers), "old runs")
    begun = time.monotonic()
    with many_reductions():
        for done, number in enumerate(numbers, start=1):
            make_again([number])
            progress.step(done)
            if time.monotonic() - begun > GIVES_WAY_AFTER_S:
                progress.let_others_go_first()
    return len(numbers)


def _of_other_data(progress: Progress) -> tuple[int, int]:
    numbers = list(Reduction.objects.order_by("run").values_list("pk", flat=True))
    progress.of(len(numbers), "runs")
    made = 0
    with many_reductions():
        for done, number in enumerate(numbers, start=1):
            reduction = Reduction.objects.select_related("run__stand").get(pk=number)
            if is_stale(reduction):
                reduce_run(reduction.run)
                made += 1
            progress.step(done)
    return made, len(numbers)
