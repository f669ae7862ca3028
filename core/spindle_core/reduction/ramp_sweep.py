"""Where a throttle sweep goes up and, if it does, down again."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Bools, Floats
from spindle_core.reduction.plateau import (
    REST_BELOW_PCT,
    SHORTEST_S,
    THROTTLE_TOLERANCE_PCT,
    constant_spans,
)
from spindle_core.reduction.ramp_bins import BIN_PCT

Span = tuple[int, int]

SHORT_REST_S = 0.3
"""A sweep that stands still for so long does not move: the bins are not made of such samples."""

NEAR_TOP_PCT = 0.25

REST_SHARE = 0.25
"""What stands moves by less than this share of what the sweep would in the same time."""

LEAST_DOWN_SHARE = 0.2
"""A way down in less than this share of the way up is a cut, not a sweep."""


EDGE_LAGS = 3.0
"""Within so many lags of a turning a sensor is still on its way: there both ways do not mirror
each other, and the one that arrived is read, corrected by its lag."""


@dataclass(frozen=True, slots=True)
class Sweep:
    """Samples ``up`` (start, stop) and ``down``, None for a cut or a log that ends at the top.

    ``cut_at``: first sample after the throttle was cut, None when it was swept down or the log
    ends before. ``rate_pct_per_s``: of the way up while it moves; ``down_rate_pct_per_s`` of the
    way down, 0 without one. ``stands``: samples (start, stop) at which the sweep stood still;
    ``stood_at_pct``: the throttle of each. ``rests``: those that lasted long enough for a plateau.
    """

    up: Span
    down: Span | None
    cut_at: int | None
    rate_pct_per_s: float
    low_pct: float
    high_pct: float
    down_rate_pct_per_s: float = 0.0
    stands: tuple[Span, ...] = ()
    stood_at_pct: tuple[float, ...] = ()
    rests: tuple[Span, ...] = ()

    def moving(self, span: Span) -> Bools | None:
        """Where a way moves, shape (stop − start,); None where it nowhere stands."""
        start, stop = span
        inside = [(a, b) for a, b in self.stands if a < stop and b > start]
        if not inside:
            return None
        moves = np.ones(stop - start, dtype=bool)
        for a, b in inside:
            moves[max(0, a - start) : max(0, b - start)] = False
        return moves

    def times_at(self, time_s: Floats, levels_pct: Floats) -> tuple[Floats, Floats]:
        """First and last time at which the sweep was within 1 % of each throttle [s]."""
        start, stop = self.up
        share = (levels_pct - self.low_pct) / max(self.high_pct - self.low_pct, 1e-9)
        share = np.minimum(1.0, np.maximum(0.0, share))
        span = float(time_s[stop - 1] - time_s[start])
        half = 1.0 / max(self.rate_pct_per_s, 1e-9)
        middle = float(time_s[start]) + share * span
        end = middle + half
        if self.down is not None:
            begin, finish = self.down
            down_span = float(time_s[finish - 1] - time_s[begin])
            end = float(time_s[finish - 1]) - share * down_span + half
        first, last = float(time_s[0]), float(time_s[-1])
        return np.maximum(first, middle - half), np.minimum(last, end)


def edge_pct(lag_s: float, sweep: Sweep) -> float:
    """How far from a turning the two ways do not mirror each other [%]."""
    rate = max(sweep.rate_pct_per_s, sweep.down_rate_pct_per_s)
    return max(BIN_PCT, EDGE_LAGS * lag_s * rate)


def find_sweep(time_s: Floats, guide_pct: Floats) -> Sweep:
    """The way up to the highest throttle and what follows it.

    :param time_s: shape (n,) [s]. :param guide_pct: shape (n,), throttle or a stand-in [%].
    :raises ReductionError: the throttle never left 0, or it jumped instead of sweeping.
    """
    active = np.flatnonzero(guide_pct >= REST_BELOW_PCT)
    if active.size < 4:
        raise ReductionError("The throttle never left 0; there is no sweep.", code="no_sweep")
    first, last = int(active[0]), int(active[-1])
    high = float(guide_pct[first : last + 1].max())
    near_top = np.flatnonzero(guide_pct[first : last + 1] >= high - NEAR_TOP_PCT) + first
    top_first, top_last = int(near_top[0]), int(near_top[-1])
    low = float(guide_pct[first])
    up_s = float(time_s[top_first] - time_s[first])
    if up_s < 0.5 or top_first - first < 4:
        raise ReductionError(
            f"The throttle went to {high:.0f} % within {up_s:.2f} s; that is no sweep.",
            code="no_sweep",
        )
    stands = _stands(time_s, guide_pct, (first, last + 1), (high - low) / up_s)
    step_s = float(np.median(np.diff(time_s)))
    rests = tuple(
        (a, b) for a, b in stands if float(time_s[b - 1] - time_s[a]) + step_s >= SHORTEST_S - 1e-6
    )
    down_s = float(time_s[last] - time_s[top_last])
    down: Span | None = None
    cut_at: int | None = None
    if down_s >= max(0.5, LEAST_DOWN_SHARE * up_s) and last - top_last >= 4:
        down = (top_last, last + 1)
    elif last + 1 < guide_pct.size:
        cut_at = top_last + 1
    passing_s = 2.0 * NEAR_TOP_PCT * up_s / max(high - low, 1e-9)
    rested = float(time_s[top_last] - time_s[top_first]) >= max(SHORT_REST_S, passing_s)
    # What stands at the top belongs to neither way: its samples would end the highest bin.
    up = (first, (top_first if rested or down is not None else top_last) + 1)
    return Sweep(
        up,
        down,
        cut_at,
        (high - low) / _moving_s(time_s, up, stands),
        low,
        high,
        0.0 if down is None else (high - low) / _moving_s(time_s, down, stands),
        stands,
        tuple(float(np.median(guide_pct[a:b])) for a, b in stands),
        rests,
    )


def _stands(
    time_s: Floats, guide_pct: Floats, span: Span, rate_pct_per_s: float
) -> tuple[Span, ...]:
    """Stretches of at least 0.3 s in which the throttle hardly moves, ends included."""
    start, stop = span
    tolerance = min(THROTTLE_TOLERANCE_PCT, REST_SHARE * rate_pct_per_s * SHORT_REST_S)
    return tuple(
        (start + a, start + b)
        for a, b in constant_spans(guide_pct[start:stop], tolerance)
        if float(time_s[start + b - 1] - time_s[start + a]) >= SHORT_REST_S - 1e-6
    )


def _moving_s(time_s: Floats, span: Span, stands: tuple[Span, ...]) -> float:
    """How long a way takes without what stands [s]."""
    total = float(time_s[span[1] - 1] - time_s[span[0]])
    for a, b in stands:
        first, last = max(a, span[0]), min(b, span[1]) - 1
        if last > first:
            total -= float(time_s[last] - time_s[first])
    return max(total, 1e-6)
