"""The strongest moment of a burst, where the fit has few samples or does not follow a rush."""

import math

import numpy as np
import pytest

from spindle_core.reduction.bursts import strongest


def test_of_few_samples_the_noise_is_that_of_the_steps_between_neighbours():
    """Steps of 4, 4 and 4: σ = 4/√2; the mean of two samples has σ/√2 = 2."""
    found = strongest(np.array([100.0, 104.0, 100.0, 104.0]), 2, 0.02)
    assert found.value == pytest.approx(102.0)
    assert found.u == pytest.approx(2.0)


def test_two_equal_samples_scatter_by_nothing_and_one_alone_by_nothing_that_is_known():
    assert strongest(np.array([100.0, 100.0]), 1, 0.02).u == 0.0
    assert strongest(np.array([100.0]), 1, 0.02).u == 0.0


RATE_HZ, WINDOW = 500.0, 25
SIGMA = 2.0


def burst_with(rush, seed=3):
    """Two seconds at 500 Hz: a level of 1,000 with noise, and a rush on top of it."""
    rng = np.random.default_rng(seed)
    time_s = np.arange(1000) / RATE_HZ
    return time_s, 1000.0 + rush(time_s) + rng.normal(scale=SIGMA, size=time_s.size)


def test_a_rush_that_no_decay_follows_keeps_its_peak():
    """A square rush of 60 ms: no sum of decays has its edges, so its samples are its shape."""
    time_s, samples = burst_with(lambda t: np.where((t > 0.1) & (t < 0.16), 500.0, 0.0))
    found = strongest(samples, WINDOW, 1.0 / RATE_HZ)
    assert 0.12 < time_s[found.at] < 0.14
    assert found.value == pytest.approx(1500.0, abs=4.0 * SIGMA / math.sqrt(WINDOW))
    # Its u is that of the risen part's noise in a mean of 25, and not of the misfit in the rush.
    assert SIGMA / math.sqrt(WINDOW) * 0.7 < found.u < 4.0 * SIGMA / math.sqrt(WINDOW)


def test_a_decay_is_followed_and_gives_no_more_than_it_has():
    """A decay of 0.1 s: the mean of its first 50 ms is 1,000 + 200·(1 − e^−½)/½."""
    values = [
        strongest(burst_with(lambda t: 200.0 * np.exp(-t / 0.1), seed)[1], WINDOW, 1 / RATE_HZ)
        for seed in range(12)
    ]
    true = 1000.0 + 200.0 * float(np.mean(np.exp(-np.arange(WINDOW) / RATE_HZ / 0.1)))
    mean = np.mean([found.value for found in values])
    assert mean == pytest.approx(true, abs=3.0 * SIGMA / math.sqrt(WINDOW * 12))
