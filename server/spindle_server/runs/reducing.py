"""From stored segments to figures."""

from __future__ import annotations

import hashlib

from django.db import transaction

import spindle_core
from spindle_core.errors import CoreError
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.formats.trace_parquet import decode_segments
from spindle_core.quantities import CHANNELS
from spindle_core.reduction import reduce_trace
from spindle_core.trace import Floats, Trace
from spindle_server.runs.models import Reduction, Run, TraceSegment


def read_trace(run: Run) -> tuple[Floats, dict[str, Floats]]:
    """Time [s] and channels of a run, every sample."""
    blobs = list(
        TraceSegment.objects.filter(run=run).order_by("index").values_list("parquet", flat=True)
    )
    return decode_segments([bytes(blob) for blob in blobs])


def inputs_hash(run: Run) -> str:
    """What the reduction rests on: the segments and the kind."""
    digests = (
        TraceSegment.objects.filter(run=run).order_by("index").values_list("digest", flat=True)
    )
    return hashlib.sha256("\n".join([run.kind, *digests]).encode()).hexdigest()


def is_stale(reduction: Reduction) -> bool:
    """Whether the inputs or the core have changed since."""
    return (
        reduction.core_version != spindle_core.__version__
        or reduction.inputs_hash != inputs_hash(reduction.run)
    )


@transaction.atomic
def reduce_run(run: Run) -> Reduction:
    """Reduce and store; a trace that cannot be reduced is kept with the reason."""
    result, error = None, ""
    try:
        time_s, channels = read_trace(run)
        known = {name: values for name, values in channels.items() if name in CHANNELS}
        result = reduction_to_json(reduce_trace(Trace(time_s, known, run.kind)))
    except CoreError as problem:
        error = problem.message
    reduction, _ = Reduction.objects.update_or_create(
        run=run,
        defaults={
            "core_version": spindle_core.__version__, "inputs_hash": inputs_hash(run),
            "result": result, "error": error,
        },
    )  # fmt: skip
    return reduction
