"""Means of a stretch of a run, and what follows from them, with every part of their uncertainty."""

from __future__ import annotations

import math

import numpy as np

from spindle_core.autocorrelation import standard_error_of_mean
from spindle_core.measured import Absent, Measured, propagate, ratio
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.result import Figure
from spindle_core.trace import Floats

POWER_MISMATCH = 0.02
"""A meter's own power further than this from V × A is flagged."""

NOT_LOGGED = Absent("not_logged", "the channel was not logged")


def mean_of(work: Cleaning, name: str, part: slice) -> Figure:
    """Mean of a channel over samples ``part``: within-run scatter, tare and the stand's own."""
    samples = work.get(name)
    if samples is None:
        return NOT_LOGGED
    mean = mean_of_samples(samples[part])
    return mean if isinstance(mean, Absent) else with_bench_parts(work, name, mean)


def mean_of_samples(samples: Floats) -> Figure:
    """Mean with u = √(s²·τ/n); absent with fewer than two finite samples."""
    valid = samples[np.isfinite(samples)]
    if valid.size < 2:
        return Absent("no_samples", "fewer than two samples in the used part")
    components = {"within_run": standard_error_of_mean(valid)}
    return Measured(float(valid.mean()), components, samples=int(valid.size))


def with_bench_parts(work: Cleaning, name: str, figure: Measured) -> Measured:
    """The figure with the tare's uncertainty and what the stand declares of the channel."""
    components = dict(figure.components)
    zeros = work.tares.get(name)
    if zeros is not None and zeros.u:
        components["tare"] = zeros.u
    components.update(work.trace.stand.components(name, figure.value))
    return Measured(figure.value, components, n=figure.n, samples=figure.samples)


def power_of(work: Cleaning, part: slice) -> Figure:
    """Mean of V·I (not mean V × mean I) [W]; a logged power where V or I is missing."""
    voltage, current = work.get("voltage_v"), work.get("current_a")
    logged = mean_of(work, "power_w", part)
    if voltage is None or current is None:
        return logged
    computed = mean_of_samples(voltage[part] * current[part])
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


def with_power_parts(work: Cleaning, power: Measured) -> Measured:
    """V·I inherits the gains of both meters, under the names they have in V and I."""
    components = dict(power.components)
    for name in ("voltage_v", "current_a"):
        gain = work.trace.stand.calibration.get(name)
        if gain:
            components[f"calibration_{name}"] = gain * power.value
    return Measured(power.value, components, n=power.n, samples=power.samples)


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
    result = ratio(top, own_scatter(bottom, "power"))
    if isinstance(result, Absent):
        return result
    parts = {name: scale * part for name, part in result.components.items()}
    return Measured(scale * result.value, parts, origin=result.origin)


def own_scatter(figure: Measured, prefix: str) -> Measured:
    """The scatter of two channels is independent, so it must not share a name; gains may."""
    shared = ("calibration_", "repeat")
    parts = {
        name if name.startswith(shared) else f"{prefix}_{name}": part
        for name, part in figure.components.items()
    }
    return Measured(figure.value, parts, n=figure.n, origin=figure.origin)


def shaft_power(torque: Figure, speed: Figure) -> Figure:
    """Torque × angular speed [W]."""
    if isinstance(torque, Absent):
        return torque
    if isinstance(speed, Absent):
        return speed
    per_rpm = 2.0 * math.pi / 60.0
    return propagate(
        lambda m, n: m * n * per_rpm,
        (torque, own_scatter(speed, "speed")),
        partials=(speed.value * per_rpm, torque.value * per_rpm),
    )
