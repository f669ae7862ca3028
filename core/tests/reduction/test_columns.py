"""Figures in columns are the figures the scalar rules give, and the ways of a fast sweep are
those of its samples."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from runs import sweep_run, sweep_thrust_gf

from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.columns import Column, derived_columns, missing, rows
from spindle_core.reduction.figures import derived as scalar_derived
from spindle_core.reduction.ramp_bins import grid, lines_in_bins
from spindle_core.reduction.ramp_sweep import find_sweep
from spindle_core.reduction.ramp_ways import Ways
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace

ABSENT = Absent("not_logged", "the channel was not logged")


def column(values, **parts):
    size = len(values)
    return Column(
        np.array(values, float),
        {name.replace("__", "@"): np.full(size, float(part)) for name, part in parts.items()},
        ABSENT,
    )


def same(a, b):
    if isinstance(a, Absent) or isinstance(b, Absent):
        return type(a) is type(b)
    return (
        a.value == pytest.approx(b.value)
        and a.u == pytest.approx(b.u)
        and {k for k, v in a.components.items() if v} == {k for k, v in b.components.items() if v}
        and a.origin == b.origin
    )


@given(
    st.lists(st.floats(1.0, 2000.0), min_size=1, max_size=6),
    st.floats(0.0, 5.0),
    st.just(0.0) | st.floats(1e-9, 0.02),
)
def test_derived_columns_are_the_derived_figures(thrusts, scatter, gain):
    columns = {
        "thrust_gf": column(thrusts, within_run__t=scatter, calibration__t=gain),
        "power_w": column(
            [max(0.0, 0.2 * t - 10.0) for t in thrusts],
            within_run__p=0.3,
            calibration__v=gain,
            calibration__a=gain,
        ),
        "torque_nm": column([1e-4 * t for t in thrusts], within_run__q=1e-5, tare__q=2e-5),
        "speed_rpm": column([20.0 * t for t in thrusts], within_run__n=4.0),
    }
    together = derived_columns(columns)
    for i, row in enumerate(rows(columns, len(thrusts))):
        alone = scalar_derived(dict(row.items()))
        for name, figure in alone.items():
            assert same(together[name].at(i), figure), name


def test_absent_channels_stay_absent_with_their_reason():
    columns = {
        "thrust_gf": column([100.0, math.nan], within_run=1.0),
        "power_w": column([20.0, 40.0], within_run=0.1),
        "torque_nm": missing(2, ABSENT),
        "speed_rpm": column([1e4, 2e4]),
    }
    found = derived_columns(columns)
    assert found["shaft_power_w"].at(0) == ABSENT
    assert isinstance(found["efficiency_g_per_w"].at(1), Absent)
    row = rows(columns, 2)[1]
    assert row.value("thrust_gf") is None
    assert row.value("power_w") == 40.0
    assert row.value("nothing") is None
    assert set(row) == set(columns)
    assert isinstance(row["power_w"], Measured)


def test_a_fast_log_gives_the_points_of_a_slow_one():
    """Blocks change neither lines nor their scatter: 2 kHz against 100 Hz of the same sweep."""
    fast, slow = (
        reduce_trace(sweep_run(rate_hz=rate, up_s=40.0, down=True, lag_s=0.05, noise_gf=noise))
        for rate, noise in ((2000.0, 2.0), (100.0, 2.0))
    )
    for a, b in zip(fast.points[2:], slow.points[2:], strict=True):
        assert a.value("throttle_pct") == pytest.approx(b.value("throttle_pct"), abs=0.05)
        truth = sweep_thrust_gf(a.value("throttle_pct"))
        assert abs(a.value("thrust_gf") - truth) < 5 * a.figures["thrust_gf"].u + 0.5
    # Twenty times the samples: √20 less scatter.
    u_fast, u_slow = (
        r.points[20].figures["thrust_gf"].component("within_run") for r in (fast, slow)
    )
    assert u_slow / u_fast == pytest.approx(math.sqrt(20.0), rel=0.4)
    assert fast.points[20].figures["thrust_gf"].samples > 20 * 30


def test_a_gap_in_a_fast_log_spoils_only_what_it_hides():
    trace = sweep_run(rate_hz=1000.0, up_s=30.0, lag_s=0.0)
    gone = trace.channels["thrust_gf"].copy()
    gone[::7] = np.nan
    sparse = reduce_trace(Trace(trace.time_s, {**trace.channels, "thrust_gf": gone}, "ramp"))
    for point in sparse.points[3:]:
        truth = sweep_thrust_gf(point.value("throttle_pct"))
        assert point.value("thrust_gf") == pytest.approx(truth, abs=2.0)


def test_a_grid_cut_short_is_the_grid_of_what_is_left():
    throttle = np.linspace(0.3, 41.7, 731)
    values = 3.0 * throttle + np.random.default_rng(2).normal(0.0, 0.2, throttle.size)
    whole = grid(throttle)
    for count in (730 - whole.skipped, 500, 333, 41):
        cut, made = whole.until(count), grid(throttle[: count + whole.skipped])
        assert cut.reach == pytest.approx(made.reach)
        part = values[None, : count + whole.skipped]
        one, other = lines_in_bins(cut, part)[0], lines_in_bins(made, part)[0]
        assert one.values == pytest.approx(other.values)
        assert one.u == pytest.approx(other.u)


def test_a_lag_is_a_shift_where_samples_are_even_and_an_interpolation_where_not():
    trace = sweep_run(rate_hz=500.0, up_s=20.0, lag_s=0.1, noise_gf=0.0)
    sweep = find_sweep(trace.time_s, trace.channels["throttle_pct"])
    even = Ways(trace.time_s, trace.channels["throttle_pct"], sweep)
    uneven = Ways(trace.time_s, trace.channels["throttle_pct"], sweep)
    uneven.block, uneven._step_s = 1, None
    uneven._times = uneven.blocks(trace.time_s)
    uneven._guides = uneven.blocks(uneven.guide_pct)
    assert even.block > 1
    found = [
        ways.read({"thrust_gf": ways.blocks(trace.channels["thrust_gf"])}, {"thrust_gf": 0.1})
        for ways in (even, uneven)
    ]
    a, b = (item["thrust_gf"] for item in found)
    assert a.values[2:-1] == pytest.approx(b.values[2:-1], abs=0.3)


def test_an_unsure_lag_is_in_u_but_not_in_the_scatter():
    trace = sweep_run(up_s=10.0, watch_s=0.2)
    stand = Stand(calibration={"thrust_gf": 0.01}, resolution={"thrust_gf": 0.5})
    result = reduce_trace(Trace(trace.time_s, trace.channels, "ramp", stand=stand))
    assert "lag_unknown" in {w.code for w in result.warnings}
    figure = result.points[25].figures["thrust_gf"]
    slope = 12.0 * (0.5 + 52.0 / 100.0)
    assert figure.component("lag") == pytest.approx(slope * 10.0 * 0.1 / math.sqrt(3), rel=0.05)
    assert figure.component("calibration") == pytest.approx(0.01 * figure.value)
    assert figure.component("resolution") == pytest.approx(0.5 / math.sqrt(12))


def test_a_coasting_rotor_is_no_sensors_lag():
    """Speed of a rotor let go falls as 1/(1 + t/τ), thrust with its square: not exponentials."""
    trace = sweep_run(rate_hz=500.0, up_s=10.0, lag_s=0.0)
    cut = int(np.argmax(trace.channels["throttle_pct"])) + 1
    after = (np.arange(trace.size - cut) + 1) / 500.0 / 0.25
    speed, thrust = trace.channels["speed_rpm"].copy(), trace.channels["thrust_gf"].copy()
    speed[cut:] = 20_000.0 / (1.0 + after)
    thrust[cut:] = 12.0 + 1200.0 / (1.0 + after) ** 2
    # The wheel is stopped by hand after a second, so that the second zero is one.
    thrust[cut + 500 :], speed[cut + 500 :] = 12.0, 0.0
    channels = {**trace.channels, "speed_rpm": speed, "thrust_gf": thrust}
    result = reduce_trace(Trace(trace.time_s, channels, "ramp"))
    assert isinstance(result.summary["thrust_gf_lag_s"], Absent)
    said = next(w.message for w in result.warnings if w.code == "lag_unknown")
    assert "thrust_gf" in said
    assert "speed_rpm" in said
    middle = result.points[24]
    assert middle.value("thrust_gf") == pytest.approx(
        sweep_thrust_gf(middle.value("throttle_pct")), abs=1.5
    )
