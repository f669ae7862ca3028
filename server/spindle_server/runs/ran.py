"""Stored runs as evidence for judging motors: whose, under which load, within their ratings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

from django.db.models import Count, Q, QuerySet

import spindle_core
from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.measured_run import CURVE_KINDS, strongest_point
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.rank.cohort import KIND_OF_RUN
from spindle_server.motors.models import (
    Claim,
    Incident,
    LeadWire,
    Maker,
    MotorModel,
    Parcel,
    Preparation,
    Sample,
    Weighing,
)
from spindle_server.records.kept import kept
from spindle_server.records.revision import revision
from spindle_server.rig.models import BenchDay, Declaration, Esc, Propeller, Stand, Supply
from spindle_server.runs.as_core import SUPPLY_WORDS
from spindle_server.runs.models import Reduction, Run
from spindle_server.runs.taken import MOST_KEPT, ran_runs, within_limits
from spindle_server.teardown.models import Observation

RATINGS = {"max_current_a": "current_a", "max_power_w": "power_w"}
"""Claims that are limits, and the figure of a point that they limit."""

BURSTS = {"burst_current_a": "current_a", "burst_power_w": "power_w"}

FROM_STRONGEST = {"max_thrust_gf": "thrust_gf", "efficiency_at_max_g_per_w": "efficiency_g_per_w"}
"""Summary figures that are told anew where points are left out."""


@dataclass(slots=True)
class Evidence:
    """Runs of motors as the core takes them; keys of motors are their numbers in words.

    ``overruns``: motor → points beyond a rating that are left out. ``unreviewed``: runs that
    count although nobody has looked at them yet.
    """

    runs: list[RanRun] = field(default_factory=list)
    numbers: list[int] = field(default_factory=list)
    overruns: dict[str, int] = field(default_factory=dict)
    unreviewed: int = 0


def counted_runs(motors: Sequence[int], load: Load | None = None) -> QuerySet[Run]:
    """Runs of motors that tell a criterion, have figures and were not rejected.

    :param load: of the curves; those under others are left out. All where it is None.
    """
    rows = (
        Run.objects.filter(sample__motor__in=motors, kind__in=list(KIND_OF_RUN))
        .filter(reduction__error="")
        .exclude(review="rejected")
        .order_by("pk")
    )
    return rows if load is None else rows.filter(~Q(kind__in=CURVE_KINDS) | _under(load))


def _under(load: Load) -> Q:
    kinds = {words: kind for kind, words in SUPPLY_WORDS.items()}
    rows = Propeller.objects.select_related("maker")
    named = [one.pk for one in rows if one.full_name == load.propeller]
    supply = (
        Q(supply__kind=kinds.get(load.supply, "unknown")) if load.supply else Q(supply__isnull=True)
    )
    volts = (
        Q(nominal_voltage_v=load.voltage_v) if load.voltage_v else Q(nominal_voltage_v__isnull=True)
    )
    return Q(propeller__in=named) & supply & volts


def curve_loads(motors: Sequence[int]) -> list[tuple[Load, int]]:
    """Loads that curves of motors were run under, with how many motors, most motors and runs
    first; read without a result."""
    rows = list(
        counted_runs(motors)
        .filter(kind__in=CURVE_KINDS, propeller__isnull=False)
        .order_by()
        .values_list("propeller", "supply__kind", "nominal_voltage_v", "sample__motor")
        .annotate(made=Count("pk"))
    )
    names = {
        one.pk: one.full_name
        for one in Propeller.objects.select_related("maker").filter(pk__in={row[0] for row in rows})
    }
    made: dict[Load, int] = {}
    whose: dict[Load, set[int]] = {}
    for propeller, kind, volts, motor, count in rows:
        load = Load(names[propeller], SUPPLY_WORDS[kind] if kind else "", volts or 0.0)
        made[load] = made.get(load, 0) + count
        whose.setdefault(load, set()).add(motor)
    order = sorted(made, key=lambda load: (-len(whose[load]), -made[load], load))
    return [(load, len(whose[load])) for load in order]


MOST_MOTORS = 60
"""A cohort of more tells nobody anything, and takes its time."""


def motors_with_runs(
    load: Load | None = None,
    sizes: Sequence[str] = (),
    most: int = MOST_MOTORS,
    kinds: Sequence[str] = tuple(KIND_OF_RUN),
) -> tuple[list[int], int]:
    """Motors that runs of some ``kinds`` tell of, those under a load and with most runs first, and
    how many more there are; kept, since it counts every run there is."""
    asked = (load, tuple(sizes), most, tuple(kinds))
    return kept("with-runs", (evidence_revision(), asked), lambda: _with_runs(*asked))


def _with_runs(
    load: Load | None, sizes: Sequence[str], most: int, kinds: Sequence[str]
) -> tuple[list[int], int]:
    rows = (
        Run.objects.filter(kind__in=kinds, reduction__error="")
        .exclude(review="rejected")
        .order_by()
    )
    if sizes:
        rows = rows.filter(sample__motor__size_code__in=list(sizes))
    counts = dict(
        rows.values("sample__motor").annotate(n=Count("pk")).values_list("sample__motor", "n")
    )
    under = set()
    if load is not None:
        under = set(rows.filter(_under(load)).values_list("sample__motor", flat=True))
    order = sorted(counts, key=lambda pk: (pk not in under, -counts[pk], pk))
    return sorted(order[:most]), max(0, len(order) - most)


RESTS_ON = (
    Run,
    Reduction,
    Stand,
    Supply,
    Propeller,
    Esc,
    BenchDay,
    Declaration,
    Maker,
    MotorModel,
    Sample,
    Weighing,
    Preparation,
    Incident,
    LeadWire,
    Parcel,
    Claim,
    Observation,
)
"""Whatever of the record a judgement rests on."""


def evidence_revision() -> str:
    """What stands for all of it: another text after any write to any of it."""
    return f"{spindle_core.__version__}:{revision(RESTS_ON)}"


def ratings_of(motors: Iterable[int]) -> dict[int, dict[str, float]]:
    """Motor → figure of a point → the most it is rated for."""
    found: dict[int, dict[str, float]] = {}
    rows = Claim.objects.filter(motor__in=motors, quantity__in=list(RATINGS), value__isnull=False)
    for claim in rows:
        own = found.setdefault(claim.motor_id, {})
        name, most = RATINGS[claim.quantity], claim.value or 0.0
        # Two sources that disagree: the smaller limits.
        own[name] = min(own.get(name, most), most)
    return found


def _burst_beyond(summary: dict[str, Figure], limits: dict[str, float]) -> bool:
    """Whether a burst went beyond a rating by more than its u."""
    return any(
        isinstance(figure := summary.get(name), Measured)
        and limited in limits
        and figure.value > limits[limited] + figure.u
        for name, limited in BURSTS.items()
    )


def evidence_of(runs: QuerySet[Run], ratings: dict[int, dict[str, float]]) -> Evidence:
    """The runs with their figures; points beyond a rating are left out unless it was justified."""
    found = Evidence()
    for run, ran in ran_runs(runs):
        motor, summary = ran.motor, dict(ran.summary)
        if not run.overrun_reason.strip():
            core, beyond = within_limits(run, ran.core, ratings.get(run.sample.motor_id, {}))
            if beyond:
                ran = replace(ran, core=core)
                found.overruns[motor] = found.overruns.get(motor, 0) + beyond
                top = strongest_point(core.points)
                for name, of_point in FROM_STRONGEST.items():
                    if name in summary:
                        summary.pop(name)
                        if top is not None and of_point in top.figures:
                            summary[name] = top.figures[of_point]
            if _burst_beyond(summary, ratings.get(run.sample.motor_id, {})):
                summary["burst_thrust_gf"] = Absent(
                    "beyond_rating", "its bursts went beyond a rating"
                )
                found.overruns[motor] = found.overruns.get(motor, 0) + 1
        found.runs.append(replace(ran, summary=summary))
        found.numbers.append(run.pk)
        found.unreviewed += not run.review
    return found


def read_ahead() -> int:
    """Read what judgements rest on before anybody asks for one; returns how many runs.

    A process that has just started knows none of them, and reading them takes a few seconds.
    """
    motors, _ = motors_with_runs()
    rows = counted_runs(motors)
    return len(evidence_of(rows[:MOST_KEPT], ratings_of(motors)).runs)


def run_voltages() -> list[float]:
    """Nominal voltages that runs were made at [V]."""
    rows = Run.objects.filter(nominal_voltage_v__isnull=False).order_by()
    found = rows.values_list("nominal_voltage_v", flat=True).distinct()
    return [volts for volts in found if volts is not None]


def run_elsewhere(motors: Sequence[int], but: Sequence[float]) -> list[tuple[int, str, float]]:
    """Motor, propeller and voltage of curves at other voltages than ``but`` [V]."""
    rows = (
        counted_runs(motors)
        .filter(kind__in=CURVE_KINDS, propeller__isnull=False, nominal_voltage_v__isnull=False)
        .exclude(nominal_voltage_v__in=but)
        .order_by()
        .values_list("sample__motor", "propeller", "nominal_voltage_v")
        .distinct()
    )
    names = {one.pk: one.full_name for one in Propeller.objects.select_related("maker")}
    return [(motor, names[propeller], volts or 0.0) for motor, propeller, volts in rows]
