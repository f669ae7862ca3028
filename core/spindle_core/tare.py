"""The zero of the load cell before and after a run, and its drift between."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from spindle_core.autocorrelation import standard_error_of_mean
from spindle_core.measured import Absent, Measured
from spindle_core.trace import Bools, Floats

SETTLE_S = 1.0
"""Time after the command reached 0 before its samples count towards the tare."""


@dataclass(frozen=True, slots=True)
class Zero:
    """A tare reading: midpoint of its samples [s], median and u [unit of the channel]."""

    mid_s: float
    value: float
    u: float


@dataclass(frozen=True, slots=True)
class Tare:
    """The zeros of one channel; either may be missing."""

    before: Zero | None
    after: Zero | None

    @property
    def present(self) -> bool:
        """Whether there is any zero to subtract."""
        return self.before is not None or self.after is not None

    @property
    def u(self) -> float:
        """Standard uncertainty of the subtracted zero; the larger of the two."""
        return max((zero.u for zero in (self.before, self.after) if zero is not None), default=0.0)

    def drift(self) -> Measured | Absent:
        """After − before, with its u."""
        if self.before is None or self.after is None:
            return Absent("no_second_zero", "needs zero throttle before and after the run")
        return Measured(
            self.after.value - self.before.value,
            {"tare_before": -self.before.u, "tare_after": self.after.u},
        )

    def apply(self, time_s: Floats, samples: Floats) -> Floats:
        """Samples minus the zero: linear between the two midpoints, held constant outside."""
        zeros = [zero for zero in (self.before, self.after) if zero is not None]
        if not zeros:
            return samples
        times = [zero.mid_s for zero in zeros]
        return samples - np.interp(time_s, times, [zero.value for zero in zeros])


def find_tare(time_s: Floats, samples: Floats, *, at_rest: Bools) -> Tare:
    """Zeros from the stretches at rest before the first and after the last throttle.

    A stretch that opens the log was at rest already and counts whole. The one after the run
    counts from 1 s after the command reached 0; a shorter one is no zero.

    :param time_s: shape (n,) [s].
    :param samples: shape (n,) of a tared channel; NaN is missing.
    :param at_rest: shape (n,), where the commanded throttle is 0.
    """
    turning = np.flatnonzero(~at_rest)
    if turning.size == 0:
        return Tare(_zero(time_s, samples, np.flatnonzero(at_rest)), None)
    first, last = int(turning[0]), int(turning[-1])
    before = _zero(time_s, samples, np.arange(first))
    after_indices = np.arange(last + 1, time_s.size)
    if after_indices.size:
        settled = time_s[after_indices] >= time_s[after_indices[0]] + SETTLE_S
        after_indices = after_indices[settled]
    return Tare(before, _zero(time_s, samples, after_indices))


def _zero(time_s: Floats, samples: Floats, indices: np.ndarray) -> Zero | None:
    indices = indices[np.isfinite(samples[indices])]
    if indices.size < 2:
        return None
    data = samples[indices]
    # √(π/2): efficiency of the median against the mean for normal noise.
    u = 1.2533 * standard_error_of_mean(data)
    mid = 0.5 * float(time_s[indices[0]] + time_s[indices[-1]])
    return Zero(mid, float(np.median(data)), u)
