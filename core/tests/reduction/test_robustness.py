"""What goes wrong on a bench: what can be computed still is, the rest is absent with a reason."""

import dataclasses

import numpy as np
import pytest
from runs import plateau_run

from spindle_core.reduction import reduce_trace


def changed(trace, **channels):
    return dataclasses.replace(trace, channels={**trace.channels, **channels})


def codes(result):
    return {warning.code for warning in result.warnings}


def thrust_errors(result):
    return [
        abs(p.value("thrust_gf") - 12.0 * p.value("throttle_pct"))
        for p in result.points
        if p.value("thrust_gf") is not None
    ]


def test_a_supply_that_trips_ends_the_run_there():
    trace = plateau_run()
    trip = 14.4
    gone = trace.time_s >= trip
    tripped = changed(
        trace,
        voltage_v=np.where(gone, 0.02, trace.channels["voltage_v"]),
        current_a=np.where(gone, 0.0, trace.channels["current_a"]),
        thrust_gf=np.where(gone, 12.0, trace.channels["thrust_gf"]),
        speed_rpm=np.where(gone, 0.0, trace.channels["speed_rpm"]),
    )
    result = reduce_trace(tripped)
    assert "supply_tripped" in codes(result)
    assert [p.value("throttle_pct") for p in result.points] == [20, 40, 60]
    assert max(thrust_errors(result)) < 1.0
    assert result.summary["tare_drift_gf"].reason == "no_second_zero"


def test_single_lost_voltage_samples_are_no_trip():
    trace = plateau_run()
    volts = trace.channels["voltage_v"].copy()
    volts[1500:1503] = 0.0
    result = reduce_trace(changed(trace, voltage_v=volts))
    assert "supply_tripped" not in codes(result)
    assert len(result.points) == 5


def test_one_percent_outliers_do_not_move_the_means():
    trace = plateau_run()
    rng = np.random.default_rng(4)
    spoilt = {}
    for name in ("thrust_gf", "current_a", "speed_rpm"):
        samples = trace.channels[name].copy()
        hit = rng.choice(samples.size, samples.size // 100, replace=False)
        samples[hit] *= rng.choice([0.0, 3.0], hit.size)
        spoilt[name] = samples
    clean, dirty = reduce_trace(trace), reduce_trace(changed(trace, **spoilt))
    assert "outliers" in codes(dirty)
    for one, other in zip(clean.points, dirty.points, strict=True):
        for name in spoilt:
            a, b = one.figures[name], other.figures[name]
            assert abs(a.value - b.value) < 3.0 * np.hypot(a.u, b.u)


def test_a_long_burst_of_lost_or_doubled_speed_is_masked():
    trace = plateau_run()
    speed = trace.channels["speed_rpm"].copy()
    lost = (trace.time_s > 9.0) & (trace.time_s < 9.4)
    doubled = (trace.time_s > 12.0) & (trace.time_s < 12.3)
    speed[lost], speed[doubled] = 0.0, 2.0 * speed[doubled]
    result = reduce_trace(changed(trace, speed_rpm=speed))
    assert "lost_rpm" in codes(result)
    for point in result.points:
        assert point.value("speed_rpm") == pytest.approx(
            250.0 * point.value("throttle_pct"), rel=2e-3
        )


@pytest.mark.parametrize("rate_hz", [10.0, 50.0, 2000.0])
def test_from_ten_hertz_to_two_kilohertz(rate_hz):
    result = reduce_trace(plateau_run(rate_hz=rate_hz))
    assert [p.value("throttle_pct") for p in result.points] == [20, 40, 60, 80, 100]
    assert max(thrust_errors(result)) < 2.5


def test_uneven_sampling_and_jitter():
    trace = plateau_run()
    rng = np.random.default_rng(2)
    kept = np.sort(rng.choice(trace.size, trace.size // 3, replace=False))
    time = np.sort(trace.time_s[kept] + rng.uniform(-0.005, 0.005, kept.size))
    uneven = dataclasses.replace(
        trace, time_s=time, channels={k: v[kept] for k, v in trace.channels.items()}
    )
    result = reduce_trace(uneven)
    assert len(result.points) == 5
    assert max(thrust_errors(result)) < 1.5


@pytest.mark.parametrize("missing", ["thrust_gf", "voltage_v", "current_a", "speed_rpm"])
def test_each_missing_channel_costs_only_its_own_figures(missing):
    trace = plateau_run()
    channels = {name: values for name, values in trace.channels.items() if name != missing}
    result = reduce_trace(dataclasses.replace(trace, channels=channels))
    assert len(result.points) == 5
    point = result.points[-1]
    assert point.figures[missing].reason == "not_logged"
    others = {"thrust_gf", "voltage_v", "current_a", "speed_rpm"} - {missing}
    assert all(point.value(name) is not None for name in others)


def test_a_channel_that_dies_in_mid_run_is_absent_from_there_on():
    trace = plateau_run()
    thrust = np.where(trace.time_s > 11.0, np.nan, trace.channels["thrust_gf"])
    result = reduce_trace(changed(trace, thrust_gf=thrust))
    assert result.points[0].value("thrust_gf") == pytest.approx(240.0, abs=1.0)
    assert result.points[-1].figures["thrust_gf"].reason == "no_samples"
    assert result.points[-1].value("current_a") == pytest.approx(30.0, abs=0.1)


def test_declared_calibration_and_resolution_stand_beside_the_scatter():
    from spindle_core.run.stand import Stand

    stand = Stand(
        calibration={"thrust_gf": 0.004, "current_a": 0.01, "voltage_v": 0.0},
        resolution={"thrust_gf": 1.0},
        name="bench",
    )
    result = reduce_trace(dataclasses.replace(plateau_run(), stand=stand))
    figure = result.summary["max_thrust_gf"]
    assert figure.component("calibration") == pytest.approx(0.004 * 1200.0, rel=0.01)
    assert figure.component("resolution") == pytest.approx(1.0 / np.sqrt(12))
    power = result.summary["max_power_w"]
    assert power.component("calibration") == pytest.approx(0.01 * power.value)
    # Current is in power and in g/W with the same name, so that shared errors stay shared.
    quotient = result.summary["efficiency_at_max_g_per_w"]
    assert quotient.components["calibration@bench/current_a"] == pytest.approx(
        -0.01 * quotient.value
    )
