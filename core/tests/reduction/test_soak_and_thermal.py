"""Heat: a soak of a two-body motor with known constants, and the formulas around it."""

import dataclasses

import numpy as np
import pytest
from scipy.linalg import expm

from spindle_core.errors import QuantityError, ReductionError
from spindle_core.model.thermal import kv_at_rpm_per_v, resistance_at_ohm, rise_per_kilojoule
from spindle_core.model.thermal_network import (
    TwoNode,
    continuous_loss_w,
    fit_network,
    lagging,
    simulate,
)
from spindle_core.reduction import reduce_trace
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

COLD = 1.0 + 0.00393 * 3.0
"""Copper at 23 °C against 20 °C."""

TRUTH = TwoNode(3.2, 13.0, 1.1, 0.105, 0.9)


def soak_run(
    *, load_s=60.0, watch_s=400.0, noise_k=0.05, rate_hz=5.0, seed=1, throttle_pct=100.0, **facts
):
    """20 A through 0.1 Ω, 0.08 Ω of it copper (32 W cold), 10 W in the iron, then still air."""
    step = 1.0 / rate_hz
    before, load, watch = (round(t * rate_hz) for t in (5.0, load_s, watch_s))
    on = np.concatenate((np.zeros(before), np.ones(load), np.zeros(watch)))
    rises = simulate(
        TRUTH,
        step_s=step,
        copper_w=32.0 * COLD * on,
        iron_w=10.0 * on,
        moving=on.astype(bool),
        copper_per_k=0.00393 / COLD,
    )
    rng = np.random.default_rng(seed)
    channels = {
        "throttle_pct": throttle_pct * on,
        "voltage_v": np.full(on.size, 16.0),
        "current_a": 20.0 * on,
        "motor_temp_c": 23.0 + rises[:, 1] + rng.normal(scale=noise_k, size=on.size),
        "ambient_temp_c": 23.0 + rng.normal(scale=noise_k, size=on.size),
    }
    return Trace(np.arange(on.size) * step, channels, "soak", facts=RunFacts(**facts)), rises


def test_rise_and_after_rise():
    trace, rises = soak_run()
    summary = reduce_trace(trace).summary
    stop = int(65.0 * 5)
    assert summary["rise_k"].value == pytest.approx(rises[stop, 1], abs=0.4)
    top = stop + int(np.argmax(rises[stop:, 1]))
    assert rises[top, 1] > rises[stop, 1] + 3.0
    assert summary["peak_after_stop_c"].value == pytest.approx(23.0 + rises[top, 1], abs=0.2)
    assert summary["peak_after_stop_s"].value == pytest.approx((top - stop) / 5.0, abs=3.0)


def test_slowest_time_constant_is_the_networks_with_honest_u():
    truth = TRUTH.slowest_time_constant_s(moving=False)
    inside = 0
    for seed in range(20):
        figure = reduce_trace(soak_run(seed=seed, noise_k=0.1)[0]).summary["case_time_constant_s"]
        assert figure.value == pytest.approx(truth, rel=0.05)
        inside += abs(figure.value - truth) <= 1.96 * figure.u
    assert inside >= 17


def test_kelvin_per_watt_only_where_the_loss_is_known():
    unknown = reduce_trace(soak_run()[0]).summary
    assert unknown["case_k_per_w"].reason == "loss_unknown"
    trace, rises = soak_run(
        load_s=240.0,
        resistance_ohm=0.1,
        no_load_current_a=10.0 / (16.0 - 20.0 * 0.1),
        winding_ceiling_c=125.0,
    )
    known = reduce_trace(trace).summary
    assert known["case_k_per_w"].value == pytest.approx(1.0 / 0.9, rel=0.1)
    if not hasattr(known["winding_over_case_k_per_w"], "reason"):
        assert known["winding_over_case_k_per_w"].value == pytest.approx(1.0 / 1.1, rel=0.3)
    winding = known["winding_at_stop_c"]
    assert abs(winding.value - (23.0 + rises[1220, 0])) <= 1.96 * winding.u
    hot = 32.0 * COLD * (1.0 + 0.00393 / COLD * rises[1220, 0])
    share = hot / (hot + 10.0)
    loss = continuous_loss_w(TRUTH, ceiling_c=125.0, ambient_c=23.0, copper_share=share)
    truth = loss * 320.0 / (hot + 10.0)
    assert known["continuous_power_w"].value == pytest.approx(truth, rel=0.2)


