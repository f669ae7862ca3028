"""Reduction of a continuous throttle sweep to points 2 % of throttle apart.

A sensor that lags reads, on the way up, what was true a moment ago. With a sweep up and down the
two readings at equal throttle are averaged and the lag is half their distance ÷ rate; with a
sweep up alone it is taken from the decay after the cut, or declared with the log. Each channel is
read at the throttle that was commanded its lag earlier, so that current and thrust of one point
belong to the same throttle.
"""

from __future__ import annotations

import functools
import math
from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.measured import Absent
from spindle_core.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.quantities import CHANNELS
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.columns import Column, derived, missing, rows
from spindle_core.reduction.figures import NOT_LOGGED, say_power_mismatch
from spindle_core.reduction.ramp_bins import Bins
from spindle_core.reduction.ramp_lag import Lags, find_lags
from spindle_core.reduction.ramp_sweep import Sweep, find_sweep
from spindle_core.reduction.ramp_ways import Ways
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.tare import Tare
from spindle_core.trace import Floats, Trace

PRODUCT = "volts × amps"

LAGGED = ("thrust_gf", "torque_nm", "speed_rpm", "voltage_v", "current_a", "power_w", "vibration_g")
"""Channels that follow the throttle; temperatures follow the run as a whole."""


def reduce(trace: Trace) -> Reduction:
    """Points per 2 % of throttle, lag-corrected, and the summary of a ``ramp`` run.

    :raises ReductionError: nothing that could order the samples was logged, or nothing moved.
    """
    work = cleaning.begin(trace)
    guide, guide_name = _guide(work)
    at_rest = guide < REST_BELOW_PCT
    sweep = find_sweep(work.trace.time_s, guide)
    spans = [span for span in (sweep.up, sweep.down) if span is not None]
    cleaning.mask_lost_speed(work, spans, level=False)
    cleaning.mask_outliers(work, spans)
    cleaning.find_tares(work, at_rest)
    _say_guide(work, guide_name)
    ways = Ways(work.trace.time_s, guide, sweep)
    lags = find_lags(work, ways, LAGGED)
    levels, columns = _columns(work, ways, lags, named=guide_name == "throttle_pct")
    points = tuple(_points(sweep, work.trace.time_s, levels, columns))
    cleaning.say_outliers(work)
    cleaning.say_end(work, at_rest)
    cleaning.say_warm_start(work)
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary = summarise(points, tare, tared=work.tared)
    summary.update({f"{name}_lag_s": lag for name, lag in lags.found.items()})
    return Reduction("ramp", points, summary, tuple(work.warnings), tuple(work.outliers))


def _guide(work: Cleaning) -> tuple[Floats, str]:
    """What orders the samples: the throttle [%], else speed or current in % of its largest."""
    if work.trace.has("throttle_pct"):
        return filled_forward(work.trace.get("throttle_pct")), "throttle_pct"
    for name in ("speed_rpm", "current_a", "thrust_gf"):
        if work.trace.has(name):
            values = filled_forward(work.trace.get(name))
            low, high = float(np.min(values)), float(np.max(values))
            if high > low:
                return 100.0 * np.clip((values - low) / (high - low) - 0.02, 0.0, 1.0) / 0.98, name
    raise ReductionError(
        "No throttle, speed, current or thrust was logged; the sweep cannot be found.",
        code="no_guide_channel",
    )


def _say_guide(work: Cleaning, name: str) -> None:
    if name != "throttle_pct":
        work.warn(
            "no_throttle",
            f"No throttle was logged; points are ordered by {name} and carry no throttle.",
        )


