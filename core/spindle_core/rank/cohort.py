"""A cohort: every motor's figures under the conditions that most of them were run under.

A figure that depends on what was mounted is compared under one load, a propeller on one supply;
each kind of run has its own, since few motors are run through every kind on every propeller.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.by_propeller import common_level
from spindle_core.compare.delta import with_repeat
from spindle_core.compare.factor_table import FactorTable, factor_table
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.of_models import OfModel, between_samples_of, of_model
from spindle_core.compare.table import ComparedRun, read_one
from spindle_core.compare.tops import highest_throttle_pct, to_the_top
from spindle_core.figures.measured import Absent, Figure, Measured, propagate
from spindle_core.rank.criteria import MEASURES, MeasuredBy

KIND_OF_RUN: Mapping[str, MeasuredBy] = {
    **dict.fromkeys(CURVE_KINDS, MeasuredBy.CURVE),
    "peak": MeasuredBy.PEAK,
    "flywheel": MeasuredBy.FLYWHEEL,
    "response": MeasuredBy.RESPONSE,
    "soak": MeasuredBy.SOAK,
}
"""Kinds of run that tell a criterion."""

AT_THE_TOP = ("max_thrust_gf", "efficiency_at_max_g_per_w", "vibration_g")
"""Criteria that are read where a run reached the most."""

FILLED = ("max_thrust_gf", "efficiency_g_per_w", "efficiency_at_max_g_per_w")
"""Figures that runs on other propellers may stand in for."""

USUAL_SHAFT_SHARE = 0.6


@dataclass(frozen=True, slots=True)
class Condition:
    """Under what a criterion was read; ``level`` of its ``at``, None where it needs none."""

    load: Load | None
    level: float | None = None


@dataclass(frozen=True, slots=True)
class Cohort:
    """Figures of every motor by criterion, and the conditions of the criteria.

    ``filled``: criteria of a motor that its runs on other propellers stand in for, estimated.
    ``factors``: what these rest on, per criterion, or why nothing could be filled.
    ``absent``: why a motor has no figure of a criterion that some run of the cohort tells.
    """

    figures: Mapping[str, Mapping[str, OfModel]]
    conditions: Mapping[str, Condition]
    filled: Mapping[str, frozenset[str]]
    factors: Mapping[str, FactorTable | Absent]
    absent: Mapping[str, Mapping[str, Absent]]


def loads_of(runs: Sequence[RanRun]) -> list[tuple[Load, int]]:
    """Loads that curves were run under, with how many motors, most motors first."""
    curves = [run for run in runs if KIND_OF_RUN.get(run.kind) is MeasuredBy.CURVE]
    return [(load, motors) for load, motors, _ in _counted(curves)]


def _counted(runs: Sequence[RanRun]) -> list[tuple[Load, int, int]]:
    """Loads with their numbers of motors and runs, the most of both first."""
    made = Counter(run.load for run in runs)
    motors = Counter(load for _, load in {(run.motor, run.load) for run in runs})
    rows = [(load, motors[load], made[load]) for load in made]
    return sorted(rows, key=lambda row: (-row[1], -row[2], row[0]))


def cohort_of(
    runs: Sequence[RanRun],
    *,
    load: Load | None = None,
    common_thrust_gf: float | None = None,
    shaft_power_w: float | None = None,
    fill: bool = False,
) -> Cohort:
    """Every motor's figures under one load per kind of run.

    :param runs: accepted runs of all motors of the cohort.
    :param load: of the curves; the one that most motors share by default.
    :param common_thrust_gf: where gf/W is read; a round one that all reach by default.
    :param shaft_power_w: where shaft efficiency is read; 60 % of what all reach by default.
    :param fill: whether runs on other propellers stand in where a motor has none under the load.
    """
    by_kind: dict[MeasuredBy, list[RanRun]] = {}
    for run in runs:
        if (by := KIND_OF_RUN.get(run.kind)) is not None:
            by_kind.setdefault(by, []).append(run)
    chosen = {by: _load_for(found, load) for by, found in by_kind.items()}
    under = {by: [run for run in found if run.load == chosen[by]] for by, found in by_kind.items()}
    curves = under.get(MeasuredBy.CURVE, [])
    groups = list(_by_motor(curves).values())
    thrust = common_thrust_gf or common_level(groups, "thrust_gf")
    shaft = shaft_power_w or common_level(groups, "shaft_power_w", share=USUAL_SHAFT_SHARE)
    levels = {"thrust_gf": thrust, "shaft_power_w": shaft}
    figures: dict[str, dict[str, OfModel]] = {run.motor: {} for run in runs}
    conditions: dict[str, Condition] = {}
    filled: dict[str, set[str]] = {}
    factors: dict[str, FactorTable | Absent] = {}
    absent: dict[str, dict[str, Absent]] = {motor: {} for motor in figures}
    for name, measure in MEASURES.items():
        if measure.by not in chosen:
            continue
        level = levels.get(measure.at)
        conditions[name] = Condition(chosen[measure.by], level)
        if measure.at and level is None:
            for motor in figures:
                absent[motor][name] = Absent("no_level", "nothing that all of them reached")
            continue
        found = _of_models(name, under[measure.by], level)
        for motor, one in found.items():
            figures[motor][name] = one
        for motor in figures:
            if motor not in found:
                own = [run for run in under[measure.by] if run.motor == motor]
                absent[motor][name] = _why_absent(name, own, chosen[measure.by], level)
        if fill and name in FILLED:
            table = _factors(name, by_kind[measure.by], chosen[measure.by], level)
            factors[name] = table
            for motor, one in _filled(table, chosen[measure.by], found).items():
                figures[motor][name] = one
                del absent[motor][name]
                filled.setdefault(motor, set()).add(name)
    by_others = {motor: frozenset(names) for motor, names in filled.items()}
    return Cohort(figures, conditions, by_others, factors, absent)


def _load_for(runs: Sequence[RanRun], wanted: Load | None) -> Load:
    """The wanted load where somebody was run under it, else the one of most motors; of several
    the one with the wanted propeller or supply."""
    rows = _counted(runs)
    motors = {load: count for load, count, _ in rows}
    if wanted is not None and wanted in motors:
        return wanted

    def alike(load: Load) -> int:
        if wanted is None:
            return 0
        return (load.propeller == wanted.propeller) + (load.voltage_v == wanted.voltage_v)

    return max((load for load, _, _ in rows), key=lambda load: (motors[load], alike(load)))


def _by_motor(runs: Sequence[RanRun]) -> dict[str, list[ComparedRun]]:
    found: dict[str, list[ComparedRun]] = {}
    for run in runs:
        found.setdefault(run.motor, []).append(run.core)
    return found


def _read(name: str, run: RanRun, level: float | None) -> Figure:
    """A criterion read off one run, with what one run scatters by."""
    if name == "efficiency_g_per_w":
        assert level is not None
        return read_one(run.core, level, name)
    if name == "motor_esc_efficiency_pct":
        assert level is not None
        return read_one(run.core, level, name, "shaft_power_w")
    figure = _response(run) if name == "response_rpm_per_s" else _plain(name, run)
    if isinstance(figure, Absent):
        return figure
    return with_repeat(
        figure, run.core.repeatability, source=f"{run.core.key}/{name}", kind=run.core.repeat_kind
    )


def _plain(name: str, run: RanRun) -> Figure:
    if name == "vibration_g":
        strongest = max(
            (p for p in run.core.points if p.value("thrust_gf") is not None),
            key=lambda point: point.value("thrust_gf") or 0.0,
            default=None,
        )
        missing = Absent("not_logged", "vibration was not logged")
        return missing if strongest is None else strongest.figures.get(name, missing)
    return run.summary.get(name, Absent("not_measured", "the run does not give it"))


def _response(run: RanRun) -> Figure:
    """Mean of the rates up and down [rpm/s]."""
    up, down = (run.summary.get(key) for key in ("accel_rpm_per_s", "decel_rpm_per_s"))
    if not (isinstance(up, Measured) and isinstance(down, Measured)):
        return Absent("one_way", "needs the rates up and down")
    return propagate(
        lambda one, other: 0.5 * (abs(one) + abs(other)),
        (up, down),
        partials=(math.copysign(0.5, up.value), math.copysign(0.5, down.value)),
    )


def _at_one_top(runs: Sequence[RanRun]) -> list[RanRun]:
    """The runs that went as high as any of the cohort's, or would have: of those whose points
    beyond a rating are left out, each motor's highest.

    What a run to part throttle reached is no repeat of what the others did, and no rival of it.
    """
    held_back: dict[tuple[str, Load], list[RanRun]] = {}
    for run in runs:
        if run.core.held_back:
            held_back.setdefault((run.motor, run.load), []).append(run)
    free = [run for run in runs if not run.core.held_back]
    kept = to_the_top(free, lambda run: run.core.points)
    for cell in held_back.values():
        kept += to_the_top(cell, lambda run: run.core.points)
    return kept


def _why_absent(name: str, own: Sequence[RanRun], load: Load, level: float | None) -> Absent:
    """Why a motor has no figure, by its runs under the load; none of them told it."""
    if not own:
        under = load.words or "such a load"
        return Absent("not_run", f"no run that tells it with the {under}")
    read = [_read(name, run, level) for run in own]
    missing = next((one for one in read if isinstance(one, Absent)), None)
    if missing is not None:
        return missing
    if not any(isinstance(one, Measured) and one.value > 0 for one in read):
        return Absent("not_above_zero", "it came out at 0 or below, which nothing is scored by")
    reached = max((highest_throttle_pct(run.core.points) or 0.0 for run in own), default=0.0)
    return Absent("part_throttle", f"it was run to {reached:.0f} % of throttle, others further")


_Samples = dict[str, dict[str, list[Measured]]]


def _samples(name: str, runs: Sequence[RanRun], level: float | None) -> _Samples:
    found: _Samples = {}
    if name in AT_THE_TOP:
        runs = _at_one_top(runs)
    for run in runs:
        figure = _read(name, run, level)
        if isinstance(figure, Measured) and figure.value > 0:
            found.setdefault(run.motor, {}).setdefault(run.sample, []).append(figure)
    return found


def _of_models(name: str, runs: Sequence[RanRun], level: float | None) -> dict[str, OfModel]:
    found = _samples(name, runs, level)
    pooled = between_samples_of(found.values())
    return {motor: of_model(motor, name, samples, pooled) for motor, samples in found.items()}


def _factors(
    name: str, runs: Sequence[RanRun], load: Load, level: float | None
) -> FactorTable | Absent:
    """Motors × propellers on the load's supply, taken apart."""
    cells: dict[tuple[str, str], Measured] = {}
    on_supply = [
        run
        for run in runs
        if (run.load.supply, run.load.voltage_v) == (load.supply, load.voltage_v)
    ]
    for propeller in {run.load.propeller for run in on_supply}:
        those = [run for run in on_supply if run.load.propeller == propeller]
        for motor, one in _of_models(name, those, level).items():
            cells[motor, propeller] = one.figure
    return factor_table(cells) if cells else Absent("too_few_cells", "no runs on this supply")


def _filled(
    table: FactorTable | Absent, load: Load, measured: Mapping[str, OfModel]
) -> dict[str, OfModel]:
    """Motors that were not run under the load, predicted from the others; they rest on no run
    under it. What their samples differ by is in it, from the cells that it rests on."""
    if isinstance(table, Absent):
        return {}
    found = {}
    for (motor, propeller), figure in table.predicted.items():
        if propeller == load.propeller and motor not in measured:
            found[motor] = OfModel(figure, samples=0, runs=0)
    return found
