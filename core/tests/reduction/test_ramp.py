"""Sweeps: points on the true curve, lags found, and what is said when they cannot be."""

import dataclasses

import numpy as np
import pytest
from runs import sweep_run, sweep_thrust_gf

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent
from spindle_core.reduction import reduce_trace
from spindle_core.run.trace import Trace


def errors_gf(result):
    """Error of each point's thrust against the true curve [gf], with its u."""
    return [
        (figure.value - sweep_thrust_gf(point.value("throttle_pct")), figure.u)
        for point in result.points
        if not isinstance(figure := point.figures["thrust_gf"], Absent)
    ]


def codes(result):
    return [warning.code for warning in result.warnings]


def test_points_stand_on_even_throttles_two_percent_apart():
    result = reduce_trace(sweep_run())
    throttles = [point.value("throttle_pct") for point in result.points]
    assert throttles[:3] == [2.0, 4.0, 6.0]
    assert throttles[-2] == 98.0
    assert 99.0 < throttles[-1] <= 100.0


def test_an_up_sweep_takes_its_lag_from_the_decay_after_the_cut():
    result = reduce_trace(sweep_run(lag_s=0.12))
    assert codes(result) == []
    assert result.summary["thrust_gf_lag_s"].value == pytest.approx(0.12, abs=0.01)
    # Uncorrected, thrust would be 0.12 s · 5 %/s · 12 gf/% = 7 gf low at mid-throttle.
    assert max(abs(error) for error, _ in errors_gf(result)) < 1.5
    # The slowest sensor saw 99.4 % when the throttle was cut; nothing is read beyond.
    assert result.summary["max_thrust_gf"].value == pytest.approx(1189.2, abs=3.0)


def test_a_sweep_up_and_down_shows_half_its_hysteresis_as_lag():
    result = reduce_trace(sweep_run(down=True, lag_s=0.12))
    assert result.summary["thrust_gf_lag_s"].value == pytest.approx(0.12, abs=0.006)
    assert abs(result.summary["current_a_lag_s"].value) < 0.005
    inner = errors_gf(result)[2:-2]
    assert max(abs(error) for error, _ in inner) < 1.0


def test_a_declared_lag_is_used():
    result = reduce_trace(
        sweep_run(
            watch_s=0.1, lag_s=0.1, lags_s={"thrust_gf": 0.1, "speed_rpm": 0.1, "current_a": 0.0}
        )
    )
    assert "lag_unknown" not in codes(result)
    assert max(abs(error) for error, _ in errors_gf(result)[2:]) < 1.5


def test_without_decay_or_declaration_the_lag_is_unknown_and_said():
    result = reduce_trace(sweep_run(watch_s=0.1))
    assert "lag_unknown" in codes(result)
    assert result.summary["thrust_gf_lag_s"].reason == "lag_unknown"


def test_u_of_a_point_is_that_of_its_noise():
    result = reduce_trace(sweep_run(lag_s=0.0, noise_gf=2.0))
    # 2 % of a 20 s sweep at 200 Hz are 80 samples: 2 gf ÷ √80 = 0.22 gf.
    us = [u for _, u in errors_gf(result)[1:-1]]
    assert np.median(us) == pytest.approx(2.0 / np.sqrt(80), rel=0.15)


@pytest.mark.parametrize(("rate_hz", "up_s"), [(10.0, 40.0), (2000.0, 6.0)])
def test_from_ten_hertz_to_two_kilohertz(rate_hz, up_s):
    result = reduce_trace(
        sweep_run(rate_hz=rate_hz, up_s=up_s, lag_s=0.2 if rate_hz < 50 else 0.02)
    )
    # At 10 Hz the cut is seen to a tenth of a second, and that is the error of the lag.
    allowed = 6.0 if rate_hz < 50 else 2.0
    assert max(abs(error) for error, _ in errors_gf(result)) < allowed


def test_jittered_time_stamps_change_little():
    result = reduce_trace(sweep_run(rate_hz=100.0, jitter_s=0.005))
    assert max(abs(error) for error, _ in errors_gf(result)) < 2.5


def test_outliers_and_lost_speed_are_left_out_and_counted():
    trace = sweep_run(noise_gf=1.0)
    thrust, speed = (trace.channels[name].copy() for name in ("thrust_gf", "speed_rpm"))
    thrust[700::97] += 400.0
    speed[2000:2060] = 0.0
    spoilt = dataclasses.replace(
        trace, channels={**trace.channels, "thrust_gf": thrust, "speed_rpm": speed}
    )
    result = reduce_trace(spoilt)
    hit = [i for i in range(700, trace.size, 97) if 600 < i < 4600]
    found = {round(o.time_s * 200) for o in result.outliers if o.channel == "thrust_gf"}
    assert found >= set(hit)
    assert "lost_rpm" in codes(result)
    assert max(abs(error) for error, _ in errors_gf(result)) < 2.0
    speeds = [
        p.figures["speed_rpm"].value / np.sqrt(p.value("throttle_pct")) for p in result.points[5:]
    ]
    assert speeds == pytest.approx([2000.0] * len(speeds), rel=0.01)


def test_a_run_cut_short_gives_the_points_it_reached():
    trace = sweep_run()
    result = reduce_trace(trace.until(int(trace.size * 0.5)))
    assert "ended_under_throttle" in codes(result)
    assert result.points[-1].value("throttle_pct") < 56.0
    assert isinstance(result.summary["top_end_ratio"], Absent)


def test_without_throttle_points_are_ordered_by_speed_and_carry_none():
    trace = sweep_run()
    channels = {k: v for k, v in trace.channels.items() if k != "throttle_pct"}
    result = reduce_trace(dataclasses.replace(trace, channels=channels))
    assert "no_throttle" in codes(result)
    assert all(isinstance(p.figures["throttle_pct"], Absent) for p in result.points)
    assert result.summary["max_thrust_gf"].value == pytest.approx(1190.0, rel=0.03)


def test_missing_channels_leave_their_figures_absent_with_a_reason():
    trace = sweep_run()
    only = {name: trace.channels[name] for name in ("throttle_pct", "thrust_gf")}
    result = reduce_trace(dataclasses.replace(trace, channels=only))
    assert result.summary["max_thrust_gf"].value > 1100
    assert result.summary["max_power_w"].reason == "not_logged"
    assert result.points[10].figures["torque_nm"].reason == "not_logged"


def test_throttle_in_microseconds_is_read_as_percent_and_said():
    trace = sweep_run()
    micro = {**trace.channels, "throttle_pct": 1000.0 + 10.0 * trace.channels["throttle_pct"]}
    result = reduce_trace(dataclasses.replace(trace, channels=micro))
    assert "throttle_us" in codes(result)
    assert result.points[0].value("throttle_pct") == 2.0


def test_a_jump_is_no_sweep():
    time = np.arange(0, 6, 0.01)
    throttle = np.where(time > 2, 100.0, 0.0)
    with pytest.raises(ReductionError) as caught:
        reduce_trace(Trace(time, {"throttle_pct": throttle, "thrust_gf": throttle * 10}, "ramp"))
    assert caught.value.code == "no_sweep"
