"""Every limit by its number: what may be typed, where exactly it cuts, and whose it is."""

import math

import pytest

from spindle_bench.errors import PlanError
from spindle_bench.limits import (
    COLDEST_C,
    KINDS,
    MISMATCH_PCT,
    MISMATCH_S,
    SPINNING_PCT,
    LimitMonitor,
    Limits,
    against_stand,
    limits_from_json,
    reading,
    states,
)

# name: channel, unit, lowest, highest, both signs, may be off, what a form proposes
AGREED = {
    "current_a": ("current_a", "A", 0.1, 500.0, True, False, 40.0),
    "power_w": ("power_w", "W", 10.0, 20_000.0, True, True, None),
    "motor_temp_c": ("motor_temp_c", "°C", 10.0, 130.0, False, True, 90.0),
    "thrust_gf": ("thrust_gf", "gf", 10.0, 50_000.0, True, True, 4000.0),
    "speed_rpm": ("speed_rpm", "rpm", 500.0, 150_000.0, True, True, None),
    "vibration_g": ("vibration_g", "g", 0.1, 200.0, True, True, 8.0),
    "voltage_floor_v": ("voltage_v", "V", 1.0, 100.0, False, True, None),
    "lost_rpm_s": ("speed_rpm", "s", 0.1, 2.0, False, True, 0.4),
    "lost_sensor_s": ("", "s", 0.1, 2.0, False, False, None),
}

HELLO = {
    "channels": [
        {"name": name}
        for name in (
            "throttle_pct",
            "thrust_gf",
            "voltage_v",
            "current_a",
            "speed_rpm",
            "motor_temp_c",
            "vibration_g",
        )
    ],
    "limits": {"current_a": 80.0, "power_w": 2500.0},
}


def sample(**changed):
    calm = {
        "throttle_pct": 50.0,
        "thrust_gf": 500.0,
        "voltage_v": 16.0,
        "current_a": 10.0,
        "speed_rpm": 12_000.0,
        "motor_temp_c": 30.0,
        "vibration_g": 0.5,
    }
    return {**calm, **changed}


def test_the_table_of_limits_is_the_agreed_one():
    found = {
        name: (k.channel, k.unit, k.lowest, k.highest, k.both_signs, k.can_be_off, k.usual)
        for name, k in KINDS.items()
    }
    assert found == AGREED
    assert (SPINNING_PCT, COLDEST_C, MISMATCH_PCT, MISMATCH_S) == (8.0, -40.0, 10.0, 0.5)
    assert Limits().off == ("voltage_floor_v", "vibration_g", "power_w", "speed_rpm")
    usual = (40.0, 90.0, 4000.0, 0.4, 0.5)
    own = Limits()
    assert usual == (
        own.current_a,
        own.motor_temp_c,
        own.thrust_gf,
        own.lost_rpm_s,
        own.lost_sensor_s,
    )


@pytest.mark.parametrize("name", AGREED)
def test_its_ends_may_be_typed_and_a_hair_beyond_may_not(name):
    low, high = AGREED[name][2:4]
    for value in (low, high):
        assert getattr(Limits(**{name: value}), name) == value
    for value in (low * 0.999, high * 1.001, math.nan, math.inf, -low):
        with pytest.raises(PlanError) as refusal:
            Limits(**{name: value})
        assert refusal.value.field == name
        assert f"{high:g}" in refusal.value.message


@pytest.mark.parametrize("name", [n for n, row in AGREED.items() if not row[5]])
def test_what_cannot_be_off_is_refused_as_off(name):
    with pytest.raises(PlanError, match="cannot be switched off"):
        Limits(**{name: None})


def test_a_name_that_is_no_limit_is_refused_and_the_known_ones_are_named():
    with pytest.raises(PlanError, match=r"Unknown limit 'torque_nm'; known: current_a, lost_rpm_s"):
        limits_from_json({"current_a": 40.0, "torque_nm": 3.0})


def test_what_is_not_named_is_off_but_a_lost_sensor_always_cuts():
    own = limits_from_json({"current_a": 40.0})
    assert own.lost_sensor_s == 0.5
    assert own.lost_rpm_s is None
    assert own.motor_temp_c is None
    assert limits_from_json({"current_a": 40.0, "lost_sensor_s": 1.5}).lost_sensor_s == 1.5


@pytest.mark.parametrize(
    ("name", "at"),
    [
        ("current_a", 40.0),
        ("power_w", 300.0),
        ("motor_temp_c", 90.0),
        ("thrust_gf", 4000.0),
        ("speed_rpm", 20_000.0),
        ("vibration_g", 8.0),
    ],
)
def test_it_cuts_above_its_number_and_not_at_it(name, at):
    monitor = LimitMonitor(Limits(**{name: at}))
    assert monitor.check(1.0, sample(**{name: at}), 50.0) is None
    breach = monitor.check(1.0, sample(**{name: at * 1.0001}), 50.0)
    assert breach.code == f"limit_{name}"
    assert " above the limit of " in breach.message
    assert breach.time_s == 1.0
    both = AGREED[name][4]
    minus = monitor.check(1.0, sample(**{name: -at * 1.0001}), 50.0)
    if both:
        assert minus.code == f"limit_{name}"
        assert " below minus the limit of " in minus.message
    else:
        assert minus is None or minus.code == f"unreadable_{name}"


