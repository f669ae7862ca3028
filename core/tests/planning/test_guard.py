"""The forecast of the next step, against motors whose next step is known."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from known_things import exactly, motor, propeller, supply

from spindle_core.planning.guard import ExpectedStep, Forecast, SeenStep, forecast, passed, warmest
from spindle_core.planning.predict import predict_curve

LEVELS = (20.0, 40.0, 60.0, 80.0, 100.0)


def curve_of(known, volts=16.0):
    made = predict_curve(known, propeller(), supply(volts, 0.004), exactly(1.19), LEVELS)
    return [
        ExpectedStep(pct, {name: (one.value, one.u) for name, one in figures.items()})
        for pct, figures in made
    ]


def seen_of(curve, upto):
    return [
        SeenStep(step.throttle_pct, {name: value for name, (value, _) in step.figures.items()})
        for step in curve
        if step.throttle_pct <= upto
    ]


def test_nothing_is_made_up_where_nothing_is_known():
    assert forecast(40.0, [], []) == {}
    assert forecast(40.0, [], [SeenStep(20.0, {"current_a": math.nan})]) == {}
    assert forecast(40.0, [], [SeenStep(20.0, {"current_a": 0.0, "thrust_gf": -3.0})]) == {}
    with pytest.raises(ValueError, match="above 0"):
        forecast(0.0, [], [])


def test_what_was_expected_is_the_forecast_of_the_first_step():
    curve = curve_of(motor(u_kv=60.0, u_ohm=0.02))
    made = forecast(60.0, curve, [])["current_a"]
    value, u = curve[2].figures["current_a"]
    assert made.value == pytest.approx(value, rel=1e-9)
    assert made.u >= u


def test_a_motor_that_draws_more_than_expected_is_foreseen_after_one_step():
    expected = curve_of(motor(kv=1900.0, u_kv=60.0))
    truth = curve_of(motor(kv=2150.0))
    made = forecast(80.0, expected, seen_of(truth, 60.0))
    for name in ("current_a", "power_w", "thrust_gf", "speed_rpm"):
        true = truth[3].figures[name][0]
        assert abs(made[name].value - true) < 2.0 * made[name].u, name
        assert made[name].u < 0.08 * true, name


def test_the_steps_alone_are_enough_from_the_second_on():
    truth = curve_of(motor())
    wide = forecast(80.0, [], seen_of(truth, 40.0))["current_a"]
    near = forecast(80.0, [], seen_of(truth, 60.0))["current_a"]
    true = truth[3].figures["current_a"][0]
    assert abs(near.value - true) < 2.0 * near.u
    assert near.u < wide.u


def test_its_u_is_kept_over_many_motors():
    rng = np.random.default_rng(11)
    inside = total = 0
    for _ in range(60):
        kv, ohm, idle = 1900 * rng.normal(1, 0.04), 0.12 * rng.normal(1, 0.15), rng.uniform(0.5, 2)
        expected = curve_of(motor(u_kv=76.0, u_ohm=0.018))
        truth = curve_of(motor(kv=kv, ohm=max(0.05, ohm), idle=idle))
        for upto, following in ((20.0, 1), (40.0, 2), (60.0, 3), (80.0, 4)):
            made = forecast(LEVELS[following], expected, seen_of(truth, upto))["current_a"]
            true = truth[following].figures["current_a"][0]
            inside += abs(made.value - true) <= 2.0 * made.u
            total += 1
    assert inside / total >= 0.93


CURVE = curve_of(motor())


@given(
    st.lists(
        st.tuples(st.floats(0.1, 100), st.floats(allow_nan=True, allow_infinity=True)), max_size=6
    ),
    st.floats(0.1, 100),
)
def test_no_reading_makes_it_no_number(seen, throttle):
    steps = [SeenStep(pct, {"current_a": value, "voltage_v": value / 3}) for pct, value in seen]
    for one in forecast(throttle, CURVE, steps).values():
        assert math.isfinite(one.value)
        assert math.isfinite(one.u)
        assert one.u > 0


def test_an_expected_curve_of_nonsense_counts_as_none():
    curve = [ExpectedStep(50.0, {"current_a": (-3.0, 1.0)}), ExpectedStep(0.0, {})]
    assert "current_a" not in forecast(60.0, curve, [])


def test_a_case_that_warms_faster_under_more_current():
    made = warmest(60.0, 2.0, 3.0, current_now_a=20.0, current_next_a=30.0)
    assert made == Forecast(60.0 + 2.0 * 3.0 * 2.25, 2.0 * 3.0 * 2.25 / 3.0)
    # Less current does not cool it in the forecast, and a case that cools stays as it is.
    assert warmest(60.0, 2.0, 3.0, current_now_a=20.0, current_next_a=5.0).value == 66.0
    assert warmest(60.0, -1.0, 3.0, current_now_a=20.0, current_next_a=30.0).value == 60.0
    # A thousandfold current is no basis for a forecast of a thousandfold squared.
    assert warmest(60.0, 2.0, 1.0, current_now_a=0.3, current_next_a=300.0).value == 92.0
    assert warmest(60.0, 2.0, 3.0, current_now_a=0.0, current_next_a=30.0) is None
    assert warmest(math.nan, 2.0, 3.0, current_now_a=9.0, current_next_a=30.0) is None


def test_the_limit_that_is_passed_by_the_most_is_named():
    made = {"current_a": Forecast(41.0, 2.0), "power_w": Forecast(900.0, 40.0)}
    assert passed(made, {"current_a": 41.0, "power_w": 1000.0}) is None
    found = passed(made, {"current_a": 40.0, "power_w": 600.0})
    assert (found.name, found.limit) == ("power_w", 600.0)
    assert passed(made, {"motor_temp_c": 80.0}) is None


def test_a_voltage_is_passed_downwards():
    made = {"voltage_v": Forecast(12.9, 0.1)}
    assert passed(made, {}, 12.8) is None
    found = passed(made, {}, 13.2)
    assert found.floor
    assert found.limit == 13.2
    assert passed({}, {}, 13.2) is None
