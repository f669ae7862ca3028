"""From stored traces to figures."""

from __future__ import annotations

import hashlib
import logging

from django.db import transaction

import spindle_core
from spindle_core.errors import CoreError
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace
from spindle_server.runs.models import Reduction, Run, TraceSegment
from spindle_server.runs.traces import run_header, run_trace

logger = logging.getLogger(__name__)


def inputs_hash(run: Run) -> str:
    """What the reduction rests on: the segments, the kind, and what is noted of the run."""
    digests = (
        TraceSegment.objects.filter(run=run).order_by("index").values_list("digest", flat=True)
    )
    stand = run.stand
    noted = [f"{key}: {value}" for key, value in sorted(run_header(run).items())]
    noted += [str(stand.calibration_rel), str(stand.repeatability_rel)] if stand else []
    return hashlib.sha256("\n".join([*noted, *digests]).encode()).hexdigest()


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
        result = reduction_to_json(reduce_trace(run_trace(run)))
    except CoreError as problem:
        error = problem.message
    except Exception as problem:
        # The recording is kept whatever its reduction stumbles over; the log says where.
        logger.exception("run %s could not be reduced", run.pk)
        error = f"Stopped by something unforeseen ({type(problem).__name__}); please report it."
    reduction, _ = Reduction.objects.update_or_create(
        run=run,
        defaults={
            "core_version": spindle_core.__version__,
            "inputs_hash": inputs_hash(run),
            "result": result,
            "error": error,
        },
    )
    return reduction
