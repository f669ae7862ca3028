"""What is compared: runs, means of repeats, samples or models, each read as one thing.

A question about a motor is rarely one about a run. Runs that repeat each other are one subject,
whose figure is their mean with what they scatter by; a model is the mean of its samples, with what
samples differ by. Runs under another load are always another subject.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations

import numpy as np

from spindle_core.compare.bench_table import FIGURES, FULL, Load, RanRun, read_under
from spindle_core.compare.delta import DEFAULT_MARGIN, K_95, Crossing, Delta, compare, crossings
from spindle_core.compare.of_models import between_samples_of, of_model, of_sample
from spindle_core.compare.table import WEAKEST_SHARE, ComparedRun, run_curve, value_of
from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    difference,
    sample_standard_deviation,
)
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
class Cell:
    """A figure of a subject under one condition, and its difference to what it is held against;
    None for that itself and where either figure is absent."""

    reading: Reading | Absent
    delta: Delta | None

    @property
    def figure(self) -> Figure:
        """The figure, or why there is none."""
        return self.reading if isinstance(self.reading, Absent) else self.reading.figure


@dataclass(frozen=True, slots=True)
class Row:
    """One figure at one level of the condition; a cell per subject, in their order. ``at`` is
    None at full throttle."""

    condition: str
    at: float | None
    name: str
    cells: tuple[Cell, ...]


def comparison_rows(
    compared: Sequence[Subject],
    baseline_key: str | None,
    levels: Sequence[float],
    *,
    margin: float = DEFAULT_MARGIN,
    condition: str = "thrust_gf",
) -> list[Row]:
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
            rows.append(Row(condition, level, name, _cells(column, base, margin)))
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
    tops = [top for subject in models if (top := _top(subject, x_name)) > 0]
    if not tops:
        return None
    at = 0.5 * min(tops)
    return _pooled([_by_sample(one, y_name, x_name, at)[0] for one in models])


def _cells(column: Sequence[Reading | Absent], base: int | None, margin: float) -> tuple[Cell, ...]:
    cells = []
    for i, reading in enumerate(column):
        against = base if base is not None else i - 1
        other = column[against] if against >= 0 and against != i else None
        delta = None
        if isinstance(reading, Reading) and isinstance(other, Reading) and other.figure.value != 0:
            delta = compare(reading.figure, other.figure, margin=margin)
        cells.append(Cell(reading, delta))
    return tuple(cells)


GRID = 41
KNOTS = 9
"""Places along a curve at which its u is told; between them it goes with the value."""

STEPS = 64
NEARLY = 0.85
"""Share of the interval beyond which a pair of curves is looked at closely for a crossing."""


@dataclass(frozen=True, slots=True)
class MeanCurve:
    """A subject's curve on the range that all of its runs measured, for drawing.

    ``x``, ``y``, ``u``: shape (41,), NaN where there is no reading; u is standard. ``scatter``: u
    without the gains of the stand. ``points``: measured x, y and the scatter of y of every run.
    """

    x_name: str
    y_name: str
    x: Floats
    y: Floats
    u: Floats
    scatter: Floats
    points: tuple[tuple[float, float, float], ...]


def mean_curve(
    subject: Subject,
    x_name: str,
    y_name: str,
    *,
    whole_u: bool = True,
    pooled: PooledSpread | None = None,
) -> MeanCurve | Absent:
    """The mean of a subject's runs along an axis.

    :param x_name: a condition but full throttle. :param y_name: any figure of the points.
    :param whole_u: with the gains of the stand; without them where all that is drawn shares them.
    :param pooled: of :func:`spread_between_samples`, for models.
    """
    span = common_span(subject, x_name, y_name)
    if isinstance(span, Absent):
        return span
    x = np.linspace(*span, GRID)
    y = np.array([_mean_value(subject, y_name, x_name, float(at)) for at in x])
    u, scatter = _along(subject, x_name, y_name, x, pooled)
    return MeanCurve(
        x_name,
        y_name,
        x,
        y,
        (u if whole_u else scatter) * np.abs(y),
        scatter * np.abs(y),
        _points(subject, x_name, y_name, span),
    )


def _mean_value(subject: Subject, name: str, condition: str, at: float) -> float:
    """The mean of what its runs read, as :func:`read_subject` takes it, without its u."""
    by_sample: dict[str, list[float]] = {}
    for run in subject.runs:
        value = value_of(run.core, at, name, condition)
        if math.isfinite(value):
            by_sample.setdefault(run.sample, []).append(value)
    if not by_sample:
        return math.nan
    if subject.by is Grouping.MODEL:
        return math.fsum(_mean(row) for row in by_sample.values()) / len(by_sample)
    return _mean([value for row in by_sample.values() for value in row])


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)


def _along(
    subject: Subject, x_name: str, y_name: str, x: Floats, pooled: PooledSpread | None
) -> tuple[Floats, Floats]:
    """u and scatter relative to y along a curve, told at some places and on lines between."""
    told = []
    # u relative to y changes most at the lower end.
    for at in np.geomspace(x[0], x[-1], KNOTS):
        reading = read_subject(subject, y_name, x_name, float(at), pooled=pooled)
        if isinstance(reading, Reading) and reading.figure.value != 0:
            scale = abs(reading.figure.value)
            told.append((float(at), reading.figure.u / scale, reading.figure.scatter / scale))
    if not told:
        return np.full(x.size, np.nan), np.full(x.size, np.nan)
    places, us, scatters = zip(*told, strict=True)
    return np.interp(x, places, us), np.interp(x, places, scatters)


def common_span(subject: Subject, x_name: str, y_name: str) -> tuple[float, float] | Absent:
    """The range of x in which every run of a subject that tells y tells it; quotients of a weak
    thrust, which are noise, are left out."""
    spans = []
    missing: Absent | None = None
    for run in subject.runs:
        found = _span(run, x_name, y_name)
        if isinstance(found, Absent):
            missing = missing or found
        else:
            spans.append(found)
    if not spans:
        return missing or Absent("not_measured", "no run tells it")
    low, high = max(span[0] for span in spans), min(span[1] for span in spans)
    if low >= high:
        return Absent("no_common_range", "its runs have no range in common")
    return low, high


def _span(run: RanRun, x_name: str, y_name: str) -> tuple[float, float] | Absent:
    quotient = y_name in ("efficiency_g_per_w", "motor_esc_efficiency_pct")
    over = {"efficiency_g_per_w": "power_w", "motor_esc_efficiency_pct": "shaft_power_w"}
    needed = over.get(y_name, y_name)
    if needed == x_name:
        needed = "thrust_gf"
    line = run_curve(run.core, x_name, needed)
    if isinstance(line, Absent):
        return line
    low, high = line.span
    if quotient:
        thrusts = [p.value("thrust_gf") or 0.0 for p in run.core.points]
        floor = WEAKEST_SHARE * max(thrusts, default=0.0)
        strong = [
            x
            for point, thrust in zip(run.core.points, thrusts, strict=True)
            if thrust >= floor and (x := point.value(x_name)) is not None
        ]
        low = max(low, min(strong, default=low))
    return (low, high) if low < high else Absent("too_few_points", "too few points to draw")


def _points(
    subject: Subject, x_name: str, y_name: str, span: tuple[float, float]
) -> tuple[tuple[float, float, float], ...]:
    found = []
    for run in subject.runs:
        for point in run.core.points:
            x, y = point.value(x_name), point.figures.get(y_name)
            if x is None or not isinstance(y, Measured):
                continue
            if x >= span[0] * (1 - 1e-9):
                found.append((x, y.value, y.scatter))
    return tuple(found)


def crossings_of(
    a: Subject,
    b: Subject,
    *,
    x_name: str = "thrust_gf",
    y_name: str = "power_w",
    k: float = K_95,
    pooled: PooledSpread | None = None,
) -> list[Crossing]:
    """Where the curves of two subjects cross in the range both measured, with their intervals.

    :param k: coverage factor of the intervals.
    """
    spans = [common_span(one, x_name, y_name) for one in (a, b)]
    known = [span for span in spans if not isinstance(span, Absent)]
    if len(known) < 2:
        return []

    def gap(at: float) -> Measured | None:
        one, other = (read_subject(s, y_name, x_name, at, pooled=pooled) for s in (a, b))
        if isinstance(one, Absent) or isinstance(other, Absent):
            return None
        return difference(one.figure, other.figure)

    def value(at: float) -> float:
        one, other = (_mean_value(subject, y_name, x_name, at) for subject in (a, b))
        return one - other

    low, high = max(span[0] for span in known), min(span[1] for span in known)
    return crossings(gap, low, high, value=value, k=k, steps=STEPS)


def told_crossings(
    compared: Sequence[Subject],
    *,
    x_name: str = "thrust_gf",
    y_name: str = "power_w",
    pooled: PooledSpread | None = None,
) -> list[tuple[str, str, Crossing]]:
    """Pairs of subjects whose curves cross measurably, above the weakest thrusts: only where the
    difference is resolved on both sides."""
    curves = {one.key: _looked_over(one, x_name, y_name, pooled) for one in compared}
    found = []
    for a, b in combinations(compared, 2):
        if not _may_cross(curves[a.key], curves[b.key]):
            continue
        for crossing in crossings_of(a, b, x_name=x_name, y_name=y_name, pooled=pooled):
            floor = min(_top(one, x_name) for one in (a, b))
            if crossing.resolved and crossing.at > WEAKEST_SHARE * floor:
                found.append((a.key, b.key, crossing))
    return found


def _top(subject: Subject, name: str) -> float:
    return max((p.value(name) or 0.0 for run in subject.runs for p in run.core.points), default=0.0)


@dataclass(frozen=True, slots=True)
class _Look:
    """A curve in the logarithms, where it is nearly straight, and its relative scatter."""

    x: Floats
    y: Floats
    scatter: Floats


def _looked_over(
    subject: Subject, x_name: str, y_name: str, pooled: PooledSpread | None
) -> _Look | None:
    span = common_span(subject, x_name, y_name)
    if isinstance(span, Absent):
        return None
    x = np.geomspace(*span, GRID)
    y = np.array([_mean_value(subject, y_name, x_name, float(at)) for at in x])
    _, scatter = _along(subject, x_name, y_name, x, pooled)
    good = np.isfinite(y) & (y > 0) & np.isfinite(scatter)
    return _Look(np.log(x[good]), np.log(y[good]), scatter[good]) if good.sum() > 1 else None


def _may_cross(one: _Look | None, other: _Look | None) -> bool:
    """Whether each lies nearly measurably above the other somewhere: only then it is worth a
    close look."""
    if one is None or other is None:
        return False
    low, high = max(one.x[0], other.x[0]), min(one.x[-1], other.x[-1])
    if low >= high:
        return False
    x = np.linspace(low, high, 2 * GRID)
    first, second = (
        [np.interp(x, look.x, part) for part in (look.y, look.scatter)] for look in (one, other)
    )
    apart = first[0] - second[0]
    signs = np.sign(apart[np.abs(apart) > NEARLY * K_95 * np.hypot(first[1], second[1])])
    return bool(signs.size and signs.min() < 0 < signs.max())
