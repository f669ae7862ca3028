"""Two readings against each other, and what may honestly be said of their difference.

Three outcomes: *different* (the 95 % interval of the difference excludes 0), *equivalent* (the
90 % interval lies inside a declared margin: two one-sided tests, Schuirmann 1987) or
*unresolved*. With one run a side, the scatter between runs is the stand's declared
repeatability; the calibration that both sides share cancels. Where the scatter comes from few
repeats, Student's t with Welch–Satterthwaite degrees of freedom takes the normal's place.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from statistics import NormalDist

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from spindle_core.errors import QuantityError
from spindle_core.measured import Measured, difference
from spindle_core.reading import Curve
from spindle_core.repeats import coverage_factor, effective_freedom

DEFAULT_MARGIN = 0.02
"""Differences within ±2 % of the baseline are small enough to call the two equivalent."""


# The standard library's, since scipy.stats takes most of a second to import.
_NORMAL = NormalDist()


class Outcome(StrEnum):
    """What a difference amounts to."""

    DIFFERENT = "different"
    EQUIVALENT = "equivalent"
    UNRESOLVED = "unresolved"


@dataclass(frozen=True, slots=True)
class Delta:
    """Candidate − baseline, in the unit of both, with its outcome."""

    delta: Measured
    delta_pct: float
    u_pct: float
    outcome: Outcome
    half_width_pct: float = 0.0
    """Half of the 95 % interval, in percent of the baseline."""


def with_bench_scatter(
    figure: Measured, *, run: str, stand: str, repeatability: float, calibration: float
) -> Measured:
    """A run's figure with what one run cannot show of itself.

    Adds the stand's declared repeatability (relative s of one run, independent between runs)
    and its calibration (relative u, shared by all runs of the stand).

    :param repeatability: relative, ≥ 0, for instance 0.008.
    :param calibration: relative, ≥ 0.
    """
    if repeatability < 0 or calibration < 0:
        raise QuantityError("A relative uncertainty cannot be below 0.")
    renamed = {f"{name}@{run}": part for name, part in figure.components.items()}
    return Measured(
        figure.value,
        {
            **renamed,
            f"repeat@{run}": repeatability * figure.value,
            f"calibration@{stand}": calibration * figure.value,
        },
        n=figure.n,
        origin=figure.origin,
    )


def compare(
    candidate: Measured,
    baseline: Measured,
    *,
    margin: float = DEFAULT_MARGIN,
    freedom: Mapping[str, float] | None = None,
) -> Delta:
    """The difference of two figures and its outcome.

    :param margin: relative half-width of equivalence, of the baseline's value.
    :param freedom: degrees of freedom of components that come from few repeats.
    :raises QuantityError: a baseline of 0, against which no relative difference exists.
    """
    if baseline.value == 0:
        raise QuantityError("A difference relative to a baseline of 0 does not exist.")
    delta = difference(candidate, baseline)
    if freedom:
        nu = max(1.0, effective_freedom(delta, freedom))
        k_95, k_90 = coverage_factor(0.95, nu), coverage_factor(0.90, nu)
    else:
        k_95, k_90 = _NORMAL.inv_cdf(0.975), _NORMAL.inv_cdf(0.95)
    allowed = margin * abs(baseline.value)
    # A difference that is real but small is both; that it is small is what a reader needs.
    if abs(delta.value) + k_90 * delta.u <= allowed:
        outcome = Outcome.EQUIVALENT
    elif abs(delta.value) > k_95 * delta.u:
        outcome = Outcome.DIFFERENT
    else:
        outcome = Outcome.UNRESOLVED
    scale = 100.0 / abs(baseline.value)
    return Delta(delta, delta.value * scale, delta.u * scale, outcome, k_95 * delta.u * scale)


def against_previous(figures: Sequence[Measured], *, margin: float = DEFAULT_MARGIN) -> list[Delta]:
    """Each figure against the one before it, for a series without a fixed baseline."""
    return [compare(now, before, margin=margin) for before, now in pairwise(figures)]


def crossings(a: Curve, b: Curve) -> list[float]:
    """Where two curves cross inside the range both measured [unit of x], rising."""
    if (a.x_name, a.y_name) != (b.x_name, b.y_name):
        raise QuantityError("Only curves of the same figures can cross.")
    low, high = max(a.x[0], b.x[0]), min(a.x[-1], b.x[-1])
    if low >= high:
        return []

    curve_a, curve_b = PchipInterpolator(a.x, a.y), PchipInterpolator(b.x, b.y)

    def gap(x: float) -> float:
        return float(curve_a(x) - curve_b(x))

    grid = np.linspace(low, high, 400)
    gaps = curve_a(grid) - curve_b(grid)
    found = []
    for left, right, before, after in zip(grid, grid[1:], gaps, gaps[1:], strict=False):
        if before * after < 0:
            found.append(float(brentq(gap, float(left), float(right), xtol=1e-9)))
    return found


def thrust_ladder(maxima_gf: Sequence[float], least: int = 4) -> list[float]:
    """Round thrusts at which to compare runs that reach ``maxima_gf`` [gf].

    The coarsest step of 1, 2 or 5 × a power of ten that gives at least ``least`` thrusts up to
    the largest maximum.
    """
    largest = max(maxima_gf, default=0.0)
    if largest <= 0:
        return []
    power = 10.0 ** np.floor(np.log10(largest))
    steps = [m * power for m in (5.0, 2.0, 1.0, 0.5, 0.2, 0.1)]
    step = next(float(s) for s in steps if largest // s >= least)
    return [step * i for i in range(1, int(largest // step) + 1)]
