"""Wild samples and correlated noise, each on its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.autocorrelation import (
    integrated_autocorrelation_time,
    integrated_autocorrelation_times,
    standard_error_of_mean,
)
from spindle_core.errors import ReductionError
from spindle_core.outliers import outlier_mask


def autoregressive(count, coefficient, seed):
    rng = np.random.default_rng(seed)
    series = np.empty(count)
    state = 0.0
    for i, kick in enumerate(rng.normal(size=count)):
        state = coefficient * state + np.sqrt(1 - coefficient**2) * kick
        series[i] = state
    return series


@pytest.mark.parametrize("coefficient", [0.5, 0.8, 0.95])
def test_autocorrelation_time_of_a_known_process(coefficient):
    """AR(1): τ = (1 + a)/(1 − a), Sokal 1997."""
    times = [
        integrated_autocorrelation_time(autoregressive(40_000, coefficient, seed))
        for seed in range(4)
    ]
    assert np.mean(times) == pytest.approx((1 + coefficient) / (1 - coefficient), rel=0.15)


def test_white_noise_and_constants_count_whole():
    white = np.random.default_rng(1).normal(size=5000)
    assert integrated_autocorrelation_time(white) == pytest.approx(1.0, abs=0.15)
    assert integrated_autocorrelation_time(np.full(100, 3.0)) == 1.0
    assert integrated_autocorrelation_time(np.array([1.0, 2.0])) == 1.0


def test_anti_correlated_noise_is_never_better_than_white():
    assert integrated_autocorrelation_time(autoregressive(5000, -0.8, 2)) == 1.0


def test_standard_error_covers_the_spread_of_means():
    means = [autoregressive(400, 0.8, seed).mean() for seed in range(300)]
    stated = [standard_error_of_mean(autoregressive(400, 0.8, seed)) for seed in range(40)]
    assert np.mean(stated) == pytest.approx(np.std(means), rel=0.2)


def test_a_mean_of_one_has_no_error():
    with pytest.raises(ReductionError):
        standard_error_of_mean(np.array([1.0]))


@given(
    st.lists(st.integers(20, 179), min_size=1, max_size=6, unique=True),
    st.sampled_from([-1.0, 1.0]),
)
def test_single_spikes_are_found_wherever_they_stand(places, sign):
    clean = np.random.default_rng(5).normal(size=200)
    spiked = clean.copy()
    spiked[places] += sign * 30.0
    found = set(np.flatnonzero(outlier_mask(spiked)))
    assert set(places) <= found
    assert len(found) <= len(places) + 1


def test_clean_noise_loses_almost_nothing():
    lost = sum(
        outlier_mask(np.random.default_rng(seed).normal(size=600)).sum() for seed in range(40)
    )
    assert lost <= 3


def test_a_slow_drift_is_no_outlier():
    drift = np.linspace(0, 500, 400) + np.random.default_rng(3).normal(size=400)
    assert outlier_mask(drift).sum() == 0


def test_missing_samples_stay_missing_and_are_not_outliers():
    data = np.random.default_rng(4).normal(size=100)
    data[::5] = np.nan
    data[42] = 50.0
    assert np.flatnonzero(outlier_mask(data)).tolist() == [42]


def test_too_few_samples_are_left_alone():
    assert not outlier_mask(np.array([1.0, 1.0, 99.0])).any()


def test_times_of_several_series_are_each_series_own():
    rng = np.random.default_rng(6)
    white = rng.normal(size=(3, 900))
    slow = np.cumsum(rng.normal(size=900))
    smooth = np.convolve(rng.normal(size=911), np.ones(12) / 12, mode="valid")
    rows = np.vstack((white, slow, smooth, np.full(900, 3.0)))
    together = integrated_autocorrelation_times(rows)
    assert together == pytest.approx([integrated_autocorrelation_time(row) for row in rows])
    assert together[-1] == 1.0
    assert together[3] > 20
    short = rows[:, :40]
    assert integrated_autocorrelation_times(short) == pytest.approx(
        [integrated_autocorrelation_time(row) for row in short]
    )


@pytest.mark.parametrize("count", [1600, 2047, 2048, 5000, 53_111])
@pytest.mark.parametrize("size", [12.0, 300.0])
def test_in_long_series_every_wild_sample_is_found_in_every_place(count, size):
    """Alone, in pairs, at both ends, and where the noise grows along the series."""
    rng = np.random.default_rng(count)
    sigma = np.linspace(1.0, 3.0, count)
    data = 0.01 * np.arange(count) + sigma * rng.normal(size=count)
    places = np.array([3, 15, 16, 17, count // 2, count // 2 + 1, count - 18, count - 2])
    data[places] = 0.01 * places + size * sigma[places] * np.where(places % 2, 1.0, -1.0) * 1.2
    found = np.flatnonzero(outlier_mask(data))
    assert set(places) <= set(found)
    assert len(set(found) - set(places)) <= 1


def test_a_long_series_of_coarse_steps_is_looked_at_by_its_jumps():
    rng = np.random.default_rng(3)
    data = np.round(np.linspace(0.0, 30.0, 20_000) + 0.05 * rng.normal(size=20_000))
    data[7_000] = 90.0
    assert np.flatnonzero(outlier_mask(data)).tolist() == [7_000]
