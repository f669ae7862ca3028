"""Stored runs in the core's terms: traces, summaries, and what a comparison takes."""

from __future__ import annotations

import datetime
import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from django.db.models import Sum
from django.utils import timezone

from spindle_core.compare.like_with_like import Conditions, voltage_under_load_v
from spindle_core.compare.table import ComparedRun
from spindle_core.errors import CoreError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.quantities import CHANNELS
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.result_json import points_from_json
from spindle_core.formats.trace_parquet import averaged_segments, decode_segments
from spindle_core.intake.claimed_loads import RunPropeller
from spindle_core.run.facts import RunFacts, facts_from_header
from spindle_core.run.stand import ASSUMED_REPEATABILITY, stand_from_header
from spindle_core.run.stand import Stand as DeclaredStand
from spindle_core.run.trace import Trace
from spindle_server.rig.models import Propeller
from spindle_server.rig.stands import stand_of
from spindle_server.runs.models import Run, SummaryFigure, TraceSegment

MOST_AT_ONCE = 500_000
"""Rows that are taken in at once; of a longer recording one part after the other."""

MOST_REDUCED = 4_000_000
"""Rows that are reduced as they are, more than an hour at 1 kHz; a longer recording is averaged
first, and its figures say so."""

AVERAGED_TO = 500_000
"""Rows that are left of it at the most: of a whole day still six a second."""


def rows_of_trace(run: Run) -> int:
    """How many samples a run has."""
    return TraceSegment.objects.filter(run=run).aggregate(rows=Sum("row_count"))["rows"] or 0


def segment_blobs(
    run: Run, from_s: float = -math.inf, until_s: float = math.inf
) -> Iterator[bytes]:
    """The segments of a run in order, read a few at a time: those that reach into a time."""
    found: list[tuple[int, int]] = [
        (pk, rows)
        for pk, rows, begin, end in TraceSegment.objects.filter(run=run)
        .order_by("index")
        .values_list("pk", "row_count", "begin_s", "end_s")
        if end >= from_s and begin <= until_s
    ]
    while found:
        rows, some = 0, []
        while found and rows < MOST_AT_ONCE:
            pk, count = found.pop(0)
            some.append(pk)
            rows += count
        read = dict(TraceSegment.objects.filter(pk__in=some).values_list("pk", "parquet"))
        while some:
            yield bytes(read.pop(some.pop(0)))


def read_trace(run: Run) -> tuple[Floats, dict[str, Floats]]:
    """Time [s] and channels of a run, every sample."""
    time_s, channels = decode_segments(list(segment_blobs(run)))
    for cell in run.later_cells.filter(value__isnull=False):
        # Read from footage: laid over the recording, which stays as it is.
        values = channels.get(cell.channel, np.full(time_s.size, np.nan)).copy()
        values[cell.row - 1] = cell.value
        channels[cell.channel] = values
    return time_s, channels


LEARNT: list[Callable[[Run], dict[str, Any]]] = []
"""What is known by now of the motor of a run and the run itself does not say, such as its
resistance; whoever knows adds a function when the server starts."""


def run_header(run: Run) -> dict[str, Any]:
    """The preamble of a run's bench log: what is known of it, and what came with an import."""
    propeller = run.propeller
    own: dict[str, Any] = {
        "kind": run.kind,
        "motor": run.sample.motor.full_name,
        "sample": run.sample.mark,
        "propeller": propeller.full_name if propeller else None,
        "prop_diameter_in": propeller.diameter_in if propeller else None,
        "prop_pitch_in": propeller.pitch_in if propeller else None,
        "prop_blades": propeller.blades if propeller else None,
        "supply": run.supply.kind if run.supply else None,
        "stand": run.stand.name if run.stand else None,
        "nominal_voltage_v": run.nominal_voltage_v,
        "air_temp_c": run.air_temp_c,
        "air_pressure_hpa": run.air_pressure_hpa,
        "air_humidity_pct": run.air_humidity_pct,
    }
    if run.esc is not None:
        own["esc"] = run.esc.name
    carried = {key: value for key, value in run.header.items() if own.get(key) is None}
    learnt = {key: value for find in LEARNT for key, value in find(run).items()}
    return {**learnt, **own, **carried}


StandsByDay = dict[tuple[int, datetime.date], DeclaredStand]
"""Stands as they were on a day, kept by who looks at many runs."""

Said = tuple[dict[str, Any], DeclaredStand | None]
"""What is said of a run besides its samples: its header, and its stand as on its day."""


