"""Profiles before anything spins, and the limits that end a run."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from spindle_bench.errors import PlanError, RefusedError
from spindle_bench.limits import LimitMonitor, Limits, against_stand, limits_from_json, states
from spindle_bench.plan import CHECKLIST, check_checklist, plan_from_json
from spindle_bench.profiles import (
    StepsProfile,
    duration_s,
    highest_throttle_pct,
    profile_from_json,
    segments,
)
from spindle_bench.stand.device import SimulatedStand

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
    [
        {"levels_pct": []},
        {"levels_pct": [0]},
        {"levels_pct": [101]},
        {"levels_pct": [math.nan]},
        {"levels_pct": [50], "dwell_s": 1.0},
        {"levels_pct": [50], "rest_s": 0},
        {},
        {"kind": "ramp", "levels_pct": [50]},
        {"kind": "teleport"},
        {"levels_pct": ["a"]},
        {"levels_pct": [50], "ramp_pct_per_s": math.inf},
    ],
)
def test_impossible_profiles(wrong):
    with pytest.raises(PlanError):
        profile_from_json(wrong)


def sample(**changed):
    return {
        "throttle_pct": 50.0,
        "thrust_gf": 500.0,
        "current_a": 12.0,
        "voltage_v": 15.8,
        "speed_rpm": 15_000.0,
        "motor_temp_c": 40.0,
        "vibration_g": 0.4,
        **changed,
    }


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
    [
        ({"speed_rpm": 0.0}, "lost_rpm", 0.4),
        ({"speed_rpm": None}, "lost_rpm", 0.4),
        ({"motor_temp_c": None}, "lost_motor_temp_c", 0.5),
        ({"current_a": None}, "lost_current_a", 0.5),
    ],
)
def test_a_lost_signal_is_allowed_for_a_moment_only(missing, code, allowed):
    monitor = LimitMonitor(Limits())
    assert monitor.check(2.0, sample(**missing)) is None
    assert monitor.check(2.0 + allowed - 0.01, sample(**missing)) is None
    assert monitor.check(2.0 + allowed + 0.01, sample(**missing)).code == code


def test_a_signal_that_comes_back_starts_anew():
    monitor = LimitMonitor(Limits())
    monitor.check(2.0, sample(speed_rpm=0.0), 50.0)
    monitor.check(2.3, sample(), 50.0)
    assert monitor.check(2.6, sample(speed_rpm=0.0), 50.0) is None


def test_standing_still_at_rest_is_no_loss():
    monitor = LimitMonitor(Limits())
    for time in (0.0, 5.0):
        assert monitor.check(time, sample(throttle_pct=0.0, speed_rpm=0.0)) is None


def test_limits_that_make_no_sense():
    for wrong in (
        {"current_a": 0},
        {"current_a": -3},
        {"amps": 3},
        {"current_a": "x"},
        {"lost_sensor_s": None},
    ):
        with pytest.raises(PlanError):
            limits_from_json(wrong)


def test_plan_round_trip_and_its_needs():
    plan = make_plan()
    assert plan_from_json(plan.as_json()) == plan
    without = {**plan.as_json(), "limits": {"current_a": None}}
    with pytest.raises(PlanError, match="Current"):
        plan_from_json(without)
    with pytest.raises(PlanError, match="incomplete"):
        plan_from_json({"run_id": "x"})


@pytest.mark.parametrize("value", [float("nan"), float("inf"), float("-inf")])
@pytest.mark.parametrize("channel", ["current_a", "thrust_gf", "motor_temp_c", "torque_nm"])
def test_a_reading_that_is_no_number_is_a_breach_at_once(channel, value):
    breach = LimitMonitor(Limits()).check(1.0, sample(**{channel: value}), 50.0)
    assert breach.code == f"unreadable_{channel}"


def test_a_missing_voltage_with_a_floor_set_is_a_breach():
    monitor = LimitMonitor(Limits(voltage_floor_v=14.0))
    assert monitor.check(1.0, sample(voltage_v=None), 50.0) is None
    assert monitor.check(1.51, sample(voltage_v=None), 50.0).code == "lost_voltage_v"


def test_a_missing_echo_of_the_throttle_turns_no_check_off():
    monitor = LimitMonitor(Limits())
    lost = sample(throttle_pct=None, speed_rpm=0.0)
    assert monitor.check(1.0, lost, 50.0) is None
    assert monitor.check(1.41, lost, 50.0).code == "lost_rpm"
    blind = LimitMonitor(Limits(lost_rpm_s=None))
    blind.check(1.0, sample(throttle_pct=None), 50.0)
    assert blind.check(1.51, sample(throttle_pct=None), 50.0).code == "lost_throttle_pct"


def test_a_stand_that_applies_more_than_commanded_is_cut():
    monitor = LimitMonitor(Limits())
    assert monitor.check(1.0, sample(throttle_pct=80.0), 30.0) is None
    assert monitor.check(1.51, sample(throttle_pct=80.0), 30.0).code == "throttle_mismatch"


@pytest.mark.parametrize(
    ("changed", "code"),
    [
        ({"thrust_gf": -5000.0}, "limit_thrust_gf"),
        ({"current_a": -41.0}, "limit_current_a"),
        ({"speed_rpm": 20_001.0}, "limit_speed_rpm"),
        ({"motor_temp_c": -41.0}, "unreadable_motor_temp_c"),
        ({"current_a": 30.0, "voltage_v": 16.7}, "limit_power_w"),
        ({"power_w": 500.1}, "limit_power_w"),
    ],
)
def test_reversed_cells_power_and_speed_are_not_blind_spots(changed, code):
    monitor = LimitMonitor(Limits(power_w=500.0, speed_rpm=20_000.0))
    assert monitor.check(1.0, sample(), 50.0) is None
    assert monitor.check(1.01, sample(**changed), 50.0).code == code


def test_power_that_cannot_be_judged_is_a_breach():
    monitor = LimitMonitor(Limits(power_w=500.0))
    assert monitor.check(1.0, sample(voltage_v=None), 50.0) is None
    assert monitor.check(1.51, sample(voltage_v=None), 50.0).code == "lost_power_w"


def test_the_stands_own_limit_cuts_where_the_runs_is_off_or_wider():
    monitor = LimitMonitor(Limits(thrust_gf=None), {"thrust_gf": 1000.0, "current_a": 30.0})
    assert monitor.check(1.0, sample(), 50.0) is None
    breach = monitor.check(1.0, sample(thrust_gf=1000.5), 50.0)
    assert (breach.code, "stand's limit" in breach.message) == ("limit_thrust_gf", True)
    assert monitor.check(1.0, sample(current_a=30.2), 50.0).code == "limit_current_a"


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("motor_temp_c", 180.0),
        ("thrust_gf", 90_000.0),
        ("current_a", 999_999.0),
        ("speed_rpm", 1e6),
        ("motor_temp_c", float("nan")),
        ("thrust_gf", float("inf")),
    ],
)
def test_a_limit_that_protects_nothing_is_refused_and_names_its_field(name, value):
    with pytest.raises(PlanError) as caught:
        limits_from_json({"current_a": 40.0, name: value})
    assert caught.value.field == name


@pytest.mark.parametrize("value", ["90", True, [90]])
def test_text_is_no_limit(value):
    with pytest.raises(PlanError) as caught:
        limits_from_json({"current_a": 40.0, "motor_temp_c": value})
    assert caught.value.field == "motor_temp_c"


def test_a_limit_is_off_only_by_somebodys_choice():
    plan = make_plan(limits=Limits(motor_temp_c=None))
    data = plan.as_json()
    assert plan_from_json(data).limits_off["motor_temp_c"] == "Ilse"
    del data["limits_off"]["motor_temp_c"]
    with pytest.raises(PlanError) as caught:
        plan_from_json(data)
    assert (caught.value.code, caught.value.field) == ("limit_missing", "motor_temp_c")
    data = make_plan(limits=Limits(motor_temp_c=None)).as_json()
    data["limits_off"]["current_a"] = "Ilse"
    with pytest.raises(PlanError, match="has a limit"):
        plan_from_json(data)


def test_the_checklist_names_every_limit_that_is_off_and_a_longer_grace():
    plan = make_plan(
        limits=Limits(
            motor_temp_c=None, vibration_g=5, power_w=500, speed_rpm=30_000, voltage_floor_v=13.2
        ),
        page_grace_s=6.0,
    )
    with pytest.raises(RefusedError, match="off motor temp c, longer page grace"):
        check_checklist(plan, CHECKLIST)
    check_checklist(plan, [*CHECKLIST, "off_motor_temp_c", "longer_page_grace"])


def test_limits_are_held_against_the_stand():
    hello = SimulatedStand().hello()
    against_stand(Limits(), hello)
    for name, value in (("current_a", 80.1), ("thrust_gf", 5001), ("motor_temp_c", 126)):
        with pytest.raises(PlanError) as caught:
            against_stand(Limits(**{name: value}), hello)
        assert (caught.value.code, caught.value.field) == ("above_stand", name)
    bare = {**hello, "channels": [c for c in hello["channels"] if c["name"] != "motor_temp_c"]}
    with pytest.raises(PlanError) as caught:
        against_stand(Limits(), bare)
    assert (caught.value.code, caught.value.field) == ("no_channel", "motor_temp_c")
    against_stand(Limits(motor_temp_c=None), bare)


def test_each_limit_says_its_state():
    shown = {
        row["name"]: row
        for row in states(
            Limits(motor_temp_c=None, power_w=None).as_json(),
            {"motor_temp_c": "Ilse", "power_w": "Ilse"},
            {"thrust_gf": 5000.0, "power_w": 2500.0},
            sample(thrust_gf=None),
        )
    }
    assert (shown["motor_temp_c"]["state"], shown["motor_temp_c"]["off_by"]) == ("off", "Ilse")
    assert (shown["thrust_gf"]["state"], shown["thrust_gf"]["stand_limit"]) == (
        "cannot_judge",
        5000,
    )
    assert (shown["power_w"]["state"], shown["power_w"]["limit"]) == ("on", None)
    assert shown["current_a"]["state"] == "on"
