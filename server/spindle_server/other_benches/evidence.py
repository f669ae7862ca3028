"""Quoted runs and one's own in the core's terms, and what the two benches read apart."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from django.db.models import Max, Q, QuerySet

from spindle_core.compare.bench_table import Load, RanRun
from spindle_core.compare.benches import UNLOADED, BenchCheck, Side, between_benches
from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.compare.table import ComparedRun
from spindle_core.formats.result_json import figures_from_json, points_from_json
from spindle_core.run.stand import ASSUMED_REPEATABILITY
from spindle_server.other_benches.models import OtherBench, QuotedPack, QuotedRun
from spindle_server.runs.as_core import SUPPLY_WORDS, air_density
from spindle_server.runs.models import Run
from spindle_server.runs.taken import ran_runs

OURS = "this bench"


def counted_packs(bench: OtherBench | None = None) -> QuerySet[QuotedPack]:
    """Packs that count: the newest edition of each publication, none that was put aside."""
    rows = QuotedPack.objects.filter(put_aside="")
    if bench is not None:
        rows = rows.filter(bench=bench)
    newest = rows.order_by().values("bench", "slug").annotate(last=Max("edition"))
    of = Q(pk__in=[])
    for one in newest:
        of |= Q(bench=one["bench"], slug=one["slug"], edition=one["last"])
    return rows.filter(of)


def quoted_runs_of(
    packs: Iterable[QuotedPack], motors: Sequence[int] | None = None
) -> list[QuotedRun]:
    """Runs of packs that count and are of motors of ours."""
    rows = (
        QuotedRun.objects.filter(pack__in=list(packs), result__isnull=False)
        .filter(sample__motor__ours__isnull=False)
        .exclude(review="rejected")
        .select_related("pack__bench", "sample__motor", "sample__ours", "propeller__ours__maker")
        .order_by("pack", "number")
    )
    return list(rows if motors is None else rows.filter(sample__motor__ours__in=motors))


def mark_of(run: QuotedRun) -> str:
    """Its sample's mark: ours where it is the very same motor, else theirs with their name."""
    sample = run.sample
    return sample.ours.mark if sample.ours is not None else f"{run.pack.bench.name} {sample.mark}"


def load_of(run: QuotedRun) -> Load:
    """What was mounted, by our names where it is known here."""
    propeller = ""
    if run.propeller is not None:
        own = run.propeller.ours
        propeller = own.full_name if own is not None else run.propeller.full_name
    return Load(propeller, SUPPLY_WORDS.get(run.supply, ""), run.nominal_voltage_v or 0.0)


def as_ran(run: QuotedRun) -> RanRun:
    """A quoted run as the core takes it."""
    result = run.result or {"points": [], "summary": {}}
    declared = run.repeatability_rel
    core = ComparedRun(
        key=f"quoted {run.pk}",
        points=points_from_json(result),
        repeatability=ASSUMED_REPEATABILITY if declared is None else declared,
        repeat_kind="assumed_repeat" if declared is None else "repeat",
    )
    summary = figures_from_json(result["summary"], result.get("absent", {}))
    return RanRun(
        str(run.sample.motor.ours_id), mark_of(run), run.kind, load_of(run), core, summary
    )


def their_side(bench: OtherBench, runs: Sequence[QuotedRun]) -> Side:
    """Another bench's runs."""
    air = {f"quoted {run.pk}": run.density_kg_per_m3 for run in runs}
    return Side(
        bench.name,
        [as_ran(run) for run in runs],
        {key: density for key, density in air.items() if density is not None},
    )


def our_side(motors: Sequence[int]) -> Side:
    """Our own runs of motors, as they were measured: what is beyond a rating counts here too."""
    rows = (
        Run.objects.filter(sample__motor__in=motors, kind__in=(*CURVE_KINDS, UNLOADED))
        .filter(reduction__error="")
        .exclude(review="rejected")
        .order_by("pk")
    )
    runs = ran_runs(rows)
    air = {f"run {run.pk}": air_density(run) for run, _ in runs}
    return Side(
        OURS,
        [ran for _, ran in runs],
        {key: density for key, density in air.items() if density is not None},
    )


def check_against(bench: OtherBench, motors: Sequence[int] | None = None) -> BenchCheck:
    """Another bench held against this one over every motor that both measured.

    :param motors: of ours, all that are quoted where None.
    """
    theirs = quoted_runs_of(counted_packs(bench), motors)
    whose = sorted({run.sample.motor.ours_id for run in theirs if run.sample.motor.ours_id})
    same = {
        (str(run.sample.motor.ours_id), run.sample.ours.mark)
        for run in theirs
        if run.sample.ours is not None
    }
    return between_benches(our_side(whose), their_side(bench, theirs), same_samples=same)
