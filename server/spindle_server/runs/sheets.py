"""Typed readings: a sheet looked at while it is typed, and kept as a run."""

from __future__ import annotations

import datetime
import hashlib
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.reduction.sheet import RowLook, look_at, sheet_channels
from spindle_core.run.scale import Geometry
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import Sample
from spindle_server.records.writes import writes
from spindle_server.rig.bench_day import completed, day_on
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.stands import geometry_of
from spindle_server.runs.models import Run, RunEnd, SourceFile
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.services import keep_source, store_segments

Rows = Sequence[dict[str, float]]


def look(*, rows: Rows, stand: Stand | None, day: datetime.date, maxima: bool) -> list[RowLook]:
    """What the rows mean so far; nothing is stored."""
    try:
        return look_at(rows, geometry=_geometry(stand, day), maxima=maxima)
    except CoreError as error:
        raise ServiceError(error.message, code=error.code, fields={"rows": [error.message]}) from (
            error
        )


@writes(Role.REVIEWER)
def keep_sheet(
    *,
    actor: User | None,
    sample: Sample,
    propeller: Propeller,
    rows: Rows,
    maxima: bool,
    day: datetime.date,
    supply: Supply | None = None,
    stand: Stand | None = None,
    note: str = "",
    purpose: str = "",
) -> Run:
    """A sheet as a run of readings, with the geometry and the air of its day.

    :raises ServiceError: a day in the future, or a sheet that holds no reading under throttle.
    :raises ConflictError: the same sheet was kept already.
    """
    if in_the_future(day):
        message = "The day lies in the future."
        raise ServiceError(message, code="future", fields={"day": [message]})
    try:
        channels = sheet_channels(rows, geometry=_geometry(stand, day))
    except CoreError as error:
        raise ServiceError(error.message, code=error.code, fields={"rows": [error.message]}) from (
            error
        )
    typed = _as_typed(sample, propeller, supply, stand, day, maxima, rows)
    digest = hashlib.sha256(typed).hexdigest()
    earlier = SourceFile.objects.filter(digest=digest).first()
    if earlier is not None:
        raise ConflictError(
            f"This sheet was kept already, as run {earlier.run_id}.", code="imported_already"
        )
    facts: dict[str, Any] = {"air_temp_c": None, "air_pressure_hpa": None, "air_humidity_pct": None}
    own, taken = completed(facts, day_on(day))
    run = Run(
        kind="readings",
        origin="typed",
        sample=sample,
        propeller=propeller,
        supply=supply,
        stand=stand,
        esc=own.get("esc"),
        command_source=own.get("command_source", ""),
        inherited=taken,
        nominal_voltage_v=supply.nominal_voltage_v if supply else None,
        **{name: own[name] for name in facts},
        channels=list(channels),
        header={"readings_are": "maxima" if maxima else "held"},
        note=note,
        purpose=purpose,
        operator=actor,
        started_at=_begin_of(day),
    )
    run.save()
    # Rows count 0, 1, 2: their order is all that is known of their time.
    order = np.arange(float(next(iter(channels.values())).size))
    store_segments(run, BenchLog({}, order, channels))
    keep_source(run, f"sheet-{day}.json", typed, digest)
    RunEnd.objects.create(
        run=run, outcome="completed", code="typed", reason="Typed from instruments."
    )
    reduce_run(run)
    return run


def _geometry(stand: Stand | None, day: datetime.date) -> Geometry:
    return Geometry("no stand") if stand is None else geometry_of(stand, day)


def _begin_of(day: datetime.date) -> datetime.datetime:
    """Now, for a sheet of today; the noon of an earlier day, whose hour nobody noted."""
    if day == timezone.localdate():
        return timezone.now()
    return timezone.make_aware(datetime.datetime.combine(day, datetime.time(12)))


def _as_typed(
    sample: Sample,
    propeller: Propeller,
    supply: Supply | None,
    stand: Stand | None,
    day: datetime.date,
    maxima: bool,
    rows: Rows,
) -> bytes:
    """The sheet as it was typed, scale's grams and all, for ever."""
    sheet = {
        "format": "typed-readings",
        "version": 1,
        "day": f"{day}",
        "sample": sample.pk,
        "propeller": propeller.full_name,
        "supply": supply.name if supply else None,
        "stand": stand.name if stand else None,
        "readings_are": "maxima" if maxima else "held",
        "rows": list(rows),
    }
    return json.dumps(sheet, ensure_ascii=False, indent=1, sort_keys=True).encode()
