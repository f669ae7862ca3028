"""Reduction of plateaus: tare, outliers, settling, means and the summary."""

import dataclasses

import numpy as np
import pytest
from runs import plateau_run

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.run.trace import Trace


def changed(trace, **channels):
    return dataclasses.replace(trace, channels={**trace.channels, **channels})


def codes(result):
    return [warning.code for warning in result.warnings]


def test_a_point_per_plateau_with_true_values():
    result = reduce_trace(plateau_run())
    assert [round(p.value("throttle_pct")) for p in result.points] == [20, 40, 60, 80, 100]
    for point in result.points:
        truth = 12.0 * point.value("throttle_pct")
        thrust = point.figures["thrust_gf"]
        assert abs(thrust.value - truth) < 4 * thrust.u
        assert 0.05 < thrust.u < 0.6
        assert point.settled


def test_no_warning_for_a_clean_run():
    assert codes(reduce_trace(plateau_run())) == []


def test_drifting_zero_is_taken_out_as_a_line_and_reported():
    result = reduce_trace(plateau_run(zero_before=12.0, zero_after=42.0))
    drift = result.summary["tare_drift_gf"]
    # The after-tare's own samples drift on for half their length; the midpoints carry the line.
    assert drift.value == pytest.approx(30.0, abs=1.5)
    assert result.points[-1].value("thrust_gf") == pytest.approx(1200.0, abs=2.0)
    assert "tare_drift" in codes(result)


def test_zero_is_held_constant_when_there_is_only_one():
    trace = plateau_run(zero_before=30.0, zero_after=30.0)
    cut = int(np.flatnonzero(trace.channels["throttle_pct"] == 100)[-1]) + 1
    short = Trace(trace.time_s[:cut], {k: v[:cut] for k, v in trace.channels.items()})
    result = reduce_trace(short)
    assert isinstance(result.summary["tare_drift_gf"], Absent)
    assert result.points[0].value("thrust_gf") == pytest.approx(240.0, abs=1.5)
    assert "ended_under_throttle" in codes(result)


def test_without_any_zero_thrust_stays_as_given_and_says_so():
    trace = plateau_run(rest_s=0.0, zero_before=30.0, zero_after=30.0)
    result = reduce_trace(trace)
    assert "tare_missing" in codes(result)
    assert result.points[-1].value("thrust_gf") == pytest.approx(1230.0, abs=1.5)
    assert result.summary["low_throttle_slope_gf_per_pct"].reason == "untared"


