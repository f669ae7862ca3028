"""Where a stretch begins and ends, to the sample; and what is absent for which reason."""

import math

import numpy as np
import pytest
from runs import plateau_run

from spindle_core.figures.measured import Absent, Measured
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.bursts import LEAST_SAMPLES, full_throttle_spans, strongest
from spindle_core.reduction.columns import Column, quotient_column
from spindle_core.reduction.flywheel import peak_figures
from spindle_core.reduction.hold import ASSUMED_BEND, point_at
from spindle_core.reduction.plateau import SHORTEST_S, filled_forward, find_plateaus
from spindle_core.reduction.result import Point
from spindle_core.reduction.spin_up import SpinUp
from spindle_core.run.trace import Trace

NAN = math.nan


@pytest.mark.parametrize(
    ("samples", "filled"),
    [
        ([5.0, NAN, NAN], [5.0, 5.0, 5.0]),
        ([NAN, 5.0, NAN], [5.0, 5.0, 5.0]),
        ([NAN, NAN, 5.0], [5.0, 5.0, 5.0]),
        ([5.0, NAN, 7.0, NAN], [5.0, 5.0, 7.0, 7.0]),
        ([5.0, 6.0], [5.0, 6.0]),
    ],
)
def test_a_command_holds_until_the_next_one(samples, filled):
    assert filled_forward(np.array(samples)).tolist() == filled


@pytest.mark.parametrize(("extra", "found"), [(0, 1), (-1, 0)])
def test_a_plateau_lasts_until_the_sample_after_its_last(extra, found):
    step = 0.1
    held = round(SHORTEST_S / step) + extra
    throttle = np.array([0.0] * 20 + [50.0] * held + [0.0] * 20)
    trace = Trace(np.arange(throttle.size) * step, {"throttle_pct": throttle}, "steps")
    plateaus = find_plateaus(trace)
    assert len(plateaus.plateaus if plateaus else ()) == found


def test_without_a_throttle_the_top_tenth_of_the_first_known_channel_is_full():
    current = np.array([0.0] * 50 + [10.0] * 30 + [8.9] * 20 + [0.0] * 50)
    trace = Trace(np.arange(current.size) * 0.02, {"current_a": current}, "peak")
    assert full_throttle_spans(trace) == ([(50, 80)], "current_a")
    flat = Trace(np.arange(50) * 0.02, {"current_a": np.full(50, 3.0)}, "peak")
    assert full_throttle_spans(flat) == ([], "current_a")
    assert full_throttle_spans(Trace(np.arange(5) * 0.1, {}, "peak")) == ([], "")


def test_a_burst_of_few_samples_keeps_its_largest_mean():
    """From a dozen samples on the noise of choosing is taken off, below there is none to see."""
    rng = np.random.default_rng(5)
    few = 1000.0 + rng.normal(scale=10.0, size=LEAST_SAMPLES - 1)
    many = np.concatenate((few, 1000.0 + rng.normal(scale=10.0, size=1)))
    short = strongest(few, 1, 0.05)
    assert short.value == pytest.approx(few.max())
    long = strongest(many, 1, 0.05)
    assert long.value < many.max()


def curve(torque):
    speed = 1000.0 * np.arange(1, len(torque) + 1)
    zeros = np.zeros(len(torque))
    return SpinUp(speed, np.array(torque, float), zeros + 1e-6, *([zeros] * 4), 1.0)


def test_peak_torque_is_the_mean_of_what_lies_within_two_percent_of_the_top():
    found = peak_figures(curve([0.50, 0.99, 1.00, 0.985, 0.90, 0.2]))
    assert found["peak_torque_nm"].value == pytest.approx((0.99 + 1.00 + 0.985) / 3)
    assert found["speed_at_peak_torque_rpm"].value == pytest.approx(3000.0)


def column(values, reason):
    data = np.array(values, float)
    return Column(data, {}, Absent(reason, f"no {reason}"))


@pytest.mark.parametrize(
    ("top", "bottom", "reason"),
    [
        ([NAN, NAN], [1.0, 2.0], "thrust"),
        ([1.0, 2.0], [NAN, NAN], "power"),
        ([NAN, NAN], [NAN, NAN], "thrust"),
        ([1.0, 2.0], [0.0, 3.0], "no_power"),
    ],
)
def test_a_quotient_is_absent_for_the_reason_of_what_lacks(top, bottom, reason):
    found = quotient_column(column(top, "thrust"), column(bottom, "power"), 1.0)
    assert found.absent.reason == reason


def plateau(thrust, watts):
    figures = {
        "thrust_gf": Measured(thrust),
        "power_w": Measured(watts),
        "current_a": Measured(watts / 16.0),
        "throttle_pct": Measured(10.0 * thrust**0.5),
    }
    return Point(figures, 0.0, 0.0, 1.0, True)


def test_between_two_plateaus_the_doubt_is_that_of_a_bend_and_nothing_at_their_ends():
    rows = [plateau(400.0, 40.0), plateau(600.0, 75.0)]

    def doubt(target):
        figure = point_at(rows, target).figures["power_w"]
        return figure.component("interpolation") / figure.value

    distance, apart = math.log(415.0 / 400.0), math.log(600.0 / 400.0)
    expected = 0.5 * ASSUMED_BEND * distance * (apart - distance) / math.sqrt(3.0)
    assert doubt(415.0) == pytest.approx(expected, rel=1e-6)
    assert doubt(400.0) == 0.0


def test_points_say_where_they_lie():
    trace = plateau_run(rate_hz=50.0)
    for point in reduce_trace(trace).points:
        assert trace.time_s[0] <= point.start_s <= point.used_from_s < point.end_s
        assert point.end_s <= trace.time_s[-1]
        inside = (trace.time_s >= point.start_s) & (trace.time_s <= point.end_s)
        levels = trace.channels["throttle_pct"][inside]
        assert np.ptp(levels) == 0.0
