"""Everything a folder of logs says about its motors, in one piece."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import DEFAULT_MARGIN
from spindle_core.compare.equal_conditions import EqualConditions, compare_motors
from spindle_core.compare.factor_table import FactorTable, factor_table
from spindle_core.compare.measured_run import CURVE_KINDS, MeasuredRun, points_of
from spindle_core.compare.nominal import at_nominal
from spindle_core.compare.repeats_table import RepeatRow, repeats_table
from spindle_core.compare.tops import to_the_top
from spindle_core.errors import IdentificationError
from spindle_core.figures.measured import Absent, Figure, Measured, mean_of_figures
from spindle_core.figures.said import figure as figure_text
from spindle_core.identification import Identification, identify
from spindle_core.intake.claims import LabelConflict, deviation_pct, label_conflicts
from spindle_core.publish.halves import ComparedPair, difference_found, halves
from spindle_core.publish.quotes import Found, Quote, QuoteKind
from spindle_core.publish.statements import Statement, SubjectMotor, label
from spindle_core.rank.ranking import MotorFacts, Ranking, entries, rank
from spindle_core.rank.scoring import PRESETS, Criterion


@dataclass(frozen=True, slots=True)
class Report:
    """The bench as a whole. ``nominal``: run → figures at nominal voltage and reference air.

    ``labels``: motor → measured against rated kV [%]. ``factors``: maximum thrust by motor and
    propeller, where runs connect them.
    """

    runs: tuple[MeasuredRun, ...]
    nominal: Mapping[str, Mapping[str, Figure]]
    repeats: tuple[RepeatRow, ...]
    identified: Identification | Absent
    labels: Mapping[str, Figure]
    conflicts: tuple[LabelConflict, ...]
    compared: tuple[EqualConditions, ...]
    factors: FactorTable | Absent
    ranking: Ranking | Absent
    statements: tuple[str, ...]


def report(
    runs: Sequence[MeasuredRun],
    motors: Mapping[str, MotorFacts] | None = None,
    *,
    criteria: Sequence[Criterion] = PRESETS["equal"],
    baseline: str | None = None,
    margin: float = DEFAULT_MARGIN,
    seed: int = 1,
) -> Report:
    """Repeats, identification, comparison, ranking and statements of a bench's runs.

    :param motors: motor → what its logs do not say.
    :raises QuantityError: no runs, or a baseline that no comparison holds.
    """
    known = motors or {}
    identified: Identification | Absent
    try:
        identified = identify([run.trace for run in runs])
    except IdentificationError as error:
        identified = Absent(error.code, error.message)
    compared = compare_motors(runs, baseline=baseline, margin=margin)
    listed = entries(runs, compared, known)
    kvs = _kvs(identified, runs)
    labels: dict[str, Figure] = {}
    for name, facts in known.items():
        figure = kvs.get(name)
        if facts.rated_kv_rpm_per_v is not None and figure is not None:
            labels[name] = deviation_pct(facts.rated_kv_rpm_per_v, figure)
    models = None if isinstance(identified, Absent) else identified
    return Report(
        tuple(runs),
        {run.name: at_nominal(run, models) for run in runs if run.trace.kind in CURVE_KINDS},
        tuple(repeats_table(runs)),
        identified,
        labels,
        tuple(
            label_conflicts(
                {
                    name: (facts.rated_kv_rpm_per_v, kvs[name])
                    for name, facts in known.items()
                    if facts.rated_kv_rpm_per_v is not None and name in kvs
                }
            )
        ),
        tuple(compared),
        _factors(runs),
        rank(listed, criteria, seed=seed),
        tuple(_statements(runs, compared, known, kvs)),
    )


def _kvs(identified: Identification | Absent, runs: Sequence[MeasuredRun]) -> dict[str, Measured]:
    """kV by motor; the mean over its samples."""
    if isinstance(identified, Absent):
        return {}
    motor_of = {run.trace.facts.motor_key: run.motor for run in runs}
    found: dict[str, list[Measured]] = {}
    for fit in identified.motors:
        if isinstance(fit.kv_rpm_per_v, Measured):
            found.setdefault(motor_of.get(fit.motor, "unnamed"), []).append(fit.kv_rpm_per_v)
    return {name: mean_of_figures(figures) for name, figures in found.items()}


def _factors(runs: Sequence[MeasuredRun]) -> FactorTable | Absent:
    """Maximum thrust by motor and propeller at the voltage most runs were made at."""
    cells: dict[str, dict[tuple[str, str], list[Measured]]] = {}
    curves = [run for run in runs if run.trace.kind in CURVE_KINDS]
    for run in to_the_top(curves, points_of):
        figure = run.reduction.summary.get("max_thrust_gf")
        if isinstance(figure, Measured) and figure.value > 0 and run.trace.facts.propeller:
            at = cells.setdefault(run.voltage, {})
            at.setdefault((run.motor, run.trace.facts.propeller), []).append(figure)
    if not cells:
        return Absent("too_few_cells", "no run has a maximum thrust")
    widest = max(cells.values(), key=len)
    return factor_table({key: mean_of_figures(figures) for key, figures in widest.items()})


def _statements(
    runs: Sequence[MeasuredRun],
    compared: Sequence[EqualConditions],
    known: Mapping[str, MotorFacts],
    kvs: Mapping[str, Measured],
) -> list[str]:
    """A line per motor on what it pulls at most, on its label, and on the power it needs."""
    found: list[str] = []
    for name in sorted({run.motor for run in runs}):
        tops = [
            figure
            for run in runs
            if run.motor == name
            and isinstance(figure := run.reduction.summary.get("max_thrust_gf"), Measured)
        ]
        if tops:
            best = max(tops, key=lambda figure: figure.value)
            count = "one run" if len(tops) == 1 else f"{len(tops)} runs"
            text = figure_text(best.value, best.u, "gf")
            found.append(f"{name} pulls {text} at most ({count}).")
        measured = {"kv_rpm_per_v": Found(kvs[name])} if name in kvs else {}
        rated = known.get(name, MotorFacts()).rated_kv_rpm_per_v
        said = label(SubjectMotor(name, label_kv_rpm_per_v=rated, measured=measured))
        if isinstance(said, Statement):
            found.append(f"{name}: {said.text}")
    for table in compared:
        rows = [row for row in table.rows if row.name == "power_w"]
        for name in table.motors:
            deltas = [(row.at, row.cells[name].delta) for row in rows]
            last = next(((at, d) for at, d in reversed(deltas) if d is not None), None)
            if last is not None:
                where = f" with {table.propeller or 'their propeller'}"
                quote = Quote(
                    QuoteKind.DELTA,
                    name,
                    "power_w",
                    condition="thrust_gf",
                    level=last[0],
                    against=table.baseline,
                )
                pair = ComparedPair(
                    name,
                    table.baseline,
                    0,
                    0,
                    {},
                    {"power_w": (quote, difference_found(last[1]))},
                    last[0],
                    where,
                )
                found += [f"{name}: {one.text}" for one in halves(pair)]
    return found
