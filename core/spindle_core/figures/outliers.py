"""Samples that do not belong: found, counted and listed, never silently dropped."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.numerics import running_median

MAD_TO_SIGMA = 1.4826
"""Median absolute deviation → standard deviation for normal noise."""

LONG_SERIES = 1500
"""Above this many samples only the neighbourhoods of suspects are looked at closely."""


@dataclass(frozen=True, slots=True)
class Outlier:
    """One sample left out of a mean: its channel, time [s] and value [the channel's unit]."""

    channel: str
    time_s: float
    value: float


def outlier_mask(
    samples: Floats, *, window: int = 31, threshold: float = 6.0, room: Floats | None = None
) -> Bools:
    """Which samples stand further than ``threshold`` robust σ from their running median.

    σ is 1.4826 × the running median of the deviations, but at least that of the whole series
    (a short window's is noisy; deviations of exactly 0 are left out, since the median of a
    drifting stretch is often the sample itself), at least what second differences give (a drift
    does not touch them), and at least the series' own smallest step (quantised data)
    (Hampel identifier; Pearson 2002, IEEE Trans. Control Syst. Technol. 10).

    In a long series a sample can only be an outlier beside a jump, so that the running medians
    are taken around jumps alone; the two ways mark the same samples of normal noise.

    :param samples: shape (n,); NaN is missing and never an outlier.
    :param window: samples in the running window, odd.
    :param room: an array of at least n to work in, for many long series one after the other.
    :returns: shape (n,) of bool.
    """
    mask = np.zeros(samples.shape, dtype=bool)
    # One missing sample makes the sum so, and a sum is cheaper than looking at each.
    whole = math.isfinite(float(samples.sum()))
    finite = None if whole else np.isfinite(samples)
    data = samples if finite is None else samples[finite]
    if data.size < 7:
        return mask
    if data.size <= LONG_SERIES:
        found = _hampel(data, window, threshold, _floor_of_bends(data))
    else:
        found = _around_jumps(data, window, threshold, room)
    if finite is None:
        return found
    mask[finite] = found
    return mask


def _hampel(data: Floats, window: int, threshold: float, floor: float) -> Bools:
    width = min(window, data.size - (data.size + 1) % 2)
    centre = running_median(data, width)
    deviation = np.abs(data - centre)
    sigma = MAD_TO_SIGMA * running_median(deviation, width)
    steps = np.abs(np.diff(np.unique(data)))
    quantum = float(steps.min()) if steps.size else 0.0
    off_centre = deviation[deviation > 0]
    overall = MAD_TO_SIGMA * float(np.median(off_centre)) if off_centre.size else 0.0
    marked: Bools = deviation > threshold * np.maximum(sigma, max(overall, quantum, floor))
    return marked


def _floor_of_bends(data: Floats) -> float:
    """σ of white noise from second differences, which have 6 times its variance."""
    return MAD_TO_SIGMA * float(np.median(np.abs(np.diff(data, 2)))) / math.sqrt(6.0)


def _around_jumps(data: Floats, window: int, threshold: float, room: Floats | None) -> Bools:
    """The Hampel identifier on the stretches around large steps from one sample to the next."""
    mask = np.zeros(data.size, dtype=bool)
    steps = np.subtract(data[1:], data[:-1], out=None if room is None else room[1 : data.size])
    # A few thousand steps tell how large a usual one is (√2·σ for white noise).
    some = np.abs(steps[:: max(1, steps.size // 1500)])
    usual = MAD_TO_SIGMA * _median(some) / math.sqrt(2.0)
    if usual == 0.0:
        sizes = np.abs(steps)
        changed = sizes[sizes > 0]
        if changed.size == 0:
            return mask
        usual = float(changed.min())
    least = 0.9 * threshold * usual
    jumps = np.flatnonzero((steps > least) | (steps < -least))
    if jumps.size == 0:
        return mask
    jumps = _standing_out(data, jumps, window, least)
    if jumps.size == 0:
        return mask
    reach = 2 * window
    breaks = np.flatnonzero(np.diff(jumps) > 2 * reach)
    firsts = np.concatenate(([jumps[0]], jumps[breaks + 1]))
    lasts = np.concatenate((jumps[breaks], [jumps[-1]]))
    for first, last in zip(firsts, lasts, strict=True):
        start, stop = max(0, int(first) - reach), min(data.size, int(last) + reach + 2)
        part = data[start:stop]
        floor = max(usual, _floor_of_bends(part)) if part.size > 2 else usual
        mask[start:stop] |= _hampel(part, window, threshold, floor)
    return mask


def _median(values: Floats) -> float:
    """The upper median of an array, without the care for NaN that costs more than the sorting."""
    half = values.size // 2
    return float(np.partition(values, half)[half])


def _standing_out(data: Floats, jumps: np.ndarray, window: int, least: float) -> np.ndarray:
    """The jumps of which a side stands further than ``least`` from the median of a window around
    it; of normal noise hardly any do.
    """
    half = window // 2
    # A burst of wild samples has its middle between jumps, so that both sides of each are seen.
    centres = np.clip(np.concatenate((jumps, jumps + 1)), half, data.size - 1 - half)
    around = data[centres[:, None] + np.arange(-half, half + 1)]
    middle = np.sort(around, axis=1)[:, half]
    sides = np.concatenate((data[jumps], data[jumps + 1]))
    out = np.abs(sides - middle) > least
    both = out[: jumps.size] | out[jumps.size :]
    kept: np.ndarray = jumps[both]
    return kept
