"""Stretches of constant throttle, and the part of each that had settled."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.autocorrelation import integrated_autocorrelation_time
from spindle_core.figures.numerics import running_median
from spindle_core.run.trace import Trace

SHORTEST_S = 1.5
"""A shorter stretch is no plateau."""

THROTTLE_TOLERANCE_PCT = 0.5
"""How far a commanded throttle may wander within one plateau."""

REST_BELOW_PCT = 0.5
"""A throttle below this is at rest."""


@dataclass(frozen=True, slots=True)
class Plateau:
    """Samples ``start`` to ``stop`` (exclusive) at one level of the guiding channel."""

    start: int
    stop: int
    level: float


@dataclass(frozen=True, slots=True)
class Settled:
    """The used part of a plateau: samples ``start`` to ``stop``, and whether it had settled."""

    start: int
    stop: int
    settled: bool


@dataclass(frozen=True, slots=True)
class Plateaus:
    """All plateaus under throttle, where the motor was at rest, and what guided the search."""

    plateaus: tuple[Plateau, ...]
    at_rest: Bools
    guide: str


def find_plateaus(trace: Trace) -> Plateaus | None:
    """Plateaus from the commanded throttle; without it, from speed, current, power or thrust.

    Returns None when none of those channels was logged.
    """
    if trace.has("throttle_pct"):
        throttle = filled_forward(trace.get("throttle_pct"))
        at_rest = throttle < REST_BELOW_PCT
        spans = constant_spans(throttle, THROTTLE_TOLERANCE_PCT)
        return Plateaus(_long_enough(trace, throttle, spans, at_rest), at_rest, "throttle_pct")
    for name in ("speed_rpm", "current_a", "power_w", "thrust_gf"):
        if trace.has(name):
            return _found_in_data(trace, name)
    return None


def _found_in_data(trace: Trace, name: str) -> Plateaus:
    signal = filled_forward(trace.get(name))
    step_s = trace.duration_s / max(1, trace.size - 1)
    width = max(3, 2 * round(0.15 / max(step_s, 1e-6)) + 1)
    smooth = running_median(signal, min(width, trace.size))
    span = float(smooth.max() - smooth.min())
    at_rest = smooth < smooth.min() + 0.03 * span
    spans = constant_spans(smooth, 0.02 * span)
    return Plateaus(_long_enough(trace, smooth, spans, at_rest), at_rest, name)


def filled_forward(samples: Floats) -> Floats:
    """A command holds until the next one: missing samples take the last value before them."""
    valid = np.isfinite(samples)
    if valid.all():
        return samples
    index = np.where(valid, np.arange(samples.size), 0)
    np.maximum.accumulate(index, out=index)
    filled = samples[index]
    first = int(np.argmax(valid))
    filled[:first] = samples[first]
    return filled


def constant_spans(signal: Floats, tolerance: float) -> list[tuple[int, int]]:
    """Greedy split into stretches that stay within ``tolerance`` of their first sample."""
    changes = np.flatnonzero(np.diff(signal) != 0.0) + 1
    spans: list[tuple[int, int]] = []
    start, reference = 0, float(signal[0])
    for index in changes:
        if abs(float(signal[index]) - reference) > tolerance:
            spans.append((start, int(index)))
            start, reference = int(index), float(signal[index])
    spans.append((start, signal.size))
    return spans


def _long_enough(
    trace: Trace, signal: Floats, spans: Sequence[tuple[int, int]], at_rest: Bools
) -> tuple[Plateau, ...]:
    step_s = float(np.median(np.diff(trace.time_s))) if trace.size > 1 else 0.0
    found = []
    for start, stop in spans:
        duration = float(trace.time_s[stop - 1] - trace.time_s[start]) + step_s
        if duration >= SHORTEST_S - 1e-6 and not at_rest[start:stop].any():
            found.append(Plateau(start, stop, float(np.median(signal[start:stop]))))
    return tuple(found)


def least_dropped_s(duration_s: float) -> float:
    """What is never averaged at the start of a plateau: max(0.5 s, 20 %) [s]."""
    return max(0.5, 0.2 * duration_s)


def settle(trace: Trace, plateau: Plateau, watched: Sequence[Floats]) -> Settled:
    """The part of a plateau to average.

    Drops max(0.5 s, 20 %), then 10 % more at a time until the least-squares slopes of all
    ``watched`` channels are below 3 of their standard errors. Beyond 70 % dropped, the last
    part is used and marked as not settled.

    :param watched: channels of shape (n,) over the whole trace, outliers as NaN.
    """
    begin = float(trace.time_s[plateau.start])
    duration = float(trace.time_s[plateau.stop - 1]) - begin
    dropped = least_dropped_s(duration)
    start = plateau.start
    while dropped <= 0.7 * duration + 1e-9:
        inside = trace.time_s[plateau.start : plateau.stop] >= begin + dropped - 1e-9
        start = plateau.start + int(np.argmax(inside))
        if all(_is_level(trace.time_s, channel, start, plateau.stop) for channel in watched):
            return Settled(start, plateau.stop, True)
        dropped += 0.1 * duration
    return Settled(start, plateau.stop, False)


def _is_level(time_s: Floats, samples: Floats, start: int, stop: int) -> bool:
    part = samples[start:stop]
    valid = np.isfinite(part)
    if valid.sum() < 4:
        return True
    slope, error = slope_with_error(time_s[start:stop][valid], part[valid])
    return abs(slope) <= 3.0 * error


def slope_with_error(x: Floats, y: Floats) -> tuple[float, float]:
    """Least-squares slope and its standard error, the latter widened for correlated noise.

    The error of plain OLS is multiplied by √τ: sampled noise is correlated, and without it
    almost every quiet plateau would look like a drift. τ and s are taken from the second half's
    residuals, so that the tail of a settling curve counts as drift and not as noise.

    :param x, y: shape (n,), finite, n ≥ 3.
    """
    centred = x - x.mean()
    spread = float(centred @ centred)
    if spread == 0.0:
        return 0.0, math.inf
    slope = float(centred @ y) / spread
    half = x.size // 2 if x.size >= 16 else 0
    late_x, late_y = x[half:] - x[half:].mean(), y[half:] - y[half:].mean()
    residuals = late_y - late_x * float(late_x @ late_y) / float(late_x @ late_x)
    variance = float(residuals @ residuals) / (residuals.size - 2)
    tau = integrated_autocorrelation_time(residuals)
    return slope, math.sqrt(variance * tau / spread)
