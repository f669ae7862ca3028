"""Fits follow their runs: marked stale inside the write, made again once it is in the record."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Sequence
from contextlib import suppress
from typing import Any

from django.db import transaction
from django_tasks import task

import spindle_core
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Measured
from spindle_core.figures.remark import Remark
from spindle_core.formats.identification_json import (
    blocks_from_json,
    blocks_to_json,
    motor_fit_from_json,
    motor_fit_to_json,
    propeller_fit_to_json,
)
from spindle_core.formats.result_json import points_from_json
from spindle_core.identification.blocks import Block
from spindle_core.identification.evidence import RunEvidence, evidence_of, numbered
from spindle_core.identification.motor import MotorFit, identify_motor
from spindle_core.identification.propeller import identify_propeller
from spindle_core.planning.known import winding_k_per_w
from spindle_core.reduction.kinds import KINDS
from spindle_core.reduction.result import Point
from spindle_core.run.trace import Trace
from spindle_server.errors import ConflictError
from spindle_server.identification.likely import heat_learnt, likely_resistance
from spindle_server.identification.models import Identified, KeptEvidence
from spindle_server.motors.models import Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.as_core import SAID_OF_IT, StandsByDay, run_facts, run_trace, said_of
from spindle_server.runs.models import Run
from spindle_server.runs.reducing import inputs_hash, reduce_run
from spindle_server.runs.signals import more_follow
from spindle_server.work.doing import Progress, StoppedError, doing
from spindle_server.work.services import ask_for

logger = logging.getLogger(__name__)

DIGITS = 6
LEFT_BY_A_FAILURE = 6

FIT = "Fit what has many runs again"

MANY_RUNS = 300
"""A fit that rests on more runs than this takes seconds, and is not made while somebody waits;
until it is made the former one serves."""

LEARNT_COLUMNS = ("resistance_ohm", "resistance_u_ohm")
WITH = (*SAID_OF_IT, "reduction")
OF_STANDS = ("stand__instruments", "stand__calibrations")


def on_evidence(
    sender: type[Run], *, run: Run, reduced: bool, trace: Trace | None = None, **kwargs: Any
) -> None:
    """A run was reviewed or reduced: what rests on it is stale from now."""
    if reduced:
        _keep_evidence(run, trace)
        if run.review != "accepted":
            return
    elif run.review != "accepted" and not _rests_on(run):
        return
    things: list[dict[str, Any]] = [{"sample_id": run.sample_id}]
    if run.propeller_id is not None:
        things.append({"propeller_id": run.propeller_id})
    marked = [
        Identified.objects.update_or_create(**thing, defaults={"stale": True})[0].pk
        for thing in things
    ]
    if not more_follow():
        # The run is in the record whatever comes of its fit; what stays stale is fitted next time.
        transaction.on_commit(lambda: _rebuild_now(marked), robust=True)


def _rests_on(run: Run) -> bool:
    kept = Identified.objects.filter(sample=run.sample_id).values_list("runs", flat=True).first()
    return run.pk in (kept or []) or run.propeller_id is not None


def learnt_of(run: Run) -> dict[str, Any]:
    """What is known by now of a run's motor: the resistance that corrects the kV of a run without a
    propeller, the sample's own or what is likely, with its wide u and what it rests on; for a soak
    what tells its losses and its winding's ceiling."""
    if run.kind == "soak":
        return heat_learnt(run)
    if run.kind != "no_load" or run.header.get("resistance_ohm"):
        return {}
    row = Identified.objects.filter(sample=run.sample_id).only(*LEARNT_COLUMNS).first()
    if row is None or row.resistance_ohm is None or row.resistance_u_ohm is None:
        likely = likely_resistance(run.sample)
        if likely is None:
            return {}
        figure, words = likely
        return {
            "resistance_ohm": round(figure.value, DIGITS),
            "resistance_u_ohm": round(figure.u, DIGITS),
            "resistance_from": words,
        }
    return {
        "resistance_ohm": round(row.resistance_ohm, DIGITS),
        "resistance_u_ohm": round(row.resistance_u_ohm, DIGITS),
    }


def rebuild_stale() -> int:
    """Fit again whatever is stale, samples first, since propellers rest on them.

    :returns: how many were fitted.
    """
    return sum(rebuild(stale_ones(samples=samples)) for samples in (True, False))


def fit_again(*, propellers: Iterable[int] = ()) -> None:
    """Fit propellers again once what is being written is in the record."""
    marked = [
        Identified.objects.update_or_create(propeller_id=pk, defaults={"stale": True})[0].pk
        for pk in propellers
    ]
    transaction.on_commit(lambda: _rebuild_now(marked), robust=True)


