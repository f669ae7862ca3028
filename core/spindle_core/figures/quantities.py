"""The channels a bench log may hold: names, units and what is physically possible.

A channel's name ends in its unit; the same name is used in files, in the database, in the API
and on the screen. ``low`` and ``high`` bound what a sensor of a small-motor bench can report:
outside them a value is impossible data, not merely unusual.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True)
class Channel:
    """One recorded quantity. ``unit`` is the printed unit, ``low``/``high`` in that unit."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    tared: bool = False


_CHANNELS: Final = (
    Channel("throttle_pct", "Throttle", "%", 0.0, 100.0),
    Channel("duty", "Duty", "", 0.0, 1.0),
    Channel("thrust_gf", "Thrust", "gf", -50_000.0, 50_000.0, tared=True),
    Channel("torque_nm", "Torque", "N·m", -50.0, 50.0, tared=True),
    Channel("voltage_v", "Voltage", "V", 0.0, 120.0),
    Channel("current_a", "Current", "A", -50.0, 1_000.0),
    Channel("power_w", "Power", "W", -500.0, 50_000.0),
    Channel("speed_rpm", "Speed", "rpm", 0.0, 300_000.0),
    Channel("motor_temp_c", "Motor temperature", "°C", -60.0, 400.0),
    Channel("ambient_temp_c", "Ambient temperature", "°C", -60.0, 80.0),
    Channel("vibration_g", "Vibration", "g", 0.0, 500.0),
)

CHANNELS: Final[dict[str, Channel]] = {channel.name: channel for channel in _CHANNELS}
TIME_COLUMN: Final = "time_s"

RUN_KINDS: Final = (
    "steps",
    "ramp",
    "peak",
    "hold",
    "no_load",
    "flywheel",
    "response",
    "soak",
    "readings",
)
