"""Long work of publishing."""

from __future__ import annotations

from django.conf import settings
from django_tasks import task

from spindle_server.publish.exporting import export
from spindle_server.publish.leaving import bench_path, export_bench
from spindle_server.work.doing import StoppedError, doing

SAY_EVERY = 25


@task()
def take_along(work: int) -> None:
    """Write the whole bench into one archive."""
    try:
        with doing(work) as progress:
            begun: list[bool] = []

            def say(done: int, total: int) -> None:
                if not begun:
                    progress.of(total)
                    begun.append(True)
                progress.step(done)

            count = export_bench(say)
            megabytes = bench_path().stat().st_size / 1e6
            progress.say(f"{count} files, {megabytes:.0f} MB; it waits on Publish.")
    except StoppedError:
        return


@task()
def export_pages(work: int) -> None:
    """Write all that is published into ``pages`` of the installation's folder."""
    folder = settings.VAR / "pages"
    try:
        with doing(work) as progress:
            begun: list[bool] = []

            def say(done: int, total: int) -> None:
                if not begun:
                    progress.of(total)
                    begun.append(True)
                if done % SAY_EVERY == 0 or done == total:
                    progress.step(done)

            found = export(folder, pdf=True, say=say)
            progress.say(
                f"{found.files} files in {folder}: {found.written} written, "
                f"{found.removed} removed. Put them on any web server."
            )
    except StoppedError:
        return
