"""From a trace to figures: one module per kind of run.

``steps`` is here; each further kind (``ramp``, ``peak``, ``hold``, ``no_load``, ``flywheel``,
``response``, ``soak``, ``readings``) gets a module of its name with a ``reduce`` function and an
entry in :data:`REDUCERS`.
"""

from __future__ import annotations

from collections.abc import Callable

from spindle_core.errors import ReductionError
from spindle_core.reduction import steps
from spindle_core.reduction.result import Point, Reduction, Remark
from spindle_core.trace import Trace

__all__ = ["REDUCERS", "Point", "Reduction", "Remark", "reduce_trace"]

REDUCERS: dict[str, Callable[[Trace], Reduction]] = {"steps": steps.reduce}


def reduce_trace(trace: Trace) -> Reduction:
    """Reduce a trace by its kind.

    :raises ReductionError: no reduction for this kind, or a trace its reduction cannot use.
    """
    reducer = REDUCERS.get(trace.kind)
    if reducer is None:
        raise ReductionError(
            f"Runs of kind {trace.kind!r} cannot be reduced yet; can be: {', '.join(REDUCERS)}.",
            code="kind_not_supported",
        )
    return reducer(trace)