def test_a_reading_of_zero_is_above_nothing():
    """Where a limit is crossed by nothing, the sentence would say below minus."""
    monitor = LimitMonitor(Limits(motor_temp_c=10.0))
    assert monitor.check(1.0, sample(motor_temp_c=0.0), 50.0) is None
    assert monitor.check(1.0, sample(motor_temp_c=COLDEST_C), 50.0) is None
    cold = monitor.check(1.0, sample(motor_temp_c=COLDEST_C - 0.01), 50.0)
    assert cold.code == "unreadable_motor_temp_c"


def test_the_floor_cuts_below_its_number_and_not_at_it():
    monitor = LimitMonitor(Limits(voltage_floor_v=14.0))
    assert monitor.check(1.0, sample(voltage_v=14.0), 50.0) is None
    assert monitor.check(1.0, sample(voltage_v=13.999), 50.0).code == "limit_voltage_v"


def test_the_tighter_of_run_and_stand_cuts_and_says_whose_it_is():
    monitor = LimitMonitor(Limits(current_a=40.0), {"current_a": 40.0, "thrust_gf": 3000.0})
    assert monitor.effective("current_a") == (40.0, "run")  # equal: it is the run's
    assert monitor.effective("thrust_gf") == (3000.0, "stand")
    assert monitor.effective("vibration_g") == (None, "run")
    assert "the limit of" in monitor.check(1.0, sample(current_a=41.0), 50.0).message
    assert "the stand's limit of" in monitor.check(1.0, sample(thrust_gf=3001.0), 50.0).message


def test_power_of_a_stand_with_volts_and_amps_alone_is_held_against_its_own_limit():
    monitor = LimitMonitor.on_stand(
        Limits(current_a=400.0), {**HELLO, "limits": {"power_w": 500.0}}
    )
    assert monitor.check(1.0, sample(voltage_v=16.0, current_a=31.0), 50.0) is None
    assert monitor.check(1.0, sample(voltage_v=16.0, current_a=32.0), 50.0).code == "limit_power_w"


@pytest.mark.parametrize("without", ["voltage_v", "current_a"])
def test_a_stands_limit_it_cannot_read_is_not_held(without):
    channels = [channel for channel in HELLO["channels"] if channel["name"] != without]
    hello = {"channels": channels, "limits": {"power_w": 500.0}}
    assert LimitMonitor.on_stand(Limits(), hello).stand_limits == {}
    metered = {"channels": [*channels, {"name": "power_w"}], "limits": {"power_w": 500.0}}
    assert LimitMonitor.on_stand(Limits(), metered).stand_limits == {"power_w": 500.0}


def test_a_stand_that_has_just_volts_and_amps_is_enough_for_power():
    bare = {"channels": [{"name": "voltage_v"}, {"name": "current_a"}], "limits": {"power_w": 9.0}}
    assert LimitMonitor.on_stand(Limits(), bare).stand_limits == {"power_w": 9.0}
    own = Limits(motor_temp_c=None, thrust_gf=None, lost_rpm_s=None, power_w=300.0)
    against_stand(own, {**bare, "limits": {}})
    with pytest.raises(PlanError) as refusal:
        against_stand(own, {"channels": [{"name": "current_a"}]})
    assert (refusal.value.code, refusal.value.field) == ("no_channel", "power_w")


def test_a_limit_equal_to_the_stands_own_is_taken():
    against_stand(Limits(current_a=80.0), HELLO)
    with pytest.raises(PlanError, match="the stand itself ends at 80 A"):
        against_stand(Limits(current_a=80.01), HELLO)


def test_power_is_the_meters_where_there_is_one():
    assert reading(sample(power_w=150.0), "power_w") == 150.0
    assert reading(sample(), "power_w") == 160.0
    assert reading(sample(power_w=0.0), "power_w") == 0.0
    assert reading(sample(voltage_v=None), "power_w") is None
    assert reading(sample(current_a=None), "power_w") is None
    assert reading(sample(), "torque_nm") is None


@pytest.mark.parametrize("name", ["thrust_gf", "current_a", "motor_temp_c", "voltage_v"])
def test_a_reading_may_be_missing_so_long_and_no_longer(name):
    monitor = LimitMonitor(Limits(voltage_floor_v=10.0, lost_sensor_s=0.5))
    gone = sample(**{name: None})
    assert monitor.check(1.0, gone, 50.0) is None
    assert monitor.check(1.5, gone, 50.0) is None
    assert monitor.check(1.5001, gone, 50.0).code == f"lost_{name}"


