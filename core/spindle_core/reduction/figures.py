"""Means of a stretch of a run, and what follows from them, with every part of their uncertainty."""

from __future__ import annotations

import math

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.autocorrelation import standard_error_of_mean
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    component,
    last_digit,
    product,
    ratio,
)
from spindle_core.reduction.cleaning import Cleaning

POWER_MISMATCH = 0.02
"""A meter's own power further than this from V × A is flagged."""

FEW = 64
"""So many samples tell what digits a channel is written with."""

NOT_LOGGED = Absent("not_logged", "the channel was not logged")


def place_of(work: Cleaning, part: slice) -> tuple[str, float]:
    """Where a stretch lies: a name for it, which its own components carry, and its middle [s]."""
    first, last = work.trace.time_s[part.start], work.trace.time_s[max(part.start, part.stop - 1)]
    return f"{first:.3f}s", 0.5 * float(first + last)


def mean_of(work: Cleaning, name: str, part: slice) -> Figure:
    """Mean of a channel over samples ``part``: within-run scatter, tare and the stand's own."""
    samples = work.get(name)
    if samples is None:
        return NOT_LOGGED
    place = place_of(work, part)
    step = work.trace.stand.resolution.get(name)
    mean = mean_of_samples(samples[part], source=work.source(name, place[0]), resolution=step)
    return mean if isinstance(mean, Absent) else with_bench_parts(work, name, mean, place)


def mean_of_samples(samples: Floats, *, source: str, resolution: float | None = None) -> Figure:
    """Mean with u = √(s²·τ/n); absent with fewer than two finite samples.

    :param source: whose scatter it is, run/channel/place.
    :param resolution: smallest step of a sample; the last written digit by default.
    """
    valid = samples[np.isfinite(samples)]
    if valid.size < 2:
        return Absent("no_samples", "fewer than two samples in the used part")
    u = standard_error_of_mean(valid) or hidden_by_rounding(valid, resolution)
    parts = {component("within_run", source): u}
    return Measured(float(valid.mean()), parts, samples=int(valid.size))


def hidden_by_rounding(samples: Floats, resolution: float | None = None) -> float:
    """What samples that are all alike may hide: their step ÷ √12, however many they are."""
    step = last_digit(samples[:FEW].tolist()) if resolution is None else resolution
    return step / math.sqrt(12.0)


def with_bench_parts(
    work: Cleaning, name: str, figure: Measured, place: tuple[str, float]
) -> Measured:
    """The figure with the tare's uncertainty and what the stand declares of the channel.

    :param place: name and middle [s] of the stretch, see :func:`place_of`.
    """
    components = dict(figure.components)
    zeros = work.tares.get(name)
    if zeros is not None:
        components |= zeros.components(place[1])
    components |= work.trace.stand.components(name, figure.value, run=work.run, at=place[0])
    return Measured(figure.value, components, n=figure.n, samples=figure.samples)


def power_of(work: Cleaning, part: slice) -> Figure:
    """Mean of V·I (not mean V × mean I) [W]; a logged power where V or I is missing."""
    voltage, current = work.get("voltage_v"), work.get("current_a")
    logged = mean_of(work, "power_w", part)
    if voltage is None or current is None:
        return logged
    source = work.source("power_w", place_of(work, part)[0])
    computed = mean_of_samples(voltage[part] * current[part], source=source)
    if isinstance(computed, Absent):
        return logged
    if isinstance(logged, Measured):
        say_power_mismatch(work, logged.value, computed.value, float(work.trace.time_s[part.start]))
    return with_power_parts(work, computed)


def say_power_mismatch(work: Cleaning, logged_w: float, computed_w: float, at_s: float) -> None:
    """Flag a meter's own power that is more than 2 % off volts × amps [W, W, s]."""
    if computed_w > 0 and abs(off := logged_w / computed_w - 1.0) > POWER_MISMATCH:
        work.warn(
            "power_mismatch",
            f"The meter's power is {100 * off:+.1f} % off volts × amps at {at_s:.1f} s; "
            "volts × amps is used.",
        )


def power_gains(work: Cleaning) -> dict[str, float]:
    """Relative contributions of both meters' gains to V·I: the very ones V and I carry."""
    stand = work.trace.stand
    return stand.gains("voltage_v", work.run) | stand.gains("current_a", work.run)


def with_power_parts(work: Cleaning, power: Measured) -> Measured:
    """V·I inherits the gains of both meters."""
    gains = {key: gain * power.value for key, gain in power_gains(work).items()}
    return Measured(power.value, {**power.components, **gains}, n=power.n, samples=power.samples)


def derived(figures: dict[str, Figure]) -> dict[str, Figure]:
    """gf/W, shaft power [W] and motor + ESC efficiency [%] from the means of one stretch."""
    shaft = shaft_power(figures["torque_nm"], figures["speed_rpm"])
    return {
        "efficiency_g_per_w": quotient(figures["thrust_gf"], figures["power_w"], 1.0),
        "shaft_power_w": shaft,
        "motor_esc_efficiency_pct": quotient(shaft, figures["power_w"], 100.0),
    }


def quotient(top: Figure, bottom: Figure, scale: float) -> Figure:
    """scale × top ÷ bottom; absent where either is, or the bottom is not above 0."""
    if isinstance(top, Absent):
        return top
    if isinstance(bottom, Absent):
        return bottom
    if bottom.value <= 0:
        return Absent("no_power", "the electrical power is not above 0 W")
    result = ratio(top, bottom)
    return result if isinstance(result, Absent) else result.scaled(scale)


def shaft_power(torque: Figure, speed: Figure) -> Figure:
    """Torque × angular speed [W]."""
    if isinstance(torque, Absent):
        return torque
    if isinstance(speed, Absent):
        return speed
    return product(torque, speed).scaled(2.0 * math.pi / 60.0)
