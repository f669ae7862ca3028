"""Throttle steps: times, slopes and dead time of a motor whose response is known."""

import numpy as np
import pytest

from spindle_core.errors import ReductionError
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.response import find_edges
from spindle_core.run.trace import Trace


def response_run(
    *,
    cycles=5,
    rate_hz=1000.0,
    dead_s=0.02,
    up_tau=0.08,
    down_tau=0.2,
    noise=5.0,
    jitter_s=0.0,
    seed=1,
):
    """15 → 55 → 15 %, speeds 6,000 and 15,000 rpm, first-order after a dead time."""
    step = 1.0 / rate_hz
    schedule = [(0.0, 2.0), (15.0, 2.0)] + [(55.0, 1.5), (15.0, 1.5)] * cycles + [(0.0, 2.0)]
    throttle = np.concatenate([np.full(round(s * rate_hz), level) for level, s in schedule])
    target = np.select([throttle > 40, throttle > 5], [15_000.0, 6_000.0], 0.0)
    delayed = np.concatenate((np.zeros(round(dead_s * rate_hz)), target))[: target.size]
    speed, now = np.empty(target.size), 0.0
    for i, value in enumerate(delayed):
        tau = up_tau if value > now else down_tau
        now += (1.0 - np.exp(-step / tau)) * (value - now)
        speed[i] = now
    rng = np.random.default_rng(seed)
    speed = np.where(speed > 100, speed + rng.normal(scale=noise, size=speed.size), speed)
    time = np.arange(speed.size) * step
    if jitter_s:
        time = np.sort(time + rng.uniform(-jitter_s, jitter_s, time.size))
        time -= time[0]
    return Trace(time, {"throttle_pct": throttle, "speed_rpm": speed}, "response")


def test_rise_and_fall_are_those_of_the_time_constants():
    summary = reduce_trace(response_run()).summary
    # 10–90 % of a first-order rise takes τ·ln 9.
    assert summary["rise_time_s"].value == pytest.approx(0.08 * np.log(9), rel=0.01)
    assert summary["fall_time_s"].value == pytest.approx(0.2 * np.log(9), rel=0.01)
    assert summary["cycles"].value == 5.0


def test_acceleration_is_the_least_squares_slope_between_ten_and_ninety_percent():
    summary = reduce_trace(response_run(noise=0.5)).summary
    time = np.linspace(0.08 * -np.log(0.9), 0.08 * -np.log(0.1), 20_000)
    truth = np.polyfit(time, 6_000 + 9_000 * (1 - np.exp(-time / 0.08)), 1)[0]
    assert summary["accel_rpm_per_s"].value == pytest.approx(truth, rel=0.01)
    assert summary["decel_rpm_per_s"].value == pytest.approx(truth * 0.08 / 0.2, rel=0.01)


@pytest.mark.parametrize("rate_hz", [60.0, 125.0, 240.0, 500.0])
def test_the_slope_is_the_same_however_often_speed_is_logged(rate_hz):
    """The two ends fall between samples; counted as whole samples they would pull at the line."""
    often, seldom = (
        reduce_trace(response_run(rate_hz=hz, noise=0.5, dead_s=0.0)).summary["decel_rpm_per_s"]
        for hz in (4000.0, rate_hz)
    )
    assert seldom.value == pytest.approx(often.value, rel=0.001)


def test_dead_time_is_counted_from_the_command_to_the_first_departure():
    summary = reduce_trace(response_run(dead_s=0.03)).summary
    assert summary["dead_time_s"].value == pytest.approx(0.031, abs=0.002)
    assert summary["dead_time_down_s"].value == pytest.approx(0.031, abs=0.002)


def test_u_comes_from_the_spread_between_cycles():
    calm, noisy = (reduce_trace(response_run(noise=n)).summary["rise_time_s"] for n in (3.0, 60.0))
    assert calm.n == noisy.n == 1  # cycles of one run are no runs
    assert calm.samples == 5
    assert noisy.component("within_run") > 5 * calm.component("within_run") > 0
    # Between two samples of 1 ms nobody knows the instant, however calm the cycles.
    assert calm.component("resolution") == pytest.approx(0.001 / np.sqrt(6))


def test_jitter_of_five_milliseconds_is_averaged_out():
    summary = reduce_trace(response_run(rate_hz=200.0, jitter_s=0.005)).summary
    assert summary["rise_time_s"].value == pytest.approx(0.08 * np.log(9), rel=0.06)


def test_starts_and_stops_are_no_response():
    trace = response_run(cycles=2)
    edges = find_edges(trace.time_s, trace.channels["throttle_pct"])
    assert [(e.from_pct, e.to_pct) for e in edges] == [
        (0, 15),
        (15, 55),
        (55, 15),
        (15, 55),
        (55, 15),
        (15, 0),
    ]
    points = reduce_trace(trace).points
    assert {p.value("from_throttle_pct") for p in points} == {15.0, 55.0}


def test_no_step_is_an_error():
    time = np.arange(0, 5, 0.01)
    flat = {"throttle_pct": np.full(time.size, 30.0), "speed_rpm": np.full(time.size, 9e3)}
    with pytest.raises(ReductionError) as caught:
        reduce_trace(Trace(time, flat, "response"))
    assert caught.value.code == "no_step"
