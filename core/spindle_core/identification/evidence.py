"""What one run has to say about its motor and its propeller: small enough to be kept with it.

A fit takes the evidence of many runs; that of one run does not change with the others, so it is
made once and kept, and a motor with a hundred runs is fitted anew in milliseconds.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import CoreError
from spindle_core.identification.blocks import Block, blocks_of
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.result import Point
from spindle_core.run.facts import RunFacts
from spindle_core.run.stand import Stand
from spindle_core.run.trace import Trace


@dataclass(frozen=True, slots=True)
class RunEvidence:
    """Blocks at known duty and reduced points of one run.

    ``blocks`` are numbered as run 0; :func:`numbered` joins those of several runs.
    ``measures_thrust``: the run logged thrust and speed, ``measures_torque``: torque.
    """

    run: str
    kind: str
    facts: RunFacts
    stand: Stand
    blocks: tuple[Block, ...]
    points: tuple[Point, ...]
    measures_thrust: bool
    measures_torque: bool


def evidence_of(trace: Trace, points: Sequence[Point] | None = None) -> RunEvidence:
    """The evidence of one run.

    :param points: its reduced points where they are known already; else it is reduced here, and a
        run that cannot be reduced has none.
    """
    if points is None:
        try:
            points = reduce_trace(trace).points
        except CoreError:
            points = ()
    return RunEvidence(
        trace.named().run,
        trace.kind,
        trace.facts,
        trace.stand,
        tuple(blocks_of(trace)),
        tuple(points),
        trace.has("speed_rpm") and trace.has("thrust_gf"),
        trace.has("torque_nm"),
    )


def numbered(runs: Sequence[RunEvidence]) -> list[Block]:
    """The blocks of several runs, each with the number of its run among them."""
    return [replace(block, run=n) for n, run in enumerate(runs) for block in run.blocks]