def test_energy_and_rise_per_kilojoule():
    summary = reduce_trace(soak_run(load_s=30.0)[0]).summary
    assert summary["energy_kj"].value == pytest.approx(16 * 20 * 30 / 1000, rel=0.01)
    rise = summary["rise_k"].value
    assert summary["rise_k_per_kj"].value == pytest.approx(rise / 9.6, rel=0.01)
    assert rise_per_kilojoule(10.0, 0.0).reason == "no_energy"


def test_without_a_watch_the_cooling_is_absent_and_said():
    trace, _ = soak_run(watch_s=0.0)
    result = reduce_trace(trace)
    assert result.summary["case_time_constant_s"].reason == "not_watched"
    assert "ended_under_throttle" in [w.code for w in result.warnings]


def test_a_short_watch_says_so():
    result = reduce_trace(soak_run(watch_s=40.0)[0])
    assert {"watch_short", "still_warming"} & {w.code for w in result.warnings}


def test_without_air_temperature_there_is_no_rise():
    trace, _ = soak_run()
    channels = {k: v for k, v in trace.channels.items() if k != "ambient_temp_c"}
    bare = dataclasses.replace(trace, channels=channels)
    assert reduce_trace(bare).summary["rise_k"].reason == "air_unknown"
    declared = dataclasses.replace(bare, facts=RunFacts(air_temp_c=23.0))
    assert reduce_trace(declared).summary["rise_k"].u > 0.5


def test_no_temperature_is_an_error():
    trace, _ = soak_run()
    channels = {k: v for k, v in trace.channels.items() if k != "motor_temp_c"}
    with pytest.raises(ReductionError) as caught:
        reduce_trace(dataclasses.replace(trace, channels=channels))
    assert caught.value.code == "no_temperature"


def test_steady_state_of_the_network_is_that_of_ohms_law_of_heat():
    on = np.ones(4000)
    rises = simulate(TRUTH, step_s=1.0, copper_w=32 * on, iron_w=10 * on, moving=on.astype(bool))
    assert rises[-1, 1] == pytest.approx(42 / 0.9, rel=1e-6)
    assert rises[-1, 0] - rises[-1, 1] == pytest.approx(32 / 1.1, rel=1e-6)


def test_cooling_network_keeps_its_energy_balance():
    still = np.zeros(3000, dtype=bool)
    zero = np.zeros(3000)
    rises = simulate(
        TRUTH, step_s=0.05, copper_w=zero, iron_w=zero, moving=still, start_k=(60.0, 40.0)
    )
    stored = TRUTH.winding_j_per_k * rises[:, 0] + TRUTH.case_j_per_k * rises[:, 1]
    lost = 0.105 * np.trapezoid(rises[:, 1], dx=0.05)
    assert stored[0] - stored[-1] == pytest.approx(lost, rel=1e-4)


def test_fit_recovers_the_network_it_was_made_of():
    trace, _rises = soak_run(load_s=200.0, watch_s=600.0, noise_k=0.02)
    on = trace.channels["throttle_pct"] > 0
    fit = fit_network(
        trace.time_s,
        trace.channels["motor_temp_c"] - 23.0,
        copper_w=32.0 * COLD * on,
        iron_w=10.0 * on,
        moving=on,
        copper_per_k=0.00393 / COLD,
    )
    assert fit.network.moving_w_per_k == pytest.approx(0.9, rel=0.05)
    assert fit.network.still_w_per_k == pytest.approx(0.105, rel=0.1)
    total = fit.network.winding_j_per_k + fit.network.case_j_per_k
    assert total == pytest.approx(16.2, rel=0.1)


def test_copper_and_magnets_at_temperature():
    # 60 K over 20 °C: 23.58 % more in the copper, none in the ESC.
    assert resistance_at_ohm(0.12, 80.0, esc_ohm=0.03) == pytest.approx(0.12 * 1.2358 + 0.03)
    assert kv_at_rpm_per_v(1900.0, 80.0) == pytest.approx(1900.0 / (1 - 0.0011 * 60))
    assert kv_at_rpm_per_v(1900.0, 20.0) == 1900.0
    with pytest.raises(QuantityError):
        kv_at_rpm_per_v(1900.0, 400.0)
    with pytest.raises(QuantityError):
        TwoNode(1.0, 1.0, 0.0, 1.0, 1.0)


