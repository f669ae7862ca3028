"""Candidates for a craft: motors on propellers as they were run, and as they are predicted.

What was run counts as the mean of its repeats and samples. What was not run is predicted from the
identified motor and propeller on the same supply, so that both stand under one condition.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.curve import Curve
from spindle_core.compare.delta import with_repeat
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.of_models import between_samples_of, of_model
from spindle_core.compare.table import ComparedRun, read_one, run_curve
from spindle_core.compare.tops import to_the_top
from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import METRE_PER_INCH
from spindle_core.figures.measured import Absent, Figure, Measured, Origin, propagate
from spindle_core.identification.motor import COPPER_SHARE
from spindle_core.match.candidates import FULL_CELL_V, NOMINAL_CELL_V, VOLTAGE_TOLERANCE
from spindle_core.match.craft import Craft, Layout, all_up_mass, needed_thrust_gf
from spindle_core.match.picks import READ_IN_HOVER, Candidate
from spindle_core.model.air import speed_of_sound_m_per_s
from spindle_core.planning.arrays import Cells, at_thrust, operate
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.matrix import (
    CASE_RISE_K,
    COPPER_PER_K,
    WARMED,
    PlannedMotor,
    PropellerColumn,
    cells_of,
    moved_cells,
)
from spindle_core.planning.predict import DUTY_U_PCT, MODEL_U, KnownSupply

CASE_RISE_U_K = 10.0
"""What the case rises in flight is not known: air blows over it there, and the sun shines."""

GUESS_U = 0.10
"""A prediction whose thrust is known no better than this is a guess, and nothing to choose by."""


@dataclass(frozen=True, slots=True)
class Seat:
    """A candidate with what it is made of: keys of motor and propeller, speed and power at full.

    ``runs`` and ``samples`` are 0 for a prediction. ``load``: what it was run or predicted on.
    ``up_to_pct``: the throttle up to which it was run or may be; its largest thrust is of there.
    """

    candidate: Candidate
    motor: str
    propeller: str
    full_speed_rpm: Figure
    full_power_w: Figure
    load: Load
    runs: int = 0
    samples: int = 0
    up_to_pct: float = 100.0


def fits_cells(voltage_v: float, cells: int) -> bool:
    """Whether a run at this nominal voltage is one at the craft's: from 3.7 to 4.2 V a cell."""
    low = (1.0 - VOLTAGE_TOLERANCE) * NOMINAL_CELL_V * cells
    return low <= voltage_v <= (1.0 + VOLTAGE_TOLERANCE) * FULL_CELL_V * cells


def usual_voltage(runs: Sequence[RanRun], cells: int) -> tuple[str, float] | None:
    """Supply and voltage that most combinations were run at on so many cells; None without any."""
    made = Counter(
        (load.supply, load.voltage_v)
        for _, load in {(run.motor, run.load) for run in runs if run.kind in CURVE_KINDS}
        if fits_cells(load.voltage_v, cells)
    )
    return max(sorted(made), key=lambda key: made[key], default=None)


def measured_seats(
    craft: Craft, runs: Sequence[RanRun], names: Mapping[str, str], masses: Mapping[str, Figure]
) -> tuple[list[Seat], dict[tuple[str, str], str]]:
    """Motors on propellers as they were run at the craft's voltage, and why others are left out.

    Of a combination that was run at several voltages, the usual one counts, else the nearest.

    :param names: motor → what it is called. :param masses: motor → its mass [g].
    """
    usual = usual_voltage(runs, craft.cells)
    groups: dict[tuple[str, str], dict[Load, list[RanRun]]] = {}
    for run in runs:
        if run.kind in CURVE_KINDS and run.load.propeller:
            found = groups.setdefault((run.motor, run.load.propeller), {})
            found.setdefault(run.load, []).append(run)
    seats, left = [], {}
    for key, loads in groups.items():
        fitting = [load for load in loads if fits_cells(load.voltage_v, craft.cells)]
        mass = masses.get(key[0], Absent("no_mass", "its mass is not known"))
        if not fitting:
            volts = ", ".join(sorted({f"{load.voltage_v:g} V" for load in loads}))
            left[key] = f"run at {volts} only, which is not {craft.cells} cells"
        elif isinstance(mass, Absent):
            left[key] = f"its mass is not known: {mass.note}"
        else:
            load = min(fitting, key=lambda one: _distance(one, usual, craft.cells))
            seat = _measured(craft, key, loads[load], names[key[0]], mass)
            if isinstance(seat, Absent):
                left[key] = seat.note
            else:
                seats.append(seat)
    return seats, left


