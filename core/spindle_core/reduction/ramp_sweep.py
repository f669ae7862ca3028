"""Where a throttle sweep goes up and, if it does, down again."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.plateau import REST_BELOW_PCT
from spindle_core.trace import Floats

Span = tuple[int, int]

LEAST_DOWN_SHARE = 0.2
"""A way down in less than this share of the way up is a cut, not a sweep."""


@dataclass(frozen=True, slots=True)
class Sweep:
    """Samples ``up`` (start, stop) and ``down``, None for a cut or a log that ends at the top.

    ``cut_at``: first sample after the throttle was cut, None when it was swept down or the log
    ends before. ``rate_pct_per_s``: of the way up.
    """

    up: Span
    down: Span | None
    cut_at: int | None
    rate_pct_per_s: float
    low_pct: float
    high_pct: float

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
    near_top = np.flatnonzero(guide_pct[first : last + 1] >= high - 0.25) + first
    top_first, top_last = int(near_top[0]), int(near_top[-1])
    low = float(guide_pct[first])
    up_s = float(time_s[top_first] - time_s[first])
    if up_s < 0.5 or top_first - first < 4:
        raise ReductionError(
            f"The throttle went to {high:.0f} % within {up_s:.2f} s; that is no sweep.",
            code="no_sweep",
        )
    down_s = float(time_s[last] - time_s[top_last])
    down: Span | None = None
    cut_at: int | None = None
    if down_s >= max(0.5, LEAST_DOWN_SHARE * up_s) and last - top_last >= 4:
        down = (top_last, last + 1)
    elif last + 1 < guide_pct.size:
        cut_at = top_last + 1
    up = (first, (top_last if down is None else top_first) + 1)
    return Sweep(up, down, cut_at, (high - low) / up_s, low, high)
