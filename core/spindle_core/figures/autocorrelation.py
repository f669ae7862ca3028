"""How many independent samples a stretch of sampled noise is worth."""

from __future__ import annotations

import math

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats

TOGETHER_LAGS = 8
DIRECT_LAGS = 24
"""Lags summed one by one before a Fourier transform is cheaper; white noise needs five."""


def integrated_autocorrelation_time(samples: Floats) -> float:
    """Integrated autocorrelation time τ of a stationary series [samples].

    τ(M) = 1 + 2·Σ ρ(k), k = 1…M, with the self-consistent window: the smallest lag M ≥ 5·τ(M)
    (Sokal 1997, Monte Carlo Methods in Statistical Mechanics, section 3). Values below 1, which
    anti-correlated noise gives, are taken as 1 so that u is never better than white noise's.

    :param samples: shape (n,), finite.
    """
    count = samples.size
    if count < 4:
        return 1.0
    mean = float(samples.sum()) / count
    centred = samples - mean
    variance = float(centred @ centred)
    if variance <= 1e-24 * max(1.0, mean * mean) * count:
        return 1.0
    return _of_centred(centred, variance)


def integrated_autocorrelation_times(rows: Floats) -> Floats:
    """τ of each of several series of one length, shape (rows, n) → (rows,), in one go.

    The lags that white noise needs are summed for all rows together; rows that need more are
    finished one by one, so that the result is :func:`integrated_autocorrelation_time`'s.
    """
    count = rows.shape[1]
    if count < 64:
        return np.array([integrated_autocorrelation_time(row) for row in rows])
    mean = rows.mean(axis=1)
    centred = rows - mean[:, None]
    variance = np.einsum("ij,ij->i", centred, centred)
    taus, running = np.ones(rows.shape[0]), np.ones(rows.shape[0])
    alive = np.flatnonzero(variance > 1e-24 * np.maximum(1.0, mean * mean) * count)
    left = centred if alive.size == rows.shape[0] else centred[alive]
    for lag in range(1, TOGETHER_LAGS + 1):
        running[alive] += (
            2.0 * np.einsum("ij,ij->i", left[:, lag:], left[:, :-lag]) / variance[alive]
        )
        more = lag < 5.0 * np.maximum(running[alive], 1.0)
        if not more.all():
            done = alive[~more]
            taus[done] = np.maximum(running[done], 1.0)
            alive, left = alive[more], left[more]
        if alive.size == 0:
            return taus
    for i in alive:
        taus[i] = _of_centred(centred[i], float(variance[i]))
    return taus


def _of_centred(centred: Floats, variance: float) -> float:
    """τ of a series whose mean was taken off; ``variance`` is its sum of squares."""
    count = centred.size
    tau = 1.0
    for lag in range(1, min(DIRECT_LAGS, count // 2 - 1) + 1):
        tau += 2.0 * float(centred[lag:] @ centred[:-lag]) / variance
        if lag >= 5.0 * max(tau, 1.0):
            return max(1.0, tau)
    padded = 1 << (2 * count - 1).bit_length()
    spectrum = np.fft.rfft(centred, padded)
    correlation = np.fft.irfft(spectrum * np.conj(spectrum), padded)[: count // 2] / variance
    times = 1.0 + 2.0 * np.cumsum(correlation[1:])
    lags = np.arange(1, times.size + 1)
    reached = np.flatnonzero(lags >= 5.0 * np.maximum(times, 1.0))
    tau = float(times[reached[0]] if reached.size else times[-1])
    return max(1.0, tau)


FEWEST_WORTH = 3.0
"""Below so many degrees of freedom Student's t has no standard deviation; fewer count as these."""

FEWEST_VALUES = 5.0
"""A stretch is taken for at least so many independent values: an estimate of τ beyond a fifth of
it is noise itself, and makes u large where it need not be (docs/computation.md)."""


def standard_error_of_mean(samples: Floats) -> float:
    """u of the mean of correlated samples, in the unit of the samples.

    √(s²·τ/n), with what a short stretch hides of itself put back. τ is underestimated by
    (2W + 1)/n with the window W = 5·τ (Wolff 2004, Comput. Phys. Commun. 156, 143); it is at
    least (1 + ρ)/(1 − ρ) of first-order noise, with the first correlation ρ freed of its bias
    (1 + 4ρ)/n (Marriott and Pope 1954, Biometrika 41, 390). The mean takes τ/n of the variance
    with it, and n/τ independent values scatter as Student's t, whose standard deviation is
    √(ν/(ν − 2)) (JCGM 101:2008, 6.4.9).

    :param samples: shape (n,), finite, n ≥ 2.
    """
    count = samples.size
    if count < 2:
        raise ReductionError("A mean's uncertainty needs two samples.", code="too_few")
    centred = samples - float(samples.sum()) / count
    squares = float(centred @ centred)
    share = mean_variance_share(time_for_a_mean(samples), count)
    return math.sqrt(squares / (count - 1) * share)


def time_for_a_mean(samples: Floats) -> float:
    """τ of a series, freed of what a short one hides of it [samples], shape (n,)."""
    count = samples.size
    if count < 4:
        return 1.0
    centred = samples - float(samples.sum()) / count
    squares = float(centred @ centred)
    if squares <= 1e-24 * max(1.0, float(samples[0]) ** 2) * count:
        return 1.0
    first = float(centred[1:] @ centred[:-1]) / squares
    return max(freed_of_bias(_of_centred(centred, squares), count), first_order(first, count))


def freed_of_bias(tau: float, count: int) -> float:
    """τ with what a series of ``count`` samples hides of it; 1 stays 1."""
    return tau * (1.0 + (10.0 * tau + 1.0) / count) if tau > 1.0 else 1.0


def first_order(correlation: float, count: int) -> float:
    """τ of first-order noise with this correlation of neighbours, at least 1."""
    known = min(0.999, correlation + (1.0 + 4.0 * correlation) / count)
    # A correlation that chance alone gives white noise counts as none.
    if known <= 2.0 / math.sqrt(count):
        return 1.0
    return (1.0 + known) / (1.0 - known)


def mean_variance_share(tau: float, count: int) -> float:
    """Variance of a mean ÷ s² of its ``count`` samples of autocorrelation time ``tau``."""
    tau = max(1.0, min(tau, count / FEWEST_VALUES))
    freedom = max(FEWEST_WORTH, count / tau - 1.0)
    taken = 1.0 - tau / count if tau > 1.0 else 1.0
    return tau / count / taken * freedom / (freedom - 2.0)
