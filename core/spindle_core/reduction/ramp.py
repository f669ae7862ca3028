"""Reduction of a continuous throttle sweep to points 2 % of throttle apart.

A sensor that lags reads, on the way up, what was true a moment ago. With a sweep up and down the
two readings at equal throttle are averaged and the lag is half their distance ÷ rate; with a
sweep up alone it is taken from the decay after the cut, or declared with the log. Each channel is
read at the throttle that was commanded its lag earlier, so that current and thrust of one point
belong to the same throttle.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.measured import Absent, Measured
from spindle_core.plateau import REST_BELOW_PCT, filled_forward
from spindle_core.quantities import CHANNELS
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.figures import (
    NOT_LOGGED,
    derived,
    say_power_mismatch,
    with_bench_parts,
    with_power_parts,
)
from spindle_core.reduction.ramp_bins import Bins, Grid, grid, line_in_bins, two_ways
from spindle_core.reduction.ramp_lag import Lags, find_lags
from spindle_core.reduction.ramp_sweep import Sweep, find_sweep
from spindle_core.reduction.result import Figure, Point, Reduction
from spindle_core.reduction.thrust_summary import summarise
from spindle_core.tare import Tare
from spindle_core.trace import Floats, Trace

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
    cleaning.tare(work, at_rest)
    _say_guide(work, guide_name)
    lags = find_lags(work, guide, sweep, LAGGED)
    points = _points(work, guide, sweep, lags, named=guide_name == "throttle_pct")
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


@dataclass(frozen=True, slots=True)
class _Ways:
    """The ways of a sweep as bins of throttle, made once per lag."""

    work: Cleaning
    guide: Floats
    sweep: Sweep
    grids: dict[float, list[Grid]]

    def read(self, samples: Floats, lag_s: float) -> Bins:
        """A channel in bins, at the throttle of ``lag_s`` before each sample [s]."""
        spans = [span for span in (self.sweep.up, self.sweep.down) if span is not None]
        if lag_s not in self.grids:
            self.grids[lag_s] = [self._grid(span, lag_s) for span in spans]
        ways = [
            line_in_bins(bins, samples[start:stop])
            for bins, (start, stop) in zip(self.grids[lag_s], spans, strict=True)
        ]
        return ways[0] if len(ways) == 1 else two_ways(ways[0], ways[1])

    def _grid(self, span: tuple[int, int], lag_s: float) -> Grid:
        at = self.guide[slice(*span)]
        if lag_s:
            time = self.work.trace.time_s
            at = np.interp(time[slice(*span)] - lag_s, time, self.guide)
        return grid(at)


def _points(
    work: Cleaning, guide: Floats, sweep: Sweep, lags: Lags, *, named: bool
) -> tuple[Point, ...]:
    ways = _Ways(work, guide, sweep, {})
    bins = {
        name: ways.read(samples, lags.used(name))
        for name, samples in work.channels.items()
        if name != "throttle_pct" and work.trace.has(name)
    }
    logged = bins.pop("power_w", None)
    voltage, current = work.get("voltage_v"), work.get("current_a")
    power = logged
    if voltage is not None and current is not None:
        power = ways.read(voltage * current, lags.used("current_a"))
        if logged is not None:
            _compare_power(work, logged, power)
    levels = sorted(set().union(*(set(item.levels.tolist()) for item in bins.values())))
    return tuple(_point(work, level, bins, power, sweep, named=named) for level in levels)


def _compare_power(work: Cleaning, logged: Bins, computed: Bins) -> None:
    shared = np.isin(logged.levels, computed.levels)
    if not shared.any():
        return
    level = float(logged.levels[shared][-1])
    one = float(logged.values[logged.levels == level][0])
    other = float(computed.values[computed.levels == level][0])
    say_power_mismatch(work, one, other, float(work.trace.time_s[-1]))


def _point(
    work: Cleaning,
    level: float,
    bins: dict[str, Bins],
    power: Bins | None,
    sweep: Sweep,
    *,
    named: bool,
) -> Point:
    figures: dict[str, Figure] = {}
    # All channels are read at the throttle the slowest of them still saw.
    at = min([level, *(item.reach for item in bins.values() if item.holds(level))])
    figures["throttle_pct"] = (
        Measured(at) if named else Absent("not_logged", "throttle was not logged")
    )
    for name in CHANNELS:
        if name in ("throttle_pct", "power_w"):
            continue
        item = bins.get(name)
        mean = NOT_LOGGED if item is None else item.figure(level, at)
        figures[name] = with_bench_parts(work, name, mean) if isinstance(mean, Measured) else mean
    mean_w = NOT_LOGGED if power is None else power.figure(level, at)
    both = work.get("voltage_v") is not None and work.get("current_a") is not None
    if isinstance(mean_w, Measured):
        mean_w = (
            with_power_parts(work, mean_w) if both else with_bench_parts(work, "power_w", mean_w)
        )
    figures["power_w"] = mean_w
    figures.update(derived(figures))
    start_s, end_s = sweep.times_at(work.trace.time_s, level)
    return Point(figures, start_s=start_s, used_from_s=start_s, end_s=end_s, settled=True)
