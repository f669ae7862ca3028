"""Samples of a run in hand by twentieths of a second, for guard and live picture."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Final

from spindle_bench.limits import reading

BUCKET_S: Final = 0.05
NAMES: Final = ("current_a", "power_w", "thrust_gf", "speed_rpm", "voltage_v", "motor_temp_c")


@dataclass(slots=True)
class Bucket:
    """The samples from ``begin_s`` on, under commanded throttles from ``low_pct`` to ``high_pct``.

    ``label``: what the profile was doing.
    """

    begin_s: float
    low_pct: float
    high_pct: float
    label: str = ""
    sums: dict[str, float] = field(default_factory=dict)
    counts: dict[str, int] = field(default_factory=dict)

    def add(self, sample: Mapping[str, float | None], pct: float) -> None:
        """Take in one sample; what is no finite number is left out."""
        self.low_pct, self.high_pct = min(self.low_pct, pct), max(self.high_pct, pct)
        for name in NAMES:
            value = reading(sample, name)
            if value is not None and math.isfinite(value):
                self.sums[name] = self.sums.get(name, 0.0) + value
                self.counts[name] = self.counts.get(name, 0) + 1

    def mean(self, name: str) -> float | None:
        """Mean of a channel; None where nothing was read."""
        count = self.counts.get(name, 0)
        return self.sums[name] / count if count else None

    @property
    def pct(self) -> float:
        """The commanded throttle [%]."""
        return 0.5 * (self.low_pct + self.high_pct)


def mean_of(buckets: Iterable[Bucket], name: str) -> float | None:
    """Mean of a channel over several buckets; None where nothing was read."""
    taken = list(buckets)
    count = sum(one.counts.get(name, 0) for one in taken)
    return sum(one.sums.get(name, 0.0) for one in taken) / count if count else None


def means_of(buckets: Iterable[Bucket], names: Iterable[str] = NAMES) -> dict[str, float]:
    """Means of several channels over several buckets, of those that were read."""
    taken = list(buckets)
    found = {name: mean_of(taken, name) for name in names}
    return {name: value for name, value in found.items() if value is not None}


@dataclass(slots=True)
class Gathering:
    """Gathers samples into buckets."""

    open: Bucket | None = None

    def add(
        self, time_s: float, sample: Mapping[str, float | None], pct: float, label: str
    ) -> Bucket | None:
        """Take in a sample; the bucket that is whole by it, if one is."""
        whole = None
        if self.open is None or time_s - self.open.begin_s >= BUCKET_S - 1e-9:
            whole, self.open = self.open, Bucket(time_s, pct, pct, label)
        self.open.add(sample, pct)
        return whole
