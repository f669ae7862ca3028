"""Zeros that glitch, drift and jump; sweeps that stand still; the best g/W that is sure."""

import dataclasses

import numpy as np
import pytest
from runs import EXACT, plateau_run, sweep_run, sweep_thrust_gf

from spindle_core.figures.measured import Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.ramp_sweep import edge_pct, find_sweep
from spindle_core.reduction.result import Point
from spindle_core.reduction.thrust_summary import best_efficiency
from spindle_core.run.tare import Tare, Zero, find_tare
from spindle_core.run.trace import Trace


def changed(trace, **channels):
    return dataclasses.replace(trace, channels={**trace.channels, **channels})


def rest(values, *, step_s=0.005, resolution=None):
    values = np.asarray(values, dtype=float)
    time = np.arange(values.size) * step_s
    return find_tare(
        time,
        values,
        at_rest=np.ones(values.size, bool),
        source="r/thrust_gf",
        resolution=resolution,
    ).before


# A zero and its u


def test_one_glitch_does_not_make_a_zero_unsure():
    """One sample of 900 gf in the rest took u of the tare to 5 gf."""
    noise = np.random.default_rng(1).normal(14.0, 0.35, 600)
    clean = rest(noise)
    wild = noise.copy()
    wild[123] += 900.0
    spoilt = rest(wild)
    assert spoilt.value == pytest.approx(clean.value, abs=0.01)
    assert spoilt.u == pytest.approx(clean.u, rel=0.1)
    assert clean.u == pytest.approx(np.sqrt(np.pi / 2) * 0.35 / np.sqrt(600), rel=0.15)


def test_u_of_a_zero_holds_the_truth_with_glitches_in_a_tenth_of_its_samples():
    rng = np.random.default_rng(2)
    inside = 0
    for _ in range(300):
        noise = rng.normal(5.0, 1.0, 300)
        noise[rng.random(300) < 0.1] += 50.0
        zero = rest(noise)
        # Glitches to one side move a median by 0.14 σ; that is its bias, not its scatter.
        inside += abs(zero.value - 5.14) <= 1.96 * zero.u
    assert inside / 300 >= 0.9


def test_a_zero_that_does_not_scatter_is_known_to_its_step():
    assert rest([4.0] * 50).u == pytest.approx(1 / np.sqrt(12))
    assert rest([4.0] * 50, resolution=5.0).u == pytest.approx(5 / np.sqrt(12))
    # Mostly one step, now and then the next: the median's neighbours are all alike.
    assert rest([4.1] * 40 + [4.2] * 10).u == pytest.approx(0.1 / np.sqrt(12))


def test_a_glitch_in_the_rest_leaves_the_best_efficiency_alone():
    """It moved from 6.97 to 4.66 g/W."""
    trace = plateau_run(noise_gf=0.5)
    thrust = trace.channels["thrust_gf"].copy()
    thrust[200] += 900.0
    clean, spoilt = (
        reduce_trace(run).summary["best_efficiency_g_per_w"]
        for run in (trace, changed(trace, thrust_gf=thrust))
    )
    assert spoilt.value == pytest.approx(clean.value, rel=1e-3)
    assert spoilt.u == pytest.approx(clean.u, rel=0.05)


# Two zeros, and between them


def test_a_reading_carries_both_zeros_by_its_time():
    tare = Tare(Zero(2.0, 10.0, 0.3), Zero(22.0, 10.0, 0.4), "r/thrust_gf")
    early = tare.components(2.0)
    assert early == {"tare@r/thrust_gf/before": pytest.approx(-0.3)}
    middle = tare.components(12.0)
    assert middle["tare@r/thrust_gf/before"] == pytest.approx(-0.15)
    assert middle["tare@r/thrust_gf/after"] == pytest.approx(-0.2)
    quarter = tare.components(7.0)
    assert quarter["tare@r/thrust_gf/before"] == pytest.approx(-0.225)
    assert quarter["tare@r/thrust_gf/after"] == pytest.approx(-0.1)
    # Nothing is extrapolated: beyond a midpoint its own zero counts whole.
    assert tare.components(40.0) == {"tare@r/thrust_gf/after": pytest.approx(-0.4)}
    assert tare.components(-5.0) == early


def test_a_drift_is_in_u_whenever_it_happened():
    """A zero that moves by 6 gf may have moved at any time: 6/√12 = 1.73 gf."""
    tare = Tare(Zero(2.0, 10.0, 0.1), Zero(22.0, 16.0, 0.1), "r/thrust_gf")
    for at in (0.0, 5.0, 12.0, 30.0):
        assert tare.components(at)["tare_drift@r/thrust_gf"] == pytest.approx(6 / np.sqrt(12))
    assert tare.drift().value == 6.0
    assert tare.drift().u == pytest.approx(np.hypot(0.1, 0.1))


