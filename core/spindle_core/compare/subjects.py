"""What is compared: runs, means of repeats, samples or models, each read as one thing.

A question about a motor is rarely one about a run. Runs that repeat each other are one subject,
whose figure is their mean with what they scatter by; a model is the mean of its samples, with what
samples differ by. Runs under another load are always another subject.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from spindle_core.compare.bench_table import FIGURES, FULL, Load, RanRun, read_under
from spindle_core.compare.delta import DEFAULT_MARGIN, Delta, compare, is_told
from spindle_core.compare.of_models import between_samples_of, of_model, of_sample
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, sample_standard_deviation
from spindle_core.figures.repeats import PooledSpread


class Grouping(StrEnum):
    """What counts as one."""

    RUN = "run"
    REPEATS = "repeats"
    SAMPLE = "sample"
    MODEL = "model"


@dataclass(frozen=True, slots=True)
class Subject:
    """Runs that are read as one.

    ``key``: of its first run. ``sample``: '' where samples are pooled. ``setup``: stand and ESC
    that repeats share; '' where that does not divide.
    """

    key: str
    by: Grouping
    motor: str
    sample: str
    load: Load
    setup: str
    runs: tuple[RanRun, ...]

    def holds(self, key: str) -> bool:
        """Whether a run is one of its runs."""
        return any(run.core.key == key for run in self.runs)


def subjects(
    runs: Sequence[RanRun], by: Grouping, setups: Mapping[str, str] | None = None
) -> list[Subject]:
    """The runs as subjects, in the order of each one's first run.

    :param setups: stand and ESC of runs by their keys; repeats share them.
    """
    named = setups or {}
    groups: dict[tuple[object, ...], list[RanRun]] = {}
    for run in runs:
        setup = named.get(run.core.key, "")
        divided: tuple[object, ...] = {
            Grouping.RUN: (run.core.key,),
            Grouping.REPEATS: (run.motor, run.sample, run.load, run.kind, setup),
            Grouping.SAMPLE: (run.motor, run.sample, run.load),
            Grouping.MODEL: (run.motor, run.load),
        }[by]
        groups.setdefault(divided, []).append(run)
    found = []
    for group in groups.values():
        first = group[0]
        found.append(
            Subject(
                first.core.key,
                by,
                first.motor,
                "" if by is Grouping.MODEL else first.sample,
                first.load,
                named.get(first.core.key, "") if by in (Grouping.RUN, Grouping.REPEATS) else "",
                tuple(group),
            )
        )
    return found


def alone(core: ComparedRun) -> Subject:
    """A run of which only the points are known, as a subject."""
    run = RanRun(core.key, "", "steps", Load("", "", 0.0), core, {})
    return subjects([run], Grouping.RUN)[0]


@dataclass(frozen=True, slots=True)
class Reading:
    """A figure of a subject, on how many samples and runs it rests, and what these runs spread by
    (s, in its unit; None with one run)."""

    figure: Measured
    samples: int
    runs: int
    spread: float | None


def read_subject(
    subject: Subject,
    name: str,
    condition: str = FULL,
    level: float | None = None,
    *,
    pooled: PooledSpread | None = None,
) -> Reading | Absent:
    """One figure of a subject under a condition; runs that do not reach it do not count.

    :param pooled: what samples of a model differ by; assumed where None.
    """
    found, missing = _by_sample(subject, name, condition, level)
    if not found:
        return missing
    return _read(subject, name, found, pooled)


def _by_sample(
    subject: Subject, name: str, condition: str, level: float | None
) -> tuple[dict[str, list[Measured]], Absent]:
    found: dict[str, list[Measured]] = {}
    missing: Absent | None = None
    for run in subject.runs:
        figure = read_under(run.core, name, condition, level)
        if isinstance(figure, Absent):
            missing = missing or figure
        else:
            found.setdefault(run.sample, []).append(figure)
    return found, missing or Absent("not_measured", "no run tells it")


def _read(
    subject: Subject, name: str, found: Mapping[str, list[Measured]], pooled: PooledSpread | None
) -> Reading:
    figures = [figure for sample in found.values() for figure in sample]
    values = [figure.value for figure in figures]
    spread = sample_standard_deviation(values) if len(values) > 1 else None
    source = f"{subject.motor}/{subject.sample}/{name}/{subject.key}"
    if subject.by is Grouping.MODEL:
        # Other propellers were run on other samples: what these differ by cancels between no two.
        mean = of_model(f"{subject.motor}/{subject.key}", name, found, pooled).figure
    else:
        mean = of_sample(figures, source=source)
    return Reading(mean, len(found), len(figures), spread)


@dataclass(frozen=True, slots=True)
class ComparedCell:
    """A figure of a subject under one condition, and its difference to what it is held against;
    None for that itself and where either figure is absent."""

    reading: Reading | Absent
    delta: Delta | None

    @property
    def figure(self) -> Figure:
        """The figure, or why there is none."""
        return self.reading if isinstance(self.reading, Absent) else self.reading.figure


@dataclass(frozen=True, slots=True)
class ComparedRow:
    """One figure at one level of the condition; a cell per subject, in their order. ``at`` is
    None at full throttle."""

    condition: str
    at: float | None
    name: str
    cells: tuple[ComparedCell, ...]


def comparison_rows(
    compared: Sequence[Subject],
    baseline_key: str | None,
    levels: Sequence[float],
    *,
    margin: float = DEFAULT_MARGIN,
    condition: str = "thrust_gf",
) -> list[ComparedRow]:
    """The table: at each level of the condition the figures of each subject.

    :param baseline_key: of a run of the subject that the others are held against; None: each
        against the one before it.
    :param levels: in the unit of the condition, above 0; not looked at for full throttle.
    :param condition: a key of :data:`FIGURES`.
    :raises QuantityError: the baseline is not among the subjects, a level is not above 0, or a
        condition that is none.
    """
    base = _index_of(compared, baseline_key)
    if condition not in FIGURES:
        listed = ", ".join(FIGURES)
        raise QuantityError(f"Compared is at {listed}; not {condition!r}.", code="condition")
    if condition != FULL and any(level <= 0 for level in levels):
        what = condition.split("_")[0]
        raise QuantityError(f"A {what} to compare at must be above 0.", code=what)
    rows = []
    for level in [None] if condition == FULL else levels:
        for name in FIGURES[condition]:
            column = _column(compared, name, condition, level)
            rows.append(ComparedRow(condition, level, name, _cells(column, base, margin)))
    return rows


def _index_of(compared: Sequence[Subject], key: str | None) -> int | None:
    if key is None:
        return None
    found = next((i for i, subject in enumerate(compared) if subject.holds(key)), None)
    if found is None:
        raise QuantityError("The baseline must be one of the compared runs.", code="baseline")
    return found


def _column(
    compared: Sequence[Subject], name: str, condition: str, level: float | None
) -> list[Reading | Absent]:
    """A figure of every subject; what samples differ by is pooled over those that are models."""
    read = [_by_sample(subject, name, condition, level) for subject in compared]
    models = [
        found
        for subject, (found, _) in zip(compared, read, strict=True)
        if subject.by is Grouping.MODEL
    ]
    pooled = _pooled(models)
    return [
        _read(subject, name, found, pooled) if found else missing
        for subject, (found, missing) in zip(compared, read, strict=True)
    ]


def _pooled(models: Sequence[Mapping[str, list[Measured]]]) -> PooledSpread | None:
    return between_samples_of(models)


def spread_between_samples(
    compared: Sequence[Subject], x_name: str, y_name: str
) -> PooledSpread | None:
    """What samples of the models differ by in y, at half of the x that all of them reach.

    None where nothing is a model, or too few samples were run.
    """
    models = [subject for subject in compared if subject.by is Grouping.MODEL]
    tops = [top for subject in models if (top := largest_of(subject, x_name)) > 0]
    if not tops:
        return None
    at = 0.5 * min(tops)
    return _pooled([_by_sample(one, y_name, x_name, at)[0] for one in models])


def largest_of(subject: Subject, name: str) -> float:
    """The largest value at any point of a subject's runs, in the unit of the name; 0 without."""
    return max((p.value(name) or 0.0 for run in subject.runs for p in run.core.points), default=0.0)


def _cells(
    column: Sequence[Reading | Absent], base: int | None, margin: float
) -> tuple[ComparedCell, ...]:
    cells = []
    for i, reading in enumerate(column):
        against = base if base is not None else i - 1
        other = column[against] if against >= 0 and against != i else None
        delta = None
        if isinstance(reading, Reading) and isinstance(other, Reading) and is_told(other.figure):
            delta = compare(reading.figure, other.figure, margin=margin)
        cells.append(ComparedCell(reading, delta))
    return tuple(cells)
