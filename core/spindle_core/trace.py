"""One recorded run as columns."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from spindle_core.errors import ReductionError
from spindle_core.quantities import CHANNELS
from spindle_core.run_facts import RunFacts
from spindle_core.stand import UNDECLARED, Stand

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Trace:
    """Samples of one run. A missing sample is NaN; a channel that was not logged is not there.

    ``time_s``: shape (n,), not decreasing [s]. ``channels``: name → shape (n,), unit by name.
    ``lags_s``: channel → declared delay of its sensor [s]. ``facts``: what else is known of the
    run. ``stand``: what the stand declares about its sensors.
    """

    time_s: Floats
    channels: Mapping[str, Floats]
    kind: str = "steps"
    lags_s: Mapping[str, float] = field(default_factory=dict)
    facts: RunFacts = field(default_factory=RunFacts)
    stand: Stand = UNDECLARED

    def __post_init__(self) -> None:
        if self.time_s.ndim != 1 or self.time_s.size == 0:
            raise ReductionError("The trace holds no samples.", code="empty_trace")
        if np.any(self.time_s[1:] < self.time_s[:-1]):
            raise ReductionError("Time goes backward in the trace.", code="time_backward")
        for name, values in self.channels.items():
            if name not in CHANNELS:
                raise ReductionError(f"{name!r} is not a channel.", code="unknown_channel")
            if values.shape != self.time_s.shape:
                raise ReductionError(f"{name} has {values.size} samples, time {self.time_s.size}.")

    @property
    def size(self) -> int:
        """Number of samples."""
        return int(self.time_s.size)

    @property
    def duration_s(self) -> float:
        """Last minus first time [s]."""
        return float(self.time_s[-1] - self.time_s[0])

    @property
    def step_s(self) -> float:
        """Median time between samples [s]; 0 for a single sample. Of a long trace every few
        steps are looked at.
        """
        if self.size < 2:
            return 0.0
        stride = max(1, self.size // 400)
        steps = self.time_s[1::stride] - self.time_s[:-1:stride]
        return float(np.median(steps))

    def until(self, stop: int) -> Trace:
        """The first ``stop`` samples."""
        channels = {name: values[:stop] for name, values in self.channels.items()}
        return replace(self, time_s=self.time_s[:stop], channels=channels)

    def has(self, name: str) -> bool:
        """Whether the channel was logged and holds at least one value."""
        values = self.channels.get(name)
        if values is None:
            return False
        # Mostly the ends tell; the rest is looked at only where they are missing.
        return bool(np.isfinite(values[0]) or np.isfinite(values[-1]) or np.isfinite(values).any())

    def get(self, name: str) -> Floats:
        """The channel's samples [unit by name]; all NaN when it was not logged."""
        values = self.channels.get(name)
        return np.full(self.time_s.shape, np.nan) if values is None else values
