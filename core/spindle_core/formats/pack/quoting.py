"""The runs of another bench's pack, reduced here from their logs.

What another bench states is held against what its own log gives. Both may be right by their own
rules; where they part, it is said. Whatever a stand is called there, it is no stand of ours: its
name gets the bench's before it, or two load cells that merely share a name would cancel.
"""

from __future__ import annotations

import datetime
import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.figures.said import figure as said
from spindle_core.formats.bench_log import BenchLog
from spindle_core.formats.pack.errors import PackError
from spindle_core.formats.pack.reading import DataPack
from spindle_core.formats.result_json import reduction_from_json
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.result import Reduction
from spindle_core.run.trace import Trace

AGREES_SHARE: Final = 0.1
"""Of u: figures that are nearer to one another than this agree."""

MOST_REMARKS: Final = 6


@dataclass(frozen=True, slots=True)
class QuotedRun:
    """A run as its bench lists it, and what its log reduces to here.

    ``reduction``: None where the log cannot be reduced, for the reason in ``error``. ``remarks``:
    where the bench states another figure. ``density_kg_per_m3``: None where the air was not noted.
    ``repeatability``: relative s of one run, 0 where nobody declared it.
    """

    listed: Mapping[str, Any]
    on: datetime.date
    stand_name: str
    reduction: Reduction | None
    error: str
    remarks: tuple[str, ...]
    density_kg_per_m3: float | None
    repeatability: float


def quoted_runs(pack: DataPack, bench: str) -> Iterator[QuotedRun]:
    """Every run of a pack, rejected ones too, in its order.

    :param bench: what the other bench is called here; its stands are called so.
    :raises PackError: a log or a result that cannot be read, or a day that is none.
    """
    for at, listed in enumerate(pack.index["runs"]):
        day = day_of(listed["on"], f"runs/{at}/on")
        log = pack.log(listed)
        if log.kind != listed["kind"]:
            raise PackError(
                f"it says {log.kind!r}, and the index says {listed['kind']!r}",
                code="other_kind",
                where=listed["log"],
            )
        trace = _as_theirs(log, bench, listed["number"])
        stated = _stated(pack, listed)
        density = trace.facts.air_density()
        try:
            found, error = reduce_trace(trace), ""
        except CoreError as wrong:
            found, error = None, wrong.message
        yield QuotedRun(
            listed,
            day,
            log.header.get("stand", ""),
            found,
            error,
            () if found is None else tuple(_apart(stated, found)),
            None if isinstance(density, Absent) else density,
            trace.stand.repeatability,
        )


def day_of(text: str, where: str) -> datetime.date:
    """A day of the index.

    :raises PackError: none that there is.
    """
    try:
        return datetime.date.fromisoformat(text)
    except ValueError as error:
        raise PackError(f"{text!r} is no day", code="schema", where=where) from error


def _as_theirs(log: BenchLog, bench: str, number: int) -> Trace:
    trace = log.trace()
    name = f"{bench} / {trace.stand.name}" if trace.stand.name else ""
    return replace(trace, run=f"{bench} run {number}", stand=replace(trace.stand, name=name))


def _stated(pack: DataPack, listed: Mapping[str, Any]) -> Reduction:
    try:
        return reduction_from_json(json.loads(pack.read(listed["result"])))
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise PackError(
            f"it is no result of a run: {error}", code="bad_result", where=listed["result"]
        ) from error


def _apart(stated: Reduction, found: Reduction) -> Iterator[str]:
    told = 0
    for name, theirs in stated.summary.items():
        ours = found.summary.get(name)
        if not isinstance(theirs, Measured) or not isinstance(ours, Measured):
            continue
        allowed = max(AGREES_SHARE * min(theirs.u, ours.u), 1e-9 * abs(ours.value))
        if abs(theirs.value - ours.value) <= allowed:
            continue
        told += 1
        if told > MOST_REMARKS:
            yield "More figures are stated otherwise."
            return
        yield (
            f"{name}: they state {said(theirs.value, theirs.u, '')}; their log gives "
            f"{said(ours.value, ours.u, '')}."
        )
