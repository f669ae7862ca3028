"""The zero of the load cell before and after a run, and its drift between."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.autocorrelation import integrated_autocorrelation_time
from spindle_core.figures.measured import Absent, Measured, component, last_digit
from spindle_core.figures.outliers import MAD_TO_SIGMA

SETTLE_S = 1.0
"""Time after the command reached 0 before its samples count towards the tare."""

WILD_SIGMA = 6.0
"""Samples at rest further than so many robust σ from the median tell nothing of its scatter."""

FEW = 64


@dataclass(frozen=True, slots=True)
class Zero:
    """A tare reading: midpoint of its samples [s], median and u [unit of the channel]."""

    mid_s: float
    value: float
    u: float


@dataclass(frozen=True, slots=True)
class Tare:
    """The zeros of one channel; either may be missing.

    ``source``: whose zeros they are, run/channel. ``assumed_u``: standard uncertainty assumed for
    what a missing zero would have shown [unit of the channel].
    """

    before: Zero | None
    after: Zero | None
    source: str = ""
    assumed_u: float = 0.0

    @property
    def present(self) -> bool:
        """Whether there is any zero to subtract."""
        return self.before is not None or self.after is not None

    def weight_after(self, at_s: float) -> float:
        """What the second zero counts at a time: 0 to 1 between the midpoints, not beyond."""
        if self.before is None or self.after is None or self.before.mid_s == self.after.mid_s:
            return 1.0 if self.before is None and self.after is not None else 0.0
        share = (at_s - self.before.mid_s) / (self.after.mid_s - self.before.mid_s)
        return min(1.0, max(0.0, share))

    def components(self, at_s: float) -> dict[str, float]:
        """Contributions of the subtracted zero to a reading at a time [s].

        u of both zeros with the weights they have there, and the drift: nobody saw when between
        the zeros it happened, so that the straight line may be wrong by a rectangular
        distribution as wide as the drift (÷ √12).
        """
        found = {}
        after = self.weight_after(at_s)
        for name, zero, share in (
            ("before", self.before, 1.0 - after),
            ("after", self.after, after),
        ):
            if zero is not None and share and zero.u:
                found[component("tare", f"{self.source}/{name}")] = -share * zero.u
        if self.before is not None and self.after is not None:
            if moved := self.after.value - self.before.value:
                found[component("tare_drift", self.source)] = moved / math.sqrt(12.0)
        elif self.assumed_u:
            kind = "assumed_drift" if self.present else "assumed_tare"
            found[component(kind, self.source)] = self.assumed_u
        return found

    def drift(self) -> Measured | Absent:
        """After − before, with its u."""
        if self.before is None or self.after is None:
            return Absent("no_second_zero", "needs zero throttle before and after the run")
        return Measured(
            self.after.value - self.before.value,
            {
                component("tare", f"{self.source}/before"): -self.before.u,
                component("tare", f"{self.source}/after"): self.after.u,
            },
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


def find_tare(
    time_s: Floats,
    samples: Floats,
    *,
    at_rest: Bools,
    source: str = "",
    resolution: float | None = None,
) -> Tare:
    """Zeros from the stretches at rest before the first and after the last throttle.

    A stretch that opens the log was at rest already and counts whole. The one after the run
    counts from 1 s after the command reached 0; a shorter one is no zero.

    :param time_s: shape (n,) [s].
    :param samples: shape (n,) of a tared channel; NaN is missing.
    :param at_rest: shape (n,), where the commanded throttle is 0.
    :param resolution: smallest step of the channel; the last written digit by default.
    """
    if at_rest.all():
        return Tare(_zero(time_s, samples, 0, time_s.size, resolution), None, source)
    first = int(np.argmin(at_rest))
    after = time_s.size - int(np.argmin(at_rest[::-1]))
    before = _zero(time_s, samples, 0, first, resolution)
    if after >= time_s.size:
        return Tare(before, None, source)
    settled = int(np.searchsorted(time_s, time_s[after] + SETTLE_S))
    return Tare(before, _zero(time_s, samples, settled, time_s.size, resolution), source)


def _zero(
    time_s: Floats, samples: Floats, start: int, stop: int, resolution: float | None
) -> Zero | None:
    times, data = time_s[start:stop], samples[start:stop]
    if not math.isfinite(float(data.sum())):
        valid = np.isfinite(data)
        times, data = times[valid], data[valid]
    if data.size < 2:
        return None
    half = data.size // 2
    ordered = np.partition(data, half)
    median = ordered[half] if data.size % 2 else 0.5 * (ordered[:half].max() + ordered[half])
    middle = 0.5 * float(times[0] + times[-1])
    return Zero(middle, float(median), _u_of_median(data, float(median), resolution))


def _u_of_median(data: Floats, median: float, resolution: float | None) -> float:
    """u of a median of noise that holds wild samples: √(π/2)·σ·√(τ/n), σ from the MAD.

    Neither σ nor τ sees what stands beyond six σ; rounding hides at least a step ÷ √12.
    """
    deviation = np.abs(data - median)
    sigma = MAD_TO_SIGMA * float(np.median(deviation))
    kept = data[deviation <= WILD_SIGMA * sigma] if sigma else data[deviation == 0.0]
    tau = integrated_autocorrelation_time(kept)
    u = math.sqrt(0.5 * math.pi * min(tau, kept.size) / kept.size) * sigma
    if u > 0.0:
        return u
    step = last_digit(data[:FEW].tolist()) if resolution is None else resolution
    return step / math.sqrt(12.0)