def _distance(load: Load, usual: tuple[str, float] | None, cells: int) -> tuple[float, str]:
    if usual == (load.supply, load.voltage_v):
        return (-1.0, "")
    middle = 0.5 * (NOMINAL_CELL_V + FULL_CELL_V) * cells
    return (abs(load.voltage_v - (usual[1] if usual else middle)), load.supply)


def _measured(
    craft: Craft, key: tuple[str, str], runs: Sequence[RanRun], name: str, mass: Measured
) -> Seat | Absent:
    # What a run to part throttle reached is no repeat of what the others did.
    whole = to_the_top(runs, lambda run: run.core.points)
    top = _mean(whole, "max_thrust_gf", _largest("thrust_gf"))
    peak = _mean(whole, "max_current_a", _largest("current_a"))
    if isinstance(top, Absent) or isinstance(peak, Absent):
        return Absent("not_logged", "thrust or current was not logged")
    all_up = all_up_mass(craft, mass)
    hover: dict[str, Figure]
    if craft.layout is Layout.PLANE and craft.cruise_throttle_pct is not None:
        hover = {
            figure: _mean(runs, figure, _at_throttle(figure, craft.cruise_throttle_pct))
            for figure in ("thrust_gf", "current_a", "power_w")
        }
        hover["throttle_pct"] = Measured(craft.cruise_throttle_pct)
    else:
        needed = needed_thrust_gf(craft, all_up)
        hover = {
            figure: needed
            if isinstance(needed, Absent)
            else _mean(runs, figure, _at_thrust(figure, needed))
            for figure in READ_IN_HOVER
        }
    candidate = Candidate(f"{name}, {key[1]}", mass, top, peak, {}, at_hover=hover)
    return Seat(
        candidate,
        *key,
        _mean(whole, "speed_rpm", _largest("speed_rpm")),
        _mean(whole, "max_power_w", _largest("power_w")),
        runs[0].load,
        runs=len(runs),
        samples=len({run.sample for run in runs}),
        up_to_pct=min(_up_to(run.core) for run in whole),
    )


def _up_to(run: ComparedRun) -> float:
    """The highest throttle of a run's points [%]; full where no throttle was noted."""
    return max((v for p in run.points if (v := p.value("throttle_pct")) is not None), default=100.0)


Reader = Callable[[ComparedRun], Figure]


def _largest(name: str) -> Reader:
    def read(run: ComparedRun) -> Figure:
        with_it = [p for p in run.points if p.value(name) is not None]
        if not with_it:
            return Absent("not_logged", f"{name} was not logged")
        top = max(with_it, key=lambda point: point.value(name) or 0.0).figures[name]
        if isinstance(top, Absent):
            return top
        return with_repeat(top, run.repeatability, source=f"{run.key}/{name}", kind=run.repeat_kind)

    return read


def _at_throttle(name: str, throttle_pct: float) -> Reader:
    def read(run: ComparedRun) -> Figure:
        return read_one(run, throttle_pct, name, "throttle_pct")

    return read


def _at_thrust(name: str, needed: Measured) -> Reader:
    def read(run: ComparedRun) -> Figure:
        figure = read_one(run, needed.value, name)
        line = run_curve(run, "thrust_gf", name)
        if isinstance(figure, Absent) or not isinstance(line, Curve):
            return figure
        slope = line.slope(needed.value)
        if isinstance(slope, Absent):
            return figure
        # What the craft weighs more or less, the motor has to lift; the slope is d ln y/d ln x.
        per_gf = slope * figure.value / needed.value
        for key, part in needed.components.items():
            figure = figure.with_component(key, per_gf * part)
        return figure

    return read


