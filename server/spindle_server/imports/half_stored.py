"""Large files that did not become a run: what was stored of them is taken back, what came stays."""

from __future__ import annotations

from spindle_server.accounts.models import Role, User
from spindle_server.imports.models import LargeFile
from spindle_server.records.writes import writes
from spindle_server.runs.models import Run
from spindle_server.work.models import ACTIVE

LOST = "The process ended while it was stored; nothing of it is a run. Store it again."


@writes(Role.REVIEWER)
def undo(*, actor: User | None, pk: int, problem: str, state: str) -> None:
    """Nothing of it is a run; what came of it stays, so that it can be stored again."""
    row = LargeFile.objects.select_for_update().get(pk=pk)
    half, row.run = row.run, None
    row.state, row.problem = state, problem[:300]
    row.save()
    if half is not None:
        Run.objects.get(pk=half.pk).delete()


def undo_the_lost() -> int:
    """What was being stored when its process ended; returns how many files there were. Called once,
    by the only process that stores them, before it takes any."""
    lost = LargeFile.objects.filter(state="storing").exclude(work__state__in=ACTIVE)
    for file in lost:
        undo(actor=None, pk=file.pk, problem=LOST, state="refused")
    return len(lost)
