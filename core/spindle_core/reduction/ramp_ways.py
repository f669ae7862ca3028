"""The way up and the way down of a sweep, each channel read in bins of the throttle it saw.

A fast log has a thousand samples in a bin. Where samples are even, short blocks of them are
averaged first: lines and scatter are the same, noise that is correlated within a block is
already in the scatter of the blocks, and all that follows is a fraction of the work.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.reduction.ramp_bins import (
    BIN_PCT,
    Bins,
    Grid,
    grid,
    lines_in_bins,
    spliced,
    two_ways,
)
from spindle_core.reduction.ramp_sweep import Span, Sweep, edge_pct
from spindle_core.run.tare import Tare

EVEN_STEP = 0.02
"""Samples count as even when no step is further from the mean one than this share of it."""

BLOCKS_PER_BIN = 48
"""At least so many blocks in a bin, else samples stay as they are."""


@dataclass(slots=True)
class Ways:
    """The ways of a sweep. Their bins are made once, and again for each lag where samples are
    uneven; where they are even, a lag is a shift by whole blocks and a rest.

    ``time_s``, ``guide_pct``: shape (n,).
    """

    time_s: Floats
    guide_pct: Floats
    sweep: Sweep
    block: int = field(init=False, default=1)
    _step_s: float | None = field(init=False, default=None)
    _times: list[Floats] = field(init=False, default_factory=list)
    _guides: list[Floats] = field(init=False, default_factory=list)
    _grids: dict[float, list[Grid]] = field(init=False, default_factory=dict)
    _moving: list[Bools | None] = field(init=False, default_factory=list)

    def __post_init__(self) -> None:
        self._moving = [self.sweep.moving(span) for span in self.spans]
        steps = self.time_s[1:] - self.time_s[:-1]
        mean = float(self.time_s[-1] - self.time_s[0]) / max(1, steps.size)
        if steps.size and mean > 0:
            uneven = max(float(steps.max()) - mean, mean - float(steps.min()))
            if uneven <= EVEN_STEP * mean and all(moves is None for moves in self._moving):
                start, stop = self.sweep.up
                bins = max(1.0, (self.sweep.high_pct - self.sweep.low_pct) / BIN_PCT)
                self.block = max(1, int((stop - start) / bins / BLOCKS_PER_BIN))
                self._step_s = mean * self.block
        self._times = self.blocks(self.time_s)
        self._guides = self.blocks(self.guide_pct)

    @property
    def spans(self) -> list[Span]:
        """Samples (start, stop) of each way, up first."""
        return [span for span in (self.sweep.up, self.sweep.down) if span is not None]

    def blocks(self, samples: Floats, tare: Tare | None = None) -> list[Floats]:
        """A channel of every way in blocks, its zero taken off."""
        parts = [
            self._blocks(samples, span, moves)
            for span, moves in zip(self.spans, self._moving, strict=True)
        ]
        if tare is not None:
            parts = [tare.apply(t, part) for t, part in zip(self._times, parts, strict=True)]
        return parts

    def product_blocks(self, one: Floats, other: Floats) -> list[Floats]:
        """The product of two channels, multiplied sample by sample, in blocks."""
        parts = []
        for (start, stop), moves in zip(self.spans, self._moving, strict=True):
            if moves is not None:
                parts.append((one[start:stop] * other[start:stop])[moves])
                continue
            start += (stop - start) % self.block
            a, b = (x[start:stop].reshape(-1, self.block) for x in (one, other))
            parts.append(np.einsum("ij,ij->i", a, b) / self.block)
        return parts

    def each(self, channels: Mapping[str, list[Floats]]) -> dict[str, list[Bins]]:
        """Channels in bins on each way, at the throttle of their own instant."""
        found: dict[str, list[Bins]] = {name: [] for name in channels}
        for number, bins in enumerate(self._grids_at(0.0)):
            rows = np.array([parts[number] for parts in channels.values()])
            for name, line in zip(channels, lines_in_bins(bins, rows), strict=True):
                found[name].append(self._counted(line))
        return found

    def read(
        self, channels: Mapping[str, list[Floats]], lags_s: Mapping[str, float]
    ) -> dict[str, Bins]:
        """Channels in bins, each at the throttle of its lag before each sample [s].

        With two ways the mean of both; but near a turning only the way that arrives there, at
        the throttle of its lag: what leaves a turning is no mirror of what came.
        """
        if len(self.spans) > 1:
            both = self.each(channels)
            found = {
                name: self._mirrored(both[name], channels[name], lags_s.get(name, 0.0))
                for name in channels
            }
            return _seen_by_all(found)
        if not any(lags_s.get(name) for name in channels):
            return {name: ways[0] for name, ways in self.each(channels).items()}
        whole = self._grids_at(0.0)[0]
        step_s = self._step_s
        usual = [lags_s.get(name, 0.0) for name in channels]
        if step_s is None or whole.order is not None or min(usual) < 0:
            return _seen_by_all(
                {
                    name: self._at_lag(parts, lag)
                    for (name, parts), lag in zip(channels.items(), usual, strict=True)
                }
            )
        steps = {name: int(lag / step_s) for name, lag in zip(channels, usual, strict=True)}
        # All are read on the bins of the throttles that the slowest of them still saw.
        width = self._guides[0].size - max(steps.values())
        rows = np.array(
            [parts[0][steps[name] : steps[name] + width] for name, parts in channels.items()]
        )
        lines = lines_in_bins(whole.until(width - whole.skipped), rows)
        rate = self.sweep.rate_pct_per_s
        return {
            name: self._counted(line).moved((lag - steps[name] * step_s) * rate)
            for name, lag, line in zip(channels, usual, lines, strict=True)
        }

    def _at_lag(self, parts: list[Floats], lag_s: float) -> Bins:
        """The one way's channel at the throttle of its lag."""
        return self._counted(lines_in_bins(self._grids_at(lag_s)[0], parts[0][None])[0])

    def _mirrored(self, ways: list[Bins], parts: list[Floats], lag_s: float) -> Bins:
        up, down = (
            self._counted(lines_in_bins(bins, part[None])[0])
            for bins, part in zip(self._grids_at(lag_s), parts, strict=True)
        )
        edge = edge_pct(lag_s, self.sweep)
        low, high = self.sweep.low_pct + edge, self.sweep.high_pct - edge
        after_up, after_down = self._left_behind(edge)

        def from_down(at: Floats) -> Bools:
            return (at < low) | _within(at, after_up)

        def from_up(at: Floats) -> Bools:
            return ((at > high) | _within(at, after_down)) & ~from_down(at)

        return spliced(two_ways(*ways), [(down, from_down), (up, from_up)])

    def _left_behind(self, edge: float) -> list[list[tuple[float, float]]]:
        """Ranges of throttle just after a stand, in which a way has not its steady lag [%].

        Those of the way up, above where it stood, and of the way down, below.
        """
        found: list[list[tuple[float, float]]] = []
        half = 0.5 * BIN_PCT
        for (start, stop), (below, above) in zip(
            self.spans, ((half, edge), (edge, half)), strict=True
        ):
            levels = [
                float(np.median(self.guide_pct[a:b]))
                for a, b in self.sweep.stands
                if start <= a and b <= stop
            ]
            found.append([(level - below, level + above) for level in levels])
        return found

    def _counted(self, bins: Bins) -> Bins:
        """Bins whose counts are samples, not blocks."""
        return bins if self.block == 1 else replace(bins, counts=bins.counts * self.block)

    def _grids_at(self, lag_s: float) -> list[Grid]:
        if lag_s not in self._grids:
            guides = self._guides
            if lag_s:
                guides = [np.interp(t - lag_s, self.time_s, self.guide_pct) for t in self._times]
            self._grids[lag_s] = [grid(at) for at in guides]
        return self._grids[lag_s]

    def _blocks(self, samples: Floats, span: Span, moves: Bools | None) -> Floats:
        """Means of blocks that end with the span; a missing sample does not spoil its block.

        Of a way that rests only the samples that move, one by one.
        """
        start, stop = span
        if moves is not None:
            return samples[start:stop][moves]
        if self.block == 1:
            return samples[start:stop]
        rows = samples[start + (stop - start) % self.block : stop].reshape(-1, self.block)
        means: Floats = rows @ np.full(self.block, 1.0 / self.block)
        gaps = np.flatnonzero(np.isnan(means))
        for i in gaps:
            known = rows[i][np.isfinite(rows[i])]
            if known.size:
                means[i] = known.mean()
        return means


def _seen_by_all(found: dict[str, Bins]) -> dict[str, Bins]:
    """What the slowest of the channels never saw is no point."""
    reach = min((bins.reach for bins in found.values() if bins.levels.size), default=0.0)
    return {name: bins.until(reach) for name, bins in found.items()}


def _within(at: Floats, ranges: list[tuple[float, float]]) -> Bools:
    inside = np.zeros(at.shape, dtype=bool)
    for low, high in ranges:
        inside |= (at > low) & (at < high)
    return inside
