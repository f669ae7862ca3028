"""A subject's curve on the range that all of its runs measured, and where two of them cross."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from spindle_core.compare.bench_table import RanRun
from spindle_core.compare.delta import K_95, Crossing, crossings
from spindle_core.compare.subjects import Grouping, Reading, Subject, largest_of, read_subject
from spindle_core.compare.table import WEAKEST_SHARE, run_curve, value_of
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured, difference
from spindle_core.figures.repeats import PooledSpread

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
            floor = min(largest_of(one, x_name) for one in (a, b))
            if crossing.resolved and crossing.at > WEAKEST_SHARE * floor:
                found.append((a.key, b.key, crossing))
    return found


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
