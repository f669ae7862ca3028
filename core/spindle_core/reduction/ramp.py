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
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, component
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.columns import EACH, Column, derived_columns, missing, rows
from spindle_core.reduction.figures import (
    NOT_LOGGED,
    hidden_by_rounding,
    power_gains,
    say_power_mismatch,
)
from spindle_core.reduction.plateau import REST_BELOW_PCT, Plateau, filled_forward
from spindle_core.reduction.ramp_bins import BIN_PCT, Bins
from spindle_core.reduction.ramp_lag import Lags, find_lags
from spindle_core.reduction.ramp_sweep import Sweep, find_sweep
from spindle_core.reduction.ramp_ways import Ways
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.steps import plateau_point
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.run.tare import Tare
from spindle_core.run.trace import Trace

PRODUCT = "volts × amps"

BEND_SHARE = 0.75
"""Between a plain delay (½) and a sensor of first order (1)."""

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
    named = guide_name == "throttle_pct"
    levels, columns = _columns(work, ways, lags, named=named)
    points = _points(sweep, work.trace.time_s, levels, columns)
    if sweep.rests:
        points = _with_rests(work, guide, sweep, points, levels, named=named)
    cleaning.say_outliers(work)
    cleaning.say_end(work, at_rest)
    cleaning.say_warm_start(work)
    tare = work.tares.get("thrust_gf", Tare(None, None))
    summary = summarise(points, tare, tared=work.tared)
    summary.update({f"{name}_lag_s": lag for name, lag in lags.found.items()})
    return Reduction("ramp", tuple(points), summary, tuple(work.warnings), tuple(work.outliers))


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
    shifts = dict(lags.shifts or lags.ends)
    if both and voltage is not None and current is not None:
        blocks[PRODUCT] = ways.product_blocks(voltage, current)
        shifts[PRODUCT] = shifts.get("current_a", 0.0)
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
    first, last = ways.sweep.times_at(work.trace.time_s, at)
    times = 0.5 * (first + last)
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
            else _with_bench_parts(
                work, name, _read(work, name, channel, levels, at, (lags, name, ways.sweep)), times
            )
        )
    if power is None:
        columns["power_w"] = missing(at.size, NOT_LOGGED)
    else:
        lagging = (lags, "current_a" if both else "power_w", ways.sweep)
        read = _read(work, "power_w", power, levels, at, lagging)
        columns["power_w"] = (
            _with_power_parts(work, read)
            if both
            else _with_bench_parts(work, "power_w", read, times)
        )
    columns.update(derived_columns(columns))
    return levels, columns


def _levels(each: list[Floats]) -> Floats:
    """The throttles of all points; channels of one grid share the very array."""
    if each and all(levels is each[0] for levels in each):
        return each[0]
    return functools.reduce(np.union1d, each, np.empty(0))


def _read(
    work: Cleaning,
    name: str,
    bins: Bins,
    levels: Floats,
    at: Floats,
    lagging: tuple[Lags, str, Sweep],
) -> Column:
    """The lines of a channel's bins at the throttles ``at`` of the points.

    :param lagging: the lags, whose channel's counts, and the sweep.
    """
    lags, channel, sweep = lagging
    lag_u_pct, bend_pct2 = lags.u_pct(channel, sweep, levels), lags.bend_pct2(channel, sweep)
    if bins.levels is levels:
        values = bins.values + bins.slopes * (at - bins.read_at)
        within, slopes, counts = bins.u, bins.slopes, bins.counts
    else:
        held = np.searchsorted(levels, bins.levels)
        values, within, slopes, counts = (np.full(levels.size, np.nan) for _ in range(4))
        values[held] = bins.values + bins.slopes * (at[held] - bins.read_at)
        within[held], slopes[held], counts[held] = bins.u, bins.slopes, bins.counts
    if not within.all():
        hidden = _hidden(work, name)
        within = np.where(within == 0.0, hidden, within)
    parts = {component("within_run", work.source(name) + EACH): within}
    if lag_u_pct.any():
        parts[component("lag", work.source(name))] = slopes * lag_u_pct
    if bend_pct2 and levels.size > 2:
        bend = np.gradient(np.where(np.isfinite(slopes), slopes, 0.0), levels)
        parts[component("lag_bend", work.source(name))] = BEND_SHARE * bend * bend_pct2
    absent = Absent("no_samples", "no samples of the channel in this part of the sweep")
    return Column(values, parts, absent, samples=counts)


def _hidden(work: Cleaning, name: str) -> float:
    """What the rounding of a channel hides where its samples do not scatter."""
    samples = work.get(name)
    if samples is None:
        return 0.0
    known = samples[np.isfinite(samples)]
    return hidden_by_rounding(known, work.trace.stand.resolution.get(name))


def _with_bench_parts(work: Cleaning, name: str, column: Column, times_s: Floats) -> Column:
    """The column with the tare's uncertainty and what the stand declares of the channel.

    :param times_s: when each point was taken, shape (m,).
    """
    parts = dict(column.parts)
    zeros = work.tares.get(name)
    if zeros is not None:
        rows = [zeros.components(float(at)) for at in times_s]
        for key in dict.fromkeys(key for row in rows for key in row):
            parts[key] = np.array([row.get(key, 0.0) for row in rows])
    stand = work.trace.stand
    for key, gain in stand.gains(name, work.run).items():
        parts[key] = gain * column.values
    for key, offset in stand.offsets(name, work.run).items():
        parts[key] = np.full(column.values.size, offset)
    if step := stand.resolution.get(name):
        key = component("resolution", work.source(name) + EACH)
        parts[key] = np.full(column.values.size, step / math.sqrt(12.0))
    return replace(column, parts=parts)


def _with_power_parts(work: Cleaning, column: Column) -> Column:
    """V·I inherits the gains of both meters."""
    parts = {key: gain * column.values for key, gain in power_gains(work).items()}
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


def _with_rests(
    work: Cleaning, guide: Floats, sweep: Sweep, points: list[Point], levels: Floats, *, named: bool
) -> list[Point]:
    """The points with a plateau's for every stretch at which the sweep stood still.

    It takes the place of the bins beside it, whose samples had not caught up with the throttle.
    """
    cleaning.tare_found(work)
    rested: list[Point] = []
    kept = np.ones(levels.size, dtype=bool)
    for start, stop in sweep.rests:
        level = float(np.median(guide[start:stop]))
        kept &= np.abs(levels - level) >= 0.5 * BIN_PCT
        rested.append(plateau_point(work, Plateau(start, stop, level), named=named))
    both = [*(p for p, keep in zip(points, kept, strict=True) if keep), *rested]
    return sorted(both, key=lambda point: point.value("throttle_pct") or point.start_s)
