"""A run read under equal conditions.

Equal thrust is the usual question; equal electrical power, shaft power and throttle are the
others. A condition that a run did not reach gives no figure.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from spindle_core.compare.curve import Curve, curve_from_points
from spindle_core.compare.delta import with_repeat
from spindle_core.errors import QuantityError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, component, ratio
from spindle_core.reduction.result import Point

READ_AT: Mapping[str, tuple[str, ...]] = {
    "thrust_gf": ("power_w", "efficiency_g_per_w", "current_a", "throttle_pct", "speed_rpm"),
    "power_w": ("thrust_gf", "efficiency_g_per_w", "current_a", "throttle_pct", "speed_rpm"),
    "shaft_power_w": ("thrust_gf", "power_w", "motor_esc_efficiency_pct", "speed_rpm"),
    "throttle_pct": ("thrust_gf", "power_w", "efficiency_g_per_w", "current_a", "speed_rpm"),
    "current_a": ("thrust_gf", "power_w", "efficiency_g_per_w", "throttle_pct", "speed_rpm"),
    "speed_rpm": ("thrust_gf", "power_w", "efficiency_g_per_w", "current_a", "throttle_pct"),
}
"""What is read at each condition, in the order of the table."""

_QUOTIENTS: Mapping[str, tuple[str, str, float]] = {
    "efficiency_g_per_w": ("thrust_gf", "power_w", 1.0),
    "motor_esc_efficiency_pct": ("shaft_power_w", "power_w", 100.0),
}
"""Figures that are the quotient of two others, and their scale."""


@dataclass(frozen=True, slots=True)
class ComparedRun:
    """A reduced run, and the scatter of one run against the next.

    ``repeatability``: relative standard deviation. ``repeat_kind``: ``repeat``, or
    ``assumed_repeat`` where nobody declared it and no repeats show it. What its stand declares
    of its calibration is in the figures of the points. ``held_back``: its points beyond a rating
    are left out.
    """

    key: str
    points: Sequence[Point]
    repeatability: float
    repeat_kind: str = "repeat"
    held_back: bool = False
    curves: dict[tuple[str, str], Curve | Absent] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )
    """By x and y, as far as they were needed."""
    readings: dict[tuple[str, float, str], Figure] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )
    """By condition, level and figure: those that were asked for last."""


MOST_READINGS = 32
"""Readings that a run keeps: after a write to one run the others are asked the same again."""


def run_curve(run: ComparedRun, x_name: str, y_name: str) -> Curve | Absent:
    """One curve of a run; made once, since it is read at many levels and by many."""
    key = (x_name, y_name)
    if key not in run.curves:
        run.curves[key] = curve_from_points(run.points, x_name, y_name)
    return run.curves[key]


def _check(condition: str, levels: Sequence[float]) -> None:
    if condition not in READ_AT:
        raise QuantityError(
            f"Runs are compared at equal {', '.join(READ_AT)}; not {condition!r}.", code="condition"
        )
    if any(level <= 0 for level in levels):
        what = condition.split("_")[0]
        raise QuantityError(f"A {what} to compare at must be above 0.", code=what)


def read_at(run: ComparedRun, level: float, condition: str = "thrust_gf") -> dict[str, Figure]:
    """The figures of one run at one level of a condition, with the stand's scatter."""
    _check(condition, [level])
    found: dict[str, Figure] = {condition: Measured(level)}
    for name in READ_AT[condition]:
        for needed in _QUOTIENTS.get(name, (name, name))[:2]:
            if needed not in found:
                found[needed] = _read(run, needed, level, condition)
    figures: dict[str, Figure] = {}
    for name in READ_AT[condition]:
        figures[name] = _quotient(found, *_QUOTIENTS[name]) if name in _QUOTIENTS else found[name]
    return figures


def read_one(run: ComparedRun, level: float, name: str, condition: str = "thrust_gf") -> Figure:
    """One figure of a run at one level of a condition: the same as :func:`read_at` gives, without
    reading the others."""
    _check(condition, [level])
    if name not in _QUOTIENTS:
        return Measured(level) if name == condition else _read(run, name, level, condition)
    above, below, scale = _QUOTIENTS[name]
    found = {
        needed: Measured(level) if needed == condition else _read(run, needed, level, condition)
        for needed in (above, below)
    }
    return _quotient(found, above, below, scale)


