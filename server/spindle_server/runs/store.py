"""The run store behind the bench agent: the ORM's side of the delivery port.

Every call may be repeated and then changes nothing; the database's uniqueness is what holds it.
"""

from __future__ import annotations

import functools
import hashlib
from collections.abc import Callable
from datetime import datetime
from typing import Any, TypeVar, cast

from django.db import DatabaseError, InterfaceError, OperationalError, connection, transaction
from django.db.models import Count, Sum
from django.utils import timezone

from spindle_bench.delivery import Segment
from spindle_bench.errors import BenchError, StoreAwayError
from spindle_bench.plan import RunPlan
from spindle_server.records.writes import acting
from spindle_server.runs.as_core import SAID_OF_IT
from spindle_server.runs.models import PredictedFigure, Run, RunEnd, TraceSegment
from spindle_server.runs.reducing import reduce_run

Method = TypeVar("Method", bound=Callable[..., Any])


def _reconnecting(method: Method) -> Method:
    """A database that is away is told as such; its connection is dropped, and made anew."""

    @functools.wraps(method)
    def guarded(*args: Any, **kwargs: Any) -> Any:
        try:
            return method(*args, **kwargs)
        except (DatabaseError, InterfaceError) as error:
            if not connection.in_atomic_block:
                connection.close()
            if isinstance(error, OperationalError | InterfaceError):
                raise StoreAwayError(f"The database does not answer: {error}") from error
            raise

    return cast(Method, guarded)


class DatabaseRunStore:
    """Keeps runs in the database. ``origin`` marks where they come from."""

    def __init__(self, origin: str = "bench") -> None:
        self.origin = origin

    @_reconnecting
    @transaction.atomic
    def begin_run(self, plan: RunPlan, channels: list[str]) -> None:
        """Create the run, unless it is there.

        :raises BenchError: a run of this id is there, from another arming.
        """
        there = Run.objects.filter(uid=plan.run_id).only("arming").first()
        if there is not None:
            if there.arming != plan.arming:
                text = (
                    f"Run {there.pk} has this id already, from another arming; it is not touched."
                )
                raise BenchError(text, code="other_arming")
            return
        record: dict[str, Any] = plan.record
        started = record.get("started_at")
        run = Run(
            uid=plan.run_id,
            kind=plan.profile.kind,
            origin=self.origin,
            sample_id=record["sample_id"],
            propeller_id=record["propeller_id"],
            supply_id=record["supply_id"],
            stand_id=record["stand_id"],
            operator_id=record.get("operator_id"),
            esc_id=record.get("esc_id"),
            command_source=record.get("command_source", ""),
            inherited=record.get("inherited", []),
            nominal_voltage_v=record.get("nominal_voltage_v"),
            air_temp_c=record.get("air_temp_c"),
            air_pressure_hpa=record.get("air_pressure_hpa"),
            air_humidity_pct=record.get("air_humidity_pct"),
            purpose=record.get("purpose", ""),
            note=record.get("note", ""),
            header=record.get("header", {}),
            rate_hz=plan.rate_hz,
            channels=channels,
            profile=plan.profile.as_json(),
            limits=plan.limits.as_json(),
            limits_off=plan.limits_off,
            page_grace_s=plan.page_grace_s,
            by_hand=plan.by_hand,
            guard_off_by=plan.guard_off_by[:80],
            arming=plan.arming,
            started_at=datetime.fromisoformat(started) if started else timezone.now(),
        )
        with acting(run.operator):
            run.save()
        PredictedFigure.objects.bulk_create(
            PredictedFigure(run=run, **figure) for figure in record.get("predicted", [])
        )

    @_reconnecting
    def stored_rows(self, run_id: str) -> tuple[int, int]:
        """Segments and rows already held."""
        held = TraceSegment.objects.filter(run__uid=run_id).aggregate(
            segments=Count("pk"), rows=Sum("row_count")
        )
        return held["segments"], held["rows"] or 0

    @_reconnecting
    def add_segment(self, run_id: str, segment: Segment) -> None:
        """Keep one segment; the same index twice is refused by the database.

        :raises BenchError: the run has ended; nothing is added to it any more.
        """
        if RunEnd.objects.filter(run__uid=run_id).exists():
            raise BenchError("That run has ended; nothing is added to it.", code="ended")
        TraceSegment.objects.create(
            run=Run.objects.only("pk").get(uid=run_id),
            index=segment.index,
            first_row=segment.first_row,
            row_count=segment.row_count,
            begin_s=segment.begin_s,
            end_s=segment.end_s,
            parquet=segment.parquet,
            digest=hashlib.sha256(segment.parquet).hexdigest(),
        )

    @_reconnecting
    @transaction.atomic
    def end_run(self, run_id: str, end: dict[str, Any]) -> None:
        """Write the end record once, and reduce; both appear together."""
        run = Run.objects.select_related(*SAID_OF_IT).get(uid=run_id)
        RunEnd.objects.get_or_create(
            run=run,
            defaults={
                "outcome": end["outcome"],
                "code": end["code"],
                "reason": end["reason"][:300],
                "by": str(end.get("by", ""))[:80],
            },
        )
        reduce_run(run)
