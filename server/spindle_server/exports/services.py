"""Asking for runs as an archive, and letting old ones go."""

from __future__ import annotations

import datetime
from collections.abc import Sequence

from django.db.models import Sum
from django.utils import timezone

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.exports.models import RunExport
from spindle_server.exports.tasks import make_export
from spindle_server.records.writes import writes
from spindle_server.runs.models import Run, TraceSegment
from spindle_server.work.models import ACTIVE
from spindle_server.work.services import ask_for

MOST_RUNS = 5_000
MOST_SAMPLES = 50_000_000
"""Rows of all logs together; a minute of a stand at 1 kHz is 60,000."""

KEPT = datetime.timedelta(days=3)
MOST_KEPT = 5


@writes(Role.REVIEWER)
def ask_for_export(*, actor: User, runs: Sequence[int], with_logs: bool = True) -> RunExport:
    """Runs as an archive, made by long work; older archives are let go.

    :raises ServiceError: no run, too many, or logs too long together.
    :raises ConflictError: one of as many runs is being made.
    """
    count = len(runs)
    if not count:
        raise ServiceError("No run is meant: choose others, or widen the search.", code="no_runs")
    if count > MOST_RUNS:
        raise ServiceError(
            f"{count:,} runs are more than fit one archive ({MOST_RUNS:,}): narrow the search.",
            code="too_many_runs",
        )
    if with_logs and _samples_of(runs) > MOST_SAMPLES:
        raise ServiceError(
            "Their logs are too long for one archive: take fewer runs, or leave the logs out.",
            code="too_many_samples",
        )
    let_go()
    title = f"Archive of {count:,} runs" if count > 1 else f"Archive of run {runs[0]}"
    work = ask_for(actor=actor, title=title, task=make_export)
    export = RunExport(runs=list(runs), with_logs=with_logs, work=work, asked_by=actor)
    export.save()
    return export


def _samples_of(runs: Sequence[int]) -> int:
    rows = TraceSegment.objects.filter(run__in=runs).aggregate(rows=Sum("row_count"))["rows"]
    return int(rows or 0)


def let_go() -> None:
    """Delete archives that are old, or more than are kept; what is being made stays."""
    ended = RunExport.objects.exclude(work__state__in=ACTIVE)
    newest = list(ended.order_by("-pk").values_list("pk", flat=True)[: MOST_KEPT - 1])
    old = ended.exclude(pk__in=newest) | ended.filter(asked_at__lt=timezone.now() - KEPT)
    for export in old.select_related("stored"):
        _delete(export)


@writes(Role.REVIEWER)
def drop_export(*, actor: User, export: RunExport) -> None:
    """Delete an archive before its time; the runs stay.

    :raises ConflictError: it is being made.
    """
    if export.work.state in ACTIVE:
        raise ConflictError("It is being made: stop that first.", code="at_work")
    _delete(export)


def _delete(export: RunExport) -> None:
    stored = export.stored
    export.delete()
    if stored is not None:
        stored.delete()


def all_found(found: Sequence[int]) -> list[int]:
    """Numbers of runs that are there, in their order."""
    there = set(Run.objects.filter(pk__in=found).values_list("pk", flat=True))
    return [number for number in found if number in there]
