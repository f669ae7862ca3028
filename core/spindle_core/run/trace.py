"""One recorded run as columns."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.quantities import CHANNELS
from spindle_core.run.facts import RunFacts
from spindle_core.run.stand import UNDECLARED, Stand

WARM_START_K = 5.0
"""A motor this much above the air at the start is called warm, and runs that started further
apart than this did not start alike."""

START_SPAN_S = 1.0
"""The start of a run, over which the motor's temperature is taken."""


def _seven_digits(samples: Floats) -> bytes:
    """Samples as every format keeps them; a missing one is always the same."""
    return (np.nan_to_num(samples, nan=-1e30).astype(np.float32) + 0.0).tobytes()


FINGERPRINT_SAMPLES = 256
"""So many samples of each channel tell one run from another: noise is never twice the same."""


LARGEST = 1e12
"""No quantity of a bench, in its unit here, comes near it; its square is still a number."""


@dataclass(frozen=True, slots=True)
class Trace:
    """Samples of one run. A missing sample is NaN; a channel that was not logged is not there.

    ``time_s``: shape (n,), not decreasing [s]. ``channels``: name → shape (n,), unit by name.
    ``lags_s``: channel → declared delay of its sensor [s]. ``facts``: what else is known of the
    run. ``stand``: what the stand declares about its sensors. ``run``: which run this is, the
    source of all that scatters in it. ``averaged_over``: so many recorded samples are one here.
    """

    time_s: Floats
    channels: Mapping[str, Floats]
    kind: str = "steps"
    lags_s: Mapping[str, float] = field(default_factory=dict)
    facts: RunFacts = field(default_factory=RunFacts)
    stand: Stand = UNDECLARED
    run: str = ""
    averaged_over: int = 1

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
        for name, values in (("time_s", self.time_s), *self.channels.items()):
            # The least and the largest tell, without a copy; nan, a missing sample, is passed over.
            low, high = np.fmin.reduce(values), np.fmax.reduce(values)
            if low < -LARGEST or high > LARGEST:
                raise ReductionError(
                    f"{name} holds {low if low < -LARGEST else high:.3g}, which nothing measures.",
                    code="out_of_range",
                )

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

    def named(self) -> Trace:
        """The trace with a name for its run: what its samples are, where nobody gave one.

        The same samples under two names of a file are one run, and share their scatter.
        """
        if self.run:
            return self
        stride = max(1, self.size // FINGERPRINT_SAMPLES)
        digest = hashlib.blake2s(_seven_digits(self.time_s[::stride]), digest_size=5)
        for name in sorted(self.channels):
            digest.update(name.encode())
            digest.update(_seven_digits(self.channels[name][::stride]))
        return replace(self, run=f"run-{digest.hexdigest()}")

    @property
    def start_rise_k(self) -> float | None:
        """How warm the motor was at the start: median of its first second above the air [K].

        The one definition of a warm start; None where either temperature was not logged.
        """
        if not (self.has("motor_temp_c") and self.has("ambient_temp_c")):
            return None
        last = int(np.searchsorted(self.time_s, self.time_s[0] + START_SPAN_S, side="right"))
        rises = self.get("motor_temp_c")[:last] - self.get("ambient_temp_c")[:last]
        rises = rises[np.isfinite(rises)]
        return float(np.median(rises)) if rises.size else None

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
