"""The whole bench as a table: every motor on every propeller under one condition.

Full throttle is a condition like the others: the headline that most reviewers quote, at whatever
thrust and power that happens to be. Equal thrust, power, shaft power, current, speed and throttle
are the questions that a comparison of motors asks.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.by_propeller import common_level
from spindle_core.compare.delta import DEFAULT_MARGIN, Delta, compare, is_told, with_repeat
from spindle_core.compare.factor_table import FactorTable, factor_table
from spindle_core.compare.measured_run import CURVE_KINDS, strongest_point
from spindle_core.compare.of_models import SAMPLE_KINDS, OfModel, between_samples_of, of_model
from spindle_core.compare.table import READ_AT, ComparedRun, read_one
from spindle_core.compare.tops import full_throttle_point
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, component, kind_of, source_of
from spindle_core.figures.repeats import PooledSpread


@dataclass(frozen=True, slots=True, order=True)
class Load:
    """What was mounted: a propeller ('' for none) on a kind of supply at a nominal voltage.

    ``voltage_v`` is 0 where nobody said it.
    """

    propeller: str
    supply: str
    voltage_v: float

    @property
    def words(self) -> str:
        """As one would say it."""
        volts = f"{self.voltage_v:g} V" if self.voltage_v > 0 else "unknown voltage"
        parts = [self.propeller or "no propeller", f"{volts} {self.supply}".strip()]
        return ", ".join(parts)


@dataclass(frozen=True, slots=True)
class RanRun:
    """An accepted run as evidence: whose, under which load, and what it gave."""

    motor: str
    sample: str
    kind: str
    load: Load
    core: ComparedRun
    summary: Mapping[str, Figure]


FULL = "full"
FIGURES: Mapping[str, tuple[str, ...]] = {
    FULL: (
        "thrust_gf",
        "power_w",
        "current_a",
        "voltage_v",
        "speed_rpm",
        "efficiency_g_per_w",
        "torque_nm",
        "motor_esc_efficiency_pct",
        "vibration_g",
    ),
    **READ_AT,
}
"""Condition → what is read under it, in the order of a table."""

BURST, SUSTAINED = "burst", "sustained"
ON_BENCH: Mapping[str, tuple[str, ...]] = {
    **FIGURES,
    BURST: ("thrust_gf", "power_w", "current_a", "speed_rpm", "torque_nm"),
    SUSTAINED: (
        "thrust_gf",
        "power_w",
        "efficiency_g_per_w",
        "current_a",
        "speed_rpm",
        "torque_nm",
    ),
}
"""The same with what is read of bursts: the strongest 50 ms, and from 0.5 to 1.5 s after it began.
A burst's figures stand at instants of their own, so that no quotient is made of them."""

NO_LEVEL = frozenset({FULL, BURST, SUSTAINED})
"""Conditions that need no level."""

BURST_KINDS = ("peak",)
"""Kinds of run that bursts are read of."""


def kinds_at(condition: str) -> tuple[str, ...]:
    """Kinds of run that a condition is read of."""
    return BURST_KINDS if condition in (BURST, SUSTAINED) else CURVE_KINDS


MORE_IS_BETTER = frozenset(
    {"thrust_gf", "efficiency_g_per_w", "motor_esc_efficiency_pct", "torque_nm"}
)
LESS_IS_BETTER = frozenset({"power_w", "current_a", "throttle_pct", "vibration_g"})


@dataclass(frozen=True, slots=True)
class BenchRow:
    """A motor on a propeller on a supply: its figures under the condition; a figure's ``OfModel``
    says on how many samples and runs it rests. ``level``: at which it was read, in the unit of the
    condition; None where there is none. ``held_back``: points of it beyond a rating are left out,
    so that its strongest is the most within the rating, wherever its throttle stood. ``samples``:
    marks of those that were run, sorted."""

    motor: str
    load: Load
    figures: Mapping[str, OfModel | Absent]
    runs: tuple[str, ...]
    level: float | None = None
    held_back: bool = False
    samples: tuple[str, ...] = ()

    def figure(self, name: str) -> Figure:
        """One figure, absent with its reason where no run tells it."""
        found = self.figures.get(name, Absent("not_read", "it is not read under this condition"))
        return found.figure if isinstance(found, OfModel) else found


def usual_level(runs: Sequence[RanRun], condition: str) -> float | None:
    """A round level of a condition that every motor on every propeller reaches, in its unit; None
    where there is none, or where none is needed."""
    if condition in NO_LEVEL:
        return None
    if condition == "throttle_pct":
        return 50.0
    groups = [[run.core for run in group] for group in _groups(runs, condition).values()]
    return common_level(groups, condition)


