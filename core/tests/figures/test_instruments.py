"""What is assumed of an instrument nobody declared: the table, and which instrument it is."""

import math

import pytest

from spindle_core.figures.instruments import INSTRUMENTS, USUAL, assumed_accuracy
from spindle_core.figures.quantities import CHANNELS

# instrument: half-widths, relative; half-widths in the channel's unit
AGREED = {
    "load_cell": ({"thrust_gf": 0.01, "torque_nm": 0.02}, {}),
    "kitchen_scale": ({"thrust_gf": 0.01}, {}),
    "watt_meter": ({"voltage_v": 0.01, "current_a": 0.02, "power_w": 0.025}, {}),
    "shunt_logger": ({"voltage_v": 0.005, "current_a": 0.01, "power_w": 0.012}, {}),
    "esc_telemetry": (
        {"voltage_v": 0.02, "current_a": 0.05, "power_w": 0.055, "speed_rpm": 0.002},
        {"motor_temp_c": 3.0},
    ),
    "optical_tachometer": ({"speed_rpm": 0.001}, {}),
    "thermometer": ({}, {"motor_temp_c": 2.0, "ambient_temp_c": 1.0}),
    "infrared_thermometer": ({}, {"motor_temp_c": 4.0}),
    "accelerometer": ({"vibration_g": 0.1}, {}),
}


def test_the_table_is_the_agreed_one():
    assert {k: (dict(i.relative), dict(i.absolute)) for k, i in INSTRUMENTS.items()} == AGREED


@pytest.mark.parametrize(
    ("kind", "channel"), [(k, c) for k, parts in AGREED.items() for part in parts for c in part]
)
def test_a_half_width_becomes_u_over_the_root_of_three_and_is_said_in_words(kind, channel):
    relative, absolute = AGREED[kind]
    found = assumed_accuracy(channel, kind)
    if channel in relative:
        half = relative[channel]
        assert (found.relative_u, found.absolute_u) == (half / math.sqrt(3.0), 0.0)
        assert f"±{100 * half:g} %" in found.words
    else:
        half = absolute[channel]
        assert (found.relative_u, found.absolute_u) == (0.0, half / math.sqrt(3.0))
        assert f"±{half:g} K" in found.words
    assert found.words.startswith(CHANNELS[channel].label.lower())
    assert INSTRUMENTS[kind].label in found.words


@pytest.mark.parametrize("channel", USUAL)
def test_where_nobody_names_one_it_is_the_usual_instrument(channel):
    assert assumed_accuracy(channel) == assumed_accuracy(channel, USUAL[channel])
    # An instrument that does not read the channel was named for another one.
    other = "infrared_thermometer" if channel != "motor_temp_c" else "load_cell"
    assert assumed_accuracy(channel, other) == assumed_accuracy(channel)
    assert assumed_accuracy(channel, "crystal_ball") == assumed_accuracy(channel)


@pytest.mark.parametrize("channel", ["throttle_pct", "duty", "time_s", "nothing"])
def test_a_command_is_exact(channel):
    assert assumed_accuracy(channel) is None
    assert assumed_accuracy(channel, "load_cell") is None
