"""Two benches that measured the same motor: by how much do they read apart?

No bench can see the gain of its own load cell. Another one that ran the same motor on the same
propeller can: what both read is divided, load by load, and what differs beyond its u is told. The
calibrations of two benches share nothing, two propellers of one name are not one propeller, and
two samples of one model are not one motor; all of that is in u, assumed aloud where nobody
measured it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.bench_table import FULL, Load, RanRun, read_under
from spindle_core.compare.by_propeller import common_level
from spindle_core.compare.delta import DEFAULT_MARGIN, Delta, compare, is_told
from spindle_core.compare.like_with_like import VOLTAGE_TOLERANCE
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.nominal import AtNominal, points_at_nominal
from spindle_core.compare.of_models import OfModel, of_model, of_sample
from spindle_core.compare.table import ComparedRun
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Figure, Measured, component, ratio
from spindle_core.model.correction import EXPONENTS

ASSUMED_PROPELLER_S = 0.015
"""Relative s from one moulded propeller to the next of its name, in thrust and in power."""

ASSUMED_DENSITY_KG_PER_M3, ASSUMED_AIR_S = 1.19, 0.03
"""Air and its relative s where a bench did not note it: a workshop between 5 and 35 °C, at any
weather and up to 500 m."""

ASSUMED_VOLTAGE_S = 0.01
"""Relative s of the voltage under load where it was not logged."""

UNLOADED = "no_load"
"""A condition of its own: the motor without a propeller."""

EQUAL_SPEED = "speed_rpm"

READ: Mapping[str, tuple[str, ...]] = {
    UNLOADED: ("kv_raw_rpm_per_v", "no_load_current_a"),
    EQUAL_SPEED: ("thrust_gf",),
    "thrust_gf": ("power_w", "current_a", "efficiency_g_per_w"),
    FULL: ("thrust_gf", "current_a", "power_w", "speed_rpm"),
}
"""What two benches are held against each other by. At one speed a propeller's thrust is the
propeller's and the air's alone: what is left are the two scales. Without a propeller speed ÷ volts
is left to the two meters, whatever either takes for the resistance."""

POWERS: Mapping[str, Mapping[str, tuple[float, float]]] = {
    EQUAL_SPEED: {"thrust_gf": (0.0, 1.0)},
    "thrust_gf": {
        "power_w": (0.0, -0.5),
        "current_a": (-1.0, -0.5),
        "efficiency_g_per_w": (0.0, 0.5),
    },
    FULL: EXPONENTS,
}
"""Condition → figure → powers of voltage and density that it goes with: a propeller at one speed
with the density, the power for one thrust with 1 ÷ √ρ (momentum theory)."""

_WITH_PROPELLER = frozenset({"thrust_gf", "power_w", "current_a", "efficiency_g_per_w"})


@dataclass(frozen=True, slots=True)
class Side:
    """One bench's runs. ``density_kg_per_m3``: air of each run by its key, where it was noted."""

    name: str
    runs: Sequence[RanRun]
    density_kg_per_m3: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Held:
    """One figure of one motor under one load, read by both; ``at`` in the unit of the condition.

    ``ratio``: theirs ÷ ours. ``delta``: theirs − ours. ``one_sample``: the very same motor was on
    both benches.
    """

    motor: str
    load: Load
    condition: str
    at: float | None
    name: str
    ours: OfModel
    theirs: OfModel
    ratio: Measured
    delta: Delta
    one_sample: bool


@dataclass(frozen=True, slots=True)
class Offset:
    """What one figure differs by over all that both ran: the mean of theirs ÷ ours, minus 1.

    ``delta`` is in units of ours: 0.02 is 2 %. ``loads``, ``motors``: how many it rests on.
    """

    condition: str
    name: str
    delta: Delta
    loads: int
    motors: int


