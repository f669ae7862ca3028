"""The summary of a run of points over throttle (``steps``, ``ramp``, ``readings``)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, ratio
from spindle_core.reduction.columns import ColumnRow
from spindle_core.reduction.result import Point
from spindle_core.reduction.throttle_feel import low_throttle_slope, top_end_slopes
from spindle_core.run.duty import FULL_THROTTLE_PCT
from spindle_core.run.tare import Tare

SMALLEST_THRUST_SHARE = 0.05


def _series(points: Sequence[Point], name: str) -> Floats:
    """The values of a figure over the points, NaN where absent, shape (points,)."""
    first = points[0].figures if points else None
    if isinstance(first, ColumnRow) and all(
        isinstance(p.figures, ColumnRow) and p.figures.columns is first.columns for p in points
    ):
        column = first.columns.get(name)
        if column is None:
            return np.full(len(points), np.nan)
        if column.values.size == len(points):
            return column.values
    values = [point.value(name) for point in points]
    return np.array([np.nan if value is None else value for value in values])


def summarise(points: Sequence[Point], tare: Tare, *, tared: bool) -> dict[str, Figure]:
    """Headline figures of the points, each present or absent with its reason."""
    strongest = _largest(points, "thrust_gf")
    best, best_at = best_efficiency(points)
    low, low_ratio, top = _throttle_feel(points, tared=tared)
    return {
        "max_thrust_gf": _figure(strongest, "thrust_gf"),
        "max_current_a": _figure(_largest(points, "current_a"), "current_a"),
        "max_power_w": _figure(_largest(points, "power_w"), "power_w"),
        "efficiency_at_max_g_per_w": _figure(strongest, "efficiency_g_per_w"),
        "best_efficiency_g_per_w": best,
        "best_efficiency_thrust_gf": best_at,
        "low_throttle_slope_gf_per_pct": low,
        "low_throttle_ratio": low_ratio,
        "top_end_ratio": top,
        "tare_drift_gf": tare.drift(),
    }


def best_efficiency(points: Sequence[Point]) -> tuple[Figure, Figure]:
    """The gf/W that is surest to be high, and the thrust [gf] it stands at.

    Among points of at least 5 % of the maximum thrust the one with the largest value − 2·u: a
    wild figure of little thrust does not win by its scatter.
    """
    thrust = _series(points, "thrust_gf")
    values = _series(points, "efficiency_g_per_w")
    with np.errstate(invalid="ignore"):
        largest = np.nanmax(thrust) if np.isfinite(thrust).any() else np.nan
        strong = np.flatnonzero((thrust >= SMALLEST_THRUST_SHARE * largest) & np.isfinite(values))
    if strong.size == 0:
        missing = Absent("not_logged", "needs thrust and power")
        return missing, missing
    figures = [points[int(i)].figures for i in strong]
    sure = [
        figure.value - 2.0 * figure.u
        for row in figures
        if isinstance(figure := row["efficiency_g_per_w"], Measured)
    ]
    best = figures[int(np.argmax(sure))]
    return best["efficiency_g_per_w"], best["thrust_gf"]


def _largest(points: Sequence[Point], name: str) -> Point | None:
    values = _series(points, name)
    if not np.isfinite(values).any():
        return None
    return points[int(np.nanargmax(values))]


def _figure(point: Point | None, name: str) -> Figure:
    return point.figures[name] if point else Absent("not_logged", "the channel was not logged")


def _throttle_feel(points: Sequence[Point], *, tared: bool) -> tuple[Figure, Figure, Figure]:
    throttle, thrust_gf = _series(points, "throttle_pct"), _series(points, "thrust_gf")
    known = np.flatnonzero(np.isfinite(throttle) & np.isfinite(thrust_gf))
    if known.size == 0:
        missing = Absent("not_logged", "needs throttle and thrust")
        return missing, missing, missing
    known = known[np.argsort(throttle[known], kind="stable")]
    throttle = throttle[known]
    thrust = [f for i in known if isinstance(f := points[int(i)].figures["thrust_gf"], Measured)]
    top, middle = top_end_slopes(throttle, thrust)
    top_ratio: Figure
    if isinstance(top, Absent):
        top_ratio = top
    elif isinstance(middle, Absent):
        top_ratio = middle
    else:
        top_ratio = ratio(top, middle)
    if not tared:
        untared = Absent("untared", "the origin is a point only when thrust was tared")
        return untared, untared, top_ratio
    low = low_throttle_slope(throttle, thrust)
    if isinstance(low, Absent):
        return low, low, top_ratio
    if throttle[-1] < FULL_THROTTLE_PCT:
        return low, Absent("no_full_throttle", "no point at full throttle"), top_ratio
    return low, ratio(low, thrust[-1].scaled(1.0 / float(throttle[-1]))), top_ratio
