"""Numbers read off a scale and meters: points without a trace, through the same arithmetic.

Each row of the log is one reading. Its uncertainty is the last digit that was written down, or the
width of what was said instead of a number (rectangular distributions), and what the stand declares.
Readings at zero throttle before and after give the tare. Rows of one throttle may be bursts of one
point: then their mean counts, with their scatter.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    component,
    difference,
    kind_of,
    last_digit,
    mean_of_figures,
    product,
    sample_standard_deviation,
)
from spindle_core.figures.quantities import CHANNELS, Channel
from spindle_core.figures.repeats import coverage_factor
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import NOT_LOGGED, derived
from spindle_core.reduction.plateau import REST_BELOW_PCT
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.reduction.typed_checks import check_peaks, power_agrees
from spindle_core.run.tare import Tare, Zero
from spindle_core.run.trace import Trace
from spindle_core.run.typed_cells import Doubt

MAXIMA = Absent("maxima", "maxima of different instants do not multiply")
PRODUCTS = ("shaft_power_w", "motor_esc_efficiency_pct")
"""What is formed of a row's torque and speed, which have to be of one instant."""

ROW_KINDS = ("within_run", "assumed_reading")
"""Kinds of what scatters from row to row."""

ONE_SIGMA = 0.6827
"""Share that a standard uncertainty stands for."""


def reduce(trace: Trace) -> Reduction:
    """A point per row and the summary of typed ``readings``.

    :raises ReductionError: no row holds a figure under throttle.
    """
    work = cleaning.begin(trace)
    at_rest = _at_rest(work)
    if at_rest.all():
        raise ReductionError("No reading was taken under throttle.", code="no_readings")
    steps = {
        name: work.trace.stand.resolution.get(name) or _step(work, name) for name in work.channels
    }
    for name in ("thrust_gf", "torque_nm"):
        if name in work.channels:
            tare = cleaning.with_assumed_zero(
                _tare(work, name, at_rest, steps[name]), work.channels[name]
            )
            work.tares[name] = tare
            work.channels[name] = tare.apply(work.trace.time_s, work.channels[name])
    cleaning.say_tare(work)
    rows = [int(row) for row in np.flatnonzero(~at_rest)]
    groups = bursts_of(work.get("throttle_pct"), rows) if work.trace.facts.readings_averaged else []
    points = tuple(_point(work, group, steps) for group in groups or [[row] for row in rows])
    cleaning.say_warm_start(work)
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary = summarise(points, tare, tared=work.tared)
    return Reduction("readings", points, summary, tuple(work.warnings), ())


def _step(work: Cleaning, name: str) -> float:
    """The last digit that the plain numbers of a channel were written with."""
    samples = work.channels[name]
    plain = np.isfinite(samples)
    for doubt in work.trace.facts.cells:
        if doubt.channel == name and doubt.row <= plain.size:
            plain[doubt.row - 1] = False
    return last_digit(samples[plain].tolist())


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
        said = [d.half_width for d in work.trace.facts.cells if d.channel == name]
        half = max([0.5 * step, *said])
        return Zero(
            float(time[rows].mean()), float(np.median(samples[rows])), half / math.sqrt(3.0)
        )

    before, after = np.arange(turning[0]), np.arange(turning[-1] + 1, samples.size)
    return Tare(zero(before), zero(after), work.source(name))


def bursts_of(throttle_pct: Floats | None, rows: Sequence[int]) -> list[list[int]]:
    """Rows that are bursts of one point: one after the other at one throttle, or at none noted."""
    groups: list[list[int]] = []
    for row in rows:
        before = groups[-1][-1] if groups else None
        if before == row - 1 and (
            throttle_pct is None or throttle_pct[row] == throttle_pct[before]
        ):
            groups[-1].append(row)
        else:
            groups.append([row])
    return groups