def run_trace(run: Run, said: Said | None = None) -> Trace:
    """The run for reduction: its known channels, its facts, and what its stand declares.

    :param said: for who has asked :func:`said_of` already.
    """
    header, declared = said or said_of(run)
    over = 1
    rows = rows_of_trace(run)
    if rows > MOST_AT_ONCE:
        # What is typed cell by cell is never so long.
        over = 1 if rows <= MOST_REDUCED else -(-rows // AVERAGED_TO)
        time_s, channels = averaged_segments(segment_blobs(run), rows, run.channels, over)
    else:
        time_s, channels = read_trace(run)
    known = {name: values for name, values in channels.items() if name in CHANNELS}
    trace = BenchLog(as_text(header), time_s, known).trace()
    trace = replace(trace, run=f"run {run.pk}", averaged_over=over)
    return replace(trace, stand=_with_declared(declared, trace.stand))


SAID_OF_IT = ("sample__motor__maker", "propeller__maker", "supply", "stand", "esc")
"""What :func:`said_of` looks at, for who reads runs."""


def said_of(run: Run, seen: StandsByDay | None = None) -> Said:
    """What is said of a run by now.

    :param seen: stands that were looked up already; more are added.
    """
    return run_header(run), _stand_on_its_day(run, seen)


def as_text(header: Mapping[str, Any]) -> dict[str, str]:
    """A header as a log's preamble has it; what is absent is not in it."""
    return {key: str(value) for key, value in header.items() if value not in (None, "")}


def run_facts(run: Run, seen: StandsByDay | None = None) -> tuple[RunFacts, DeclaredStand]:
    """What a run's trace says besides its samples, without reading them.

    :param seen: stands that were looked up already; more are added.
    """
    said, declared = said_of(run, seen)
    header = as_text(said)
    return facts_from_header(header), _with_declared(declared, stand_from_header(header))


def _stand_on_its_day(run: Run, seen: StandsByDay | None) -> DeclaredStand | None:
    if run.stand is None:
        return None
    key = (run.stand.pk, timezone.localtime(run.started_at).date())
    stand = (seen or {}).get(key) or stand_of(run.stand, key[1])
    if seen is not None:
        seen[key] = stand
    return stand


def _with_declared(stand: DeclaredStand | None, declared: DeclaredStand) -> DeclaredStand:
    """What a run's file declares of its stand, over what the bench declares of it."""
    if stand is None:
        # A stand that only the file names is not known to be any of the bench's.
        return replace(declared, name="")
    return replace(
        declared,
        name=stand.name,
        calibration={**stand.calibration, **declared.calibration},
        arms_relative_u=stand.arms_relative_u,
        arms_assumed=stand.arms_assumed,
        resolution={**stand.resolution, **declared.resolution},
        instruments={**stand.instruments, **declared.instruments},
        repeatability=declared.repeatability or stand.repeatability,
    )


def figure_of(row: SummaryFigure) -> Figure:
    """A stored summary figure."""
    if row.value is None:
        return Absent(row.absent_reason, row.absent_note)
    return Measured(
        row.value, row.components, n=row.n or 1, origin=Origin(row.origin), samples=row.samples
    )


def air_density(run: Run) -> float | None:
    """Air density at the run [kg/m³], None when the air was not noted; an absent humidity counts
    as the core counts it, half, not none.
    """
    facts = RunFacts(
        air_temp_c=run.air_temp_c,
        air_pressure_hpa=run.air_pressure_hpa,
        air_humidity_pct=run.air_humidity_pct,
    )
    try:
        density = facts.air_density()
    except CoreError:
        return None
    return None if isinstance(density, Absent) else density


def compared_run(run: Run) -> ComparedRun:
    """A run with stored figures as a comparison takes it; without a stand with the repeatability
    that is assumed then."""
    declared = run.stand.repeatability_rel if run.stand else None
    return ComparedRun(
        key=f"run {run.pk}",
        points=points_from_json(run.reduction.result or {"points": []}),
        repeatability=ASSUMED_REPEATABILITY if declared is None else declared,
        repeat_kind="assumed_repeat" if declared is None else "repeat",
    )


def run_propeller(row: Propeller) -> RunPropeller:
    """A propeller of the rig, as claims of it are read."""
    return RunPropeller(
        row.full_name, row.name, row.size, (row.diameter_in, row.pitch_in, row.blades)
    )


SUPPLY_WORDS = {"psu": "bench supply", "pack": "pack"}


def conditions_of(run: Run, core: ComparedRun) -> Conditions:
    """What has to be alike for a fair comparison."""
    return Conditions(
        motor=run.sample.motor.full_name,
        sample=run.sample.mark,
        propeller=run.propeller_name,
        supply_kind=SUPPLY_WORDS[run.supply.kind] if run.supply else None,
        nominal_voltage_v=run.nominal_voltage_v,
        stand=run.stand.name if run.stand else None,
        esc=run.esc.name if run.esc else run.header.get("esc") or None,
        start_rise_k=(run.reduction.result or {}).get("start_rise_k"),
        air_density_kg_per_m3=air_density(run),
        voltage_under_load_v=voltage_under_load_v(core.points),
    )
