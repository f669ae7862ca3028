"""What is said of a run in hand, and what is not said yet."""

import math

import numpy as np
import pytest

from spindle_core.planning.underway import (
    after_stop,
    heating_so_far,
    kv_so_far,
    spread_so_far,
    torque_so_far,
)


def test_spread_of_none_one_and_three():
    assert spread_so_far([]) is None
    assert spread_so_far([math.nan]) is None
    one = spread_so_far([1182.0, math.inf])
    assert (one.mean, one.s, one.n) == (1182.0, None, 1)
    three = spread_so_far([1182.0, 1169.0, 1175.0])
    assert three.mean == pytest.approx(1175.33, abs=0.01)
    assert three.s == pytest.approx(6.51, abs=0.01)


def test_kv_needs_speed_and_voltage():
    assert kv_so_far(30_400.0, 16.0) == 1900.0
    for speed, volts in ((None, 16.0), (30_400.0, None), (0.0, 16.0), (30_400.0, 0.5)):
        assert kv_so_far(speed, volts) is None


def test_torque_of_a_wheel_is_inertia_times_its_gain():
    # 62 kg·mm² gaining 1,000 rad/s² takes 62 mN·m.
    times = [10.0, 10.05, 10.1, 10.15]
    speeds = [4000.0 + 1000.0 * (t - 10.0) * 30.0 / math.pi for t in times]
    assert torque_so_far(62.0, times, speeds) == pytest.approx(0.062)
    assert torque_so_far(62.0, times[:2], speeds[:2]) is None
    assert torque_so_far(62.0, [1.0, 1.0, 1.0], speeds[:3]) is None


@pytest.mark.parametrize("tau", [40.0, 60.0, 140.0, 300.0])
def test_a_heating_case_is_followed_to_its_end(tau):
    rng = np.random.default_rng(3)
    t = np.arange(0.0, 0.9 * tau, 2.0)
    c = 22.0 + 70.0 * (1.0 - np.exp(-t / tau)) + rng.normal(0, 0.15, t.size)
    found = heating_so_far(t, c, ceiling_c=80.0)
    assert found.final_c == pytest.approx(92.0, abs=5.0)
    # 80 °C is 58 K above the beginning: after tau · ln(70/12).
    assert t[-1] + found.reaches_in_s == pytest.approx(tau * math.log(70.0 / 12.0), rel=0.12)


def test_a_case_that_bends_early_is_not_taken_for_one_that_goes_on():
    t = np.arange(0.0, 36.0, 2.0)
    c = 39.0 + 26.0 * (1.0 - np.exp(-t / 20.0))
    found = heating_so_far(t, c, ceiling_c=95.0)
    assert found.final_c == pytest.approx(65.0, abs=4.0)
    assert found.reaches_in_s is None


def test_a_forecast_waits_until_it_can_be_made():
    t = np.arange(0.0, 4.0, 1.0)
    assert heating_so_far(t, 20.0 + t) is None
    t = np.arange(0.0, 30.0, 2.0)
    assert heating_so_far(t, np.full(t.size, 25.0) - 0.1 * t) is None
    assert heating_so_far(t, np.full(t.size, math.nan)) is None
    warm = 22.0 + 40.0 * (1.0 - np.exp(-t / 100.0))
    assert heating_so_far(t, warm, ceiling_c=500.0).reaches_in_s is None
    assert heating_so_far(t, warm, ceiling_c=10.0).reaches_in_s is None


def cooling(tau, *, soak_k=6.0, peak_s=15.0, air=22.0, at_stop=70.0, until=240.0):
    """A case that warms by ``soak_k`` for ``peak_s`` after the stop, and then cools."""
    t = np.arange(0.0, until, 0.5)
    top = at_stop + soak_k
    warm = at_stop + soak_k * (1 - np.exp(-t / (peak_s / 4)))
    cool = air + (top - air) * np.exp(-(t - peak_s) / tau)
    return t, np.where(t < peak_s, warm, cool)


def test_the_case_goes_on_warming_after_the_stop():
    t, c = cooling(140.0)
    early = after_stop(t[:16], c[:16], air_c=22.0)
    assert early.phase == "warming"
    late = after_stop(t, c, air_c=22.0)
    assert late.phase == "cooling"
    assert late.highest_c == pytest.approx(76.0, abs=0.5)


@pytest.mark.parametrize("tau", [70.0, 140.0, 400.0])
def test_ready_in_follows_how_the_case_really_cools(tau):
    t, c = cooling(tau, until=75.0)
    found = after_stop(t, c, air_c=22.0)
    truth = tau * math.log((c[-1] - 22.0) / 5.0)
    assert found.ready_in_s == pytest.approx(truth, rel=0.05)


def test_noise_of_a_reading_is_no_peak_that_passed():
    rng = np.random.default_rng(2)
    t = np.arange(0.0, 12.0, 0.5)
    c = 60.0 + 0.5 * t + rng.normal(0, 0.15, t.size)
    assert after_stop(t, c, air_c=22.0).phase == "warming"


def test_a_motor_that_never_warmed_is_ready_after_a_look():
    t = np.arange(0.0, 10.0, 0.5)
    assert after_stop(t[:4], np.full(4, 23.0), air_c=22.0).phase == "warming"
    found = after_stop(t, np.full(t.size, 23.0), air_c=22.0)
    assert (found.phase, found.ready_in_s) == ("ready", 0.0)


def test_after_a_stop_without_readings_nothing_is_said():
    assert after_stop([], [], air_c=22.0) is None
    assert after_stop([1.0], [math.nan], air_c=22.0) is None
    assert after_stop([1.0], [50.0], air_c=math.nan) is None
    assert after_stop([1.0], [50.0], air_c=22.0).phase == "warming"
    # A case below the air (a cold cellar's motor) is near it.
    t = np.arange(0.0, 10.0, 0.5)
    assert after_stop(t, np.full(t.size, 15.0), air_c=22.0).phase == "ready"


def test_a_case_that_stands_still_for_a_moment_has_not_passed_its_peak():
    wobble = 0.15 * np.array([0, 1, -1, 1, 0, -1, 1, -1])
    t = 0.5 * np.arange(wobble.size)
    assert after_stop(t, 60.0 + wobble, air_c=22.0).phase == "warming"
