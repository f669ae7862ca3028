"""Motors compared where they ran the same propeller at the same voltage."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import (
    DEFAULT_MARGIN,
    Crossing,
    Delta,
    compare,
    is_told,
    thrust_ladder,
    with_repeat,
)
from spindle_core.compare.groups import Groups, performs_the_same
from spindle_core.compare.like_with_like import Factor, confounded, factors, not_corrected
from spindle_core.compare.mean_curves import crossings_of
from spindle_core.compare.measured_run import CURVE_KINDS, MeasuredRun, points_of, strongest_point
from spindle_core.compare.repeats_table import scatter_of_one_run
from spindle_core.compare.subjects import alone
from spindle_core.compare.table import READ_AT, ComparedRun, read_at
from spindle_core.compare.tops import to_the_top
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, mean_of_figures
from spindle_core.figures.repeats import coverage_factor
from spindle_core.run.stand import ASSUMED_REPEATABILITY

GROUPED_BY = ("power_w", "current_a")
"""Figures at equal thrust by which motors are said to perform the same."""


@dataclass(frozen=True, slots=True)
class MotorCell:
    """One figure of a motor under one condition, averaged over its runs."""

    figure: Figure
    delta: Delta | None


@dataclass(frozen=True, slots=True)
class MotorRow:
    """One figure at one level of the condition; motor → cell."""

    condition: str
    at: float
    name: str
    cells: Mapping[str, MotorCell]


@dataclass(frozen=True, slots=True)
class EqualConditions:
    """The comparison of the motors that share a propeller and a voltage.

    ``repeatability`` is the relative s of one run and ``repeatability_from`` where it comes from:
    ``repeats``, ``stand`` or ``assumed``. ``crossings``: pairs of motors and where they take the
    same power [gf], with intervals; only those that have one.
    """

    propeller: str
    voltage: str
    baseline: str
    motors: tuple[str, ...]
    rows: tuple[MotorRow, ...]
    groups: Groups
    factors: tuple[Factor, ...]
    not_corrected: tuple[str, ...]
    confounded: tuple[str, ...]
    crossings: tuple[tuple[str, str, Crossing], ...]
    repeatability: float
    repeatability_from: str


def compare_motors(
    runs: Sequence[MeasuredRun],
    *,
    condition: str = "thrust_gf",
    levels: Sequence[float] | None = None,
    baseline: str | None = None,
    margin: float = DEFAULT_MARGIN,
) -> list[EqualConditions]:
    """One comparison per propeller and voltage that two or more motors ran with.

    :param levels: where to read, in the unit of the condition; round values by default.
    :param baseline: the motor the others are held against; the first by name by default.
    :raises QuantityError: a baseline that no comparison holds, or a condition that none is.
    """
    usable = [run for run in runs if run.trace.kind in CURVE_KINDS]
    by_condition: dict[tuple[str, str], dict[str, list[MeasuredRun]]] = {}
    for run in usable:
        motors = by_condition.setdefault((run.trace.facts.propeller, run.voltage), {})
        motors.setdefault(run.motor, []).append(run)
    found = [
        _compare(propeller, voltage, motors, usable, condition, levels, baseline, margin)
        for (propeller, voltage), motors in by_condition.items()
        if len(motors) > 1
    ]
    if baseline is not None and found and not any(item.baseline == baseline for item in found):
        known = ", ".join(sorted({motor for item in found for motor in item.motors}))
        raise QuantityError(
            f"No comparison holds a motor {baseline!r}; there are {known}.", code="baseline"
        )
    return found


def _compare(
    propeller: str,
    voltage: str,
    motors: Mapping[str, list[MeasuredRun]],
    usable: Sequence[MeasuredRun],
    condition: str,
    levels: Sequence[float] | None,
    baseline: str | None,
    margin: float,
) -> EqualConditions:
    names = sorted(motors)
    base = baseline if baseline is not None and baseline in motors else names[0]
    involved = [run for name in names for run in motors[name]]
    repeatability, freedom, source = _repeatability(usable, involved)
    kind = "assumed_repeat" if source == "assumed" else "repeat"
    cores = {
        run.name: ComparedRun(run.name, run.reduction.points, repeatability, kind)
        for run in involved
    }
    at = list(levels) if levels is not None else _levels(condition, involved)
    figures = {
        (name, level): _figures(motors[name], cores, level, condition)
        for name in names
        for level in at
    }
    rows = []
    for level in at:
        for figure in READ_AT.get(condition, ()):
            held = figures[base, level][figure]
            cells = {
                name: MotorCell(
                    own := figures[name, level][figure],
                    None if name == base else _delta(own, held, margin, freedom),
                )
                for name in names
            }
            rows.append(MotorRow(condition, level, figure, cells))
    differ = factors([motors[name][0].conditions() for name in names])
    return EqualConditions(
        propeller,
        voltage,
        base,
        tuple(names),
        tuple(rows),
        _groups(names, motors, cores, margin, freedom),
        tuple(differ),
        tuple(not_corrected(differ)),
        tuple(confounded(differ)),
        tuple(_crossings(names, motors, cores, freedom)),
        repeatability,
        source,
    )


def _repeatability(
    usable: Sequence[MeasuredRun], involved: Sequence[MeasuredRun]
) -> tuple[float, Mapping[str, float] | None, str]:
    """Relative s of one run, its degrees of freedom by component, and where it comes from."""
    pooled = scatter_of_one_run(usable)
    declared = max(run.trace.stand.repeatability for run in involved)
    if pooled is not None and pooled.freedom >= 2:
        return pooled.relative_s, {"repeat": float(pooled.freedom)}, "repeats"
    if declared > 0:
        return declared, None, "stand"
    return ASSUMED_REPEATABILITY, None, "assumed"


def _levels(condition: str, runs: Sequence[MeasuredRun]) -> list[float]:
    if condition == "throttle_pct":
        return [20.0, 40.0, 60.0, 80.0, 100.0]
    tops = [
        max((point.value(condition) or 0.0 for point in run.reduction.points), default=0.0)
        for run in runs
    ]
    return thrust_ladder(tops)


def _figures(
    runs: Sequence[MeasuredRun], cores: Mapping[str, ComparedRun], level: float, condition: str
) -> dict[str, Figure]:
    """Each figure averaged over a motor's runs; absent where no run reached the level."""
    read = [read_at(cores[run.name], level, condition) for run in runs]
    found: dict[str, Figure] = {}
    for name in READ_AT[condition]:
        present = [f for row in read if isinstance(f := row[name], Measured)]
        found[name] = mean_of_figures(present) if present else read[0][name]
    return found