@dataclass(frozen=True, slots=True)
class BenchCheck:
    """Everything that two benches can be held against each other by.

    ``theirs_only``: loads that the other bench ran and this one did not, with the motor.
    """

    held: tuple[Held, ...]
    offsets: tuple[Offset, ...]
    theirs_only: tuple[tuple[str, Load], ...]


def between_benches(
    ours: Side,
    theirs: Side,
    *,
    same_samples: Collection[tuple[str, str]] = (),
    margin: float = DEFAULT_MARGIN,
) -> BenchCheck:
    """Hold another bench's runs against one's own, motor by motor and load by load.

    :param same_samples: motor and mark of samples that were on both benches; only their runs
        count where there are any of a motor, and nothing is added for samples that differ.
    :param margin: relative half-width of what counts as the same.
    """
    their_runs = [_at_our_load(run, ours.runs) for run in theirs.runs]
    held: list[Held] = []
    alone: dict[tuple[str, Load], None] = {}
    for motor, load in dict.fromkeys((run.motor, run.load) for run in their_runs):
        of_both = []
        for runs in (ours.runs, their_runs):
            of_both.append([run for run in runs if (run.motor, run.load) == (motor, load)])
        if not of_both[0]:
            alone[motor, load] = None
            continue
        shared = {
            mark
            for mark in {run.sample for run in of_both[0]} & {run.sample for run in of_both[1]}
            if (motor, mark) in same_samples
        }
        if shared:
            of_both = [[run for run in runs if run.sample in shared] for runs in of_both]
        held += _of_load(motor, load, of_both, (ours, theirs), bool(shared), margin)
    return BenchCheck(tuple(held), tuple(_offsets(held, margin)), tuple(alone))


def _at_our_load(run: RanRun, ours: Sequence[RanRun]) -> RanRun:
    """A supply of 15.98 V and one of 16 V are one load."""
    for load in dict.fromkeys(one.load for one in ours):
        same = (load.propeller, load.supply) == (run.load.propeller, run.load.supply)
        apart = abs(load.voltage_v - run.load.voltage_v)
        if same and apart <= VOLTAGE_TOLERANCE * load.voltage_v:
            return replace(run, load=load)
    return run


def _of_load(
    motor: str,
    load: Load,
    of_both: Sequence[Sequence[RanRun]],
    sides: Sequence[Side],
    one_sample: bool,
    margin: float,
) -> list[Held]:
    ready = [[_ready(run, side) for run in runs] for runs, side in zip(of_both, sides, strict=True)]
    curves = [[one for one in rows if one.run.kind in CURVE_KINDS] for rows in ready]
    unloaded = [[one for one in rows if one.run.kind == UNLOADED] for rows in ready]
    found = []
    for condition, names in READ.items():
        rows = unloaded if condition == UNLOADED else curves
        at = None if condition in (UNLOADED, FULL) else _level(curves, condition)
        if at is None and condition not in (UNLOADED, FULL):
            continue
        for name in names:
            figures = [
                _read(one, name, condition, at, side, one_sample)
                for one, side in zip(rows, sides, strict=True)
            ]
            pair = _held(figures, margin)
            if pair is not None:
                a, b, apart, delta = pair
                found.append(Held(motor, load, condition, at, name, a, b, apart, delta, one_sample))
    return found


def _level(curves: Sequence[Sequence[_Ready]], condition: str) -> float | None:
    if not all(curves):
        return None
    return common_level([[one.at_nominal for one in rows] for rows in curves], condition)


def _held(
    figures: Sequence[OfModel | None], margin: float
) -> tuple[OfModel, OfModel, Measured, Delta] | None:
    ours, theirs = figures
    if ours is None or theirs is None or not is_told(ours.figure):
        return None
    apart = ratio(theirs.figure, ours.figure)
    if isinstance(apart, Absent):
        return None
    return ours, theirs, apart, compare(theirs.figure, ours.figure, margin=margin)


