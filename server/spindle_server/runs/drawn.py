"""Traces thinned for drawing, however long they are and however near one looks."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Iterator
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq
from django.db.models import Max, Min, Sum

from spindle_core.errors import CoreError
from spindle_core.figures.arrays import Floats
from spindle_core.formats.trace_parquet import decode_segments
from spindle_core.run.outline import Outline, joined, outline
from spindle_server.runs.as_core import MOST_AT_ONCE, read_trace, segment_blobs
from spindle_server.runs.models import Run, TraceOutline, TraceSegment

BUCKETS = (3_000, 60_000)
"""How many buckets the outlines of a long run have: one for all of it, one for looking nearer.
What is nearer still is so short that it is read as it was recorded."""


def drawn_trace(
    run: Run, most_points: int, from_s: float | None = None, until_s: float | None = None
) -> dict[str, Any]:
    """The trace between two times: every sample where they are few, else the lowest and highest
    of each few in a row, so that no peak is lost.

    :param most_points: at most so many points for each channel.
    """
    whole = TraceSegment.objects.filter(run=run).aggregate(
        row_count=Sum("row_count"), begin_s=Min("begin_s"), end_s=Max("end_s")
    )
    if not whole["row_count"]:
        raise CoreError("The run holds no recorded samples.", code="no_segments")
    found = _drawn(
        run,
        whole["row_count"],
        max(1, most_points // 2),
        -math.inf if from_s is None else from_s,
        math.inf if until_s is None else until_s,
    )
    return {**found, **whole}


def _drawn(run: Run, rows: int, buckets: int, begin: float, until: float) -> dict[str, Any]:
    if rows > MOST_AT_ONCE:
        for far in outlines_of(run, rows):
            found = far.between(begin, until)
            if found.size >= buckets or far.size >= rows:
                return _buckets(found.coarser(buckets))
        blobs = list(segment_blobs(run, begin, until))
        if not blobs:
            return {"time_s": [], "channels": {name: [] for name in run.channels}, "thinned": False}
        time_s, channels = decode_segments(blobs)
    else:
        time_s, channels = read_trace(run)
    part = slice(
        int(time_s.searchsorted(begin, side="left")), int(time_s.searchsorted(until, side="right"))
    )
    time_s, channels = time_s[part], {name: values[part] for name, values in channels.items()}
    if time_s.size <= 2 * buckets:
        return _samples(time_s, channels)
    return _buckets(outline(time_s, channels, 1).coarser(buckets))


def outlines_of(run: Run, rows: int) -> Iterator[Outline]:
    """The outlines of a long run, the coarsest first; made when they are first asked for."""
    kept = TraceOutline.objects.filter(run=run)
    levels = list(kept.values_list("pk", flat=True))
    if not levels:
        _make_outlines(run, rows)
        levels = list(kept.values_list("pk", flat=True))
    for level in levels:
        yield _from_parquet(bytes(kept.values_list("parquet", flat=True).get(pk=level)))


def _make_outlines(run: Run, rows: int) -> None:
    fine = -(-rows // BUCKETS[-1])
    keep_outlines(
        run,
        (
            outline(time_s, channels, fine)
            for time_s, channels in (decode_segments([blob]) for blob in segment_blobs(run))
        ),
    )


def keep_outlines(run: Run, parts: Iterable[Outline]) -> None:
    """The outlines of a run, by those of its parts in order."""
    nearest = joined(parts, run.channels).coarser(BUCKETS[-1])
    TraceOutline.objects.bulk_create(
        [
            TraceOutline(run=run, level=level, parquet=_as_parquet(nearest.coarser(buckets)))
            for level, buckets in enumerate(BUCKETS)
        ],
        # Two who look at once make the same.
        ignore_conflicts=True,
    )


def _as_parquet(found: Outline) -> bytes:
    columns = {"begin_s": found.begin_s, "end_s": found.end_s}
    columns |= {f"low {name}": values for name, values in found.low.items()}
    columns |= {f"high {name}": values for name, values in found.high.items()}
    sink = io.BytesIO()
    pq.write_table(pa.table(columns), sink, compression="zstd", use_dictionary=False)
    return sink.getvalue()


def _from_parquet(data: bytes) -> Outline:
    table = pq.read_table(io.BytesIO(data))
    columns: dict[str, Floats] = {
        name: table[name].to_numpy(zero_copy_only=False) for name in table.column_names
    }

    def of(side: str) -> dict[str, Floats]:
        return {
            name.removeprefix(side): values
            for name, values in columns.items()
            if name.startswith(side)
        }

    return Outline(columns["begin_s"], columns["end_s"], of("low "), of("high "))


def _samples(time_s: Floats, channels: dict[str, Floats]) -> dict[str, Any]:
    return {
        "time_s": [round(float(t), 6) for t in time_s],
        "channels": {name: _numbers(values) for name, values in channels.items()},
        "thinned": False,
    }


def _buckets(found: Outline) -> dict[str, Any]:
    """Each bucket as two points in its middle."""
    middles = [
        round(0.5 * float(a + b), 6) for a, b in zip(found.begin_s, found.end_s, strict=True)
    ]
    return {
        "time_s": [middle for middle in middles for _ in range(2)],
        "channels": {
            name: [
                value
                for pair in zip(_numbers(low), _numbers(found.high[name]), strict=True)
                for value in pair
            ]
            for name, low in found.low.items()
        },
        "thinned": True,
    }


def _numbers(values: Floats) -> list[float | None]:
    return [None if math.isnan(v) else round(float(v), 4) for v in values]
