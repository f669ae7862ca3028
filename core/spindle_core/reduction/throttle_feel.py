"""What the stick feels like: slopes of thrust against throttle at both ends."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured, component, propagate
from spindle_core.figures.numerics import root
from spindle_core.run.duty import FULL_THROTTLE_PCT

LOW_PCT, LEAST_LOW_PCT = 20.0, 15.0
"""The low range ends at the first; a run must have got to the second to say anything of it."""

TOP_PCT = 90.0
"""The top range; a run that ended below full throttle has no 90–100 %."""

MIDDLE_PCT, LEAST_MIDDLE_PCT = (50.0, 80.0), 15.0
"""The middle range, and how much of it the points must span."""


STEEPER = 1.6
"""At most how much steeper, relative to how much more throttle, thrust becomes (half-width)."""


def ols_slope(x: Floats, y: Sequence[Measured]) -> Measured | Absent:
    """Ordinary least-squares slope with the components the ordinates carry.

    :param x: shape (n,), and n ordinates; n ≥ 2 distinct x, else absent.
    """
    if x.size < 2 or np.ptp(x) == 0.0:
        return Absent("too_few_points", "needs points at two throttles in the range")
    weights = (x - x.mean()) / float(np.square(x - x.mean()).sum())
    return propagate(
        lambda *values: float(weights @ np.array(values)), y, partials=weights.tolist()
    )


def low_throttle_slope(throttle_pct: Floats, thrust: Sequence[Measured]) -> Measured | Absent:
    """Slope from the origin through the points up to 20 % throttle [gf/%]; n each."""
    low = np.flatnonzero(throttle_pct <= LOW_PCT + 1e-6)
    if low.size == 0 or throttle_pct[low].max() < LEAST_LOW_PCT - 1e-6:
        return Absent("not_measured", f"no point between {LEAST_LOW_PCT:g} and {LOW_PCT:g} %")
    x = np.concatenate(([0.0], throttle_pct[low]))
    slope = ols_slope(x, [Measured(0.0), *(thrust[int(i)] for i in low)])
    return _of_range(slope, x, 0.0, LOW_PCT)


def top_end_slopes(
    throttle_pct: Floats, thrust: Sequence[Measured]
) -> tuple[Measured | Absent, Measured | Absent]:
    """Slopes over 90–100 % and over 50–80 % throttle [gf/%]; n each."""
    top = np.flatnonzero(throttle_pct >= TOP_PCT - 1e-6)
    low, high = MIDDLE_PCT
    middle = np.flatnonzero((throttle_pct >= low - 1e-6) & (throttle_pct <= high + 1e-6))
    top_slope: Measured | Absent = Absent(
        "no_full_throttle", f"the run ended below {FULL_THROTTLE_PCT:g} % throttle"
    )
    if top.size and throttle_pct[top].max() >= FULL_THROTTLE_PCT:
        x = throttle_pct[top]
        top_slope = _of_range(ols_slope(x, [thrust[int(i)] for i in top]), x, TOP_PCT, 100.0)
    middle_slope: Measured | Absent = Absent(
        "too_few_points", f"the points span less than {LEAST_MIDDLE_PCT:g} % of {low:g}–{high:g} %"
    )
    if middle.size and np.ptp(throttle_pct[middle]) >= LEAST_MIDDLE_PCT - 1e-6:
        x = throttle_pct[middle]
        middle_slope = _of_range(ols_slope(x, [thrust[int(i)] for i in middle]), x, low, high)
    return top_slope, middle_slope


def _of_range(
    slope: Measured | Absent, throttle_pct: Floats, low: float, high: float
) -> Measured | Absent:
    """The slope as one of the whole range: where the points lie to one side of its middle, thrust
    that grows with a power of throttle has another slope.

    :param throttle_pct: where the points stand, shape (n,).
    """
    if isinstance(slope, Absent):
        return slope
    apart = throttle_pct - throttle_pct.mean()
    middle = 0.5 * float(apart @ np.square(throttle_pct)) / float(apart @ apart)
    off = abs(middle - 0.5 * (low + high)) / (0.5 * (low + high))
    doubt = STEEPER * off * abs(slope.value) / math.sqrt(3.0)
    return slope.with_component(component("span", ""), doubt) if doubt else slope


STICK = 0.2
"""The stick position at which two motors are made to feel alike."""


def matching_expo(
    thrust_at: Callable[[float], float | None], *, reference_gf: float, most: float = 1.0
) -> float | Absent:
    """Expo e that gives a motor the reference's thrust at a fifth of the stick.

    Expo turns a stick of x into a throttle of (1 − e)·x + e·x³, so that at x = 0.2 the throttle is
    (1 − e)·0.2 + e·0.008: T of it shall be ``reference_gf``, with 0 ≤ e ≤ 1.

    :param thrust_at: throttle (0–1) → thrust [gf], None where it was not measured.
    :param most: the largest e whose throttle was measured.
    :returns: absent when the motor is the softer one already, or no e brings it down far enough.
    """

    def gap(e: float) -> float | None:
        thrust = thrust_at((1.0 - e) * STICK + e * STICK**3)
        return None if thrust is None else thrust - reference_gf

    plain, full = gap(0.0), gap(most)
    if plain is None:
        return Absent("not_reached", "thrust at a fifth of the throttle was not measured")
    if plain < 0:
        return Absent("already_softer", "the motor gives less thrust there than the reference")
    if plain == 0:
        return 0.0
    if full is None or full > 0:
        if most < 1.0:
            return Absent("not_reached", "it was not measured at throttles as low as that needs")
        return Absent("no_expo", "even full expo leaves more thrust there than the reference")
    return root(lambda e: _known(gap(e)), 0.0, most, within=1e-6)


def _known(gap: float | None) -> float:
    if gap is None:
        raise ValueError("the curve has a hole between its ends")
    return gap
