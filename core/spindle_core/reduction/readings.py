"""Numbers read off a scale and meters: points without a trace, through the same arithmetic.

Each row of the log is one reading. Its uncertainty is the last digit that was written down (a
rectangular distribution over it), and what the stand declares. Readings at zero throttle before
and after give the tare.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.measured import Absent, Figure, Measured, component, last_digit, product
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import NOT_LOGGED, derived
from spindle_core.reduction.plateau import REST_BELOW_PCT
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.reduction.typed_checks import check_peaks, power_agrees
from spindle_core.run.tare import Tare, Zero
from spindle_core.run.trace import Trace

MAXIMA = Absent("maxima", "maxima of different instants do not multiply")
PRODUCTS = ("shaft_power_w", "motor_esc_efficiency_pct")
"""What is formed of a row's torque and speed, which have to be of one instant."""


def reduce(trace: Trace) -> Reduction:
    """A point per row and the summary of typed ``readings``.

    :raises ReductionError: no row holds a figure under throttle.
    """
    work = cleaning.begin(trace)
    at_rest = _at_rest(work)
    if at_rest.all():
        raise ReductionError("No reading was taken under throttle.", code="no_readings")
    steps = {
        name: work.trace.stand.resolution.get(name)
        or last_digit(samples[np.isfinite(samples)].tolist())
        for name, samples in work.channels.items()
    }
    for name in ("thrust_gf", "torque_nm"):
        if name in work.channels:
            tare = cleaning.with_assumed_zero(
                _tare(work, name, at_rest, steps[name]), work.channels[name]
            )
            work.tares[name] = tare
            work.channels[name] = tare.apply(work.trace.time_s, work.channels[name])
    cleaning.say_tare(work)
    points = tuple(_point(work, int(row), steps) for row in np.flatnonzero(~at_rest))
    points = tuple(point for point in points if point.figures)
    cleaning.say_warm_start(work)
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary = summarise(points, tare, tared=work.tared)
    return Reduction("readings", points, summary, tuple(work.warnings), ())


def _at_rest(work: Cleaning) -> np.ndarray:
    throttle = work.get("throttle_pct")
    if throttle is not None:
        return np.asarray(throttle < REST_BELOW_PCT)
    for name in ("current_a", "power_w"):
        values = work.get(name)
        if values is not None:
            return np.asarray(values <= 0.0)
    return np.zeros(work.trace.size, dtype=bool)


def _tare(work: Cleaning, name: str, at_rest: np.ndarray, step: float) -> Tare:
    """Zeros read before the first and after the last throttle; u from their last digit."""
    time, samples = work.trace.time_s, work.channels[name]
    turning = np.flatnonzero(~at_rest)

    def zero(rows: np.ndarray) -> Zero | None:
        rows = rows[at_rest[rows] & np.isfinite(samples[rows])]
        if rows.size == 0:
            return None
        return Zero(
            float(time[rows].mean()), float(np.median(samples[rows])), step / math.sqrt(12.0)
        )

    before, after = np.arange(turning[0]), np.arange(turning[-1] + 1, samples.size)
    return Tare(zero(before), zero(after), work.source(name))


def _point(work: Cleaning, row: int, steps: dict[str, float]) -> Point:
    figures: dict[str, Figure] = {}
    for name in CHANNELS:
        samples = work.get(name)
        if samples is None:
            figures[name] = NOT_LOGGED
        elif not math.isfinite(samples[row]):
            figures[name] = Absent("not_read", "the cell was left empty")
        else:
            figures[name] = _reading(work, name, row, float(samples[row]), steps[name])
    if isinstance(figures["throttle_pct"], Measured):
        figures["throttle_pct"] = Measured(figures["throttle_pct"].value)
    maxima = work.trace.facts.readings_are == "maxima"
    if maxima:
        _check_maxima(work, row, figures, steps)
    else:
        figures["power_w"] = _power(work, row, figures)
    figures.update(derived(figures))
    if maxima:
        figures |= {name: MAXIMA for name in PRODUCTS if name in figures}
    at = float(work.trace.time_s[row])
    return Point(figures, at, at, at, settled=True)


def _reading(work: Cleaning, name: str, row: int, value: float, step: float) -> Measured:
    time_s = float(work.trace.time_s[row])
    place = f"row{row + 1}"
    components = {component("within_run", work.source(name, place)): step / math.sqrt(12.0)}
    stand = replace(work.trace.stand, resolution={})
    components |= stand.components(name, value, run=work.run, at=place)
    zeros = work.tares.get(name)
    if zeros is not None:
        components |= zeros.components(time_s)
    return Measured(value, components, samples=1)


def _check_maxima(
    work: Cleaning, row: int, figures: dict[str, Figure], steps: dict[str, float]
) -> None:
    """Lowest volts, highest amps and highest watts of a meter: its watts stand, and are held
    against what the other two allow. Where the meter keeps no watts, there are none."""
    lowest, amps, watts = (figures[name] for name in ("voltage_v", "current_a", "power_w"))
    if isinstance(watts, Absent):
        figures["power_w"] = MAXIMA
        return
    if isinstance(lowest, Absent) or isinstance(amps, Absent):
        return
    volts = work.channels["voltage_v"]
    highest = max(float(np.nanmax(volts)), lowest.value)
    if min(lowest.value, amps.value, watts.value) <= 0:
        return
    half = {name: 0.5 * steps[name] for name in ("voltage_v", "current_a", "power_w")}
    slack = half["voltage_v"] * amps.value + half["current_a"] * highest + half["power_w"]
    for finding in check_peaks(
        lowest_voltage_v=lowest.value,
        # Without a row at rest nobody read the open voltage: then nothing bounds from above.
        open_voltage_v=highest if _at_rest(work).any() else math.inf,
        peak_current_a=amps.value,
        peak_power_w=watts.value,
        slack_w=slack,
    ):
        work.warn(finding.code, f"Row {row + 1}: {finding.message}")


def _power(work: Cleaning, row: int, figures: dict[str, Figure]) -> Figure:
    """V × A of the row; a watt reading where one is missing, checked where both are there."""
    voltage, current, typed = (figures[n] for n in ("voltage_v", "current_a", "power_w"))
    if isinstance(voltage, Absent) or isinstance(current, Absent):
        return typed
    computed = product(voltage, current)
    if isinstance(typed, Measured) and not power_agrees(typed, computed):
        work.warn(
            "power_mismatch",
            f"Row {row + 1}: {typed.value:g} W was read, volts × amps give {computed.value:.4g} W; "
            "volts × amps is used. Peaks of different instants do not multiply.",
        )
    return computed