def test_a_zero_that_jumps_in_mid_run_is_held_by_u():
    """5 gf of jump were 3.4 gf off at u = 0.1."""
    trace = plateau_run(noise_gf=0.3)
    for jump_s in (6.0, 11.0, 16.0):
        thrust = trace.channels["thrust_gf"] + np.where(trace.time_s > jump_s, 5.0, 0.0)
        for point in reduce_trace(changed(trace, thrust_gf=thrust)).points:
            figure = point.figures["thrust_gf"]
            off = figure.value - 12.0 * point.value("throttle_pct")
            assert abs(off) <= 2.8 * figure.u  # a jump beside a zero is 4 gf off, 2.7 u
            assert figure.u > 1.4


def test_one_zero_alone_assumes_a_drift_and_says_so():
    trace = plateau_run()
    cut = trace.until(int(np.flatnonzero(trace.channels["throttle_pct"] > 0)[-1]))
    result = reduce_trace(cut)
    figure = result.summary["max_thrust_gf"]
    assert "one_zero" in {w.code for w in result.warnings}
    assert figure.component("assumed_drift") == pytest.approx(0.002 * 1212 / np.sqrt(3), rel=0.02)


def test_no_zero_at_all_assumes_one_and_says_so():
    trace = plateau_run()
    turning = np.flatnonzero(trace.channels["throttle_pct"] > 0)
    part = slice(turning[0], turning[-1])
    bare = dataclasses.replace(
        trace, time_s=trace.time_s[part], channels={k: v[part] for k, v in trace.channels.items()}
    )
    result = reduce_trace(bare)
    assert "tare_missing" in {w.code for w in result.warnings}
    figure = result.summary["max_thrust_gf"]
    assert figure.component("assumed_tare") == pytest.approx(0.01 * 1212 / np.sqrt(3), rel=0.02)
    assert abs(figure.value - 1200.0) <= 2 * figure.u


# Sweeps that stand still


def resting_run(*, stands=((100.0, 1.5),), down=False, up_s=10.0, lag_s=0.15, noise_gf=0.5, seed=1):
    """A sweep that stands at throttles for a while; thrust through a first-order lag."""
    step, now = 0.005, 0.0
    pieces = [np.zeros(600)]
    for level, seconds in sorted(stands):
        pieces.append(np.arange(now, level, 100.0 / up_s * step))
        pieces.append(np.full(round(seconds / step), level))
        now = level
    if now < 100.0:
        pieces.append(np.arange(now, 100.0, 100.0 / up_s * step))
    if down:
        pieces.append(np.arange(100.0, 0.0, -100.0 / up_s * step))
    throttle = np.concatenate([*pieces, np.zeros(800)])
    thrust, shown = sweep_thrust_gf(throttle), np.empty(throttle.size)
    state = 0.0
    for i, value in enumerate(thrust):
        state += (1.0 - np.exp(-step / lag_s)) * (value - state)
        shown[i] = state
    rng = np.random.default_rng(seed)
    channels = {
        "throttle_pct": throttle,
        "thrust_gf": shown + 12.0 + noise_gf * rng.normal(size=throttle.size),
        "current_a": 0.003 * throttle**2 + 0.02 * rng.normal(size=throttle.size),
    }
    return Trace(np.arange(throttle.size) * step, channels, "ramp", stand=EXACT)


@pytest.mark.parametrize("down", [False, True])
@pytest.mark.parametrize("rest_s", [1.5, 2.5, 4.0])
def test_a_rest_at_the_top_is_a_plateau(down, rest_s):
    """1,050.2 ± 0.6 gf were reported where 1,068.4 was true."""
    result = reduce_trace(resting_run(stands=((100.0, rest_s),), down=down))
    top = result.summary["max_thrust_gf"]
    assert abs(top.value - 1200.0) <= 2.5 * top.u
    assert top.u < 3.0
    assert max(p.value("throttle_pct") for p in result.points) == 100.0


@pytest.mark.parametrize("stands", [((50.0, 2.0),), ((20.0, 1.2), (70.0, 3.0)), ((2.0, 2.0),)])
@pytest.mark.parametrize("down", [False, True])
def test_rests_anywhere_are_plateaus_and_do_not_bend_the_bins_beside_them(stands, down):
    result = reduce_trace(resting_run(stands=stands, down=down, lag_s=0.1))
    for point in result.points:
        throttle = point.value("throttle_pct")
        if throttle < 4.0:
            continue
        figure = point.figures["thrust_gf"]
        off = figure.value - sweep_thrust_gf(throttle)
        assert abs(off) <= max(3.5 * figure.u, 1.5), throttle
    rested = {level for level, _ in stands}
    assert rested <= {p.value("throttle_pct") for p in result.points}


