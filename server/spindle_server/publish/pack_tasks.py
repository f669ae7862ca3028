"""Making data packs as long work."""

from __future__ import annotations

from django_tasks import task

from spindle_server.publish.models import EditionPack
from spindle_server.publish.packs import make_waiting, waiting
from spindle_server.work.doing import StoppedError, doing


@task()
def make_packs(work: int) -> None:
    """Make the data packs of editions that have none yet."""
    try:
        with doing(work) as progress:
            progress.of(waiting().count(), "packs")
            made = make_waiting(lambda done, _: progress.step(done))
            failed = EditionPack.objects.exclude(problem="").count()
            more = f" {failed} could not be made; the list of pages says why." if failed else ""
            progress.say(f"{made} data pack{'' if made == 1 else 's'} made.{more}")
    except StoppedError:
        return