@pytest.mark.parametrize("name", ["thrust_gf", "current_a", "motor_temp_c", "voltage_v"])
def test_a_reading_that_came_back_in_between_counts_anew(name):
    monitor = LimitMonitor(Limits(voltage_floor_v=10.0, lost_sensor_s=0.5))
    gone = sample(**{name: None})
    assert monitor.check(1.0, gone, 50.0) is None
    assert monitor.check(1.4, sample(), 50.0) is None
    assert monitor.check(1.6, gone, 50.0) is None
    assert monitor.check(2.1, gone, 50.0) is None
    assert monitor.check(2.11, gone, 50.0).code == f"lost_{name}"


def test_a_missing_reading_at_rest_is_no_breach_however_long():
    monitor = LimitMonitor(Limits())
    gone = sample(thrust_gf=None, throttle_pct=0.0, speed_rpm=0.0)
    assert [monitor.check(at, gone, 0.0) for at in (1.0, 5.0, 60.0)] == [None] * 3


@pytest.mark.parametrize(
    ("throttle", "speed", "cut"),
    [(8.0, 0.0, False), (8.01, 0.0, True), (50.0, None, True), (50.0, 1.0, False)],
)
def test_a_motor_has_to_turn_above_eight_percent(throttle, speed, cut):
    monitor = LimitMonitor(Limits(lost_rpm_s=0.4, lost_sensor_s=2.0))
    still = sample(throttle_pct=throttle, speed_rpm=speed)
    assert monitor.check(1.0, still, throttle) is None
    assert monitor.check(1.4, still, throttle) is None
    breach = monitor.check(1.41, still, throttle)
    assert (breach is not None) is cut
    if cut:
        assert breach.code == "lost_rpm"


@pytest.mark.parametrize(("echo", "cut"), [(40.0, False), (40.01, True), (20.0, False)])
def test_a_stand_may_run_ten_percent_ahead_and_no_more(echo, cut):
    monitor = LimitMonitor(Limits())
    assert monitor.check(1.0, sample(throttle_pct=echo), 30.0) is None
    assert monitor.check(1.5, sample(throttle_pct=echo), 30.0) is None
    breach = monitor.check(1.51, sample(throttle_pct=echo), 30.0)
    assert (breach is not None) is cut


def test_an_echo_that_is_missing_at_a_command_of_zero_is_no_loss():
    monitor = LimitMonitor(Limits(lost_sensor_s=0.5))
    gone = sample(throttle_pct=None, speed_rpm=0.0)
    assert [monitor.check(at, gone, 0.0) for at in (1.0, 3.0)] == [None, None]
    assert monitor.check(4.0, gone, 0.5) is None
    assert monitor.check(4.6, gone, 0.5).code == "lost_throttle_pct"


# What the screen is told


def by_name(rows):
    return {row["name"]: row for row in rows}


def test_before_a_run_is_chosen_only_the_stands_own_limits_are_told():
    assert states(None, {}, {}, None) == []
    rows = states(None, {}, {"current_a": 80.0}, sample())
    assert [row["name"] for row in rows] == ["current_a"]
    assert rows[0] == {
        "name": "current_a",
        "channel": "current_a",
        "label": "Current",
        "unit": "A",
        "limit": None,
        "stand_limit": 80.0,
        "state": "on",
        "off_by": "",
    }


def test_with_a_run_every_limit_is_told_with_its_state():
    own = Limits(motor_temp_c=None).as_json()
    rows = by_name(states(own, {"motor_temp_c": "Ilse"}, {"vibration_g": 20.0}, sample()))
    assert set(rows) == set(KINDS)
    assert (rows["motor_temp_c"]["state"], rows["motor_temp_c"]["off_by"]) == ("off", "Ilse")
    assert (rows["vibration_g"]["state"], rows["vibration_g"]["stand_limit"]) == ("on", 20.0)
    assert (rows["current_a"]["state"], rows["current_a"]["limit"]) == ("on", 40.0)
    assert rows["lost_sensor_s"]["state"] == "on"
    assert rows["power_w"]["state"] == "off"


def test_a_limit_without_its_reading_cannot_be_judged():
    own = Limits(power_w=300.0).as_json()
    blind = by_name(states(own, {}, {}, sample(thrust_gf=None, voltage_v=None)))
    assert blind["thrust_gf"]["state"] == "cannot_judge"
    assert blind["power_w"]["state"] == "cannot_judge"
    assert blind["current_a"]["state"] == "on"
    # Where nothing is expected to be read, nothing is missing.
    assert by_name(states(own, {}, {}, None))["thrust_gf"]["state"] == "on"