def _read(
    runs: Sequence[_Ready],
    name: str,
    condition: str,
    at: float | None,
    side: Side,
    one_sample: bool,
) -> OfModel | None:
    """One figure of one bench, with all that the other bench does not share."""
    found: dict[str, list[Measured]] = {}
    for ready in runs:
        figure = _one(ready, name, condition, at, side)
        if isinstance(figure, Measured):
            found.setdefault(ready.run.sample, []).append(figure)
    if not found:
        return None
    load = runs[0].run.load
    owner = f"{side.name}/{runs[0].run.motor}"
    if one_sample:
        every = [figure for figures in found.values() for figure in figures]
        mean = of_sample(every, source=f"{owner}/{load.words}/{name}")
        told = OfModel(mean, len(found), len(every))
    else:
        told = of_model(owner, name, found, None)
    figure = told.figure
    if load.propeller and name in _WITH_PROPELLER:
        # One propeller a bench: what it differs by is the same at every motor and voltage.
        key = component("assumed_propeller", f"{side.name}/{load.propeller}/{name}")
        figure = figure.with_component(key, ASSUMED_PROPELLER_S * figure.value)
    return replace(told, figure=figure)


def _one(ready: _Ready, name: str, condition: str, at: float | None, side: Side) -> Figure:
    if condition == UNLOADED:
        return ready.run.summary.get(name, Absent("not_measured", "no run tells it"))
    if condition == EQUAL_SPEED:
        figure = read_under(ready.run.core, name, condition, at)
        scale = REFERENCE_AIR_DENSITY_KG_PER_M3 / ready.density_kg_per_m3
        figure = figure.scaled(scale) if isinstance(figure, Measured) else figure
    else:
        figure = read_under(ready.at_nominal, name, condition, at)
    if isinstance(figure, Absent):
        return figure
    by_volts, by_air = POWERS[condition][name]
    for kind, share in (
        ("assumed_voltage", by_volts * ready.voltage_s),
        ("assumed_air", by_air * ready.air_s),
    ):
        # The whole bench's: it is the same doubt at every run, and does not shrink.
        key = component(kind, side.name)
        if share:
            figure = figure.with_component(key, share * figure.value)
    return figure


@dataclass(frozen=True, slots=True)
class _Ready:
    """A run, and the same at its nominal voltage and in reference air.

    ``air_s``, ``voltage_s``: relative s of what nobody noted; 0 where it is known.
    """

    run: RanRun
    at_nominal: ComparedRun
    density_kg_per_m3: float
    air_s: float
    voltage_s: float


def _ready(run: RanRun, side: Side) -> _Ready:
    noted = side.density_kg_per_m3.get(run.core.key)
    density = ASSUMED_DENSITY_KG_PER_M3 if noted is None else noted
    found = points_at_nominal(
        run.core.points,
        key=run.core.key,
        nominal_v=run.load.voltage_v or None,
        density_kg_per_m3=density,
    )
    known = not isinstance(found, Absent)
    points = found.points if isinstance(found, AtNominal) else run.core.points
    return _Ready(
        run,
        replace(run.core, points=points),
        density,
        0.0 if noted is not None else ASSUMED_AIR_S,
        0.0 if known else ASSUMED_VOLTAGE_S,
    )


def _offsets(held: Sequence[Held], margin: float) -> list[Offset]:
    """The mean over all loads, figure by figure. What a bench's gains, a motor's samples and a
    propeller differ by is shared between its loads, and more loads do not shrink it."""
    found: dict[tuple[str, str], list[Held]] = {}
    for one in held:
        found.setdefault((one.condition, one.name), []).append(one)
    told = []
    for (condition, name), rows in found.items():
        mean = of_sample([row.ratio for row in rows], source=f"offset/{condition}/{name}")
        told.append(
            Offset(
                condition,
                name,
                compare(mean, Measured(1.0), margin=margin),
                len({row.load for row in rows}),
                len({row.motor for row in rows}),
            )
        )
    return told