def _point(work: Cleaning, group: Sequence[int], steps: dict[str, float]) -> Point:
    """The point of one row, or of the mean of several."""
    each = [_row(work, row, steps) for row in group]
    figures = {name: _mean(work, name, group, [one[name] for one in each]) for name in each[0]}
    figures.update(derived(figures))
    if work.trace.facts.readings_are == "maxima":
        figures |= {name: MAXIMA for name in PRODUCTS if name in figures}
    first, last = float(work.trace.time_s[group[0]]), float(work.trace.time_s[group[-1]])
    return Point(figures, 0.5 * (first + last), first, last, settled=True)


def _mean(work: Cleaning, name: str, group: Sequence[int], found: Sequence[Figure]) -> Figure:
    """Mean of bursts: what they share stays, their scatter is s/√n with Student's t for so few,
    and never below what their digits hide. n stays 1: bursts of a run are no runs."""
    having = [figure for figure in found if isinstance(figure, Measured)]
    if len(having) < 2:
        return having[0] if having else found[0]
    mean = mean_of_figures(having)
    own = {k for f in having for k in f.components if kind_of(k) in ROW_KINDS}
    few = coverage_factor(ONE_SIGMA, len(having) - 1)
    spread = few * sample_standard_deviation([f.value for f in having]) / math.sqrt(len(having))
    hidden = math.hypot(*(mean.components[key] for key in own)) if own else 0.0
    parts = {k: v for k, v in mean.components.items() if k not in own}
    place = f"rows{group[0] + 1}-{group[-1] + 1}"
    parts[component("within_run", work.source(name, place))] = max(spread, hidden)
    return replace(mean, components=parts, n=1, samples=len(having))


def _row(work: Cleaning, row: int, steps: dict[str, float]) -> dict[str, Figure]:
    doubts = {d.channel: d for d in work.trace.facts.cells if d.row == row + 1}
    figures: dict[str, Figure] = {}
    for name in CHANNELS:
        samples, doubt = work.get(name), doubts.get(name)
        if samples is None and doubt is None:
            figures[name] = NOT_LOGGED
        elif doubt is not None and doubt.bound:
            figures[name] = _bounded(CHANNELS[name], doubt)
        elif samples is None or not math.isfinite(samples[row]):
            figures[name] = Absent("not_read", "the cell was left empty")
        else:
            figures[name] = _reading(work, name, row, float(samples[row]), steps[name], doubt)
    if isinstance(figures["throttle_pct"], Measured):
        figures["throttle_pct"] = Measured(figures["throttle_pct"].value)
    if work.trace.facts.readings_are == "maxima":
        _check_maxima(work, row, figures, steps)
    else:
        figures["power_w"] = _power(work, row, figures)
    before, after = figures["motor_temp_before_c"], figures["motor_temp_c"]
    if isinstance(before, Measured) and isinstance(after, Measured):
        figures["rise_k"] = difference(after, before)
    return figures


def _bounded(channel: Channel, doubt: Doubt) -> Absent:
    side = "below" if doubt.bound == "<" else "above"
    return Absent("bound", f"only known to be {side} {doubt.limit:g} {channel.unit}".strip())


def _reading(
    work: Cleaning, name: str, row: int, value: float, step: float, doubt: Doubt | None
) -> Measured:
    time_s = float(work.trace.time_s[row])
    place = f"row{row + 1}"
    half, kind = 0.5 * step, "within_run"
    if doubt is not None and doubt.half_width >= half:
        half, kind = doubt.half_width, "assumed_reading" if doubt.assumed else "within_run"
    components = {component(kind, work.source(name, place)): half / math.sqrt(3.0)}
    stand = replace(work.trace.stand, resolution={})
    # Before and after are read with one thermometer: what it is off by cancels in the rise.
    meter = "motor_temp_c" if name == "motor_temp_before_c" else name
    components |= stand.components(meter, value, run=work.run, at=place)
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
    said = {d.channel: d.half_width for d in work.trace.facts.cells if d.row == row + 1}
    names = ("voltage_v", "current_a", "power_w")
    half = {name: max(0.5 * steps[name], said.get(name, 0.0)) for name in names}
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
