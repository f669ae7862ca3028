"""The way up and the way down of a sweep, each channel read in bins of the throttle it saw.

A fast log has a thousand samples in a bin. Where samples are even, short blocks of them are
averaged first: lines and scatter are the same, noise that is correlated within a block is
already in the scatter of the blocks, and all that follows is a fraction of the work.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from spindle_core.reduction.ramp_bins import BIN_PCT, Bins, Grid, grid, line_in_bins, two_ways
from spindle_core.reduction.ramp_sweep import Span, Sweep
from spindle_core.tare import Tare
from spindle_core.trace import Floats

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

    def __post_init__(self) -> None:
        steps = self.time_s[1:] - self.time_s[:-1]
        mean = float(self.time_s[-1] - self.time_s[0]) / max(1, steps.size)
        if steps.size and mean > 0:
            uneven = max(float(steps.max()) - mean, mean - float(steps.min()))
            if uneven <= EVEN_STEP * mean:
                start, stop = self.sweep.up
                bins = max(1.0, (self.sweep.high_pct - self.sweep.low_pct) / BIN_PCT)
                self.block = max(1, int((stop - start) / bins / BLOCKS_PER_BIN))
                self._step_s = mean * self.block
        self._times = [self._blocks(self.time_s, span) for span in self.spans]
        self._guides = [self._blocks(self.guide_pct, span) for span in self.spans]

    @property
    def spans(self) -> list[Span]:
        """Samples (start, stop) of each way, up first."""
        return [span for span in (self.sweep.up, self.sweep.down) if span is not None]

    def each(self, samples: Floats, lag_s: float = 0.0, tare: Tare | None = None) -> list[Bins]:
        """A channel in bins on each way, at the throttle of ``lag_s`` before each sample [s]."""
        parts = [self._blocks(samples, span) for span in self.spans]
        return self._in_bins(parts, lag_s, tare)

    def each_product(self, one: Floats, other: Floats, lag_s: float = 0.0) -> list[Bins]:
        """The product of two channels, multiplied sample by sample, in bins on each way."""
        parts = []
        for start, stop in self.spans:
            start += (stop - start) % self.block
            a, b = (x[start:stop].reshape(-1, self.block) for x in (one, other))
            parts.append(np.einsum("ij,ij->i", a, b) / self.block)
        return self._in_bins(parts, lag_s, None)

    def _in_bins(self, parts: list[Floats], lag_s: float, tare: Tare | None) -> list[Bins]:
        if tare is not None:
            parts = [tare.apply(t, part) for t, part in zip(self._times, parts, strict=True)]
        whole = self._grids_at(0.0)
        if lag_s > 0.0 and self._step_s is not None and len(parts) == 1 and whole[0].order is None:
            steps = int(lag_s / self._step_s)
            rest_pct = (lag_s - steps * self._step_s) * self.sweep.rate_pct_per_s
            kept = whole[0].until(parts[0].size - steps - whole[0].skipped)
            found = [line_in_bins(kept, parts[0][steps:]).moved(rest_pct)]
        else:
            found = [
                line_in_bins(bins, part)
                for bins, part in zip(self._grids_at(lag_s), parts, strict=True)
            ]
        if self.block == 1:
            return found
        return [replace(bins, counts=bins.counts * self.block) for bins in found]

    def _grids_at(self, lag_s: float) -> list[Grid]:
        if lag_s not in self._grids:
            guides = self._guides
            if lag_s:
                guides = [np.interp(t - lag_s, self.time_s, self.guide_pct) for t in self._times]
            self._grids[lag_s] = [grid(at) for at in guides]
        return self._grids[lag_s]

    def _blocks(self, samples: Floats, span: Span) -> Floats:
        """Means of blocks that end with the span; a missing sample does not spoil its block."""
        start, stop = span
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


def together(ways: list[Bins]) -> Bins:
    """One way's bins, or the mean of both ways at equal throttle."""
    return ways[0] if len(ways) == 1 else two_ways(ways[0], ways[1])
