"""What instruments of a small bench are usually good for, where nobody declares it.

An undeclared accuracy is not an accuracy of 0. A channel without a declared calibration takes the
half-width that makers of such instruments usually promise, as a rectangular distribution
(GUM 4.3.7): u = half-width ÷ √3. It is a component of its own kind, so that a figure says that a
part of its u was assumed.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.figures.quantities import CHANNELS


@dataclass(frozen=True, slots=True)
class Instrument:
    """A kind of instrument and, by channel, what is assumed of it.

    ``relative``: half-width as a share of the reading. ``absolute``: half-width in the channel's
    unit, for what has no zero to be relative to.
    """

    label: str
    relative: Mapping[str, float]
    absolute: Mapping[str, float]


INSTRUMENTS: Mapping[str, Instrument] = {
    "load_cell": Instrument("load cell", {"thrust_gf": 0.010, "torque_nm": 0.020}, {}),
    "kitchen_scale": Instrument("kitchen scale", {"thrust_gf": 0.010}, {}),
    "watt_meter": Instrument(
        "watt meter", {"voltage_v": 0.010, "current_a": 0.020, "power_w": 0.025}, {}
    ),
    "shunt_logger": Instrument(
        "shunt and divider", {"voltage_v": 0.005, "current_a": 0.010, "power_w": 0.012}, {}
    ),
    "esc_telemetry": Instrument(
        "ESC telemetry",
        {"voltage_v": 0.020, "current_a": 0.050, "power_w": 0.055, "speed_rpm": 0.002},
        {"motor_temp_c": 3.0},
    ),
    "optical_tachometer": Instrument("optical tachometer", {"speed_rpm": 0.001}, {}),
    "thermometer": Instrument(
        "thermocouple or thermistor", {}, {"motor_temp_c": 2.0, "ambient_temp_c": 1.0}
    ),
    "infrared_thermometer": Instrument("infrared thermometer", {}, {"motor_temp_c": 4.0}),
    "accelerometer": Instrument("accelerometer", {"vibration_g": 0.10}, {}),
}

USUAL: Mapping[str, str] = {
    "thrust_gf": "load_cell",
    "torque_nm": "load_cell",
    "voltage_v": "watt_meter",
    "current_a": "watt_meter",
    "power_w": "watt_meter",
    "speed_rpm": "optical_tachometer",
    "motor_temp_c": "thermometer",
    "ambient_temp_c": "thermometer",
    "vibration_g": "accelerometer",
}
"""The instrument a channel is taken for where nobody names one."""


@dataclass(frozen=True, slots=True)
class Assumed:
    """The assumed accuracy of one channel: standard uncertainties, and the words for them."""

    relative_u: float
    absolute_u: float
    words: str


def assumed_accuracy(channel: str, instrument: str | None = None) -> Assumed | None:
    """What is assumed of a channel that nobody declared; None for a command, which is exact.

    :param instrument: a key of :data:`INSTRUMENTS`; what the channel is usually read with by
        default, and where that instrument does not read the channel.
    """
    for key in (instrument, USUAL.get(channel)):
        kind = None if key is None else INSTRUMENTS.get(key)
        if kind is None:
            continue
        if (share := kind.relative.get(channel)) is not None:
            label = CHANNELS[channel].label.lower()
            return Assumed(
                share / math.sqrt(3.0), 0.0, f"{label} ±{100 * share:g} % ({kind.label})"
            )
        if (half := kind.absolute.get(channel)) is not None:
            known = CHANNELS[channel]
            unit = "K" if known.unit == "°C" else known.unit
            return Assumed(
                0.0, half / math.sqrt(3.0), f"{known.label.lower()} ±{half:g} {unit} ({kind.label})"
            )
    return None
