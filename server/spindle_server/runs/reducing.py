"""From stored traces to figures."""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Iterable
from typing import Any

from django.db import transaction

import spindle_core
from spindle_core.errors import CoreError
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace
from spindle_core.run.trace import Trace
from spindle_server.runs.as_core import Said, run_trace, said_of
from spindle_server.runs.models import LaterCell, Reduction, Run, SummaryFigure, TraceSegment
from spindle_server.runs.signals import evidence_changed

logger = logging.getLogger(__name__)


def inputs_hash(run: Run, said: Said | None = None) -> str:
    """What the reduction rests on: the segments, the kind, and what is noted of the run.

    :param said: for who has asked :func:`said_of` already.
    """
    digests = (
        TraceSegment.objects.filter(run=run).order_by("index").values_list("digest", flat=True)
    )
    return hash_of_inputs(
        run, digests, said or said_of(run), run.later_cells.filter(value__isnull=False)
    )


def hash_of_inputs(
    run: Run, digests: Iterable[str], said: Said, read_later: Iterable[LaterCell]
) -> str:
    """The same for who has looked up already what it rests on."""
    header, stand = said
    noted = [f"{key}: {value}" for key, value in sorted(header.items())]
    if run.stand is not None and stand is not None:
        thrust = stand.calibration.get("thrust_gf")
        noted += [str(thrust), str(run.stand.repeatability_rel)]
        if stand.instruments or stand.arms_relative_u:
            noted.append(repr(stand))
    noted += [f"{cell.channel}@{cell.row}: {cell.value}" for cell in read_later]
    return hashlib.sha256("\n".join([*noted, *digests]).encode()).hexdigest()


def is_stale(reduction: Reduction) -> bool:
    """Whether the inputs or the core have changed since."""
    return (
        reduction.core_version != spindle_core.__version__
        or reduction.inputs_hash != inputs_hash(reduction.run)
    )


@transaction.atomic
def reduce_run(run: Run, *, announce: bool = True, said: Said | None = None) -> Reduction:
    """Reduce and store; a trace that cannot be reduced is kept with the reason.

    :param announce: False where what is learnt from runs led to it, so that it leads to nothing.
    :param said: for who has asked :func:`said_of` already.
    """
    result, error = None, ""
    trace: Trace | None = None
    said = said or said_of(run)
    try:
        trace = run_trace(run, said)
        result = reduction_to_json(reduce_trace(trace))
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
            "inputs_hash": inputs_hash(run, said),
            "result": result,
            "error": error,
            "warning_count": len(result["warnings"]) if result else 0,
        },
    )
    SummaryFigure.objects.filter(run=run).delete()
    SummaryFigure.objects.bulk_create(rows_of(run.pk, result or {}))
    if announce:
        evidence_changed.send(Run, run=run, reduced=True, trace=trace if result else None)
    return reduction


def rows_of(run_pk: int, result: dict[str, Any]) -> list[SummaryFigure]:
    """The summary of a stored result as rows."""
    absent = result.get("absent", {})
    return [
        _absent_row(run_pk, name, absent.get(name, {}))
        if item is None
        else SummaryFigure(
            run_id=run_pk,
            name=name,
            value=item["value"],
            u=item["u"],
            n=item["n"],
            origin=item["origin"],
            assumed=item["assumed"],
            samples=item.get("samples"),
            components=item["components"],
        )
        for name, item in result.get("summary", {}).items()
    ]


def _absent_row(run_pk: int, name: str, why: dict[str, str]) -> SummaryFigure:
    reason, note = why.get("reason", "not_stored"), why.get("note", "")
    return SummaryFigure(
        run_id=run_pk, name=name, absent_reason=reason[:40], absent_note=note[:200]
    )
