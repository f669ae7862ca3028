"""Making an archive of runs as long work."""

from __future__ import annotations

import tempfile
from typing import IO

from django_tasks import task

from spindle_server.exports.archive import write_archive
from spindle_server.exports.models import RunExport
from spindle_server.runs.models import StoredFile
from spindle_server.runs.stored_files import PART_BYTES, keep_part, parts_of
from spindle_server.work.doing import StoppedError, doing


@task()
def make_export(work: int) -> None:
    """Write the archive beside the record, then keep it: whole, or not at all."""
    try:
        with doing(work) as progress:
            export = RunExport.objects.get(work=work)
            progress.of(len(export.runs), "runs")
            with tempfile.TemporaryFile() as file:
                write_archive(file, export.runs, with_logs=export.with_logs, step=progress.step)
                size = file.tell()
                file.seek(0)
                _store(export, file, size)
            progress.say(f"{size / 1e6:,.1f} MB, kept for three days.")
    except StoppedError:
        return


def _store(export: RunExport, file: IO[bytes], size: int) -> None:
    """Keep the archive part by part, each for itself: one write of all would be too large for some
    databases. It is given out only when the work is done; what fails keeps nothing."""
    stored = StoredFile.objects.create(size=size)
    RunExport.objects.filter(pk=export.pk).update(stored=stored)
    try:
        for index in range(parts_of(size)):
            keep_part(stored, index, file.read(PART_BYTES))
    except BaseException:
        stored.delete()
        raise
