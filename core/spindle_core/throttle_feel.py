"""What the stick feels like: slopes of thrust against throttle at both ends."""

from __future__ import annotations

import numpy as np

from spindle_core.measured import Absent, Measured
from spindle_core.trace import Floats


def ols_slope(x: Floats, y: Floats, u_y: Floats) -> Measured | Absent:
    """Ordinary least-squares slope with u from the ordinates' own u.

    :param x, y, u_y: shape (n,); n ≥ 2 distinct x, else absent.
    """
    if x.size < 2 or np.ptp(x) == 0.0:
        return Absent("too_few_points", "needs points at two throttles in the range")
    weights = (x - x.mean()) / float(np.square(x - x.mean()).sum())
    return Measured(float(weights @ y), {"within_run": float(np.linalg.norm(weights * u_y))})


def low_throttle_slope(throttle_pct: Floats, thrust_gf: Floats, u_gf: Floats) -> Measured | Absent:
    """Slope from the origin through the points up to 20 % throttle [gf/%]; shape (n,) each."""
    low = throttle_pct <= 20.0 + 1e-6
    if not low.any():
        return Absent("not_measured", "no point at or below 20 % throttle")
    return ols_slope(
        np.concatenate(([0.0], throttle_pct[low])),
        np.concatenate(([0.0], thrust_gf[low])),
        np.concatenate(([0.0], u_gf[low])),
    )


def top_end_slopes(
    throttle_pct: Floats, thrust_gf: Floats, u_gf: Floats
) -> tuple[Measured | Absent, Measured | Absent]:
    """Slopes over 90–100 % and over 50–80 % throttle [gf/%]; shape (n,) each."""
    top = throttle_pct >= 90.0 - 1e-6
    middle = (throttle_pct >= 50.0 - 1e-6) & (throttle_pct <= 80.0 + 1e-6)
    return (
        ols_slope(throttle_pct[top], thrust_gf[top], u_gf[top]),
        ols_slope(throttle_pct[middle], thrust_gf[middle], u_gf[middle]),
    )