def _rebuild_now(marked: list[int]) -> None:
    """Fit these, sample before propeller, and what little an earlier failure may have left: the
    many that a new core leaves are not for somebody who waits, nor one that rests on many runs."""
    heavy = _heavy(marked)
    rebuild([pk for pk in marked if pk not in heavy])
    left = [*stale_ones(samples=True), *stale_ones(samples=False)]
    if len(left) <= LEFT_BY_A_FAILURE:
        rebuild([pk for pk in left if pk not in heavy | _heavy(left)])
    if heavy:
        # Where it is being done already, it looks for more before it ends.
        with suppress(ConflictError):
            ask_for(actor=None, title=FIT, task=fit_stale)


def _heavy(numbers: list[int]) -> set[int]:
    """Those that rest on many runs, as far as an earlier fit says."""
    rows = Identified.objects.filter(pk__in=numbers).values_list("pk", "runs")
    return {pk for pk, runs in rows if len(runs or []) > MANY_RUNS}


@task()
def fit_stale(work: int) -> None:
    """Fit whatever is stale, until nothing is."""
    try:
        with doing(work) as progress:
            fitted = 0
            while numbers := [*stale_ones(samples=True), *stale_ones(samples=False)]:
                progress.of(len(numbers), "fits")
                for done, pk in enumerate(numbers, start=1):
                    fitted += rebuild([pk])
                    progress.step(done)
            progress.say(f"{fitted} fits are made again.")
    except StoppedError:
        return


def on_settled(sender: Any, *, progress: Progress, **kwargs: Any) -> None:
    """Many runs were reduced anew: fit what rests on them, telling how far it is."""
    mark_old()
    for samples, unit in ((True, "samples"), (False, "propellers")):
        numbers = stale_ones(samples=samples)
        if numbers:
            progress.of(len(numbers), unit)
        for done, pk in enumerate(numbers, start=1):
            rebuild([pk])
            progress.step(done)


def stale_ones(*, samples: bool) -> list[int]:
    """Numbers of the stale fits of samples, else of propellers."""
    rows = Identified.objects.filter(stale=True, sample__isnull=not samples)
    return list(rows.values_list("pk", flat=True))


def rebuild(numbers: Iterable[int]) -> int:
    """Fit these again, those of them that are stale.

    :returns: how many were.
    """
    return sum(_rebuild(pk) for pk in numbers)


@transaction.atomic
def _rebuild(pk: int) -> int:
    row = Identified.objects.select_for_update().filter(pk=pk, stale=True).first()
    if row is None:
        return 0
    row.stale, row.core_version = False, spindle_core.__version__
    row.fit, row.why_not = None, ""
    row.kv_rpm_per_v = row.resistance_ohm = row.resistance_u_ohm = None
    row.no_load_current_a = row.winding_k_per_w = None
    warnings: list[Remark] = []
    try:
        with transaction.atomic():
            if row.sample_id is not None:
                _fit_sample(row, warnings)
            else:
                _fit_propeller(row, warnings)
    except CoreError as problem:
        row.why_not = problem.message[:300]
    except Exception as problem:
        # The runs are kept whatever their fit stumbles over; the log says where.
        logger.exception("%s could not be fitted", row)
        row.why_not = f"Stopped by something unforeseen ({type(problem).__name__}); report it."
    row.remarks = [{"code": w.code, "message": w.message} for w in warnings]
    row.save()
    if row.sample is not None:
        _correct(row.sample.motor_id)
    return 1


def _fit_sample(row: Identified, warnings: list[Remark]) -> None:
    assert row.sample is not None
    evidence = evidence_on(row.sample)
    row.runs = [pk for pk, _ in evidence]
    if not evidence:
        row.why_not = "No run of this sample is accepted."
        return
    fit = identify_motor(row.sample.mark, numbered([one for _, one in evidence]), warnings)
    row.fit = motor_fit_to_json(fit)
    if isinstance(fit.kv_rpm_per_v, Measured) and isinstance(fit.resistance_ohm, Measured):
        row.kv_rpm_per_v = fit.kv_rpm_per_v.value
        row.resistance_ohm, row.resistance_u_ohm = fit.resistance_ohm.value, fit.resistance_ohm.u
    row.winding_k_per_w = winding_k_per_w(fit)
    if isinstance(fit.no_load.current_a, Measured):
        row.no_load_current_a = fit.no_load.current_a.value


def _fit_propeller(row: Identified, warnings: list[Remark]) -> None:
    assert row.propeller is not None
    runs = [run for run in _accepted().filter(propeller=row.propeller) if loads(run)]
    row.runs = [run.pk for run in runs]
    seen: StandsByDay = {}
    evidence = [evidence_on_run(run, seen) for run in runs]
    motors = _fits_by_name(runs)
    fit = identify_propeller(row.propeller.full_name, evidence, motors, warnings)
    if fit is None:
        row.why_not = (
            "No accepted run of this propeller logged speed." if runs else "No run is accepted."
        )
        return
    row.fit = propeller_fit_to_json(fit)