def value_of(run: ComparedRun, level: float, name: str, condition: str) -> float:
    """What :func:`read_one` gives, without its u and many times quicker; NaN where it is absent."""
    if name not in _QUOTIENTS:
        if name == condition:
            return level
        line = run_curve(run, condition, name)
        return line.value(level) if isinstance(line, Curve) else math.nan
    above, below, scale = _QUOTIENTS[name]
    top, bottom = (value_of(run, level, needed, condition) for needed in (above, below))
    return scale * top / bottom if bottom else math.nan


def _quotient(found: Mapping[str, Figure], above: str, below: str, scale: float) -> Figure:
    top, bottom = found[above], found[below]
    if isinstance(top, Absent):
        return top
    if isinstance(bottom, Absent):
        return bottom
    figure = ratio(top, bottom)
    return figure if isinstance(figure, Absent) else figure.scaled(scale)


def _read(run: ComparedRun, name: str, level: float, condition: str) -> Figure:
    key = (condition, level, name)
    found = run.readings.get(key)
    if found is None:
        line = run_curve(run, condition, name)
        found = _with_scatter(run, line, level) if isinstance(line, Curve) else line
        run.readings[key] = found
        if len(run.readings) > MOST_READINGS:
            # Several may read one run at once: what one of them took away the other need not find.
            for old in list(run.readings)[:-MOST_READINGS]:
                run.readings.pop(old, None)
    return found


def _with_scatter(run: ComparedRun, line: Curve, level: float) -> Figure:
    """A reading with the run's scatter on both axes.

    One run scatters against the next in thrust, too: a thrust that is off by 1 % moves the
    reading by the curve's slope. Since power grows with about T^1.5, that part is the larger one;
    leaving it out would report differences finer than the bench can see. A throttle is commanded,
    not measured, and scatters in itself not at all.
    """
    found = line.read_with_slope(level)
    if isinstance(found, Absent):
        return found
    figure, slope = found
    if line.y_name != "throttle_pct":
        source = f"{run.key}/{line.y_name}"
        figure = with_repeat(figure, run.repeatability, source=source, kind=run.repeat_kind)
    if line.x_name == "throttle_pct":
        return figure
    key = component(run.repeat_kind, f"{run.key}/{line.x_name}")
    return figure.with_component(key, -slope * figure.value * run.repeatability)


@dataclass(frozen=True, slots=True)
class Drawn:
    """A curve for drawing: the line through it, NaN where there is no reading, and its points.

    ``points_u``: their scatter, without what moves the whole curve; shape (n,) each.
    """

    x_name: str
    y_name: str
    x: Floats
    y: Floats
    points_x: Floats
    points_y: Floats
    points_u: Floats


WEAKEST_SHARE = 0.05
"""Below this share of the largest thrust g/W is mostly the noise of a small thrust."""


def drawn_curves(run: ComparedRun, axes: Sequence[tuple[str, str]]) -> list[Drawn]:
    """The curves of a run that it holds; power over thrust brings g/W over thrust with it."""
    found = []
    for x_name, y_name in axes:
        line = run_curve(run, x_name, y_name)
        if isinstance(line, Absent):
            continue
        x, y = line.sampled()
        found.append(Drawn(x_name, y_name, x, y, line.x, line.y, line.u_y))
        if (x_name, y_name) == ("thrust_gf", "power_w"):
            found.append(_efficiency(line, x, y))
    return found


def _efficiency(power: Curve, thrust: Floats, watts: Floats) -> Drawn:
    """g/W over thrust, with the scatter of both, from 5 % of the largest thrust up."""
    floor = WEAKEST_SHARE * power.span[1]
    keep = thrust >= floor
    points = [
        (node.x.value, ratio(node.x, node.y)) for node in power.nodes if node.x.value >= floor
    ]
    known = [(at, figure) for at, figure in points if isinstance(figure, Measured)]
    return Drawn(
        "thrust_gf",
        "efficiency_g_per_w",
        thrust[keep],
        thrust[keep] / watts[keep],
        np.array([at for at, _ in known]),
        np.array([f.value for _, f in known]),
        np.array([f.scatter for _, f in known]),
    )
