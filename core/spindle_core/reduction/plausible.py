"""Units that look wrong are refused with a sentence, before a figure is made of them.

A log that says gf and means kilograms gives figures a thousand times too small, each with a fine
u. Nothing is converted on a guess: what the numbers look like is said, and whoever logged them
decides.
"""

from __future__ import annotations

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Bools, Floats
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.run.trace import Trace

MOST_THROTTLE_PCT, LEAST_THROTTLE_PCT = 102.0, -2.0
"""A command a little over its end is rounding; further it is another unit."""

SHARE_OF_ONE = 1.05
"""A throttle that never exceeds this is a share of 1, not of 100."""

MICROSECONDS = (700.0, 2300.0)
"""The least and the largest pulse of an ESC signal [µs]; 1000 to 2000 with room for trims."""

USUAL_G_PER_W = (0.3, 60.0)
"""What propellers of this size give on a stand, from a brick to a helicopter [gf/W]."""

THRUST_UNITS = {"kilograms (kgf)": 1000.0, "newtons": 101.972, "ounces": 28.3495, "pounds": 453.592}

NOTHING_GF = 3.0
"""A thrust that moves by less tells nothing of its unit."""

LEAST_POWER_W = 5.0

WITH_THRUST = ("steps", "ramp", "peak", "hold", "readings")
"""Kinds of run that turn a propeller under a load cell."""

SPOILT_SHARE = 0.5
"""A channel of which more than this is impossible is in another unit, or not what it says."""


def check_units(trace: Trace) -> None:
    """Refuse a log whose numbers cannot be in the units their columns name.

    :raises ReductionError: with the column, what its numbers look like, and what to do.
    """
    _throttle(trace)
    _impossible(trace)
    if trace.kind in WITH_THRUST:
        _thrust(trace)


def _throttle(trace: Trace) -> None:
    throttle = trace.channels.get("throttle_pct")
    if throttle is None or not trace.has("throttle_pct"):
        return
    low, high = float(np.fmin.reduce(throttle)), float(np.fmax.reduce(throttle))
    if high > 0 and high <= SHARE_OF_ONE and low >= 0 and _turned(trace):
        raise _refusal(
            "throttle_pct", f"runs to {high:g}", "a share of 1", "log percent: multiply it by 100"
        )
    if high > MOST_THROTTLE_PCT or low < LEAST_THROTTLE_PCT:
        if in_microseconds(throttle):
            return
        raise _refusal(
            "throttle_pct",
            f"runs from {low:g} to {high:g}",
            "another scale than 0 to 100 %",
            "log percent, or 1000 to 2000 µs of ESC signal",
        )


def in_microseconds(throttle: Floats) -> bool:
    """Whether a throttle is the pulse of an ESC signal: 1000 to 2000 µs, or 0 for none."""
    known = throttle[np.isfinite(throttle) & (throttle != 0.0)]
    least, most = MICROSECONDS
    return bool(known.size and known.min() >= least and known.max() < most)


def _turned(trace: Trace) -> bool:
    """Whether anything but the throttle says that the motor turned."""
    return any(
        trace.has(name) and float(np.fmax.reduce(trace.channels[name])) > least
        for name, least in (("speed_rpm", 500.0), ("current_a", 1.0), ("power_w", LEAST_POWER_W))
    )


def _impossible(trace: Trace) -> None:
    """A channel that is mostly impossible is no channel with a few bad samples."""
    for name, samples in trace.channels.items():
        if name == "throttle_pct" or not trace.has(name):
            continue
        channel = CHANNELS[name]
        known = samples[np.isfinite(samples)]
        low = -np.inf if name == "speed_rpm" else channel.low
        wrong = (known < low) | (known > channel.high)
        if wrong.sum() <= SPOILT_SHARE * known.size:
            continue
        worst = float(known[wrong][np.argmax(np.abs(known[wrong]))])
        raise _refusal(
            name,
            f"runs to {worst:g} {channel.unit}",
            "another unit, such as thousandths",
            f"log {channel.unit or 'a share of 1'}, between {channel.low:g} and {channel.high:g}",
        )


def _thrust(trace: Trace) -> None:
    """Thrust against electrical power: a propeller gives a few grams a watt, and upward."""
    power, thrust = _power(trace), trace.channels.get("thrust_gf")
    if power is None or thrust is None or not trace.has("thrust_gf"):
        return
    loaded = _loaded(power)
    if loaded is None:
        return
    rest = _rest(trace, power)
    zero = float(np.nanmedian(thrust[rest])) if np.isfinite(thrust[rest]).any() else 0.0
    under = thrust[loaded] - zero
    if not np.isfinite(under).any():
        return
    lift, watts = float(np.nanmedian(under)), float(np.nanmedian(power[loaded]))
    per_watt = lift / watts
    least, most = USUAL_G_PER_W
    if per_watt < 0 and -per_watt >= least and -lift > NOTHING_GF:
        raise _refusal(
            "thrust_gf",
            f"falls by {-lift:.4g} gf at {watts:.0f} W",
            "a cell mounted the other way",
            "log thrust upward as positive: turn its sign",
        )
    if least <= abs(per_watt) <= most or watts < LEAST_POWER_W:
        return
    fits = [
        unit for unit, factor in THRUST_UNITS.items() if least <= abs(per_watt) * factor <= most
    ]
    if abs(per_watt) < least and fits and abs(lift) > _noise(thrust[rest]):
        raise _refusal(
            "thrust_gf",
            f"is {lift:.4g} at {watts:.0f} W, {per_watt:.2g} gf a watt",
            " or ".join(fits),
            "log grams-force, or name the unit when importing",
        )
    if abs(per_watt) > most:
        raise _refusal(
            "thrust_gf",
            f"is {lift:.4g} at {watts:.0f} W, {per_watt:.3g} gf a watt",
            "a unit smaller than a gram, or a power that is not the motor's",
            "log grams-force and the power of the supply",
        )


def _noise(samples: Floats) -> float:
    known = samples[np.isfinite(samples)]
    return 5.0 * float(np.std(known)) if known.size > 1 else 0.0


def _power(trace: Trace) -> Floats | None:
    if trace.has("voltage_v") and trace.has("current_a"):
        watts: Floats = trace.channels["voltage_v"] * trace.channels["current_a"]
        return watts
    return trace.channels["power_w"] if trace.has("power_w") else None


def _loaded(power: Floats) -> Bools | None:
    """Samples under load: above half of a high power; None where there is hardly any."""
    known = power[np.isfinite(power)]
    if known.size < 1:
        return None
    high = float(np.percentile(known, 98.0 if known.size > 50 else 100.0))
    if high < LEAST_POWER_W:
        return None
    loaded: Bools = power > 0.5 * high
    return loaded if loaded.any() else None


def _rest(trace: Trace, power: Floats) -> Bools:
    """Samples at rest, by the command, else by the power."""
    if trace.has("throttle_pct"):
        at_rest: Bools = filled_forward(trace.channels["throttle_pct"]) < REST_BELOW_PCT
        return at_rest
    idle: Bools = power < 0.02 * float(np.fmax.reduce(power))
    return idle


def _refusal(column: str, what: str, like: str, do: str) -> ReductionError:
    return ReductionError(
        f"{column} {what}; that looks like {like}. {do[0].upper()}{do[1:]}.",
        code="unit_looks_wrong",
    )