def loads(run: Run) -> bool:
    """Whether a run's points tell its propeller's coefficients."""
    return run.kind not in KINDS or KINDS[run.kind].loads_propeller


def _fits_by_name(runs: list[Run]) -> dict[str, MotorFit]:
    rows = Identified.objects.filter(
        sample__in={run.sample_id for run in runs}, fit__isnull=False
    ).select_related("sample__motor__maker")
    return {
        f"{row.sample.motor.full_name} {row.sample.mark}".strip(): motor_fit_from_json(row.fit)
        for row in rows
        if row.sample is not None and row.fit is not None
    }


def _accepted() -> Any:
    return (
        Run.objects.filter(review="accepted", reduction__error="")
        .select_related(*WITH, "evidence")
        .prefetch_related(*OF_STANDS)
        .order_by("started_at", "pk")
    )


def evidence_on(sample: Sample) -> list[tuple[int, RunEvidence]]:
    """The accepted runs of a sample, oldest first, and what each has to say of its motor: without
    its points, which tell of propellers."""
    seen: StandsByDay = {}
    runs = _accepted().filter(sample=sample).defer("reduction__result")
    return [(run.pk, evidence_on_run(run, seen, points=())) for run in runs]


def blocks_on(sample: Sample) -> list[Block]:
    """The blocks of all accepted runs of a sample."""
    return numbered([evidence for _, evidence in evidence_on(sample)])


def evidence_on_run(
    run: Run, seen: StandsByDay, points: Sequence[Point] | None = None
) -> RunEvidence:
    """What a run has to say; its blocks are made once and kept.

    :param points: the reduced points that it is to have; its own when None.
    """
    if points is None:
        points = points_from_json(run.reduction.result or {"points": []})
    kept: KeptEvidence | None = getattr(run, "evidence", None)
    if kept is None or kept.core_version != spindle_core.__version__:
        made = evidence_of(run_trace(run), points)
        KeptEvidence.objects.update_or_create(run=run, defaults=_as_kept(made))
        return made
    facts, stand = run_facts(run, seen)
    name = f"run {run.pk}"
    return RunEvidence(
        name,
        run.kind,
        facts,
        stand,
        blocks_from_json(kept.blocks, stand=stand, source=name),
        tuple(points),
        kept.blocks["thrust"],
        kept.blocks["torque"],
    )


def _keep_evidence(run: Run, trace: Trace | None) -> None:
    """Keep what a run has to say while its samples are at hand, whether it is accepted or not."""
    KeptEvidence.objects.filter(run=run).delete()
    if trace is None:
        return
    try:
        kept = _as_kept(evidence_of(trace, ()))
    except Exception:
        # What goes wrong here goes wrong again in the fit, which tells of it.
        return
    KeptEvidence.objects.create(run=run, **kept)


def _as_kept(made: RunEvidence) -> dict[str, Any]:
    return {
        "core_version": spindle_core.__version__,
        "blocks": {
            **blocks_to_json(made.blocks),
            "thrust": made.measures_thrust,
            "torque": made.measures_torque,
        },
    }


def _correct(motor_id: int) -> None:
    """Runs that wait for another resistance are reduced again: those without a propeller, and
    soaks. Of every sample of the model, since one that has none takes that of the others."""
    runs = Run.objects.filter(
        sample__motor=motor_id, kind__in=("no_load", "soak"), reduction__isnull=False
    )
    seen: StandsByDay = {}
    for run in runs.select_related(*WITH).prefetch_related(*OF_STANDS):
        said = said_of(run, seen)
        if run.reduction.inputs_hash != inputs_hash(run, said):
            reduce_run(run, announce=False, said=said)


def mark_old() -> int:
    """Mark what another version of the core fitted, and what was never fitted.

    :returns: how many there are.
    """
    old = Identified.objects.exclude(core_version=spindle_core.__version__).update(stale=True)
    accepted = Run.objects.filter(review="accepted")
    samples = Sample.objects.filter(
        pk__in=accepted.values("sample"), identified__isnull=True
    ).values_list("pk", flat=True)
    propellers = Propeller.objects.filter(
        pk__in=accepted.exclude(propeller=None).values("propeller"), identified__isnull=True
    ).values_list("pk", flat=True)
    fresh = [Identified(sample_id=pk) for pk in samples]
    fresh += [Identified(propeller_id=pk) for pk in propellers]
    Identified.objects.bulk_create(fresh)
    return int(old) + len(fresh)
