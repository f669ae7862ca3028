"""The zero of the load cell before and after a run, and its drift between."""

from __future__ import annotations

import math
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
        first, last = zeros[0], zeros[-1]
        if first.mid_s == last.mid_s:
            return samples - first.value
        slope = (last.value - first.value) / (last.mid_s - first.mid_s)
        tared: Floats = time_s * -slope
        begin, end = np.searchsorted(time_s, (first.mid_s, last.mid_s))
        tared[:begin], tared[end:] = -slope * first.mid_s, -slope * last.mid_s
        tared += slope * first.mid_s - first.value
        tared += samples
        return tared


def find_tare(time_s: Floats, samples: Floats, *, at_rest: Bools) -> Tare:
    """Zeros from the stretches at rest before the first and after the last throttle.

    A stretch that opens the log was at rest already and counts whole. The one after the run
    counts from 1 s after the command reached 0; a shorter one is no zero.

    :param time_s: shape (n,) [s].
    :param samples: shape (n,) of a tared channel; NaN is missing.
    :param at_rest: shape (n,), where the commanded throttle is 0.
    """
    if at_rest.all():
        return Tare(_zero(time_s, samples, 0, time_s.size), None)
    first = int(np.argmin(at_rest))
    after = time_s.size - int(np.argmin(at_rest[::-1]))
    before = _zero(time_s, samples, 0, first)
    if after >= time_s.size:
        return Tare(before, None)
    settled = int(np.searchsorted(time_s, time_s[after] + SETTLE_S))
    return Tare(before, _zero(time_s, samples, settled, time_s.size))


def _zero(time_s: Floats, samples: Floats, start: int, stop: int) -> Zero | None:
    times, data = time_s[start:stop], samples[start:stop]
    if not math.isfinite(float(data.sum())):
        valid = np.isfinite(data)
        times, data = times[valid], data[valid]
    if data.size < 2:
        return None
    # √(π/2): efficiency of the median against the mean for normal noise.
    u = 1.2533 * standard_error_of_mean(data)
    half = data.size // 2
    ordered = np.partition(data, half)
    median = ordered[half] if data.size % 2 else 0.5 * (ordered[:half].max() + ordered[half])
    return Zero(0.5 * float(times[0] + times[-1]), float(median), u)
