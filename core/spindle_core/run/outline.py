"""Long recordings thinned for drawing: the lowest and the highest of each few rows, so that no peak
is lost however far away one looks from."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Floats


@dataclass(frozen=True, slots=True)
class Outline:
    """Buckets of rows: their first and last time [s], and each channel's lowest and highest; shape
    (n,) each, nan where a bucket holds no sample of a channel."""

    begin_s: Floats
    end_s: Floats
    low: Mapping[str, Floats]
    high: Mapping[str, Floats]

    @property
    def size(self) -> int:
        """How many buckets."""
        return int(self.begin_s.size)

    def between(self, from_s: float, until_s: float) -> Outline:
        """The buckets that reach into a time."""
        first = int(np.searchsorted(self.end_s, from_s, side="left"))
        last = int(np.searchsorted(self.begin_s, until_s, side="right"))
        part = slice(first, max(first, last))
        return Outline(
            self.begin_s[part],
            self.end_s[part],
            {name: values[part] for name, values in self.low.items()},
            {name: values[part] for name, values in self.high.items()},
        )

    def coarser(self, buckets: int) -> Outline:
        """At most so many buckets, of neighbours joined."""
        if self.size <= buckets:
            return self
        edges = np.linspace(0, self.size, buckets + 1).astype(int)
        return Outline(
            self.begin_s[edges[:-1]],
            self.end_s[edges[1:] - 1],
            {name: np.fmin.reduceat(values, edges[:-1]) for name, values in self.low.items()},
            {name: np.fmax.reduceat(values, edges[:-1]) for name, values in self.high.items()},
        )


def outline(time_s: Floats, channels: Mapping[str, Floats], rows_per_bucket: int) -> Outline:
    """Rows as buckets of a fixed number of them; the last may have fewer.

    :param time_s: shape (n,), n at least 1, not decreasing [s].
    """
    first = np.arange(0, time_s.size, rows_per_bucket)
    last = np.append(first[1:], time_s.size) - 1
    return Outline(
        time_s[first],
        time_s[last],
        {name: np.fmin.reduceat(values, first) for name, values in channels.items()},
        {name: np.fmax.reduceat(values, first) for name, values in channels.items()},
    )


def joined(outlines: Iterable[Outline], names: Sequence[str]) -> Outline:
    """Outlines of parts that follow each other as one; a channel that a part does not have is
    missing there."""
    parts = list(outlines)

    def column(side: str, name: str) -> Floats:
        return np.concatenate(
            [getattr(part, side).get(name, np.full(part.size, np.nan)) for part in parts]
            or [np.empty(0)]
        )

    return Outline(
        np.concatenate([part.begin_s for part in parts] or [np.empty(0)]),
        np.concatenate([part.end_s for part in parts] or [np.empty(0)]),
        {name: column("low", name) for name in names},
        {name: column("high", name) for name in names},
    )
