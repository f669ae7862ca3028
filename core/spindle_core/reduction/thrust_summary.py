"""The summary of a run of points over throttle (``steps``, ``ramp``, ``readings``)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from spindle_core.measured import Absent, Measured, ratio
from spindle_core.reduction.result import Figure, Point
from spindle_core.tare import Tare
from spindle_core.throttle_feel import low_throttle_slope, top_end_slopes

FULL_THROTTLE_PCT = 99.0
SMALLEST_THRUST_SHARE = 0.05
LARGEST_RELATIVE_U = 0.03


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
    strongest = _largest(points, "thrust_gf")
    largest = strongest.value("thrust_gf") if strongest else None
    if largest is None:
        return Absent("not_logged", "needs thrust and power")
    least = SMALLEST_THRUST_SHARE * largest
    strong = [
        (value, number)
        for number, point in enumerate(points)
        if (value := point.value("efficiency_g_per_w")) is not None
        and (point.value("thrust_gf") or 0.0) >= least
    ]
    for _, number in sorted(strong, key=lambda item: (-item[0], item[1])):
        figure = points[number].figures["efficiency_g_per_w"]
        if isinstance(figure, Measured) and figure.relative_u <= LARGEST_RELATIVE_U:
            return figure
    return Absent("not_sure_enough", "no point with power and u of at most 3 %")


def _largest(points: Sequence[Point], name: str) -> Point | None:
    values = [point.value(name) for point in points]
    known = [(value, -number) for number, value in enumerate(values) if value is not None]
    return points[-max(known)[1]] if known else None


def _figure(point: Point | None, name: str) -> Figure:
    return point.figures[name] if point else Absent("not_logged", "the channel was not logged")


def _throttle_feel(points: Sequence[Point], *, tared: bool) -> tuple[Figure, Figure, Figure]:
    rows = [
        (throttle, thrust.value, thrust.component("within_run"))
        for point in points
        if (throttle := point.value("throttle_pct")) is not None
        and isinstance(thrust := point.figures["thrust_gf"], Measured)
    ]
    if not rows:
        missing = Absent("not_logged", "needs throttle and thrust")
        return missing, missing, missing
    throttle, thrust_gf, u_gf = np.array(sorted(rows)).T
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
    full = [row for row in rows if row[0] >= FULL_THROTTLE_PCT]
    if isinstance(low, Absent):
        return low, low, top_ratio
    if not full:
        return low, Absent("no_full_throttle", "no point at full throttle"), top_ratio
    throttle_100, thrust_100, u_100 = max(full)
    mean_slope = Measured(thrust_100 / throttle_100, {"within_run_full": u_100 / throttle_100})
    return low, ratio(low, mean_slope), top_ratio
