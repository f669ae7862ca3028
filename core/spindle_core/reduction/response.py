"""Reduction of repeated throttle steps (15 → 55 → 15 % for instance) to how fast the motor follows.

The cycles are laid over each other at the instant of the command and averaged; what differs
between them gives u.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    component,
    sample_standard_deviation,
)
from spindle_core.reduction import cleaning
from spindle_core.reduction.cleaning import Cleaning
from spindle_core.reduction.plateau import filled_forward
from spindle_core.reduction.result import Point, Reduction
from spindle_core.run.trace import Trace

LEAST_STEP_PCT = 10.0
LOWEST_LEVEL_PCT = 2.0
"""A step from rest is a start, not a response."""

COARSEST_S = 0.05
"""Time stamps further apart show no response of tenths of a second."""

ASSUMED_CYCLE = 0.05
"""What one cycle alone may differ from the next (k = 1, relative)."""

BEFORE_S = 0.3
DEPARTURE_SIGMA = 5.0


@dataclass(frozen=True, slots=True)
class Edge:
    """A commanded step: its first sample, and the samples up to the next command."""

    at: int
    stop: int
    from_pct: float
    to_pct: float

    @property
    def up(self) -> bool:
        """Whether the step goes up."""
        return self.to_pct > self.from_pct


@dataclass(frozen=True, slots=True)
class StepResponse:
    """One averaged step: levels [rpm], times after the command [s], slope [rpm/s].

    ``at_s``: the command of the first of them.
    """

    before_rpm: float
    after_rpm: float
    dead_time_s: float | None
    t10_s: float
    t90_s: float
    slope_rpm_per_s: float
    at_s: float = 0.0


def reduce(trace: Trace) -> Reduction:
    """rpm/s up and down, rise and fall time and dead time of a ``response`` run.

    :raises ReductionError: throttle or speed was not logged, or there is no step.
    """
    for name in ("throttle_pct", "speed_rpm"):
        if not trace.has(name):
            raise ReductionError(f"A response run needs {name}.", code="no_guide_channel")
    stamps = np.unique(trace.time_s)
    apart_s = float(np.median(np.diff(stamps))) if stamps.size > 1 else math.inf
    if apart_s > COARSEST_S:
        raise ReductionError(
            f"Time stamps are {apart_s:g} s apart; a response lasts tenths of a second and needs "
            f"{COARSEST_S:g} s or finer.",
            code="time_coarse",
        )
    work = cleaning.begin(trace)
    cleaning.mask_lost_speed(work, [(0, work.trace.size)], level=False)
    throttle = filled_forward(work.trace.get("throttle_pct"))
    edges = find_edges(work.trace.time_s, throttle)
    ups, downs = _main_steps(edges, up=True), _main_steps(edges, up=False)
    if not ups and not downs:
        raise ReductionError(
            "No step of at least 10 % between two levels above rest was found.", code="no_step"
        )
    time, speed = work.trace.time_s, work.channels["speed_rpm"]
    summary: dict[str, Figure] = {}
    points = []
    for steps, names in (
        (ups, ("accel_rpm_per_s", "rise_time_s", "dead_time_s")),
        (downs, ("decel_rpm_per_s", "fall_time_s", "dead_time_down_s")),
    ):
        mean = average_response(time, speed, steps)
        each = [average_response(time, speed, [step]) for step in steps]
        summary.update(_figures(work, mean, each, names))
        points += [_point(work, step, one, names) for step, one in zip(steps, each, strict=True)]
    summary["cycles"] = Measured(float(max(1, min(len(ups), len(downs)) or len(ups + downs))))
    points.sort(key=lambda point: point.start_s)
    return Reduction("response", tuple(points), summary, tuple(work.warnings), ())


def find_edges(time_s: Floats, throttle_pct: Floats) -> list[Edge]:
    """Commanded steps of at least 10 %, each with its level before and after.

    A command that ramps within 50 ms counts as one step at its first change.
    """
    changes = np.flatnonzero(np.abs(np.diff(throttle_pct)) > 0.5) + 1
    groups: list[list[int]] = []
    for index in changes:
        if groups and time_s[index] - time_s[groups[-1][-1]] <= 0.05:
            groups[-1].append(int(index))
        else:
            groups.append([int(index)])
    stops = [*(group[0] for group in groups[1:]), throttle_pct.size][: len(groups)]
    return [
        Edge(g[0], stop, float(throttle_pct[g[0] - 1]), float(throttle_pct[g[-1]]))
        for g, stop in zip(groups, stops, strict=True)
        if abs(throttle_pct[g[-1]] - throttle_pct[g[0] - 1]) >= LEAST_STEP_PCT
    ]


def _main_steps(edges: Sequence[Edge], *, up: bool) -> list[Edge]:
    """The steps between the two levels that occur most; starts and stops are left out."""
    running = [e for e in edges if min(e.from_pct, e.to_pct) >= LOWEST_LEVEL_PCT and e.up == up]
    if not running:
        return []
    pairs = [(round(edge.from_pct), round(edge.to_pct)) for edge in running]
    most = max(set(pairs), key=lambda pair: (pairs.count(pair), pair))
    return [edge for edge, pair in zip(running, pairs, strict=True) if pair == most]


def average_response(
    time_s: Floats, speed_rpm: Floats, edges: Sequence[Edge]
) -> StepResponse | Absent:
    """The mean of several steps laid over each other at their command.

    :returns: absent when a step has too few samples or does not move the motor.
    """
    if not edges:
        return Absent("no_step", "no such step in the log")
    step = float(np.median(np.diff(time_s)))
    shortest = min(float(time_s[e.stop - 1] - time_s[e.at]) for e in edges)
    grid = np.arange(-BEFORE_S, shortest, step)
    rows = []
    for edge in edges:
        first = max(0, int(np.searchsorted(time_s, time_s[edge.at] - BEFORE_S - step)))
        part = slice(first, edge.stop)
        valid = np.isfinite(speed_rpm[part])
        if valid.sum() < 8:
            return Absent("no_samples", "fewer than 8 samples of speed in a step")
        rows.append(
            np.interp(grid, (time_s[part] - time_s[edge.at])[valid], speed_rpm[part][valid])
        )
    mean = np.mean(rows, axis=0)
    found = _measure(grid, mean)
    if isinstance(found, Absent):
        return found
    return replace(found, at_s=float(time_s[edges[0].at]))


def _measure(grid: Floats, speed: Floats) -> StepResponse | Absent:
    calm = speed[grid < -1e-9]
    settled = speed[grid >= 0.7 * grid[-1]]
    if calm.size < 3 or settled.size < 3:
        return Absent("too_short", "the step was not held long enough")
    low, high = float(calm.mean()), float(settled.mean())
    height = high - low
    noise = max(float(calm.std(ddof=1)), 1e-6 * abs(height))
    if abs(height) < 10.0 * noise:
        return Absent("no_response", "the speed does not follow the step")
    share = (speed - low) / height
    moving = grid >= -1e-9
    t10 = _first_crossing(grid[moving], share[moving], 0.1)
    t90 = _first_crossing(grid[moving], share[moving], 0.9)
    if t10 is None or t90 is None or t90 <= t10:
        return Absent("too_short", "the speed did not reach 90 % of the step")
    between = (grid >= t10) & (grid <= t90)
    x = np.concatenate(([t10], grid[between], [t90]))
    y = np.concatenate(([low + 0.1 * height], speed[between], [low + 0.9 * height]))
    # Each sample counts for the time it stands for: the ends lie as near to the next as it falls.
    gaps = np.diff(x)
    weights = 0.5 * (np.append(gaps, 0.0) + np.append(0.0, gaps))
    centred = x - float(weights @ x) / float(weights.sum())
    slope = float((weights * centred) @ y) / float((weights * centred) @ centred)
    away = np.flatnonzero(moving & (np.abs(speed - low) > DEPARTURE_SIGMA * noise))
    dead = float(grid[away[0]]) if away.size else None
    return StepResponse(low, high, dead, t10, t90, slope)


def _first_crossing(grid: Floats, share: Floats, level: float) -> float | None:
    above = np.flatnonzero(share >= level)
    if above.size == 0:
        return None
    i = int(above[0])
    if i == 0:
        return float(grid[0])
    part = (level - share[i - 1]) / (share[i] - share[i - 1])
    return float(grid[i - 1] + part * (grid[i] - grid[i - 1]))


def _figures(
    work: Cleaning,
    mean: StepResponse | Absent,
    each: Sequence[StepResponse | Absent],
    names: tuple[str, str, str],
) -> dict[str, Figure]:
    if isinstance(mean, Absent):
        return dict.fromkeys(names, mean)
    values = _values(mean)
    rows = [_values(one) for one in each if isinstance(one, StepResponse)]
    # Both ends of a time are read between two samples.
    u_time_s = work.trace.step_s / math.sqrt(6.0)
    rise_s = mean.t90_s - mean.t10_s
    hidden = (values[0] * u_time_s / rise_s, u_time_s, u_time_s)
    figures: dict[str, Figure] = {}
    for i, name in enumerate(names):
        value = values[i]
        column = [found for row in rows if (found := row[i]) is not None]
        if value is None:
            figures[name] = Absent("no_response", "the speed never left its noise")
            continue
        source = work.source("speed_rpm", f"{name}@{mean.at_s:.3f}s")
        parts = {component("resolution", source): hidden[i]}
        if len(column) > 1:
            spread = sample_standard_deviation(column) / math.sqrt(len(column))
            parts[component("within_run", source)] = spread
        else:
            parts[component("assumed_cycle", source)] = ASSUMED_CYCLE * abs(value)
        if i == 0:
            gains = work.trace.stand.gains("speed_rpm", work.run)
            parts |= {key: gain * value for key, gain in gains.items()}
        figures[name] = Measured(value, parts, samples=len(column))
    return figures


def _values(response: StepResponse) -> tuple[float, float, float | None]:
    return (abs(response.slope_rpm_per_s), response.t90_s - response.t10_s, response.dead_time_s)


def _point(
    work: Cleaning, edge: Edge, one: StepResponse | Absent, names: tuple[str, str, str]
) -> Point:
    figures: dict[str, Figure] = {
        "from_throttle_pct": Measured(edge.from_pct),
        "to_throttle_pct": Measured(edge.to_pct),
    }
    figures.update(_figures(work, one, [one], names))
    time = work.trace.time_s
    start, end = float(time[edge.at]), float(time[edge.stop - 1])
    return Point(figures, start, start, end, settled=True)
