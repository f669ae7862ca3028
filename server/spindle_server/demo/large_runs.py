"""Runs of the large bench: those of the pool, and like them those of every other motor.

A motor's runs are those that a motor of the pool made, trace and figures, on propellers of the
same shape from another maker, on its own samples and days. So every figure is that of its trace.
"""

from __future__ import annotations

import datetime
import random
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context

import django
from django.db import connection, transaction

from spindle_server.demo.trace_pool import BEGAN, MAKERS_OF_EACH, SHAPES, VOLTAGE_V, play_pool
from spindle_server.identification.models import KeptEvidence
from spindle_server.identification.rebuilding import mark_old, rebuild, rebuild_stale, stale_ones
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.stands import stand_of
from spindle_server.runs.as_core import run_header
from spindle_server.runs.models import Reduction, Run, RunEnd, SummaryFigure, TraceSegment
from spindle_server.runs.reducing import hash_of_inputs
from spindle_server.runs.selectors import with_results

BATCH = 500
WORTH_WORKERS = 1000
REJECTED = 0.02
"""Share of runs that somebody rejected."""

Say = Callable[[str], None]


@dataclass(frozen=True, slots=True)
class Original:
    """A run of the pool; ``shape``: number of its propeller's shape, ``digests`` of its trace."""

    run: Run
    shape: int | None
    digests: list[str]


def seed_runs(played: int, propellers: int, each: int, draw: random.Random, say: Say) -> int:
    """Runs of every motor, ``each`` of them; returns how many there are."""
    stand = Stand.objects.create(
        name="Seed stand", kind="direct", repeatability_rel=0.008, calibration_rel=0.008
    )
    supply = Supply.objects.create(
        name="Seed supply",
        kind="psu",
        nominal_voltage_v=VOLTAGE_V,
        open_circuit_v=VOLTAGE_V,
        resistance_ohm=0.004,
        trip_a=500.0,
    )
    motors = list(MotorModel.objects.order_by("pk").prefetch_related("samples"))
    if len(motors) * each >= WORTH_WORKERS:
        # All of six digits: a number in a text that becomes another as long moves nothing in it.
        with connection.cursor() as cursor:
            cursor.execute("ALTER TABLE runs_run AUTO_INCREMENT = 100001")
    firsts = list(
        Sample.objects.filter(motor__in=motors[:played], mark="A")
        .select_related("motor__maker")
        .order_by("motor")
    )
    made = play_pool(firsts, propellers, stand, supply, say)
    Run.objects.update(review="accepted")
    mark_old()
    rebuild_stale()
    say(f"{sum(len(runs) for runs in made)} traces in the pool, reduced and identified")
    pool = [[_original(run) for run in runs] for runs in made]
    shapes = list(Propeller.objects.order_by("pk").select_related("maker"))
    jobs = _wanted(motors, pool, propellers, each, draw)
    done = Run.objects.count()
    batch: list[tuple[Original, Sample, int]] = []
    for job in jobs:
        batch.append(job)
        if len(batch) == BATCH:
            done += _store(batch, shapes, stand, done, draw)
            batch = []
            if done % 5000 < BATCH:
                say(f"{done} runs")
    done += _store(batch, shapes, stand, done, draw)
    say(f"{done} runs; what they tell of samples and propellers is identified")
    say(f"{_identify()} identified")
    return done


def _identify() -> int:
    """Samples, then propellers, since these rest on them; on every processor where it is much."""
    if mark_old() < WORTH_WORKERS:
        return rebuild_stale()
    made = 0
    with ProcessPoolExecutor(mp_context=get_context("spawn"), initializer=django.setup) as pool:
        for samples in (True, False):
            numbers = stale_ones(samples=samples)
            size = 50 if samples else 4
            parts = [numbers[k : k + size] for k in range(0, len(numbers), size)]
            made += sum(pool.map(rebuild, parts))
    return made


def _original(run: Run) -> Original:
    whole = with_results().get(pk=run.pk)
    number = None
    if whole.propeller is not None:
        number = list(Propeller.objects.order_by("pk").values_list("pk", flat=True)).index(
            whole.propeller.pk
        )
    digests = whole.segments.order_by("index").values_list("digest", flat=True)
    return Original(whole, None if number is None else number % SHAPES, list(digests))


