"""Stretches at full throttle, and the strongest moment in each."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.autocorrelation import (
    integrated_autocorrelation_time,
    mean_variance_share,
    time_for_a_mean,
)
from spindle_core.figures.measured import Absent
from spindle_core.reduction.plateau import filled_forward
from spindle_core.run.duty import FULL_THROTTLE_PCT
from spindle_core.run.trace import Trace

BURST_WINDOW_S = 0.05
Span = tuple[int, int]


def full_throttle_spans(trace: Trace) -> tuple[list[Span], str]:
    """Samples (start, stop) of each stretch at 99 % or more, and the channel that showed it.

    Without a logged throttle, stretches where current, power, thrust or speed is above 90 % of
    its highest (99.5th percentile) stand in for it.
    """
    if trace.has("throttle_pct"):
        guide, name = filled_forward(trace.get("throttle_pct")), "throttle_pct"
        full = guide >= FULL_THROTTLE_PCT
    else:
        found = [n for n in ("current_a", "power_w", "thrust_gf", "speed_rpm") if trace.has(n)]
        if not found:
            return [], ""
        name = found[0]
        guide = filled_forward(trace.get(name))
        low, high = float(np.percentile(guide, 5)), float(np.percentile(guide, 99.5))
        full = guide > low + 0.9 * (high - low) if high > low else np.zeros(guide.size, bool)
    edges = np.flatnonzero(np.diff(np.concatenate(([0], full.astype(np.int8), [0]))))
    spans = [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return [span for span in spans if span[1] - span[0] >= 2], name


HALF_PCT = 50.0
HALF_WITHIN_PCT = 1.0
LEAST_HELD_S = 0.4
"""What only passes half throttle on its way does not stay so long."""


def half_throttle_spans(trace: Trace) -> list[Span]:
    """Samples (start, stop) of each stretch held at half throttle; none where no throttle was
    logged, since nothing else tells half from less."""
    if not trace.has("throttle_pct"):
        return []
    guide = filled_forward(trace.get("throttle_pct"))
    half = np.abs(guide - HALF_PCT) <= HALF_WITHIN_PCT
    edges = np.flatnonzero(np.diff(np.concatenate(([0], half.astype(np.int8), [0]))))
    time = trace.time_s
    return [
        (int(a), int(b))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
        if b - a >= 2 and time[b - 1] - time[a] >= LEAST_HELD_S
    ]


def window_samples(step_s: float) -> int:
    """Samples of the burst window: ceil(0.05 s ÷ Δt)."""
    return max(1, math.ceil(BURST_WINDOW_S / step_s - 1e-9)) if step_s > 0 else 1


RISES_S = (0.03, 0.1, 0.3)
"""Time constants of what fades in a burst [s]: rush of current, spin-up, settling of the air."""

ROLLS = 64
"""Places along the burst that the scatter is laid on to see what the choice of a maximum adds."""

LEAST_SAMPLES = 12
"""A burst of fewer samples shows no scatter apart from its own shape."""


@dataclass(frozen=True, slots=True)
class Strongest:
    """The strongest 50 ms of a burst: value and u [unit of the channel], and its middle sample.

    ``seen``: the largest mean that was logged, which noise has made too large.
    """

    value: float
    u: float
    at: int
    seen: float


def strongest(samples: Floats, window: int, step_s: float) -> Strongest | Absent:
    """The strongest 50 ms of a burst, without what noise adds to a largest mean.

    The largest of many noisy means is too large: of forty it lies two of their σ above the truth.
    A smooth shape (a level, a slope and decays) is fitted to the burst; the scatter about it is
    laid on it at other places, and what the largest mean gains by that on average is taken off.
    A shape the fit does not follow keeps its peak.

    :param samples: shape (n,) of one burst; NaN is missing.
    :param window: samples in 50 ms. :param step_s: between samples [s].
    """
    found = largest_mean(samples, window)
    if isinstance(found, Absent):
        return found
    seen, at = found
    valid = np.isfinite(samples)
    if valid.sum() < LEAST_SAMPLES:
        return Strongest(seen, _neighbours_noise(samples) / math.sqrt(window), at, seen)
    shape, u_shape, noise = _shape(samples, valid, window, step_s)
    rolls = np.unique(np.linspace(0, noise.size, ROLLS, endpoint=False).astype(int))
    tops = np.array([_top(shape + np.roll(noise, int(roll)), window) for roll in rolls])
    crest = largest_mean(shape, window)
    if isinstance(crest, Absent):
        return crest
    value = seen - (float(tops.mean()) - crest[0])
    unexplained = value - crest[0]
    u = math.hypot(float(u_shape[crest[1]]), float(tops.std()), UNEXPLAINED_SHARE * unexplained)
    return Strongest(value, u, at, seen)


UNEXPLAINED_SHARE = 0.6
"""Share of what the fit does not explain of a peak that may be noise (k = 1)."""

RISEN_S = 0.4
"""What comes later in a burst has risen: its scatter is noise and no rush."""

FOLLOWED = 2.0
"""A fit whose misfit in the rise is more than this multiple of the noise does not follow it."""


def _shape(
    samples: Floats, valid: Bools, window: int, step_s: float
) -> tuple[Floats, Floats, Floats]:
    """The smooth shape of a burst, its u, and the noise about it everywhere, shape (n,) each.

    The noise is that of the risen part, repeated over the rise. Where the fit does not follow a
    rush, the samples themselves are its shape: few of their means compete for the largest.
    """
    risen = min(round(RISEN_S / max(step_s, 1e-9)), samples.size)
    if valid[risen:].sum() < LEAST_SAMPLES:
        risen = 0
    late, u_late = _smooth(samples[risen:], valid[risen:], step_s)
    rest = np.where(valid[risen:], samples[risen:] - late, 0.0)
    noise = np.resize(rest, samples.size)
    shape, u_shape = _smooth(samples, valid, step_s)
    off = (samples - shape)[:risen][valid[:risen]]
    if off.size == 0 or _rms(off) <= FOLLOWED * _rms(rest):
        return shape, u_shape, noise
    filled = np.where(valid, samples, shape)
    u_rush = _rms(rest) / math.sqrt(window)
    return (
        np.concatenate((filled[:risen], late)),
        np.concatenate((np.full(risen, u_rush), u_late)),
        noise,
    )


def _rms(values: Floats) -> float:
    return float(np.sqrt(np.mean(values**2))) if values.size else 0.0


def _top(samples: Floats, window: int) -> float:
    sums = np.concatenate(([0.0], np.cumsum(samples)))
    return float((sums[window:] - sums[:-window]).max()) / window


def _neighbours_noise(samples: Floats) -> float:
    """σ from the steps between neighbours, which the rise of a burst hardly touches."""
    steps = np.diff(samples[np.isfinite(samples)])
    return float(np.sqrt(0.5 * np.mean(steps**2))) if steps.size else 0.0


def _smooth(samples: Floats, valid: Bools, step_s: float) -> tuple[Floats, Floats]:
    """A level, with a slope and decays where they show, fitted to a burst, and u of the fit.

    Terms enter one by one while they take more off the sum of squares than noise of this
    autocorrelation would; shape (n,) each.
    """
    time = np.arange(samples.size) * step_s
    y = samples[valid]
    left = [
        np.exp(-time / rise)
        for rise in RISES_S
        if 1.5 * step_s <= rise + 1e-9 and rise < 0.5 * time[-1]
    ]
    left.append(time - time.mean())
    columns = [np.ones_like(time)]
    best = _fitted(columns, y, valid)
    while left:
        tried = [_fitted([*columns, term], y, valid) for term in left]
        i = int(np.argmin([fit[1] for fit in tried]))
        variance = tried[i][1] / max(1, y.size - len(columns) - 1)
        tau = min(integrated_autocorrelation_time(y - tried[i][0][valid]), y.size / 4.0)
        if best[1] - tried[i][1] <= SHOWN * variance * tau:
            break
        columns.append(left.pop(i))
        best = tried[i]
    shape, squares, leverage = best
    freedom = max(1, y.size - len(columns))
    share = mean_variance_share(time_for_a_mean(y - shape[valid]), y.size) * y.size
    return shape, np.sqrt(np.maximum(leverage, 0.0) * squares / freedom * share)


SHOWN = 9.0
"""A term is there when it takes so many variances off the sum of squares (three σ)."""


def _fitted(columns: list[Floats], y: Floats, valid: Bools) -> tuple[Floats, float, Floats]:
    """Least squares: the shape everywhere, the sum of squares, and each sample's leverage."""
    design = np.stack(columns, axis=1)
    known = design[valid]
    inverse = np.linalg.pinv(known.T @ known)
    shape: Floats = design @ (inverse @ (known.T @ y))
    rest = y - shape[valid]
    return shape, float(rest @ rest), np.einsum("ij,jk,ik->i", design, inverse, design)


def largest_mean(samples: Floats, window: int) -> tuple[float, int] | Absent:
    """Largest mean over ``window`` neighbouring samples, and the middle sample of that window.

    Windows with more than half their samples missing do not count.

    :param samples: shape (n,); NaN is missing.
    """
    if samples.size < window:
        return Absent("too_short", "the burst is shorter than 0.05 s")
    valid = np.isfinite(samples)
    sums = np.concatenate(([0.0], np.cumsum(np.where(valid, samples, 0.0))))
    counts = np.concatenate(([0], np.cumsum(valid)))
    inside = counts[window:] - counts[:-window]
    usable = inside > 0.5 * window
    if not usable.any():
        return Absent("no_samples", "the channel has no samples in the burst")
    means = np.where(usable, (sums[window:] - sums[:-window]) / np.maximum(inside, 1), -np.inf)
    at = int(np.argmax(means))
    return float(means[at]), at + window // 2