@pytest.mark.parametrize("moving", [True, False])
@pytest.mark.parametrize(
    "network",
    [
        TRUTH,
        TwoNode(1e-3, 50.0, 2.0, 1e-4, 0.5),  # a thread of wire in a lump of a case
        TwoNode(40.0, 0.02, 1e-3, 5.0, 5.0),  # a case that the air holds at its own warmth
        TwoNode(7.0, 7.0, 1e-6, 0.4, 0.4),  # two bodies that hardly know of each other
        TwoNode(3.0, 9.0, 30.0, 1e-7, 1e-7),  # in one piece, and wrapped up
    ],
)
def test_a_step_of_the_network_is_the_exponential_of_its_matrix(network, moving):
    steps = np.array([1e-6, 0.05, 1.0, 37.0, 3600.0])
    rates = network.rates(moving=moving)
    all_moving = np.full(steps.size, moving)
    for step, *found in zip(steps, *network.stepping(steps, moving=all_moving), strict=True):
        assert found[0] == pytest.approx(expm(rates * step), rel=1e-9, abs=1e-12)
        # R⁻¹·(exp(R·t) − 1) is its integral over the step.
        within = np.array([[*rates[0], 1, 0], [*rates[1], 0, 1], [0] * 4, [0] * 4])
        integral = expm(within * step)[:2, 2:]
        assert found[1] == pytest.approx(integral, rel=1e-7, abs=1e-12 * step)


def test_each_step_goes_in_the_air_it_moves_in():
    steps, moving = np.array([0.5, 3.0, 3.0, 40.0]), np.array([True, False, True, False])
    mixed = TRUTH.stepping(steps, moving=moving)
    for number, state in enumerate(moving):
        alone = TRUTH.stepping(steps[[number]], moving=np.array([state]))
        for one, of_all in zip(alone, mixed, strict=True):
            assert (one[0] == of_all[number]).all()
    still = TRUTH.stepping(steps, moving=np.zeros(4, dtype=bool))
    assert not np.allclose(still[0][0], mixed[0][0], rtol=1e-6)


def test_a_long_step_is_many_short_ones():
    """Winding and case from warm, with the loss growing in each, and the air of either state."""
    for moving in (True, False):
        coarse = simulate(
            TRUTH,
            step_s=np.array([8.0, 8.0]),
            copper_w=np.array([20.0, 20.0]),
            iron_w=np.array([4.0, 4.0]),
            moving=np.full(2, moving),
            start_k=(30.0, 10.0),
        )
        fine = simulate(
            TRUTH,
            step_s=0.02,
            copper_w=np.full(401, 20.0),
            iron_w=np.full(401, 4.0),
            moving=np.full(401, moving),
            start_k=(30.0, 10.0),
        )
        assert coarse[1] == pytest.approx(fine[-1], rel=1e-9)


def test_a_warmer_winding_makes_more_heat_of_the_same_current():
    """Against the two equations, a hundredth of a second at a time."""
    per_k, copper_w, iron_w, step_s = 0.00393, 24.0, 3.0, 0.01
    winding = case = 0.0
    for _ in range(60_000):
        heat = copper_w * (1.0 + per_k * winding)
        between = TRUTH.between_w_per_k * (winding - case)
        away = TRUTH.moving_w_per_k * case
        winding, case = (
            winding + (heat - between) / TRUTH.winding_j_per_k * step_s,
            case + (iron_w + between - away) / TRUTH.case_j_per_k * step_s,
        )
    losses = {
        "step_s": 0.5,
        "copper_w": np.full(1201, copper_w),
        "iron_w": np.full(1201, iron_w),
        "moving": np.full(1201, True),
    }
    found = simulate(TRUTH, copper_per_k=per_k, **losses)[-1]
    assert found == pytest.approx((winding, case), rel=2e-3)
    assert found[0] > 1.05 * simulate(TRUTH, **losses)[-1][0]


def test_a_late_sensor_follows_a_ramp_by_its_lag():
    steps = np.array([0.5, 0.1, 2.0, 0.3, 7.0, 7.0, 7.0, 1.0])
    at = np.concatenate(([0.0], np.cumsum(steps[:-1])))
    shown = lagging(10.0 + 3.0 * at, steps, 0.8)
    assert shown == pytest.approx(10.0 + 3.0 * (at - 0.8 * (1.0 - np.exp(-at / 0.8))), rel=1e-12)
    assert lagging(np.array([4.0]), np.array([1.0]), 0.8).tolist() == [4.0]
