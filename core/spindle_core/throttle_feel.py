"""What the stick feels like: slopes of thrust against throttle at both ends."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.optimize import brentq

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


STICK = 0.2
"""The stick position at which two motors are made to feel alike."""


def matching_expo(
    thrust_at: Callable[[float], float | None], *, reference_gf: float
) -> float | Absent:
    """Expo e that gives a motor the reference's thrust at a fifth of the stick.

    Expo turns a stick of x into a throttle of (1 − e)·x + e·x³, so that at x = 0.2 the throttle is
    (1 − e)·0.2 + e·0.008: T of it shall be ``reference_gf``, with 0 ≤ e ≤ 1.

    :param thrust_at: throttle (0–1) → thrust [gf], None where it was not measured.
    :returns: absent when the motor is the softer one already, or no e brings it down far enough.
    """

    def gap(e: float) -> float | None:
        thrust = thrust_at((1.0 - e) * STICK + e * STICK**3)
        return None if thrust is None else thrust - reference_gf

    plain, full = gap(0.0), gap(1.0)
    if plain is None:
        return Absent("not_reached", "thrust at a fifth of the throttle was not measured")
    if plain < 0:
        return Absent("already_softer", "the motor gives less thrust there than the reference")
    if plain == 0:
        return 0.0
    if full is None or full > 0:
        return Absent("no_expo", "even full expo leaves more thrust there than the reference")
    return float(brentq(lambda e: _known(gap(e)), 0.0, 1.0, xtol=1e-6))


def _known(gap: float | None) -> float:
    if gap is None:
        raise ValueError("the curve has a hole between its ends")
    return gap
