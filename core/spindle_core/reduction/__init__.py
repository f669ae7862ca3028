"""From a trace to figures: one module per kind of run, each with a ``reduce`` function."""

from __future__ import annotations

from collections.abc import Callable

from spindle_core.errors import ReductionError
from spindle_core.reduction import (
    flywheel,
    hold,
    no_load,
    peak,
    ramp,
    readings,
    response,
    soak,
    steps,
)
from spindle_core.reduction.result import Point, Reduction, Remark
from spindle_core.trace import Trace

__all__ = ["REDUCERS", "Point", "Reduction", "Remark", "reduce_trace"]

REDUCERS: dict[str, Callable[[Trace], Reduction]] = {
    "steps": steps.reduce,
    "ramp": ramp.reduce,
    "peak": peak.reduce,
    "hold": hold.reduce,
    "no_load": no_load.reduce,
    "flywheel": flywheel.reduce,
    "response": response.reduce,
    "soak": soak.reduce,
    "readings": readings.reduce,
}


def reduce_trace(trace: Trace) -> Reduction:
    """Reduce a trace by its kind.

    :raises ReductionError: no reduction for this kind, or a trace its reduction cannot use.
    """
    reducer = REDUCERS.get(trace.kind)
    if reducer is None:
        raise ReductionError(
            f"{trace.kind!r} is not a kind of run; kinds are: {', '.join(REDUCERS)}.",
            code="kind_not_supported",
        )
    return reducer(trace)