def _mean(runs: Sequence[RanRun], name: str, read: Reader) -> Figure:
    """Mean over runs and samples of what is read off each; the first reason where none tells it."""
    by_sample: dict[str, list[Measured]] = {}
    missing: Absent | None = None
    for run in runs:
        figure = read(run.core)
        if isinstance(figure, Absent):
            missing = missing or figure
        else:
            by_sample.setdefault(run.sample, []).append(figure)
    if not by_sample:
        return missing or Absent("not_measured", "no run")
    pooled = between_samples_of([by_sample])
    motor = f"{runs[0].motor}/{runs[0].load.propeller}"
    return of_model(motor, name, by_sample, pooled).figure


def predicted_seats(
    craft: Craft,
    rows: Sequence[PlannedMotor],
    columns: Sequence[PropellerColumn],
    masses: Mapping[str, Figure],
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    *,
    load: tuple[str, float],
    leave: frozenset[tuple[str, str]] = frozenset(),
) -> list[Seat]:
    """Every motor on every propeller as the model foresees it, but for those to ``leave``.

    The throttle is the duty, to within 5 % where nobody declared the ESC linear.

    :param rows: motors with the key in words of ``masses``. :param load: supply and voltage.
    """
    known = [
        (row, mass)
        for row in rows
        if isinstance(row.known, KnownMotor)
        and isinstance(mass := masses.get(str(row.key)), Measured)
    ]
    usable = [column for column in columns if not isinstance(column.known, Absent)]
    if not known or not usable:
        return []
    motors = [row for row, _ in known]
    cells = cells_of(motors, usable, supply, density_kg_per_m3.value)
    moved = moved_cells(cells, motors, usable, supply, density_kg_per_m3)
    full = operate(cells, warmed=WARMED)
    full_moved = [operate(other, warmed=WARMED) for other in moved]
    needed = [needed_thrust_gf(craft, all_up_mass(craft, mass)) for _, mass in known]
    hover, hover_moved = _predicted_hover(craft, cells, moved, needed)
    seats = []
    for i, (row, mass) in enumerate(known):
        for j, column in enumerate(usable):
            key = (str(row.key), column.name)
            if key in leave or not math.isfinite(full["thrust_gf"][i, j]):
                continue
            place = (i, j)
            figures = {
                name: _figure(name, full, full_moved, place, f"{row.name}/{column.name}")
                for name in ("thrust_gf", "current_a", "power_w", "speed_rpm")
            }
            thrust, peak = figures["thrust_gf"], figures["current_a"]
            assert isinstance(thrust, Measured)
            assert isinstance(peak, Measured)
            barred = (
                f"predicted to ±{200 * thrust.relative_u:.0f} % only: run it first"
                if thrust.relative_u > GUESS_U
                else ""
            )
            candidate = Candidate(
                f"{row.name}, {column.name}",
                mass,
                thrust,
                peak,
                {},
                barred=barred,
                at_hover=_hover_figures(
                    craft, hover, hover_moved, place, needed[i], f"{row.name}/{column.name}/hover"
                ),
                predicted=True,
            )
            seats.append(
                Seat(
                    candidate,
                    *key,
                    figures["speed_rpm"],
                    figures["power_w"],
                    Load(column.name, *load),
                )
            )
    return seats


Grid = dict[str, Floats]
Place = tuple[int, int]


def _predicted_hover(
    craft: Craft, cells: Cells, moved: Sequence[Cells], needed: Sequence[Figure]
) -> tuple[Grid, list[Grid]]:
    """Figures in hover or cruise, NaN where there is none; and the same with each input moved, the
    mass or the cruise's duty last."""
    if craft.layout is Layout.PLANE and craft.cruise_throttle_pct is not None:
        duty = craft.cruise_throttle_pct / 100.0

        def at(own: Cells, share: float = duty) -> Grid:
            found = operate(own, share, warmed=WARMED)
            return {**found, "duty": share + 0.0 * found["thrust_gf"]}

        off = min(1.0, duty + DUTY_U_PCT / 100.0)
        return at(cells), [*(at(other) for other in moved), at(cells, off)]
    wanted = np.array([n.value if isinstance(n, Measured) else math.nan for n in needed])[:, None]
    u = np.array([n.u if isinstance(n, Measured) else math.nan for n in needed])[:, None]
    return (
        at_thrust(cells, wanted),
        [*(at_thrust(other, wanted) for other in moved), at_thrust(cells, wanted + u)],
    )


