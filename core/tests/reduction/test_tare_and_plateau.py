"""Zeros and plateaus, each on its own."""

import numpy as np
import pytest

from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction.plateau import find_plateaus, least_dropped_s, settle, slope_with_error
from spindle_core.reduction.throttle_feel import low_throttle_slope, ols_slope, top_end_slopes
from spindle_core.run.tare import find_tare
from spindle_core.run.trace import Trace

TIME = np.arange(0, 20, 0.01)
RUNNING = (TIME >= 5) & (TIME < 12)


def zeros(before, after):
    rng = np.random.default_rng(1)
    samples = np.where(TIME < 5, before, np.where(RUNNING, 800.0, after))
    return samples + rng.normal(scale=0.5, size=TIME.size)


def test_tare_is_the_median_at_rest_and_its_drift():
    tare = find_tare(TIME, zeros(10.0, 16.0), at_rest=~RUNNING)
    assert tare.before.value == pytest.approx(10.0, abs=0.1)
    assert tare.after.value == pytest.approx(16.0, abs=0.1)
    drift = tare.drift()
    assert drift.value == pytest.approx(6.0, abs=0.15)
    assert 0.01 < drift.u < 0.1


def test_the_second_after_the_stop_does_not_count():
    samples = zeros(10.0, 10.0)
    samples[(TIME >= 12) & (TIME < 13)] = 300.0
    tare = find_tare(TIME, samples, at_rest=~RUNNING)
    assert tare.after.value == pytest.approx(10.0, abs=0.1)


def test_the_zero_is_linear_between_the_midpoints_and_constant_outside():
    tare = find_tare(TIME, zeros(10.0, 16.0), at_rest=~RUNNING)
    corrected = tare.apply(TIME, np.zeros_like(TIME))
    middle = 0.5 * (tare.before.mid_s + tare.after.mid_s)
    assert np.interp(middle, TIME, -corrected) == pytest.approx(13.0, abs=0.1)
    assert -corrected[0] == pytest.approx(10.0, abs=0.1)
    assert -corrected[-1] == pytest.approx(16.0, abs=0.1)


def test_without_a_second_zero_the_drift_is_absent():
    cut = TIME < 12.5
    tare = find_tare(TIME[cut], zeros(10.0, 10.0)[cut], at_rest=~RUNNING[cut])
    assert tare.after is None
    assert tare.drift().reason == "no_second_zero"
    assert tare.present


def throttle_trace(*levels, dwell=2.0):
    throttle = np.repeat([0.0, *levels, 0.0], round(dwell * 100))
    return Trace(np.arange(throttle.size) * 0.01, {"throttle_pct": throttle})


def test_plateaus_are_where_the_command_stands_still():
    found = find_plateaus(throttle_trace(20, 50, 90))
    assert [p.level for p in found.plateaus] == [20, 50, 90]
    assert [p.stop - p.start for p in found.plateaus] == [200, 200, 200]


def test_a_ramp_and_a_short_stop_are_no_plateaus():
    assert find_plateaus(throttle_trace(50, dwell=1.2)).plateaus == ()
    ramp = np.concatenate([np.zeros(100), np.linspace(0, 100, 2000), np.zeros(100)])
    trace = Trace(np.arange(ramp.size) * 0.01, {"throttle_pct": ramp})
    assert find_plateaus(trace).plateaus == ()


def test_commands_logged_only_when_they_change_hold_until_the_next():
    trace = throttle_trace(40)
    sparse = trace.channels["throttle_pct"].copy()
    sparse[np.r_[1:200, 201:400, 401:600]] = np.nan
    found = find_plateaus(Trace(trace.time_s, {"throttle_pct": sparse}))
    assert [p.level for p in found.plateaus] == [40]


def test_at_least_half_a_second_or_a_fifth_is_dropped():
    assert least_dropped_s(1.5) == 0.5
    assert least_dropped_s(6.0) == pytest.approx(1.2)


def test_a_steady_plateau_is_settled_at_once_and_a_drift_never():
    trace = throttle_trace(50, dwell=4.0)
    (plateau,) = find_plateaus(trace).plateaus
    rng = np.random.default_rng(2)
    steady = 600 + rng.normal(size=trace.size)
    used = settle(trace, plateau, [steady])
    assert used.settled
    assert trace.time_s[used.start] - trace.time_s[plateau.start] == pytest.approx(0.8, abs=0.02)
    drifting = steady + 10 * trace.time_s
    assert not settle(trace, plateau, [drifting]).settled


def test_slope_and_its_error():
    x = np.linspace(0, 10, 400)
    slopes = [
        slope_with_error(x, 3 * x + np.random.default_rng(s).normal(size=400)) for s in range(60)
    ]
    values = [slope for slope, _ in slopes]
    assert np.mean(values) == pytest.approx(3.0, abs=0.01)
    assert np.mean([error for _, error in slopes]) == pytest.approx(np.std(values), rel=0.3)


def test_slopes_of_the_throttle_curve():
    throttle = np.array([10.0, 20, 50, 60, 70, 80, 90, 100])
    thrust = np.where(throttle <= 80, 12 * throttle, 960 + 4 * (throttle - 80))
    thrust = [Measured(float(t), {f"within_run@{i}": 0.5}) for i, t in enumerate(thrust)]
    low = low_throttle_slope(throttle, thrust)
    assert low.value == pytest.approx(12.0)
    # Through 0, 10 and 20: weights −1, 0, 1 over 20, so u = 0.5/20.
    assert low.u == pytest.approx(0.025)
    top, middle = top_end_slopes(throttle, thrust)
    assert (top.value, middle.value) == (pytest.approx(4.0), pytest.approx(12.0))
    assert isinstance(ols_slope(throttle[:1], thrust[:1]), Absent)
    assert low_throttle_slope(throttle[2:], thrust[2:]).reason == "not_measured"


def test_ranges_of_throttle_that_were_not_run_have_no_slope():
    """A run to 92 % has no 90–100 %, one to 12 % no 0–20 %, and 70–80 % are no 50–80 %."""
    throttle = np.array([8.0, 12, 70, 75, 80, 90, 92])
    thrust = [Measured(12.0 * t, {f"within_run@{t}": 0.5}) for t in throttle]
    top, middle = top_end_slopes(throttle, thrust)
    assert top.reason == "no_full_throttle"
    assert middle.reason == "too_few_points"
    assert low_throttle_slope(throttle[:2], thrust[:2]).reason == "not_measured"
    whole = np.array([8.0, 16, 60, 80, 90, 99])
    figures = [Measured(12.0 * t) for t in whole]
    assert low_throttle_slope(whole, figures).value == pytest.approx(12.0)
    assert [s.value for s in top_end_slopes(whole, figures)] == pytest.approx([12.0, 12.0])