def _delta(
    figure: Figure, held: Figure, margin: float, freedom: Mapping[str, float] | None
) -> Delta | None:
    if isinstance(figure, Absent) or isinstance(held, Absent) or not is_told(held):
        return None
    return compare(figure, held, margin=margin, freedom=freedom)


def _groups(
    names: Sequence[str],
    motors: Mapping[str, list[MeasuredRun]],
    cores: Mapping[str, ComparedRun],
    margin: float,
    freedom: Mapping[str, float] | None,
) -> Groups:
    """Motors that take the same power and current at every thrust of the ladder both reach."""
    ladder = _levels("thrust_gf", [run for name in names for run in motors[name]])
    everyone = [run for name in names for run in motors[name]]
    whole = {run.name for run in to_the_top(everyone, points_of)}
    shared: dict[str, dict[str, Measured]] = {}
    for name in names:
        shared[name] = {}
        for level in ladder:
            figures = _figures(motors[name], cores, level, "thrust_gf")
            for key in GROUPED_BY:
                if isinstance(figure := figures[key], Measured):
                    shared[name][f"{key}@{level:g}"] = figure
        tops = [
            with_repeat(
                figure, core.repeatability, source=f"{run.name}/thrust_gf", kind=core.repeat_kind
            )
            for run in motors[name]
            if run.name in whole
            and (top := strongest_point(run.reduction.points)) is not None
            and isinstance(figure := top.figures["thrust_gf"], Measured)
            and (core := cores[run.name])
        ]
        if tops:
            shared[name]["max_thrust_gf"] = mean_of_figures(tops)
    return performs_the_same(shared, margin=margin, freedom=freedom)


def _crossings(
    names: Sequence[str],
    motors: Mapping[str, list[MeasuredRun]],
    cores: Mapping[str, ComparedRun],
    freedom: Mapping[str, float] | None,
) -> list[tuple[str, str, Crossing]]:
    """Where the power curves of the first runs of two motors cross, if measurably."""
    k = coverage_factor(0.95, min(freedom.values()) if freedom else math.inf)
    found = []
    for i, first in enumerate(names):
        for second in names[i + 1 :]:
            a, b = (alone(cores[motors[name][0].name]) for name in (first, second))
            found += [(first, second, at) for at in crossings_of(a, b, k=k) if at.resolved]
    return found
