"""Wild samples and correlated noise, each on its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_core.errors import ReductionError
from spindle_core.figures.autocorrelation import (
    first_order,
    freed_of_bias,
    integrated_autocorrelation_time,
    integrated_autocorrelation_times,
    mean_variance_share,
    standard_error_of_mean,
)
from spindle_core.figures.outliers import outlier_mask


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
    means = [autoregressive(2000, 0.8, seed).mean() for seed in range(300)]
    stated = [standard_error_of_mean(autoregressive(2000, 0.8, seed)) for seed in range(40)]
    assert np.mean(stated) == pytest.approx(np.std(means), rel=0.15)


@pytest.mark.parametrize(
    ("count", "coefficient"), [(200, 0.9), (400, 0.95), (100, 0.8), (200, 0.0), (40, 0.0)]
)
def test_intervals_of_short_and_correlated_stretches_hold_the_truth(count, coefficient):
    """φ = 0.9 and 200 samples are worth ten: 2 u must still hold 95 of 100 means."""
    rows = [autoregressive(count, coefficient, 1000 + seed) for seed in range(400)]
    inside = np.mean([abs(row.mean()) <= 1.96 * standard_error_of_mean(row) for row in rows])
    assert 0.92 <= inside <= 0.985


def test_the_share_of_a_mean_by_hand():
    # White: 1/n, widened as Student's t with n − 1 degrees of freedom.
    assert mean_variance_share(1.0, 100) == pytest.approx(0.01 * 99 / 97)
    # τ 10 of 100: 10/100 ÷ (1 − 10/100), with ν = 9.
    assert mean_variance_share(10.0, 100) == pytest.approx(0.1 / 0.9 * 9 / 7)
    # Never worth less than five values, never fewer than three degrees of freedom.
    assert mean_variance_share(1e9, 100) == pytest.approx(0.2 / 0.8 * 4 / 2)
    assert mean_variance_share(1.0, 3) == pytest.approx(1.0)
    assert first_order(0.9 - 4.6 / 200, 200) == pytest.approx(19.0, rel=0.02)
    assert first_order(0.1, 100) == 1.0
    assert freed_of_bias(1.0, 50) == 1.0
    assert freed_of_bias(5.0, 100) == pytest.approx(5.0 * 1.51)


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
