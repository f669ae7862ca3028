"""Stretches at full throttle, and the strongest moment in each."""

from __future__ import annotations

import math

import numpy as np

from spindle_core.measured import Absent
from spindle_core.plateau import filled_forward
from spindle_core.trace import Floats, Trace

FULL_THROTTLE_PCT = 99.0
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


def window_samples(step_s: float) -> int:
    """Samples of the burst window: ceil(0.05 s ÷ Δt)."""
    return max(1, math.ceil(BURST_WINDOW_S / step_s - 1e-9)) if step_s > 0 else 1


def strongest(samples: Floats, window: int) -> tuple[float, int] | Absent:
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
