"""Samples of a sweep gathered into bins of throttle, each read from its own straight line."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.autocorrelation import (
    first_order,
    freed_of_bias,
    integrated_autocorrelation_times,
)

BIN_PCT = 2.0
"""Width of a bin [% throttle]; the bins are centred on 2, 4, … 100 %."""

MOST_FOR_TAU = 1024
"""Samples from the middle of the sweep whose residuals give the autocorrelation time."""

Counts = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class Grid:
    """Which bin each sample of a way belongs to, with the sums all channels share.

    ``starts`` (m,): first sample of each bin, when the samples are ordered by bin; ``order``
    brings them into that order, None when they were, after ``skipped`` below the lowest bin.
    ``levels`` (m,) [%]; ``centred`` (n,): throttle minus its bin's centre [%]; ``n``, ``x``,
    ``spread_x`` (m,).
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
    skipped: int = 0

    def sums(self, values: Floats) -> Floats:
        """Sum of ``values`` (…, n) in each bin, shape (…, m)."""
        return np.add.reduceat(values, self.starts, axis=-1)

    def until(self, count: int) -> Grid:
        """The grid of the first ``count`` samples, in which only the last bin differs."""
        size = self.centred.size
        if count >= size:
            return self
        if count <= 0 or self.order is not None:
            return grid(self.throttle_pct()[: max(0, count)])
        kept = int(np.searchsorted(self.starts, count))
        starts = self.starts[:kept]
        last = self.centred[starts[-1] : count]
        n, x = self.n[:kept].copy(), self.x[:kept].copy()
        spread = self.spread_x[:kept].copy()
        n[-1], x[-1] = last.size, last.sum()
        spread[-1] = last @ last - x[-1] * x[-1] / last.size
        reach = float(self.levels[kept - 1] + last[-1])
        return Grid(
            starts,
            None,
            self.levels[:kept],
            self.centred[:count],
            n,
            x,
            spread,
            self.lowest,
            reach,
            self.skipped,
        )

    def throttle_pct(self) -> Floats:
        """The throttles the grid was made of, in its own order [%], shape (n,)."""
        return self.centred + np.repeat(self.levels, self.n.astype(np.intp))


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
        order = order if order is None else order[first:]
        throttle_pct = throttle_pct[first:]
    if throttle_pct.size == 0:
        nothing = np.empty(0)
        empty = np.empty(0, np.intp)
        return Grid(empty, order, nothing, nothing, nothing, nothing, nothing, 0, 0, first)
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
    return Grid(starts, order, levels, centred, n, x, spread_x, lowest, reach, first)


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

    def until(self, reach: float) -> Bins:
        """The bins that begin below a throttle [%]."""
        kept = self.levels - 0.5 * BIN_PCT < reach
        if kept.all():
            return self
        return Bins(
            self.levels[kept],
            self.values[kept],
            self.slopes[kept],
            self.read_at[kept],
            self.u[kept],
            self.counts[kept],
            self.reach,
        )

    def moved(self, by_pct: float) -> Bins:
        """The same lines read a little further along, for throttles seen that much too high [%]."""
        if not by_pct:
            return self
        return replace(self, values=self.values + self.slopes * by_pct, reach=self.reach - by_pct)


