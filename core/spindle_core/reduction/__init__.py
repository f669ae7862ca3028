"""From a trace to figures: one module per kind of run, each with a ``reduce`` function."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from spindle_core.errors import ReductionError
from spindle_core.figures.remark import Remark
from spindle_core.reduction.kinds import KINDS
from spindle_core.reduction.result import Point, Reduction
from spindle_core.run.trace import Trace

__all__ = ["KINDS", "Point", "Reduction", "Remark", "reduce_trace"]


def reduce_trace(trace: Trace) -> Reduction:
    """Reduce a trace by its kind.

    :raises ReductionError: no reduction for this kind, or a trace its reduction cannot use.
    """
    kind = KINDS.get(trace.kind)
    if kind is None:
        raise ReductionError(
            f"{trace.kind!r} is not a kind of run; kinds are: {', '.join(KINDS)}.",
            code="kind_not_supported",
        )
    trace, said = _with_time(trace.named())
    found = kind.reduce(trace)
    for remark in (said, _averaged(trace)):
        if remark:
            found = replace(found, warnings=(remark, *found.warnings))
    words = [
        assumed.words
        for name in trace.channels
        if trace.has(name) and (assumed := trace.stand.assumed(name)) is not None
    ]
    found = replace(found, start_rise_k=trace.start_rise_k)
    if not words:
        return found
    assumed_remark = Remark(
        "accuracy_assumed",
        f"Nobody declared the accuracy of these; assumed and in u: {', '.join(words)}.",
    )
    return replace(found, warnings=(*found.warnings, assumed_remark))


def _averaged(trace: Trace) -> Remark | None:
    """That the samples were averaged before anything was made of them, and what that hides."""
    if trace.averaged_over == 1:
        return None
    return Remark(
        "averaged",
        f"The recording is so long that {trace.averaged_over} samples in a row were averaged to "
        f"one before it was reduced: nothing shorter than {1e3 * trace.step_s:.3g} ms is in its "
        "figures (peaks, times of response). Every sample is kept.",
    )


def _with_time(trace: Trace) -> tuple[Trace, Remark | None]:
    """A trace whose samples share time stamps, as of whole seconds, spread between them."""
    if trace.size < 3 or trace.step_s > 0 or trace.kind in ("readings", "response"):
        return trace, None
    stamps, first, counts = np.unique(trace.time_s, return_index=True, return_counts=True)
    if stamps.size < 3:
        raise ReductionError(
            f"{trace.size} samples share {stamps.size} time stamps; when each was taken cannot be "
            "told. Log time with decimals.",
            code="time_coarse",
        )
    edges = np.append(first, trace.size)
    ends = np.append(stamps, stamps[-1] + float(np.median(np.diff(stamps))))
    spread = np.interp(np.arange(trace.size), edges, ends)
    remark = Remark(
        "time_coarse",
        f"Up to {int(counts.max())} samples share one time stamp; they were spread evenly between "
        "the stamps. Log time with decimals.",
    )
    return replace(trace, time_s=spread), remark
