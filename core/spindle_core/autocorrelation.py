"""How many independent samples a stretch of sampled noise is worth."""

from __future__ import annotations

import math

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.trace import Floats

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
    centred = samples - float(samples.sum()) / count
    variance = float(centred @ centred)
    if variance <= 1e-24 * max(1.0, float(samples @ samples) / count) * count:
        return 1.0
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


def standard_error_of_mean(samples: Floats) -> float:
    """u of the mean of correlated samples, √(s²·τ/n), in the unit of the samples.

    :param samples: shape (n,), finite, n ≥ 2.
    """
    if samples.size < 2:
        raise ReductionError("A mean's uncertainty needs two samples.", code="too_few")
    tau = integrated_autocorrelation_time(samples)
    centred = samples - float(samples.sum()) / samples.size
    variance = float(centred @ centred) / (samples.size - 1)
    return math.sqrt(variance * tau / samples.size)