def test_one_percent_wild_samples_do_not_move_the_means():
    clean = plateau_run(seed=3)
    rng = np.random.default_rng(0)
    thrust = clean.channels["thrust_gf"].copy()
    hit = rng.choice(thrust.size, thrust.size // 100, replace=False)
    thrust[hit] += rng.choice([-400.0, 600.0], hit.size)
    result = reduce_trace(changed(clean, thrust_gf=thrust))
    reference = reduce_trace(clean)
    for point, expected in zip(result.points, reference.points, strict=True):
        assert point.value("thrust_gf") == pytest.approx(expected.value("thrust_gf"), abs=0.4)
    listed = {outlier.time_s for outlier in result.outliers}
    averaged = [
        time
        for time in clean.time_s[hit]
        if any(p.used_from_s <= time <= p.end_s for p in result.points)
    ]
    assert len(averaged) > 15
    assert listed.issuperset(averaged)
    assert "outliers" in codes(result)


def test_quantised_data_loses_no_steps():
    trace = plateau_run(noise_gf=0.6)
    rounded = np.round(trace.channels["thrust_gf"])
    result = reduce_trace(changed(trace, thrust_gf=rounded))
    assert not [o for o in result.outliers if o.channel == "thrust_gf"]


def test_speed_lost_while_the_motor_still_settles_is_named_too():
    trace = plateau_run()
    third = trace.time_s[np.flatnonzero(trace.channels["throttle_pct"] == 60.0)[0]]
    lost = (trace.time_s > third + 0.1) & (trace.time_s < third + 0.3)
    trace.channels["speed_rpm"][lost] = 0.0
    result = reduce_trace(trace)
    assert "lost_rpm" in codes(result)
    assert result.points[2].value("speed_rpm") == pytest.approx(250.0 * 60.0, rel=2e-3)


def test_lost_speed_is_left_out_and_named():
    trace = plateau_run()
    speed = trace.channels["speed_rpm"].copy()
    inside = np.flatnonzero(trace.channels["throttle_pct"] == 60)
    speed[inside[250:330]] = 0.0
    result = reduce_trace(changed(trace, speed_rpm=speed))
    assert "lost_rpm" in codes(result)
    assert result.points[2].value("speed_rpm") == pytest.approx(15_000, abs=5)


def test_impossible_samples_are_masked_and_counted():
    trace = plateau_run()
    volts = trace.channels["voltage_v"].copy()
    volts[::50] = 6553.5
    result = reduce_trace(changed(trace, voltage_v=volts))
    assert "impossible_samples" in codes(result)
    assert result.points[-1].value("voltage_v") == pytest.approx(15.7, abs=0.01)


def test_a_plateau_that_never_settles_is_marked():
    trace = plateau_run(levels=(50,), dwell_s=3.0, time_constant_s=4.0)
    result = reduce_trace(trace)
    assert not result.points[0].settled
    assert "unsettled" in codes(result)


def test_slow_settling_uses_a_later_part():
    quick = reduce_trace(plateau_run(levels=(50,), dwell_s=6.0)).points[0]
    slow = reduce_trace(plateau_run(levels=(50,), dwell_s=6.0, time_constant_s=0.3)).points[0]
    assert quick.used_from_s - quick.start_s == pytest.approx(1.2, abs=0.02)
    assert slow.used_from_s > quick.used_from_s + 0.5
    assert slow.settled
    assert slow.value("thrust_gf") == pytest.approx(600, abs=2)


def test_correlated_noise_is_worth_fewer_samples():
    white = reduce_trace(plateau_run(seed=5)).points[2].figures["thrust_gf"]
    tied = reduce_trace(plateau_run(seed=5, correlation=0.9)).points[2].figures["thrust_gf"]
    # An AR(1) series with coefficient 0.9 has τ = (1 + 0.9)/(1 − 0.9) = 19.
    assert tied.u / white.u == pytest.approx(np.sqrt(19), rel=0.5)


def test_stated_uncertainty_covers_the_truth():
    """k = 2 intervals of thrust over seeded runs with correlated noise hold the truth."""
    inside = total = 0
    for seed in range(40):
        for point in reduce_trace(plateau_run(seed=seed, correlation=0.7)).points:
            thrust = point.figures["thrust_gf"]
            total += 1
            inside += abs(thrust.value - 12.0 * point.value("throttle_pct")) <= 2 * thrust.u
    assert 0.88 <= inside / total <= 0.995


def test_power_is_the_mean_of_the_product():
    trace = plateau_run(levels=(50,))
    time = trace.time_s
    swing = np.where(trace.channels["throttle_pct"] > 0, np.sin(2 * np.pi * 5 * time), 0.0)
    volts, amps = 16.0 - 2.0 * swing, 20.0 + 8.0 * swing
    result = reduce_trace(changed(trace, voltage_v=volts, current_a=amps))
    # ⟨(16 − 2s)(20 + 8s)⟩ = 320 − 16·⟨s²⟩ = 312 W, not 320 W.
    assert result.points[0].value("power_w") == pytest.approx(312.0, abs=0.5)


def test_a_meter_that_disagrees_is_flagged():
    trace = plateau_run(levels=(50,))
    logged = 1.05 * trace.channels["voltage_v"] * trace.channels["current_a"]
    result = reduce_trace(changed(trace, power_w=logged))
    assert "power_mismatch" in codes(result)
    true_power = 15.0 * (16.0 - 0.01 * 15.0)
    assert result.points[0].value("power_w") == pytest.approx(true_power, rel=2e-3)


def test_warm_start_is_said():
    trace = plateau_run()
    warm = np.full(trace.size, 36.0)
    air = np.full(trace.size, 21.0)
    result = reduce_trace(changed(trace, motor_temp_c=warm, ambient_temp_c=air))
    assert "warm_start" in codes(result)
    assert "15 K" in result.warnings[0].message


def test_channels_that_were_not_logged_are_absent_with_a_reason():
    result = reduce_trace(plateau_run())
    torque = result.points[0].figures["torque_nm"]
    assert isinstance(torque, Absent)
    assert torque.reason == "not_logged"
    assert result.points[0].figures["shaft_power_w"].reason == "not_logged"


def test_shaft_power_and_efficiency():
    trace = plateau_run(levels=(100,))
    torque = np.where(trace.channels["throttle_pct"] > 0, 0.15, 0.0)
    torque = torque + np.random.default_rng(2).normal(scale=1e-4, size=trace.size)
    point = reduce_trace(changed(trace, torque_nm=torque)).points[0]
    # 0.15 N·m at 25,000 rpm is 392.7 W; 30 A at 15.7 V is 471 W.
    assert point.value("shaft_power_w") == pytest.approx(392.7, rel=2e-3)
    assert point.value("motor_esc_efficiency_pct") == pytest.approx(83.4, abs=0.4)
    assert point.figures["motor_esc_efficiency_pct"].u < 0.2


def test_summary_of_a_straight_throttle_curve():
    result = reduce_trace(plateau_run(levels=(10, 20, 50, 60, 70, 80, 90, 100)))
    summary = result.summary
    assert summary["max_thrust_gf"].value == pytest.approx(1200, abs=1.5)
    assert summary["low_throttle_slope_gf_per_pct"].value == pytest.approx(12.0, abs=0.05)
    assert summary["low_throttle_ratio"].value == pytest.approx(1.0, abs=0.01)
    assert summary["top_end_ratio"].value == pytest.approx(1.0, abs=0.05)
    # 1200 gf at 30 A × 15.7 V.
    assert summary["efficiency_at_max_g_per_w"].value == pytest.approx(1200 / 471.0, rel=2e-3)
    assert summary["best_efficiency_g_per_w"].value >= summary["efficiency_at_max_g_per_w"].value


def test_plateaus_are_found_without_a_throttle_channel():
    trace = plateau_run()
    without = {k: v for k, v in trace.channels.items() if k != "throttle_pct"}
    result = reduce_trace(Trace(trace.time_s, without))
    assert len(result.points) == 5
    assert "plateaus_from_data" in codes(result)
    assert isinstance(result.points[0].figures["throttle_pct"], Absent)
    assert result.points[-1].value("thrust_gf") == pytest.approx(1200, abs=2)


def test_missing_samples_are_not_zeros():
    trace = plateau_run()
    current = trace.channels["current_a"].copy()
    current[::3] = np.nan
    point = reduce_trace(changed(trace, current_a=current)).points[-1]
    assert point.value("current_a") == pytest.approx(30.0, abs=0.02)
    assert point.value("power_w") == pytest.approx(471.0, rel=2e-3)


def test_ten_hertz_is_enough():
    result = reduce_trace(plateau_run(rate_hz=10.0, dwell_s=4.0))
    assert len(result.points) == 5
    assert result.points[-1].value("thrust_gf") == pytest.approx(1200, abs=3)


def test_nothing_to_find_is_said():
    rest = plateau_run(levels=())
    with pytest.raises(ReductionError) as caught:
        reduce_trace(rest)
    assert caught.value.code == "no_plateau"
    with pytest.raises(ReductionError) as caught:
        reduce_trace(Trace(np.arange(5.0), {"motor_temp_c": np.full(5, 20.0)}))
    assert caught.value.code == "no_guide_channel"
    with pytest.raises(ReductionError) as caught:
        reduce_trace(dataclasses.replace(rest, kind="polish"))
    assert caught.value.code == "kind_not_supported"


def test_reduction_does_not_touch_the_trace():
    trace = plateau_run()
    before = trace.channels["thrust_gf"].copy()
    reduce_trace(trace)
    assert np.array_equal(trace.channels["thrust_gf"], before)


def test_every_u_is_finite_and_positive():
    for point in reduce_trace(plateau_run()).points:
        for name in ("thrust_gf", "current_a", "voltage_v", "power_w", "efficiency_g_per_w"):
            figure = point.figures[name]
            assert isinstance(figure, Measured)
            assert 0 < figure.u < 0.05 * figure.value