def _columns(
    work: Cleaning, ways: Ways, lags: Lags, *, named: bool
) -> tuple[Floats, dict[str, Column]]:
    """Throttles of the points (m,) and every figure as a column."""
    blocks = {
        name: ways.blocks(samples, work.tares.get(name))
        for name, samples in work.channels.items()
        if name != "throttle_pct" and work.trace.has(name)
    }
    voltage, current = work.get("voltage_v"), work.get("current_a")
    both = "voltage_v" in blocks and "current_a" in blocks
    shifts = dict(lags.shifts)
    if both and voltage is not None and current is not None:
        blocks[PRODUCT] = ways.product_blocks(voltage, current)
        shifts[PRODUCT] = lags.used("current_a")
    bins = ways.read(blocks, shifts)
    logged, computed = bins.pop("power_w", None), bins.pop(PRODUCT, None)
    power = logged if computed is None else computed
    if logged is not None and computed is not None:
        _compare_power(work, logged, computed)
    levels = _levels([item.levels for item in bins.values()])
    # All channels are read at the throttle the slowest of them still saw.
    at = levels.copy()
    for item in bins.values():
        held = slice(None) if item.levels is levels else np.searchsorted(levels, item.levels)
        at[held] = np.minimum(at[held], item.reach)
    rate = ways.sweep.rate_pct_per_s
    columns = {
        "throttle_pct": Column(at, {}, NOT_LOGGED)
        if named
        else missing(at.size, Absent("not_logged", "throttle was not logged"))
    }
    for name in CHANNELS:
        if name in ("throttle_pct", "power_w"):
            continue
        channel = bins.get(name)
        columns[name] = (
            missing(at.size, NOT_LOGGED)
            if channel is None
            else _with_bench_parts(work, name, _read(channel, levels, at, lags.u_pct(name, rate)))
        )
    if power is None:
        columns["power_w"] = missing(at.size, NOT_LOGGED)
    else:
        u_pct = lags.u_pct("current_a" if both else "power_w", rate)
        read = _read(power, levels, at, u_pct)
        columns["power_w"] = (
            _with_power_parts(work, read) if both else _with_bench_parts(work, "power_w", read)
        )
    columns.update(derived(columns))
    return levels, columns


def _levels(each: list[Floats]) -> Floats:
    """The throttles of all points; channels of one grid share the very array."""
    if each and all(levels is each[0] for levels in each):
        return each[0]
    return functools.reduce(np.union1d, each, np.empty(0))


def _read(bins: Bins, levels: Floats, at: Floats, lag_u_pct: float) -> Column:
    """The lines of a channel's bins at the throttles ``at`` of the points.

    :param lag_u_pct: how far off the throttle may be for an unsure lag (k = 1) [%].
    """
    if bins.levels is levels:
        values = bins.values + bins.slopes * (at - bins.read_at)
        within, slopes, counts = bins.u, bins.slopes, bins.counts
    else:
        held = np.searchsorted(levels, bins.levels)
        values, within, slopes, counts = (np.full(levels.size, np.nan) for _ in range(4))
        values[held] = bins.values + bins.slopes * (at[held] - bins.read_at)
        within[held], slopes[held], counts[held] = bins.u, bins.slopes, bins.counts
    parts = {"within_run": within}
    if lag_u_pct:
        parts["lag"] = slopes * lag_u_pct
    absent = Absent("no_samples", "no samples of the channel in this part of the sweep")
    return Column(values, parts, absent, samples=counts)


def _with_bench_parts(work: Cleaning, name: str, column: Column) -> Column:
    """The column with the tare's uncertainty and what the stand declares of the channel."""
    parts = dict(column.parts)
    zeros = work.tares.get(name)
    if zeros is not None and zeros.u:
        parts["tare"] = np.full(column.values.size, zeros.u)
    stand = work.trace.stand
    if gain := stand.calibration.get(name):
        parts[f"calibration_{name}"] = gain * column.values
    if step := stand.resolution.get(name):
        parts[f"resolution_{name}"] = np.full(column.values.size, step / math.sqrt(12.0))
    return replace(column, parts=parts)


def _with_power_parts(work: Cleaning, column: Column) -> Column:
    """V·I inherits the gains of both meters, under the names they have in V and I."""
    gains = work.trace.stand.calibration
    parts = {
        f"calibration_{name}": gains[name] * column.values
        for name in ("voltage_v", "current_a")
        if gains.get(name)
    }
    return replace(column, parts={**column.parts, **parts})


def _compare_power(work: Cleaning, logged: Bins, computed: Bins) -> None:
    shared = np.isin(logged.levels, computed.levels)
    if not shared.any():
        return
    level = float(logged.levels[shared][-1])
    one = float(logged.values[logged.levels == level][0])
    other = float(computed.values[computed.levels == level][0])
    say_power_mismatch(work, one, other, float(work.trace.time_s[-1]))


def _points(
    sweep: Sweep, time_s: Floats, levels: Floats, columns: dict[str, Column]
) -> list[Point]:
    starts, ends = (times.tolist() for times in sweep.times_at(time_s, levels))
    return [
        Point(row, start_s, start_s, end_s, settled=True)
        for row, start_s, end_s in zip(rows(columns, levels.size), starts, ends, strict=True)
    ]