def lines_in_bins(bins: Grid, rows: Floats) -> list[Bins]:
    """Least-squares line of each channel in each bin, read at the bin's centre.

    All sums are taken bin by bin in one pass (``numpy.add.reduceat``). Scatter about the line
    gives u, allowing for the autocorrelation of the noise; bins of fewer than 8 samples take the
    scatter of all bins.

    :param rows: shape (channels, n), one sample per throttle the grid was made of; NaN is missing.
    """
    rows = rows[:, bins.skipped :] if bins.order is None else rows[:, bins.order]
    if rows.shape[1] == 0:
        nothing = np.empty(0)
        empty = Bins(nothing, nothing, nothing, nothing, nothing, nothing, 0.0)
        return [empty] * rows.shape[0]
    scale = rows[:, rows.shape[1] // 2][:, None].copy()
    offset = rows - scale
    y = bins.sums(offset)
    whole = np.isfinite(y.sum(axis=1))
    if not whole.all():
        return [
            _whole_lines(bins, offset[i : i + 1], scale[i], y[i : i + 1])[0]
            if whole[i]
            else _without_gaps(bins, rows[i])
            for i in range(rows.shape[0])
        ]
    return _whole_lines(bins, offset, scale, y)


def _without_gaps(bins: Grid, samples: Floats) -> Bins:
    finite = np.isfinite(samples)
    return lines_in_bins(grid(bins.throttle_pct()[finite]), samples[finite][None])[0]


def _whole_lines(bins: Grid, offset: Floats, scale: Floats, y: Floats) -> list[Bins]:
    n, x = bins.n, bins.x
    product = offset * offset
    yy = bins.sums(product)
    np.multiply(bins.centred, offset, out=product)
    xy = bins.sums(product) - x * y / n
    usable = (n >= 3) & (bins.spread_x > 1e-9 * n)
    slopes = xy / np.where(usable, bins.spread_x, np.inf)
    if not usable.all():
        slopes = np.array(
            [_filled_slopes(bins, row, usable, sums) for row, sums in zip(slopes, y, strict=True)]
        )
    rest = np.maximum(yy - y * y / n - np.where(usable, slopes * xy, 0.0), 0.0)
    freedom = np.maximum(n - 2.0, 0.0) * usable
    pooled = (rest @ usable) / max(1.0, float(freedom.sum()))
    variance = np.where((n >= 8) & usable, rest / np.maximum(freedom, 1.0), pooled[:, None])
    tau = np.minimum(_taus(bins, offset, slopes, y)[:, None], n)
    read_at = np.clip(bins.levels, bins.lowest, bins.reach)
    values = scale + y / n + slopes * (read_at - bins.levels - x / n)
    u = np.sqrt(variance * tau / n)
    return [
        Bins(bins.levels, values[i], slopes[i], read_at, u[i], n, bins.reach)
        for i in range(offset.shape[0])
    ]


def _taus(bins: Grid, offset: Floats, slopes: Floats, y: Floats) -> Floats:
    """Autocorrelation time of the residuals in the middle of the sweep [samples] of each row."""
    size = offset.shape[1]
    start = max(0, (size - MOST_FOR_TAU) // 2)
    stop = min(size, start + MOST_FOR_TAU)
    edges = np.minimum(np.maximum(np.append(bins.starts, size), start), stop)
    of = np.repeat(np.arange(bins.starts.size), edges[1:] - edges[:-1])
    level = (y - slopes * bins.x) / bins.n
    rest = offset[:, start:stop] - level[:, of] - slopes[:, of] * bins.centred[start:stop]
    taus = integrated_autocorrelation_times(rest)
    squares = np.einsum("ij,ij->i", rest, rest)
    first = np.einsum("ij,ij->i", rest[:, 1:], rest[:, :-1]) / np.where(squares > 0, squares, 1.0)
    count = rest.shape[1]
    return np.array(
        [
            max(freed_of_bias(float(tau), count), first_order(float(one), count))
            for tau, one in zip(taus, first, strict=True)
        ]
    )


def _filled_slopes(bins: Grid, slopes: Floats, usable: Bools, y: Floats) -> Floats:
    """Bins too thin for a line of their own take the slope of the means beside them."""
    if slopes.size < 2:
        return np.zeros_like(slopes)
    at = bins.levels + bins.x / bins.n
    across = np.gradient(y / bins.n, at)
    return np.where(usable, slopes, across)


def two_ways(up: Bins, down: Bins) -> Bins:
    """Mean of a way up and a way down at equal throttle; a bin seen once keeps its one value."""
    levels = np.union1d(up.levels, down.levels)
    if levels.size == 0:
        return up
    rows = []
    for level in levels:
        sides = [
            (side, int(np.searchsorted(side.levels, level)))
            for side in (up, down)
            if (side.levels == level).any()
        ]
        at = min(float(side.read_at[i]) for side, i in sides)
        values = [side.values[i] + side.slopes[i] * (at - side.read_at[i]) for side, i in sides]
        slopes = [side.slopes[i] for side, i in sides]
        u = math.sqrt(sum(side.u[i] ** 2 for side, i in sides)) / len(sides)
        rows.append((np.mean(values), np.mean(slopes), at, u, sum(s.counts[i] for s, i in sides)))
    values_, slopes_, at_, u_, counts_ = np.array(rows).T
    return Bins(levels, values_, slopes_, at_, u_, counts_, min(up.reach, down.reach))


def spliced(middle: Bins, ends: Sequence[tuple[Bins, Callable[[Floats], Bools]]]) -> Bins:
    """``middle`` with the bins of ``ends`` in place of its own at the levels each is chosen for.

    A level that an end is chosen for but does not hold is left out. Reach is the last end's.
    """
    chosen = [(bins, which(bins.levels)) for bins, which in ends]
    others = np.zeros(middle.levels.size, dtype=bool)
    for _, which in ends:
        others |= which(middle.levels)
    parts = [(middle, ~others), *chosen]
    order = np.argsort(np.concatenate([bins.levels[kept] for bins, kept in parts]), kind="stable")

    def joined(name: str) -> Floats:
        return np.concatenate([getattr(bins, name)[kept] for bins, kept in parts])[order]

    return Bins(
        joined("levels"),
        joined("values"),
        joined("slopes"),
        joined("read_at"),
        joined("u"),
        joined("counts"),
        ends[-1][0].reach,
    )
