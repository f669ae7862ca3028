"""Samples of a sweep gathered into bins of throttle, each read from its own straight line."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from spindle_core.autocorrelation import integrated_autocorrelation_time
from spindle_core.measured import Absent, Measured
from spindle_core.trace import Floats

BIN_PCT = 2.0
"""Width of a bin [% throttle]; the bins are centred on 2, 4, … 100 %."""

MOST_FOR_TAU = 2048
"""Samples from the middle of the sweep whose residuals give the autocorrelation time."""

Counts = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class Grid:
    """Which bin each sample of a way belongs to, with the sums all channels share.

    ``starts`` (m,): first sample of each bin, when the samples are ordered by bin; ``order``
    brings them into that order, None when they were. ``levels`` (m,) [%]; ``centred`` (n,):
    throttle minus its bin's centre [%]; ``n``, ``x``, ``spread_x`` (m,).
    """

    starts: Counts
    order: Counts | None
    levels: Floats
    centred: Floats
    n: Floats
    x: Floats
    spread_x: Floats
    lowest: float
    reach: float

    def sums(self, values: Floats) -> Floats:
        """Sum of ``values`` (n,) in each bin, shape (m,)."""
        return np.add.reduceat(values, self.starts)


def grid(throttle_pct: Floats) -> Grid:
    """The bins of the samples of one way; the lowest, below 1 %, is left out.

    :param throttle_pct: shape (n,), the throttle each sample belongs to [%].
    """
    order: Counts | None = None
    if np.any(throttle_pct[1:] < throttle_pct[:-1]):
        order = np.argsort(throttle_pct, kind="stable")
        throttle_pct = throttle_pct[order]
    first = int(np.searchsorted(throttle_pct, 0.5 * BIN_PCT))
    if first:
        order = np.arange(first, throttle_pct.size) if order is None else order[first:]
        throttle_pct = throttle_pct[first:]
    if throttle_pct.size == 0:
        nothing = np.empty(0)
        return Grid(np.empty(0, np.intp), order, nothing, nothing, nothing, nothing, nothing, 0, 0)
    lowest, reach = float(throttle_pct[0]), float(throttle_pct[-1])
    edges = BIN_PCT * (np.arange(0, int(reach / BIN_PCT + 0.5) + 1) + 0.5)
    starts = np.concatenate(([0], np.searchsorted(throttle_pct, edges)))
    numbers = np.flatnonzero(np.diff(np.concatenate((starts, [throttle_pct.size]))) > 0)
    starts = starts[numbers]
    levels = BIN_PCT * numbers.astype(float)
    n = np.diff(np.concatenate((starts, [throttle_pct.size]))).astype(float)
    centred = throttle_pct - np.repeat(levels, n.astype(np.intp))
    x = np.add.reduceat(centred, starts)
    spread_x = np.add.reduceat(centred * centred, starts) - x * x / n
    return Grid(starts, order, levels, centred, n, x, spread_x, lowest, reach)


@dataclass(frozen=True, slots=True)
class Bins:
    """One channel in bins; shape (m,) each.

    ``levels``: centres [%]; ``values``: the line's value at the centre, or at the nearest
    throttle that was reached; ``slopes`` [unit per %]; ``read_at`` [%] where ``values`` stand;
    ``u``: within-run standard uncertainty; ``counts``: samples. ``reach``: highest throttle [%].
    """

    levels: Floats
    values: Floats
    slopes: Floats
    read_at: Floats
    u: Floats
    counts: Floats
    reach: float

    def holds(self, level: float) -> bool:
        """Whether the channel has a value in that bin."""
        return bool((self.levels == level).any())

    def figure(self, level: float, at: float) -> Measured | Absent:
        """The value at throttle ``at`` inside the bin of ``level``, with its scatter."""
        i = int(np.searchsorted(self.levels, level))
        if i == self.levels.size or self.levels[i] != level:
            return Absent("no_samples", "no samples of the channel in this part of the sweep")
        value = float(self.values[i] + self.slopes[i] * (at - self.read_at[i]))
        return Measured(value, {"within_run": float(self.u[i])}, samples=int(self.counts[i]))


def line_in_bins(bins: Grid, samples: Floats) -> Bins:
    """Least-squares line in each bin, read at the bin's centre.

    All sums are taken bin by bin in one pass (``numpy.add.reduceat``). Scatter about the line
    gives u, allowing for the autocorrelation of the noise; bins of fewer than 8 samples take the
    scatter of all bins.

    :param samples: shape (n,), one per throttle the grid was made of; NaN is missing.
    """
    if bins.order is not None:
        samples = samples[bins.order]
    scale = float(samples.mean()) if samples.size else 0.0
    if not math.isfinite(scale):
        finite = np.isfinite(samples)
        rest = bins.centred[finite] + np.repeat(bins.levels, bins.n.astype(np.intp))[finite]
        return line_in_bins(grid(rest), samples[finite])
    if samples.size == 0:
        nothing = np.empty(0)
        return Bins(nothing, nothing, nothing, nothing, nothing, nothing, 0.0)
    offset = samples - scale
    n, x = bins.n, bins.x
    y, yy = bins.sums(offset), bins.sums(offset * offset)
    xy = bins.sums(bins.centred * offset) - x * y / n
    with np.errstate(invalid="ignore", divide="ignore"):
        slopes = np.where((n >= 3) & (bins.spread_x > 1e-9 * n), xy / bins.spread_x, np.nan)
    usable = np.isfinite(slopes)
    if not usable.all():
        slopes = _filled_slopes(bins, slopes, y)
    rest = np.maximum(yy - y * y / n - np.where(usable, slopes * xy, 0.0), 0.0)
    freedom = np.maximum(n - 2.0, 0.0) * usable
    pooled = float(rest @ usable) / max(1.0, float(freedom.sum()))
    variance = np.where((n >= 8) & usable, rest / np.maximum(freedom, 1.0), pooled)
    tau = np.minimum(_tau(bins, offset, slopes, y), n)
    read_at = np.clip(bins.levels, bins.lowest, bins.reach)
    values = scale + y / n + slopes * (read_at - bins.levels - x / n)
    return Bins(bins.levels, values, slopes, read_at, np.sqrt(variance * tau / n), n, bins.reach)


def _tau(bins: Grid, offset: Floats, slopes: Floats, y: Floats) -> float:
    """Autocorrelation time of the residuals in the middle of the sweep [samples]."""
    start = max(0, (offset.size - MOST_FOR_TAU) // 2)
    stop = min(offset.size, start + MOST_FOR_TAU)
    of = np.searchsorted(bins.starts, np.arange(start, stop), side="right") - 1
    line = (y / bins.n - slopes * bins.x / bins.n)[of] + slopes[of] * bins.centred[start:stop]
    return integrated_autocorrelation_time(offset[start:stop] - line)


def _filled_slopes(bins: Grid, slopes: Floats, y: Floats) -> Floats:
    """Bins too thin for a line of their own take the slope of the means beside them."""
    if slopes.size < 2:
        return np.zeros_like(slopes)
    at = bins.levels + bins.x / bins.n
    across = np.gradient(y / bins.n, at)
    return np.where(np.isfinite(slopes), slopes, across)


def two_ways(up: Bins, down: Bins) -> Bins:
    """Mean of a way up and a way down at equal throttle; a bin seen once keeps its one value."""
    levels = np.union1d(up.levels, down.levels)
    rows = []
    for level in levels:
        sides = [
            (side, int(np.searchsorted(side.levels, level)))
            for side in (up, down)
            if side.holds(float(level))
        ]
        at = min(float(side.read_at[i]) for side, i in sides)
        values = [side.values[i] + side.slopes[i] * (at - side.read_at[i]) for side, i in sides]
        slopes = [side.slopes[i] for side, i in sides]
        u = math.sqrt(sum(side.u[i] ** 2 for side, i in sides)) / len(sides)
        rows.append((np.mean(values), np.mean(slopes), at, u, sum(s.counts[i] for s, i in sides)))
    values_, slopes_, at_, u_, counts_ = np.array(rows).T
    return Bins(levels, values_, slopes_, at_, u_, counts_, min(up.reach, down.reach))
