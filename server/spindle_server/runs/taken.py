"""Runs as the core takes them, kept in this process with their curves as long as nobody reduces
them anew: after a write to one run only that one is read again."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from django.db.models import QuerySet

from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.measured import Figure
from spindle_core.reduction.overrun import overruns, recommendable
from spindle_server.runs.as_core import SUPPLY_WORDS, compared_run, figure_of
from spindle_server.runs.models import Reduction, Run, SummaryFigure

MOST_KEPT = 2000
"""Runs that a process keeps, those that were used last; about 0.1 MB each with their curves."""

READ_AT_ONCE = 400


@dataclass(frozen=True, slots=True)
class _Taken:
    """A run's points and summary, and what they were made of."""

    made_of: tuple[Any, ...]
    core: ComparedRun
    summary: dict[str, Figure]
    within: dict[tuple[tuple[str, float], ...], Within] = field(default_factory=dict)
    """By the limits that were asked for last."""


Within = tuple[ComparedRun, int]
"""What of a run may be recommended, and how many points beyond a limit it leaves out."""

_taken: OrderedDict[int, _Taken] = OrderedDict()
_lock = threading.Lock()


def load_of(run: Run) -> Load:
    """What was mounted."""
    return Load(
        run.propeller.full_name if run.propeller else "",
        SUPPLY_WORDS[run.supply.kind] if run.supply else "",
        run.nominal_voltage_v or 0.0,
    )


def ran_runs(rows: QuerySet[Run]) -> list[tuple[Run, RanRun]]:
    """Runs with figures in the order of the query, each as stored, without its result, and as the
    core takes it with nothing left out.

    :param rows: runs that have a reduction.
    """
    whole = rows.select_related("sample", "propeller__maker", "supply", "stand", "reduction")
    listed = list(whole.defer("reduction__result"))
    found = {run.pk: kept for run in listed if (kept := _known(run)) is not None}
    lacking = [run for run in listed if run.pk not in found]
    for begin in range(0, len(lacking), READ_AT_ONCE):
        some = lacking[begin : begin + READ_AT_ONCE]
        found.update(_read(some))
    return [(run, _as_ran(run, found[run.pk])) for run in listed]


def ran_run(run: Run) -> RanRun:
    """The same of one run.

    :param run: with its reduction, stand, sample, supply, propeller and figures read.
    """
    kept = _known(run)
    if kept is None:
        kept = _take(run, run.figures.all())
    return _as_ran(run, kept)


def _as_ran(run: Run, kept: _Taken) -> RanRun:
    return RanRun(
        str(run.sample.motor_id), run.sample.mark, run.kind, load_of(run), kept.core, kept.summary
    )


def within_limits(run: Run, core: ComparedRun, limits: Mapping[str, float]) -> Within:
    """What of a run may be recommended; kept beside it, so that its curves stay too.

    :param core: the run as :func:`ran_runs` gave it. :param limits: figure of a point → the most
        that is claimed for it, in its unit.
    """
    key = tuple(sorted(limits.items()))
    with _lock:
        kept = _taken.get(run.pk)
        known = kept.within.get(key) if kept is not None and kept.core is core else None
    if known is not None:
        return known
    beyond = overruns(core.points, limits)
    left = core
    if beyond:
        left = replace(core, points=recommendable(core.points, beyond), held_back=True)
    with _lock:
        if kept is not None and kept.core is core:
            kept.within.clear()
            kept.within[key] = (left, len(beyond))
    return left, len(beyond)


def _made_of(run: Run) -> tuple[Any, ...]:
    """A reduction is another with every save, and the stand's scatter goes with the points."""
    made = run.reduction
    return (made.pk, made.made_at, run.stand.repeatability_rel if run.stand else None)


def _known(run: Run) -> _Taken | None:
    with _lock:
        kept = _taken.get(run.pk)
        if kept is None or kept.made_of != _made_of(run):
            return None
        _taken.move_to_end(run.pk)
        return kept


def _read(runs: Sequence[Run]) -> dict[int, _Taken]:
    """Runs that are not known, with two queries for all."""
    keys = [run.pk for run in runs]
    results = dict(Reduction.objects.filter(run__in=keys).values_list("run_id", "result"))
    figures: dict[int, list[SummaryFigure]] = {}
    for row in SummaryFigure.objects.filter(run__in=keys).order_by("pk"):
        figures.setdefault(row.run_id, []).append(row)
    found = {}
    for run in runs:
        run.reduction.result = results.get(run.pk)
        found[run.pk] = _take(run, figures.get(run.pk, []))
        # What is kept is what the core takes; the result as it was stored is not held as well.
        del run.reduction.result
    return found


def _take(run: Run, figures: Iterable[SummaryFigure]) -> _Taken:
    kept = _Taken(_made_of(run), compared_run(run), {row.name: figure_of(row) for row in figures})
    with _lock:
        _taken[run.pk] = kept
        _taken.move_to_end(run.pk)
        while len(_taken) > MOST_KEPT:
            _taken.popitem(last=False)
    return kept
