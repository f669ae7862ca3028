"""Samples that do not belong: found, counted and listed, never silently dropped."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import median_filter

from spindle_core.trace import Bools, Floats

MAD_TO_SIGMA = 1.4826
"""Median absolute deviation → standard deviation for normal noise."""


@dataclass(frozen=True, slots=True)
class Outlier:
    """One sample left out of a mean: its channel, time [s] and value [the channel's unit]."""

    channel: str
    time_s: float
    value: float


def outlier_mask(samples: Floats, *, window: int = 31, threshold: float = 6.0) -> Bools:
    """Which samples stand further than ``threshold`` robust σ from their running median.

    σ is 1.4826 × the running median of the deviations, but at least that of the whole series
    (a short window's is noisy; deviations of exactly 0 are left out, since the median of a
    drifting stretch is often the sample itself), at least what second differences give (a drift
    does not touch them), and at least the series' own smallest step (quantised data)
    (Hampel identifier; Pearson 2002, IEEE Trans. Control Syst. Technol. 10).

    :param samples: shape (n,); NaN is missing and never an outlier.
    :param window: samples in the running window, odd.
    :returns: shape (n,) of bool.
    """
    mask = np.zeros(samples.shape, dtype=bool)
    valid = np.flatnonzero(np.isfinite(samples))
    if valid.size < 7:
        return mask
    data = samples[valid]
    width = min(window, data.size - (data.size + 1) % 2)
    centre = median_filter(data, size=width, mode="nearest")
    deviation = np.abs(data - centre)
    sigma = MAD_TO_SIGMA * median_filter(deviation, size=width, mode="nearest")
    steps = np.abs(np.diff(np.unique(data)))
    quantum = float(steps.min()) if steps.size else 0.0
    off_centre = deviation[deviation > 0]
    overall = MAD_TO_SIGMA * float(np.median(off_centre)) if off_centre.size else 0.0
    # The second difference of white noise has 6 times its variance.
    bends = np.abs(np.diff(data, 2))
    floor = max(overall, MAD_TO_SIGMA * float(np.median(bends)) / np.sqrt(6.0), quantum)
    mask[valid] = deviation > threshold * np.maximum(sigma, floor)
    return mask