@pytest.mark.parametrize("lag_s", [0.05, 0.15, 0.3])
def test_no_bin_ends_at_a_turning_point_uncorrected(lag_s):
    """Up and down without a rest: the highest bins of both ways do not mirror each other."""
    result = reduce_trace(sweep_run(down=True, lag_s=lag_s, up_s=10.0, noise_gf=0.5))
    for point in result.points[-6:]:
        figure = point.figures["thrust_gf"]
        off = figure.value - sweep_thrust_gf(point.value("throttle_pct"))
        assert abs(off) <= 3.0 * figure.u + 0.5
    # What the sensor never saw is not read: the top is where its lag left it.
    assert result.points[-1].value("throttle_pct") == pytest.approx(100 - 10 * lag_s, abs=1.2)


def test_the_rate_of_a_sweep_is_that_of_its_moving():
    trace = resting_run(stands=((50.0, 6.0), (100.0, 4.0)), down=True)
    sweep = find_sweep(trace.time_s, trace.channels["throttle_pct"])
    assert sweep.rate_pct_per_s == pytest.approx(10.0, rel=0.03)
    assert sweep.down_rate_pct_per_s == pytest.approx(10.0, rel=0.03)
    assert len(sweep.rests) == 2
    assert edge_pct(0.2, sweep) == pytest.approx(3 * 0.2 * 10, rel=0.03)
    assert edge_pct(0.0, sweep) == 2.0


def test_a_slow_sweep_is_no_rest():
    """0.33 % a second moves by less than half a percent in 1.5 s, and moves all the same."""
    trace = sweep_run(up_s=300.0, rate_hz=20.0, lag_s=0.0)
    assert find_sweep(trace.time_s, trace.channels["throttle_pct"]).rests == ()


def test_within_run_is_never_nothing():
    """A sweep whose every sample is written to a whole gram and does not scatter."""
    trace = sweep_run(noise_gf=0.0, lag_s=0.0, up_s=10.0)
    steps = np.round(trace.channels["thrust_gf"] / 200.0) * 200.0
    for run in (changed(trace, thrust_gf=steps), plateau_run(noise_gf=0.0)):
        for point in reduce_trace(run).points:
            for name in ("thrust_gf", "current_a", "voltage_v", "power_w"):
                figure = point.figures[name]
                if isinstance(figure, Measured):
                    assert figure.component("within_run") > 0.0


def test_a_sweep_that_ended_at_92_percent_has_no_top_end():
    trace = sweep_run()
    low = np.minimum(trace.channels["throttle_pct"], 92.0)
    short = changed(trace, throttle_pct=low)
    assert reduce_trace(short).summary["top_end_ratio"].reason == "no_full_throttle"


# The best g/W


def points(rows):
    return [
        Point(
            {"thrust_gf": Measured(t), "efficiency_g_per_w": Measured(g, {"r": u})}, 0, 0, 1, True
        )
        for t, g, u in rows
    ]


def test_the_best_g_per_w_is_the_surest_to_be_high():
    """9.0 ± 1.0 is less than 7.6 ± 0.1 when both are taken at two u below."""
    best, at = best_efficiency(points([(80, 9.0, 1.0), (300, 7.6, 0.1), (900, 5.0, 0.05)]))
    assert (best.value, at.value) == (7.6, 300.0)
    best, at = best_efficiency(points([(80, 9.0, 0.69), (300, 7.6, 0.1)]))
    assert (best.value, at.value) == (9.0, 80.0)


def test_below_a_twentieth_of_the_largest_thrust_nothing_is_best():
    best, at = best_efficiency(points([(44, 12.0, 0.01), (300, 7.6, 0.1), (900, 5.0, 0.05)]))
    assert (best.value, at.value) == (7.6, 300.0)
    best, _ = best_efficiency(points([(45, 12.0, 0.01), (300, 7.6, 0.1), (900, 5.0, 0.05)]))
    assert best.value == 12.0


def test_an_unsure_figure_is_still_the_best_there_is():
    """No limit of 3 %: what is unsure is given with its u, not left out."""
    best, _ = best_efficiency(points([(300, 7.6, 2.0)]))
    assert (best.value, best.u) == (7.6, 2.0)
    assert best_efficiency([])[0].reason == "not_logged"


@pytest.mark.parametrize("rate_hz", [1.0, 2.0, 4.0])
@pytest.mark.parametrize("down", [False, True])
def test_a_slow_log_of_a_sweep_is_no_row_of_rests(rate_hz, down):
    """At 1 Hz every sample lasts a second; a single one stands nowhere."""
    trace = sweep_run(rate_hz=rate_hz, up_s=60.0, down=down, lag_s=0.0)
    assert find_sweep(trace.time_s, trace.channels["throttle_pct"]).stands == ()
    result = reduce_trace(trace)
    assert len(result.points) > 20
    top = result.summary["max_thrust_gf"]
    assert top.value == pytest.approx(1200.0, rel=0.05)
