"""Profiles before anything spins, and the limits that end a run."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_bench.errors import PlanError
from spindle_bench.limits import LimitMonitor, Limits, limits_from_json
from spindle_bench.plan import plan_from_json
from spindle_bench.profiles import (
    StepsProfile,
    duration_s,
    highest_throttle_pct,
    profile_from_json,
    segments,
)

from .conftest import make_plan


@given(st.lists(st.floats(1, 100), min_size=1, max_size=10))
def test_segments_join_and_start_and_end_at_rest(levels):
    parts = list(segments(StepsProfile(tuple(levels))))
    assert parts[0].start_pct == parts[-1].end_pct == 0
    for before, after in itertools.pairwise(parts):
        assert before.end_pct == after.start_pct
    assert highest_throttle_pct(StepsProfile(tuple(levels))) == max(levels)


def test_duration_by_hand():
    profile = StepsProfile((20.0, 60.0), dwell_s=3, ramp_pct_per_s=40, rest_s=2)
    # 2 + 0.5 + 3 + 1 + 3 + 1.5 + 2
    assert duration_s(profile) == pytest.approx(13.0)


def test_profile_round_trip():
    profile = StepsProfile((20.0, 60.0), dwell_s=2.5)
    assert profile_from_json(profile.as_json()) == profile


@pytest.mark.parametrize(
    "wrong",
    [{"levels_pct": []}, {"levels_pct": [0]}, {"levels_pct": [101]}, {"levels_pct": [math.nan]},
     {"levels_pct": [50], "dwell_s": 1.0}, {"levels_pct": [50], "rest_s": 0}, {},
     {"kind": "ramp", "levels_pct": [50]}, {"levels_pct": ["a"]},
     {"levels_pct": [50], "ramp_pct_per_s": math.inf}],
)  # fmt: skip
def test_impossible_profiles(wrong):
    with pytest.raises(PlanError):
        profile_from_json(wrong)


def sample(**changed):
    return {
        "throttle_pct": 50.0, "thrust_gf": 500.0, "current_a": 12.0, "voltage_v": 15.8,
        "speed_rpm": 15_000.0, "motor_temp_c": 40.0, "vibration_g": 0.4, **changed,
    }  # fmt: skip


@pytest.mark.parametrize(
    ("changed", "code"),
    [
        ({"current_a": 40.01}, "limit_current_a"),
        ({"motor_temp_c": 90.5}, "limit_motor_temp_c"),
        ({"thrust_gf": 4001.0}, "limit_thrust_gf"),
        ({"voltage_v": 13.9}, "limit_voltage_v"),
        ({"vibration_g": 6.0}, "limit_vibration_g"),
    ],
)
def test_one_sample_beyond_a_limit_is_a_breach(changed, code):
    monitor = LimitMonitor(Limits(voltage_floor_v=14.0, vibration_g=5.0))
    assert monitor.check(1.0, sample()) is None
    breach = monitor.check(1.01, sample(**changed))
    assert (breach.code, breach.time_s) == (code, 1.01)


@pytest.mark.parametrize(
    ("missing", "code", "allowed"),
    [({"speed_rpm": 0.0}, "lost_rpm", 0.4), ({"speed_rpm": None}, "lost_rpm", 0.4),
     ({"motor_temp_c": None}, "lost_motor_temp_c", 0.5),
     ({"current_a": None}, "lost_current_a", 0.5)],
)  # fmt: skip
def test_a_lost_signal_is_allowed_for_a_moment_only(missing, code, allowed):
    monitor = LimitMonitor(Limits())
    assert monitor.check(2.0, sample(**missing)) is None
    assert monitor.check(2.0 + allowed - 0.01, sample(**missing)) is None
    assert monitor.check(2.0 + allowed + 0.01, sample(**missing)).code == code


def test_a_signal_that_comes_back_starts_anew():
    monitor = LimitMonitor(Limits())
    monitor.check(2.0, sample(speed_rpm=0.0))
    monitor.check(2.3, sample())
    assert monitor.check(2.6, sample(speed_rpm=0.0)) is None


def test_standing_still_at_rest_is_no_loss():
    monitor = LimitMonitor(Limits())
    for time in (0.0, 5.0):
        assert monitor.check(time, sample(throttle_pct=0.0, speed_rpm=0.0)) is None


def test_limits_that_make_no_sense():
    for wrong in ({"current_a": 0}, {"current_a": -3}, {"amps": 3}, {"current_a": "x"},
                  {"lost_sensor_s": None}):  # fmt: skip
        with pytest.raises(PlanError):
            limits_from_json(wrong)


def test_plan_round_trip_and_its_needs():
    plan = make_plan()
    assert plan_from_json(plan.as_json()) == plan
    without = {**plan.as_json(), "limits": {"current_a": None}}
    with pytest.raises(PlanError, match="current limit"):
        plan_from_json(without)
    with pytest.raises(PlanError, match="incomplete"):
        plan_from_json({"run_id": "x"})