def _groups(runs: Sequence[RanRun], condition: str) -> dict[tuple[str, Load], list[RanRun]]:
    found: dict[tuple[str, Load], list[RanRun]] = {}
    kinds = kinds_at(condition)
    for run in runs:
        if run.kind in kinds and run.load.propeller:
            found.setdefault((run.motor, run.load), []).append(run)
    return found


Levels = Mapping[str, float]
"""A level for each motor, in the unit of the condition: its rating, or the thrust it hovers at."""


def bench_table(
    runs: Sequence[RanRun], condition: str = FULL, level: float | Levels | None = None
) -> list[BenchRow]:
    """Every motor on every propeller and supply it was run with, means over samples and runs.

    What samples differ by is pooled over the whole table, figure by figure.

    :param condition: a key of :data:`ON_BENCH`. :param level: in its unit, one for all or each
        motor's own; :func:`usual_level` by default. A motor without a level of its own has no
        figures.
    :raises QuantityError: a condition that is none, or a level that is not above 0.
    """
    if condition not in ON_BENCH:
        listed = ", ".join(ON_BENCH)
        raise QuantityError(
            f"A bench is compared at {listed}; not {condition!r}.", code="condition"
        )
    if level is None:
        level = usual_level(runs, condition)
    given = level.values() if isinstance(level, Mapping) else [] if level is None else [level]
    free = condition in NO_LEVEL
    if not free and any(not value > 0 for value in given):
        raise QuantityError("A level to compare at must be above 0.", code="level")
    if not free and level is None:
        return []
    groups = _groups(runs, condition)
    own = {key: level.get(key[0]) if isinstance(level, Mapping) else level for key in groups}
    read: dict[str, dict[tuple[str, Load], dict[str, list[Measured]] | Absent]] = {}
    for name in ON_BENCH[condition]:
        read[name] = {
            key: _by_sample(group, name, condition, own[key])
            if free or own[key] is not None
            else Absent("no_level", "it has no level of its own")
            for key, group in groups.items()
        }
    pooled = {name: _pooled(cells) for name, cells in read.items()}
    rows = []
    for (motor, load), group in groups.items():
        figures: dict[str, OfModel | Absent] = {}
        for name in ON_BENCH[condition]:
            samples = read[name][motor, load]
            figures[name] = (
                samples
                if isinstance(samples, Absent)
                else of_model(f"{motor}/{load.propeller}", name, samples, pooled[name])
            )
        at = None if free else own[motor, load]
        keys = tuple(run.core.key for run in group)
        held_back = any(run.core.held_back for run in group)
        marks = tuple(sorted({run.sample for run in group}))
        rows.append(BenchRow(motor, load, figures, keys, at, held_back, marks))
    return sorted(rows, key=lambda row: (row.load, row.motor))


def _by_sample(
    group: Sequence[RanRun], name: str, condition: str, level: float | None
) -> dict[str, list[Measured]] | Absent:
    found: dict[str, list[Measured]] = {}
    missing: Absent | None = None
    for run in group:
        figure = read_ran(run, name, condition, level)
        if isinstance(figure, Absent):
            missing = missing or figure
        else:
            found.setdefault(run.sample, []).append(figure)
    return found or missing or Absent("not_measured", "no run tells it")


def read_ran(run: RanRun, name: str, condition: str, level: float | None) -> Figure:
    """One figure of a run under any condition of :data:`ON_BENCH`, see :func:`read_under`."""
    if condition not in (BURST, SUSTAINED):
        return read_under(run.core, name, condition, level)
    figure = run.summary.get(f"{condition}_{name}", Absent("not_logged", f"{name} was not logged"))
    if isinstance(figure, Absent):
        return figure
    core = run.core
    source = f"{core.key}/{condition}_{name}"
    return with_repeat(figure, core.repeatability, source=source, kind=core.repeat_kind)


def read_under(run: ComparedRun, name: str, condition: str, level: float | None) -> Figure:
    """One figure of a run under a condition, with what one run scatters by.

    :param level: of the condition, in its unit; not looked at for full throttle.
    :raises QuantityError: no level, or none above 0, where the condition needs one.
    """
    if condition != FULL:
        if level is None:
            raise QuantityError("It is read at a level of its condition.", code="level")
        return read_one(run, level, name, condition)
    # What is left within a rating is the most that is recommended, wherever its throttle stands.
    top = strongest_point(run.points) if run.held_back else full_throttle_point(run.points)
    if top is None:
        return Absent("not_logged", f"{name} was not logged")
    if isinstance(top, Absent):
        return top
    figure = top.figures.get(name)
    if not isinstance(figure, Measured):
        return figure or Absent("not_logged", f"{name} was not logged")
    return with_repeat(figure, run.repeatability, source=f"{run.key}/{name}", kind=run.repeat_kind)