def _wanted(
    motors: Sequence[MotorModel],
    pool: Sequence[Sequence[Original]],
    steps: int,
    each: int,
    draw: random.Random,
) -> Iterator[tuple[Original, Sample, int]]:
    """Original, sample and the propeller's maker of every run that is to be made yet."""
    for index, motor in enumerate(motors):
        originals = pool[index % len(pool)]
        samples = sorted(motor.samples.all(), key=lambda sample: sample.mark)
        for sample in samples:
            sample.motor = motor
        maker = (index // len(pool)) % MAKERS_OF_EACH
        once = originals if index >= len(pool) else []
        more = each - len(originals)
        # Again and again what is compared, on one sample after the other.
        again = [originals[k % steps] for k in range(max(0, more))]
        for original in once[: max(0, each)]:
            yield original, samples[0], maker
        for k, original in enumerate(again):
            yield original, samples[(k // steps + draw.randint(0, 1)) % 2], maker


def _store(
    batch: Sequence[tuple[Original, Sample, int]],
    shapes: Sequence[Propeller],
    stand: Stand,
    first: int,
    draw: random.Random,
) -> int:
    """One batch, whole or not at all; returns how many runs it made."""
    if not batch:
        return 0
    declared = stand_of(stand, BEGAN.date())
    with transaction.atomic():
        runs = []
        for number, (original, sample, maker) in enumerate(batch, start=first):
            run = _like(original.run)
            run.sample = sample
            if original.shape is not None:
                run.propeller = shapes[maker * SHAPES + original.shape]
            run.started_at = BEGAN + datetime.timedelta(minutes=30 * number)
            rejected = draw.random() < REJECTED
            run.review = "rejected" if rejected else "accepted"
            run.review_reason = "The propeller was nicked." if rejected else ""
            runs.append(run)
        Run.objects.bulk_create(runs)
        numbers = dict(
            Run.objects.filter(uid__in=[run.uid for run in runs]).values_list("uid", "pk")
        )
        likes = []
        for run, (original, _, _) in zip(runs, batch, strict=True):
            run.pk = numbers[run.uid]
            inputs = hash_of_inputs(run, original.digests, (run_header(run), declared), [])
            likes.append((run.pk, original.run.pk, inputs))
        _copy(likes)
    return len(batch)


def _like(row: Run) -> Run:
    """A run with the same fields that is not stored yet."""
    fields = {
        field.attname: getattr(row, field.attname)
        for field in row._meta.concrete_fields
        if not field.primary_key and field.name != "uid"
    }
    return Run(**fields)


TEXTS = ("result", "components", "blocks")
"""Columns that name the run whose errors a part of u belongs to."""


def _of_its_own(column: str) -> str:
    """SQL: a text of the pool's run with this run's number in its stead."""
    text = f"there.{column}"
    for ends in ("/", '"'):
        was = f"CONCAT('@run ', seed_likes.original, '{ends}')"
        text = f"REPLACE({text}, {was}, CONCAT('@run ', seed_likes.run, '{ends}'))"
    return text


HANG_ON_IT = (RunEnd, TraceSegment, Reduction, SummaryFigure, KeptEvidence)


def _copy(likes: Sequence[tuple[int, int, str]]) -> None:
    """What hangs on runs of the pool, for runs that are like them: (run, like, hash of inputs).

    Inside the database: traces and results of fifty thousand runs are 4 GB.
    """
    quoted = connection.ops.quote_name
    with connection.cursor() as cursor:
        cursor.execute(
            "CREATE TEMPORARY TABLE IF NOT EXISTS seed_likes "
            "(run BIGINT PRIMARY KEY, original BIGINT, inputs VARCHAR(64))"
        )
        cursor.execute("DELETE FROM seed_likes")
        cursor.executemany("INSERT INTO seed_likes VALUES (%s, %s, %s)", likes)
        for kind in HANG_ON_IT:
            named = [str(one.column) for one in kind._meta.concrete_fields if not one.primary_key]
            taken = {"run_id": "seed_likes.run", "inputs_hash": "seed_likes.inputs"}
            taken |= {name: _of_its_own(quoted(name)) for name in TEXTS}
            columns = ", ".join(quoted(name) for name in named)
            values = ", ".join(taken.get(name, f"there.{quoted(name)}") for name in named)
            cursor.execute(
                f"INSERT INTO {quoted(kind._meta.db_table)} ({columns}) SELECT {values} "  # noqa: S608
                f"FROM seed_likes JOIN {quoted(kind._meta.db_table)} there "
                "ON there.run_id = seed_likes.original ORDER BY seed_likes.run"
            )
