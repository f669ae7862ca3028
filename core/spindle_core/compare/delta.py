"""Two readings against each other, and what may honestly be said of their difference.

Three outcomes: *different* (the 95 % interval of the difference excludes 0), *equivalent* (the
90 % interval lies inside a declared margin: two one-sided tests, Schuirmann 1987) or
*unresolved*. With one run a side, the scatter between runs is the stand's declared
repeatability; the calibration that both sides share cancels. Where the scatter comes from few
repeats, Student's t with Welch–Satterthwaite degrees of freedom takes the normal's place.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from itertools import pairwise
from statistics import NormalDist

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, component, difference, ratio
from spindle_core.figures.numerics import root
from spindle_core.figures.repeats import coverage_factor, effective_freedom

DEFAULT_MARGIN = 0.02
"""Differences within ±2 % of the baseline are small enough to call the two equivalent."""


# The standard library's, since scipy.stats takes most of a second to import.
_NORMAL = NormalDist()

K_95, K_90 = _NORMAL.inv_cdf(0.975), _NORMAL.inv_cdf(0.95)
"""Coverage factors of two-sided 95 % and 90 % intervals where u is known for certain."""


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


def with_repeat(
    figure: Measured, relative: float, *, source: str, kind: str = "repeat"
) -> Measured:
    """A run's figure with what one run cannot show of itself: its scatter against the next.

    :param relative: standard deviation of one run, relative, ≥ 0, for instance 0.008.
    :param source: whose scatter it is, ``run/figure``; runs scatter apart.
    :param kind: ``assumed_repeat`` where nobody declared it and no repeats show it.
    """
    if relative < 0:
        raise QuantityError("A relative uncertainty cannot be below 0.")
    return figure.with_component(component(kind, source), relative * figure.value)


def compare(
    candidate: Measured,
    baseline: Measured,
    *,
    margin: float = DEFAULT_MARGIN,
    freedom: Mapping[str, float] | None = None,
) -> Delta:
    """The difference of two figures and its outcome.

    :param margin: relative half-width of equivalence, of the baseline's value.
    :param freedom: kind of component → degrees of freedom of the repeats it comes from.
    :raises QuantityError: a baseline of 0, against which no relative difference exists.
    """
    if baseline.value == 0:
        raise QuantityError("A difference relative to a baseline of 0 does not exist.")
    delta = difference(candidate, baseline)
    if freedom:
        nu = max(1.0, effective_freedom(delta, freedom))
        k_95, k_90 = coverage_factor(0.95, nu), coverage_factor(0.90, nu)
    else:
        k_95, k_90 = K_95, K_90
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


def is_told(change: Measured, k: float = K_95) -> bool:
    """Whether a difference is more than its uncertainty makes of equals: at 95 %, unless said.

    Of a figure by itself: whether it is told from 0. Nothing is said in per cent of what is not.
    """
    return change.value != 0 and abs(change.value) > k * change.u


def relative_pct(then: Measured, now: Measured) -> Measured:
    """100·(then ÷ now − 1) [%]; what both share, such as a stand's gain, cancels.

    :raises QuantityError: a figure of 0, against which no relative difference exists.
    """
    share = ratio(then, now)
    if isinstance(share, Absent):
        raise QuantityError("A difference relative to 0 does not exist.")
    return difference(share.scaled(100.0), Measured(100.0))


def apart(then: Figure, now: Figure) -> Figure:
    """then − now in the unit of both; absent with the reason of the one that is."""
    for one in (then, now):
        if isinstance(one, Absent):
            return one
    assert isinstance(then, Measured)
    assert isinstance(now, Measured)
    return difference(then, now)


def against_previous(figures: Sequence[Measured], *, margin: float = DEFAULT_MARGIN) -> list[Delta]:
    """Each figure against the one before it, for a series without a fixed baseline."""
    return [compare(now, before, margin=margin) for before, now in pairwise(figures)]


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where two curves cross [unit of x], and the interval outside of which they differ.

    ``low`` and ``high``: the nearest x on either side at which the 95 % interval of the
    difference excludes 0, with opposite signs; None where the curves nowhere differ measurably on
    that side.
    """

    at: float
    low: float | None
    high: float | None

    @property
    def resolved(self) -> bool:
        """Whether the crossing has an interval: only then is it told."""
        return self.low is not None and self.high is not None


CROSSING_STEPS = 200
Gap = Callable[[float], Measured | None]
"""The difference of two curves at x, None where either has no reading."""


def crossings(
    gap: Gap,
    low: float,
    high: float,
    *,
    value: Callable[[float], float] | None = None,
    k: float = K_95,
    steps: int = CROSSING_STEPS,
) -> list[Crossing]:
    """Where a difference changes its sign between ``low`` and ``high``, rising, with intervals.

    :param gap: the difference of two curves with its u. :param value: the same without it, NaN
        where either has no reading, where that is quicker to have.
    :param k: coverage factor of the interval.
    :param steps: into which the range is divided to look for one.
    """
    if low >= high:
        return []
    told_at = value or (lambda x: math.nan if (apart := gap(x)) is None else apart.value)
    grid = (float(x) for x in np.linspace(low, high, steps + 1))
    # Where they are equal to the last digit no sign is to be had; the neighbours have one.
    rows = [(x, apart) for x in grid if math.isfinite(apart := told_at(x)) and apart]

    @cache
    def sign(at: float) -> int:
        """+1 or −1 where the curves differ measurably, 0 where they are not told apart."""
        apart = gap(at)
        if apart is None or abs(apart.value) <= k * apart.u:
            return 0
        return int(math.copysign(1, apart.value))

    told: list[Crossing] = []
    for i, ((left, before), (right, after)) in enumerate(pairwise(rows)):
        if before * after > 0:
            continue
        at = root(lambda x: _reading(told_at(x)), left, right, within=1e-9 * high)
        side = int(math.copysign(1, before))
        below = _nearest((x for x, _ in rows[i::-1]), sign, side)
        above = _nearest((x for x, _ in rows[i + 1 :]), sign, -side)
        told.append(Crossing(at, below, above))
    return told


def _reading(value: float) -> float:
    if not math.isfinite(value):
        raise QuantityError("A curve has no reading inside a range it was measured in.")
    return value


def _nearest(places: Iterable[float], sign: Callable[[float], int], wanted: int) -> float | None:
    """The first x at which the curves differ, if they differ with the sign that is wanted."""
    for x in places:
        if found := sign(x):
            return x if found == wanted else None
    return None


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