def _pooled(
    cells: Mapping[tuple[str, Load], dict[str, list[Measured]] | Absent],
) -> PooledSpread | None:
    return between_samples_of(
        samples for samples in cells.values() if not isinstance(samples, Absent)
    )


def deltas(
    rows: Sequence[BenchRow],
    name: str,
    baseline: BenchRow | None = None,
    *,
    margin: float = DEFAULT_MARGIN,
) -> list[Delta | None]:
    """Each row's difference to a fixed baseline, or to the row before it where none is given.

    None for the baseline itself, the first row, where either figure is absent, and where what it is
    held against is not told from 0.
    """
    found: list[Delta | None] = []
    before: BenchRow | None = None
    for row in rows:
        held = baseline if baseline is not None else before
        before = row
        if held is None or held is row:
            found.append(None)
            continue
        own, other = row.figure(name), held.figure(name)
        if isinstance(own, Absent) or isinstance(other, Absent) or not is_told(other):
            found.append(None)
        else:
            found.append(compare(own, other, margin=margin))
    return found


@dataclass(frozen=True, slots=True)
class Tally:
    """How many figures of a row are better, equal, worse and unresolved against its baseline."""

    better: int
    equal: int
    worse: int
    unresolved: int


def tally(differences: Iterable[tuple[str, Delta | None]]) -> Tally:
    """Counted over the figures of which more, or less, is better.

    :param differences: each figure's name with its difference.
    """
    better = equal = worse = unresolved = 0
    for name, delta in differences:
        if delta is None or name not in MORE_IS_BETTER | LESS_IS_BETTER:
            continue
        outcome = str(delta.outcome)
        if outcome == "equivalent":
            equal += 1
        elif outcome == "unresolved":
            unresolved += 1
        elif (delta.delta.value > 0) is (name in MORE_IS_BETTER):
            better += 1
        else:
            worse += 1
    return Tally(better, equal, worse, unresolved)


def foreseen(rows: Sequence[BenchRow], name: str) -> FactorTable | Absent:
    """Motors × propellers of rows on one supply taken apart: effects, and the empty cells.

    Motors that share no propeller with the others, such as those of another size, are taken apart
    by themselves; the effects told are those of the largest block that can be.
    """
    marks: dict[str, set[tuple[str, ...]]] = {}
    for row in rows:
        marks.setdefault(row.motor, set()).add(row.samples)
    cells = {
        (row.motor, row.load.propeller): _by_the_same(figure, row, len(marks[row.motor]) == 1)
        for row in rows
        if isinstance(figure := row.figure(name), Measured) and figure.value > 0
    }
    if not cells:
        return Absent("too_few_cells", "no runs on this supply")
    found = [factor_table(block) for block in _blocks(cells)]
    known = [table for table in found if not isinstance(table, Absent)]
    if not known:
        return found[0]
    predicted = {key: figure for table in known for key, figure in table.predicted.items()}
    return replace(known[0], predicted=predicted)


def _by_the_same(figure: Measured, row: BenchRow, same: bool) -> Measured:
    """The figure, its motor's samples one source where the same were run on every propeller: what
    they differ by from their model is then in all of its cells alike."""
    if not same:
        return figure
    cell, motor = f"{row.motor}/{row.load.propeller}/", f"{row.motor}/"
    return replace(
        figure,
        components={
            component(kind_of(key), source_of(key).replace(cell, motor, 1))
            if kind_of(key) in SAMPLE_KINDS
            else key: u
            for key, u in figure.components.items()
        },
    )


Cells = dict[tuple[str, str], Measured]


def _blocks(cells: Cells) -> list[Cells]:
    """Cells that runs link to one another, the largest block first."""
    blocks: list[Cells] = []
    for key, figure in cells.items():
        joined = [block for block in blocks if any(key[0] == a or key[1] == b for a, b in block)]
        merged: Cells = {key: figure}
        for block in joined:
            merged.update(block)
        blocks = [block for block in blocks if block not in joined] + [merged]
    return sorted(blocks, key=len, reverse=True)