def _hover_figures(
    craft: Craft, hover: Grid, moved: Sequence[Grid], place: Place, needed: Figure, source: str
) -> dict[str, Figure]:
    if isinstance(needed, Absent) and craft.cruise_throttle_pct is None:
        return dict.fromkeys(READ_IN_HOVER, needed)
    names = [name for name in ("thrust_gf", "current_a", "power_w") if name in hover]
    found: dict[str, Figure] = {name: _figure(name, hover, moved, place, source) for name in names}
    duty = _figure("duty", hover, moved, place, source)
    if isinstance(duty, Measured):
        duty = duty.scaled(100.0).with_component("assumed_duty", DUTY_U_PCT)
    return {**found, "throttle_pct": duty}


LOST_AT_THE_END = 0.02
"""What a moved input that full throttle no longer reaches is taken to change (relative)."""


def _figure(name: str, grid: Grid, moved: Sequence[Grid], place: Place, source: str) -> Figure:
    """A predicted figure: its u from each input, and the model's own share."""
    value = float(grid[name][place])
    if not math.isfinite(value):
        return Absent("not_reached", "full throttle does not give this thrust")
    parts = {}
    for k, other in enumerate(moved):
        there = float(other[name][place])
        change = there - value if math.isfinite(there) else LOST_AT_THE_END * value
        parts[f"input{k}@{source}"] = change
    parts[f"model@{source}/{name}"] = MODEL_U.get(name, MODEL_U["speed_rpm"]) * value
    return Measured(value, parts, origin=Origin.ESTIMATED)


def tip_mach_of(speed_rpm: Figure, diameter_in: float, *, air_c: float = 20.0) -> Figure:
    """Speed of the tips in the speed of sound; of a speed at full throttle."""
    if isinstance(speed_rpm, Absent):
        return speed_rpm
    share = math.pi * diameter_in * METRE_PER_INCH / 60.0 / speed_of_sound_m_per_s(air_c)
    return speed_rpm.scaled(share)


def heat_margin_k(
    known: KnownMotor, current_a: Figure, *, ceiling_c: float, air_c: float = 20.0
) -> Figure:
    """Room between the winding held at a current and the ceiling of its enamel [K]; estimated.

    The winding stands above the case by what R·I² drives; the case is taken to rise by 20 ± 10 K.
    """
    if isinstance(current_a, Absent):
        return current_a
    copper = COPPER_SHARE * COPPER_PER_K * known.resistance_ohm.value
    rise = known.warming_ohm_per_a2.value * current_a.value**2 / copper
    parts = {
        "warming": rise * known.warming_ohm_per_a2.relative_u if rise else 0.0,
        "current": 2.0 * rise * current_a.relative_u,
        "assumed_case": CASE_RISE_U_K,
    }
    return Measured(
        ceiling_c - air_c - CASE_RISE_K - rise,
        {key: part for key, part in parts.items() if math.isfinite(part)},
        origin=Origin.ESTIMATED,
    )


def coaxial_pair(upper: Candidate, lower: Candidate) -> Candidate:
    """Two motors that differ, one above the other, as one candidate: means of both per motor.

    Both are taken to carry the same thrust. The ESC is sized for the thirstier one.
    """

    def mean(a: Figure, b: Figure) -> Figure:
        for one in (a, b):
            if isinstance(one, Absent):
                return one
        assert isinstance(a, Measured)
        assert isinstance(b, Measured)
        return propagate(lambda x, y: 0.5 * (x + y), (a, b), partials=(0.5, 0.5))

    hover_a, hover_b = upper.at_hover or {}, lower.at_hover or {}
    mass = mean(upper.motor_mass_g, lower.motor_mass_g)
    thrust = mean(upper.max_thrust_gf, lower.max_thrust_gf)
    peak = mean(upper.peak_current_a, lower.peak_current_a)
    assert isinstance(mass, Measured)
    assert isinstance(thrust, Measured)
    assert isinstance(peak, Measured)
    return Candidate(
        f"{upper.name} over {lower.name}",
        mass,
        thrust,
        peak,
        {},
        barred=upper.barred or lower.barred,
        at_hover={name: mean(hover_a[name], hover_b[name]) for name in hover_a if name in hover_b},
        esc_peak_a=max(upper.peak_current_a, lower.peak_current_a, key=lambda one: one.value),
        predicted=upper.predicted or lower.predicted,
    )
