"""Units as people write them, per quantity, with the way into the channel's own unit."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from spindle_core.errors import MappingError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import GRAMS_PER_OUNCE, GRAMS_PER_POUND
from spindle_core.figures.quantities import CHANNELS, TIME_COLUMN


@dataclass(frozen=True, slots=True)
class Unit:
    """value in the channel's unit = (value − ``offset``) × ``factor``; ``poles``: × 2 ÷ poles."""

    name: str
    factor: float
    offset: float = 0.0
    poles: bool = False
    spellings: tuple[str, ...] = ()


_GF_PER_N = 1000.0 / 9.80665
_NM_PER_KGCM = 9.80665e-2

_FORCE = (
    Unit("gf", 1.0, spellings=("g", "gf", "gram", "grams", "gramforce")),
    Unit("kgf", 1000.0, spellings=("kg", "kgf", "kilogram", "kilograms")),
    Unit("N", _GF_PER_N, spellings=("n", "newton", "newtons")),
    Unit("mN", _GF_PER_N / 1000.0, spellings=("mn",)),
    Unit("oz", GRAMS_PER_OUNCE, spellings=("oz", "ozf", "ounce", "ounces")),
    Unit("lbf", GRAMS_PER_POUND, spellings=("lb", "lbf", "lbs", "pound", "pounds")),
)
_TEMPERATURE = (
    Unit("°C", 1.0, spellings=("c", "°c", "degc", "celsius", "ºc")),
    Unit("°F", 5.0 / 9.0, 32.0, spellings=("f", "°f", "degf", "fahrenheit", "ºf")),
    Unit("K", 1.0, 273.15, spellings=("k", "kelvin")),
)

UNITS: Final[Mapping[str, tuple[Unit, ...]]] = {
    TIME_COLUMN: (
        Unit("s", 1.0, spellings=("s", "sec", "secs", "second", "seconds")),
        Unit("ms", 1e-3, spellings=("ms", "msec", "millis", "milliseconds")),
        Unit("µs", 1e-6, spellings=("us", "µs", "μs", "usec", "micros", "microseconds")),
        Unit("min", 60.0, spellings=("min", "minute", "minutes")),
    ),
    "throttle_pct": (
        Unit("%", 1.0, spellings=("%", "pct", "percent")),
        Unit("µs", 0.1, 1000.0, spellings=("us", "µs", "μs", "usec", "pwm")),
        Unit("0–1", 100.0, spellings=("0-1", "0..1", "fraction", "ratio")),
    ),
    "duty": (
        Unit("0–1", 1.0, spellings=("0-1", "fraction", "ratio")),
        Unit("%", 0.01, spellings=("%", "pct", "percent")),
    ),
    "thrust_gf": _FORCE,
    "torque_nm": (
        Unit("N·m", 1.0, spellings=("nm", "n·m", "n.m", "n*m", "n-m")),
        Unit("mN·m", 1e-3, spellings=("mnm", "mn·m", "mn.m", "mn*m")),
        Unit("N·cm", 1e-2, spellings=("ncm", "n·cm", "n.cm", "n*cm")),
        Unit("g·cm", _NM_PER_KGCM / 1000.0, spellings=("gcm", "g·cm", "g.cm", "g*cm", "gfcm")),
        Unit("kg·cm", _NM_PER_KGCM, spellings=("kgcm", "kg·cm", "kg.cm", "kg*cm", "kgfcm")),
        Unit("oz·in", 7.0615518e-3, spellings=("ozin", "oz·in", "oz.in", "oz-in", "ozfin")),
        Unit("lb·in", 0.11298483, spellings=("lbin", "lb·in", "in-lb", "lbfin", "inlb")),
    ),
    "voltage_v": (
        Unit("V", 1.0, spellings=("v", "volt", "volts")),
        Unit("mV", 1e-3, spellings=("mv", "millivolt", "millivolts")),
    ),
    "current_a": (
        Unit("A", 1.0, spellings=("a", "amp", "amps", "ampere", "amperes")),
        Unit("mA", 1e-3, spellings=("ma", "milliamp", "milliamps")),
    ),
    "power_w": (
        Unit("W", 1.0, spellings=("w", "watt", "watts")),
        Unit("kW", 1000.0, spellings=("kw",)),
        Unit("mW", 1e-3, spellings=("mw",)),
    ),
    "speed_rpm": (
        Unit("rpm", 1.0, spellings=("rpm", "1/min", "min-1", "u/min", "r/min")),
        Unit("electrical rpm", 1.0, poles=True, spellings=("erpm", "e-rpm", "eletricalrpm")),
        Unit("electrical Hz", 60.0, poles=True, spellings=("ehz",)),
        Unit("Hz", 60.0, spellings=("hz", "rps", "1/s", "rev/s")),
        Unit("rad/s", 30.0 / math.pi, spellings=("rad/s", "rads")),
    ),
    "motor_temp_c": _TEMPERATURE,
    "motor_temp_before_c": _TEMPERATURE,
    "ambient_temp_c": _TEMPERATURE,
    "vibration_g": (
        Unit("g", 1.0, spellings=("g",)),
        Unit("m/s²", 1.0 / 9.80665, spellings=("m/s2", "m/s²", "m/s^2")),
    ),
}
"""Channel → units it may be written in; the first is the channel's own."""


def unit_named(channel: str, name: str) -> Unit:
    """A unit of a channel by its name or any of its spellings.

    :raises MappingError: an unknown channel, or a unit it is not written in.
    """
    if channel not in UNITS:
        raise MappingError(f"{channel!r} is not a channel; channels are {', '.join(UNITS)}.")
    wanted = plain_spelling(name)
    for unit in UNITS[channel]:
        if name == unit.name or wanted in unit.spellings:
            return unit
    listed = ", ".join(unit.name for unit in UNITS[channel])
    raise MappingError(f"{name!r} is no unit of {channel}; known are {listed}.", code="unit")


def plain_spelling(text: str) -> str:
    """A spelling without case, blanks and brackets."""
    return re.sub(r"[\s()\[\]{}_]", "", text).lower()


def converted(values: Floats, unit: Unit, *, poles: int | None) -> Floats:
    """Samples in the channel's own unit; shape (n,).

    :raises MappingError: electrical speed without a pole count.
    """
    factor = unit.factor
    if unit.poles:
        if not poles or poles < 2 or poles % 2:
            raise MappingError(
                "Electrical speed needs the motor's pole count (an even number of magnets).",
                code="no_pole_count",
            )
        factor *= 2.0 / poles
    return (values - unit.offset) * factor


def label_of(channel: str) -> str:
    """The channel in words, for messages."""
    return "time" if channel == TIME_COLUMN else CHANNELS[channel].label.lower()
