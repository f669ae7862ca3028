"""The summary of a run of points over throttle (``steps``, ``ramp``, ``readings``)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from spindle_core.measured import Absent, Measured, ratio
from spindle_core.reduction.columns import ColumnRow
from spindle_core.reduction.result import Figure, Point
from spindle_core.tare import Tare
from spindle_core.throttle_feel import low_throttle_slope, top_end_slopes
from spindle_core.trace import Floats

FULL_THROTTLE_PCT = 99.0
SMALLEST_THRUST_SHARE = 0.05
LARGEST_RELATIVE_U = 0.03


def _series(points: Sequence[Point], name: str) -> Floats:
    """The values of a figure over the points, NaN where absent, shape (points,)."""
    first = points[0].figures if points else None
    if isinstance(first, ColumnRow):
        column = first.columns.get(name)
        return np.full(len(points), np.nan) if column is None else column.values
    values = [point.value(name) for point in points]
    return np.array([np.nan if value is None else value for value in values])


def _within_run(points: Sequence[Point], name: str) -> Floats:
    """The within-run u of a figure over the points, 0 where it has none, shape (points,)."""
    first = points[0].figures if points else None
    if isinstance(first, ColumnRow):
        part = first.columns[name].parts.get("within_run")
        return np.zeros(len(points)) if part is None else np.abs(part)
    figures = [point.figures[name] for point in points]
    return np.array(
        [f.component("within_run") if isinstance(f, Measured) else 0.0 for f in figures]
    )


def summarise(points: Sequence[Point], tare: Tare, *, tared: bool) -> dict[str, Figure]:
    """Headline figures of the points, each present or absent with its reason."""
    strongest = _largest(points, "thrust_gf")
    low, low_ratio, top = _throttle_feel(points, tared=tared)
    return {
        "max_thrust_gf": _figure(strongest, "thrust_gf"),
        "max_current_a": _figure(_largest(points, "current_a"), "current_a"),
        "max_power_w": _figure(_largest(points, "power_w"), "power_w"),
        "efficiency_at_max_g_per_w": _figure(strongest, "efficiency_g_per_w"),
        "best_efficiency_g_per_w": best_efficiency(points),
        "low_throttle_slope_gf_per_pct": low,
        "low_throttle_ratio": low_ratio,
        "top_end_ratio": top,
        "tare_drift_gf": tare.drift(),
    }


def best_efficiency(points: Sequence[Point]) -> Figure:
    """Largest gf/W among points of at least 5 % of the maximum thrust with u ≤ 3 %."""
    thrust = _series(points, "thrust_gf")
    if not np.isfinite(thrust).any():
        return Absent("not_logged", "needs thrust and power")
    values = _series(points, "efficiency_g_per_w")
    with np.errstate(invalid="ignore"):
        strong = thrust >= SMALLEST_THRUST_SHARE * np.nanmax(thrust)
    candidates = np.flatnonzero(strong & np.isfinite(values))
    for number in candidates[np.argsort(-values[candidates], kind="stable")]:
        figure = points[number].figures["efficiency_g_per_w"]
        if isinstance(figure, Measured) and figure.relative_u <= LARGEST_RELATIVE_U:
            return figure
    return Absent("not_sure_enough", "no point with power and u of at most 3 %")


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
    u_gf = _within_run(points, "thrust_gf")[known]
    throttle, thrust_gf = throttle[known], thrust_gf[known]
    top, middle = top_end_slopes(throttle, thrust_gf, u_gf)
    top_ratio: Figure
    if isinstance(top, Absent):
        top_ratio = top
    elif isinstance(middle, Absent):
        top_ratio = middle
    else:
        # The two slopes rest on different points: their scatter is independent.
        top_ratio = ratio(
            Measured(top.value, {"within_run_top": top.u}),
            Measured(middle.value, {"within_run_middle": middle.u}),
        )
    if not tared:
        untared = Absent("untared", "the origin is a point only when thrust was tared")
        return untared, untared, top_ratio
    low = low_throttle_slope(throttle, thrust_gf, u_gf)
    if isinstance(low, Absent):
        return low, low, top_ratio
    if throttle[-1] < FULL_THROTTLE_PCT:
        return low, Absent("no_full_throttle", "no point at full throttle"), top_ratio
    per_pct = 1.0 / float(throttle[-1])
    full = {"within_run_full": float(u_gf[-1]) * per_pct}
    mean_slope = Measured(float(thrust_gf[-1]) * per_pct, full)
    return low, ratio(low, mean_slope), top_ratio
