"""The archive: a table of the runs, and for each its points and every sample."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterable, Sequence
from typing import IO, Any

from django.utils import timezone

import spindle_core
from spindle_core.figures.quantities import QUANTITIES
from spindle_server.papers import table_csv
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import IN_LISTS, bench_log_pieces, points_as_csv, with_results

TOLD = (
    "run",
    "uid",
    "kind",
    "motor",
    "sample",
    "propeller",
    "supply",
    "stand",
    "started_at",
    "ended",
    "review",
    "reason",
)

LETTER = """\
Runs of this bench, {count} of them, taken out on {now} with core {version}.

runs.csv           a line a run: what it was and its headline figures; u_ is the standard
                   uncertainty of the column before it, in the same unit. An empty cell is a
                   figure that the run does not tell.
points/run-N.csv   the figures of run N point by point, with their u.
logs/run-N.csv     every sample of run N as it was recorded{logs}.

Units of the figures in runs.csv:
{units}
"""


def write_archive(
    file: IO[bytes], numbers: Sequence[int], *, with_logs: bool, step: Callable[[int], None]
) -> None:
    """Write the archive; run after run, none of them held with the others.

    :param numbers: of the runs, in the order of the table. :param step: told how many are done.
    """
    rows: list[list[Any]] = [_heads()]
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        for done, number in enumerate(numbers, start=1):
            run = with_results().filter(pk=number).first()
            if run is not None:
                rows.append(_row(run))
                archive.writestr(f"points/run-{run.pk}.csv", points_as_csv(run))
                if with_logs:
                    _write_pieces(archive, f"logs/run-{run.pk}.csv", bench_log_pieces(run))
            step(done)
        archive.writestr("runs.csv", table_csv(rows))
        archive.writestr("README.txt", _letter(len(rows) - 1, with_logs))


def _write_pieces(archive: zipfile.ZipFile, name: str, pieces: Iterable[bytes]) -> None:
    with archive.open(name, "w", force_zip64=True) as entry:
        for piece in pieces:
            entry.write(piece)


def _heads() -> list[str]:
    return [*TOLD, *(cell for name in IN_LISTS for cell in (name, f"u_{name}"))]


def _row(run: Run) -> list[Any]:
    end = getattr(run, "end", None)
    figures = {figure.name: figure for figure in run.figures.all()}
    cells: list[Any] = [
        run.pk,
        str(run.uid),
        run.kind,
        run.sample.motor.full_name,
        run.sample.mark,
        run.propeller_name,
        run.supply.name if run.supply else None,
        run.stand.name if run.stand else None,
        timezone.localtime(run.started_at).isoformat(timespec="seconds"),
        end.outcome if end else None,
        run.review or None,
        run.review_reason or None,
    ]
    for name in IN_LISTS:
        figure = figures.get(name)
        cells += [None, None] if figure is None else [figure.value, figure.u]
    return cells


def _letter(count: int, with_logs: bool) -> str:
    units = "\n".join(f"  {name}: {QUANTITIES[name].unit or 'a number'}" for name in IN_LISTS)
    return LETTER.format(
        count=count,
        now=timezone.localtime().isoformat(timespec="minutes"),
        version=spindle_core.__version__,
        logs="" if with_logs else " (left out)",
        units=units,
    )
