"""What a comparison is asked for, and the runs behind it as the core's subjects."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.bench_table import RanRun
from spindle_core.compare.nominal import AtNominal
from spindle_core.compare.subjects import Grouping, Subject, subjects
from spindle_core.figures.measured import Absent
from spindle_server.compare.changes import changes_of
from spindle_server.compare.correcting import at_nominal
from spindle_server.errors import ServiceError
from spindle_server.runs.models import Run
from spindle_server.runs.selectors import with_results
from spindle_server.runs.taken import ran_run

MOST_RUNS = 160
MOST_SUBJECTS = 40

USUAL_AXES = (("throttle_pct", "thrust_gf"), ("thrust_gf", "efficiency_g_per_w"))


@dataclass(frozen=True, slots=True)
class AskedComparison:
    """What a comparison is asked for. ``levels`` empty: a ladder of thrusts; ``baseline`` None:
    the first run."""

    runs: tuple[int, ...]
    by: str = "repeats"
    baseline: int | None = None
    against: str = "baseline"
    condition: str = "thrust_gf"
    levels: tuple[float, ...] = ()
    axes: tuple[tuple[str, str], ...] = USUAL_AXES
    correct: bool = False


@dataclass(frozen=True, slots=True)
class Read:
    """The runs of a comparison, as stored and as the core takes them; ``changed``: what correction
    to nominal made of each."""

    chosen: list[Run]
    ran: list[RanRun]
    changed: dict[int, AtNominal | Absent]
    subjects: list[Subject]


def read_asked(asked: AskedComparison) -> Read:
    """The subjects of a comparison.

    :raises ServiceError: too few or many runs or subjects, a run unknown or without figures.
    """
    chosen = _load(asked.runs)
    ran = [ran_run(run) for run in chosen]
    changed: dict[int, AtNominal | Absent] = {}
    if asked.correct:
        ran, changed = _corrected(chosen, ran)
    done = changes_of(chosen)
    setups = {one.core.key: _setup(run, done[run.pk]) for one, run in zip(ran, chosen, strict=True)}
    found = subjects(ran, Grouping(asked.by), setups)
    if len(found) > MOST_SUBJECTS:
        raise ServiceError(
            f"{len(found)} are too many to compare; {MOST_SUBJECTS} at most. Take means of "
            "repeats or models, or fewer runs.",
            code="run_count",
        )
    return Read(chosen, ran, changed, found)


def _load(run_ids: Sequence[int]) -> list[Run]:
    if not 1 <= len(run_ids) <= MOST_RUNS or len(set(run_ids)) != len(run_ids):
        raise ServiceError(f"Compare 1 to {MOST_RUNS} different runs.", code="run_count")
    by_id = {run.pk: run for run in with_results().filter(pk__in=run_ids)}
    missing = [pk for pk in run_ids if pk not in by_id]
    if missing:
        raise ServiceError(f"There is no run {missing[0]}.", code="unknown_run")
    for run in by_id.values():
        if not hasattr(run, "reduction") or run.reduction.result is None:
            raise ServiceError(f"Run {run.pk} has no figures to compare.", code="no_figures")
    return [by_id[pk] for pk in run_ids]


def _setup(run: Run, done: str) -> str:
    """Stand, ESC and what was done to the sample before: what repeats share."""
    parts = [run.stand.name if run.stand else "", run.esc.name if run.esc else "", done]
    return ", ".join(part for part in parts if part)


def _corrected(
    chosen: Sequence[Run], ran: Sequence[RanRun]
) -> tuple[list[RanRun], dict[int, AtNominal | Absent]]:
    """The runs at nominal voltage and in reference air; one that cannot be stays as it is."""
    changed = {run.pk: at_nominal(run, one) for run, one in zip(chosen, ran, strict=True)}
    found = []
    for run, one in zip(chosen, ran, strict=True):
        new = changed[run.pk]
        kept = one.core if isinstance(new, Absent) else replace(one.core, points=new.points)
        found.append(replace(one, core=kept))
    return found, changed
