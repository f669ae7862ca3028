"""Typed readings: a sheet looked at while it is typed, and kept as runs.

A sheet is a bench evening: blocks of rows, each block one motor under one propeller from one
supply. Each block becomes a run, in order.
"""

from __future__ import annotations

import datetime
import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from django.utils import timezone

from spindle_core.errors import CoreError
from spindle_core.formats.bench_log import BenchLog
from spindle_core.model.pack import rest_voltage_v
from spindle_core.reduction.sheet import RowLook, look_at, sheet_log
from spindle_core.reduction.sheet_checks import OVERRUN, SCALE
from spindle_core.run.noticed import check_noticed
from spindle_core.run.scale import Geometry
from spindle_core.run.typed_cells import TypedCell, doubts_text, footage
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import Sample
from spindle_server.records.writes import writes
from spindle_server.rig.bench_day import completed, day_on
from spindle_server.rig.gear_limits import gear_limits
from spindle_server.rig.models import Propeller, Stand, Supply
from spindle_server.rig.stands import geometry_of
from spindle_server.runs.models import LaterCell, Run, RunEnd, SourceFile, SummaryFigure
from spindle_server.runs.reducing import reduce_run
from spindle_server.runs.services import keep_source, store_segments


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A row: what its cells say, as it was typed (``raw``), and where it can be seen."""

    cells: Mapping[str, float | TypedCell]
    raw: Mapping[str, Any]
    later: Mapping[str, str] = field(default_factory=dict)
    clip: str = ""

    @property
    def empty(self) -> bool:
        """Whether nothing was typed into it."""
        return not self.cells


@dataclass(frozen=True, slots=True)
class Block:
    """Rows of one motor, one propeller and one supply.

    ``maxima``: each figure at its own instant; ``averaged``: rows at one throttle are bursts of one
    point; ``wanted``: columns that are read in each row.
    """

    rows: Sequence[SheetRow]
    maxima: bool = False
    averaged: bool = False
    wanted: Sequence[str] = ()
    sample: Sample | None = None
    propeller: Propeller | None = None
    supply: Supply | None = None
    note: str = ""
    purpose: str = ""
    overrun_reason: str = ""
    pack_state: str = ""
    pack_rest_v: float | None = None
    noticed: Mapping[str, Any] = field(default_factory=dict)


def look(
    *, blocks: Sequence[Block], stand: Stand | None, day: datetime.date
) -> list[list[RowLook]]:
    """What the rows mean so far, block by block; nothing is stored."""
    geometry = _geometry(stand, day)
    return [_looked_at(block, number, stand, day, geometry) for number, block in enumerate(blocks)]


@writes(Role.REVIEWER)
def keep_sheet(
    *, actor: User | None, blocks: Sequence[Block], day: datetime.date, stand: Stand | None = None
) -> list[Run]:
    """A sheet as runs of readings in its order, with the geometry and the air of its day: all of
    them, or none.

    :raises ServiceError: a day in the future; a block that holds no reading under throttle, names
        no motor or propeller, or goes beyond a rating without a reason.
    :raises ConflictError: a block was kept already.
    """
    if in_the_future(day):
        message = "The day lies in the future."
        raise ServiceError(message, code="future", fields={"day": [message]})
    return [_keep(actor, block, number, day, stand) for number, block in enumerate(blocks)]


def _keep(
    actor: User | None, block: Block, number: int, day: datetime.date, stand: Stand | None
) -> Run:
    sample, propeller = block.sample, block.propeller
    if sample is None or propeller is None:
        what = "sample" if sample is None else "propeller"
        raise _refused(number, what, f"Say which {what} this was.", "not_named")
    geometry = _geometry(stand, day)
    filled = [row for row in block.rows if not row.empty]
    try:
        log = sheet_log([row.cells for row in filled], geometry=geometry)
        noticed = check_noticed(block.noticed)
    except CoreError as error:
        raise _refused(number, "rows", error.message, error.code) from error
    if not block.overrun_reason.strip() and _goes_beyond(block, number, stand, day, geometry):
        message = "A row goes beyond a rating: say why it was run so."
        raise _refused(number, "overrun_reason", message, OVERRUN)
    raw = _as_typed(block, stand, day)
    digest = hashlib.sha256(raw).hexdigest()
    earlier = SourceFile.objects.filter(digest=digest).first()
    if earlier is not None:
        raise ConflictError(
            f"This sheet was kept already, as run {earlier.run_id}.", code="imported_already"
        )
    facts: dict[str, Any] = {"air_temp_c": None, "air_pressure_hpa": None, "air_humidity_pct": None}
    own, taken = completed(facts, day_on(day))
    header = {"readings_are": "maxima" if block.maxima else "held"}
    if block.averaged:
        header["readings_averaged"] = "yes"
    header |= _pack_of(block, number)
    if log.doubts:
        header["cells"] = doubts_text(log.doubts)
    if log.thrust_step_gf is not None and not _declares_a_step(stand):
        header["thrust_gf_resolution"] = repr(log.thrust_step_gf)
    clips = {f"row {at}": row.clip for at, row in enumerate(filled, start=1) if row.clip}
    if clips:
        header["clips"] = "; ".join(f"{row}: {clip}" for row, clip in clips.items())
    run = Run(
        kind="readings",
        origin="typed",
        sample=sample,
        propeller=propeller,
        supply=block.supply,
        stand=stand,
        esc=own.get("esc"),
        command_source=own.get("command_source", ""),
        inherited=taken,
        nominal_voltage_v=block.supply.nominal_voltage_v if block.supply else None,
        **{name: own[name] for name in facts},
        channels=list(log.channels),
        header=header,
        note=block.note,
        purpose=block.purpose,
        noticed=noticed,
        overrun_reason=block.overrun_reason.strip(),
        operator=actor,
        started_at=_begin_of(day) + datetime.timedelta(milliseconds=number),
    )
    run.save()
    # Rows count 0, 1, 2: their order is all that is known of their time.
    order = np.arange(float(len(filled)))
    store_segments(run, BenchLog({}, order, log.channels))
    keep_source(run, f"sheet-{day}.json", raw, digest)
    RunEnd.objects.create(
        run=run, outcome="completed", code="typed", reason="Typed from instruments."
    )
    _note_later(run, filled)
    reduce_run(run)
    return run


def _pack_of(block: Block, number: int) -> dict[str, str]:
    """How the pack stood when it began; nothing of a bench supply."""
    supply = block.supply
    if supply is None or supply.kind != "pack":
        return {}
    found = {"pack_state": block.pack_state} if block.pack_state else {}
    if block.pack_rest_v is not None:
        volts = block.pack_rest_v
        if supply.cells:
            try:
                volts = rest_voltage_v(
                    volts, cells=supply.cells, chemistry=supply.chemistry or "lipo"
                )
            except CoreError as error:
                raise _refused(number, "pack_rest_v", error.message, error.code) from error
        found["pack_rest_v"] = f"{volts:.6g}"
    return found


def _note_later(run: Run, rows: Sequence[SheetRow]) -> None:
    """What will be read from footage, as something to do."""
    for at, row in enumerate(rows, start=1):
        for column, text in row.later.items():
            seen = footage(text)
            channel = "thrust_gf" if column == SCALE else column
            LaterCell.objects.create(
                run=run,
                row=at,
                channel=channel,
                clip=seen.clip[:120] or footage(row.clip).clip[:120],
                time_code=seen.time_code or footage(row.clip).time_code,
            )


def _looked_at(
    block: Block, number: int, stand: Stand | None, day: datetime.date, geometry: Geometry
) -> list[RowLook]:
    noted = day_on(day)
    esc = None if noted is None else noted.esc
    limits = gear_limits(sample=block.sample, supply=block.supply, stand=stand, esc=esc)
    try:
        return look_at(
            [row.cells for row in block.rows],
            geometry=geometry,
            maxima=block.maxima,
            averaged=block.averaged,
            wanted=block.wanted,
            limits=limits,
            air_c=None if noted is None else noted.air_temp_c,
            case_time_constant_s=_time_constant_s(block.sample),
        )
    except CoreError as error:
        raise _refused(number, "rows", error.message, error.code) from error


def _goes_beyond(
    block: Block, number: int, stand: Stand | None, day: datetime.date, geometry: Geometry
) -> bool:
    looks = _looked_at(block, number, stand, day, geometry)
    return any(found.code == OVERRUN for one in looks for found in one.findings)


def _declares_a_step(stand: Stand | None) -> bool:
    """Whether the stand says how fine its scale shows."""
    if stand is None:
        return False
    return stand.instruments.filter(channel="thrust_gf", step__isnull=False).exists()


def _time_constant_s(sample: Sample | None) -> float | None:
    """Of the sample's case as its last accepted soak measured it [s]."""
    if sample is None:
        return None
    measured = SummaryFigure.objects.filter(
        run__sample=sample, run__review="accepted", name="case_time_constant_s", value__gt=0
    )
    return measured.order_by("-run__started_at").values_list("value", flat=True).first()


def _refused(number: int, field_name: str, message: str, code: str) -> ServiceError:
    where = f"blocks.{number}.{field_name}"
    return ServiceError(message, code=code, fields={where: [message]})


def _geometry(stand: Stand | None, day: datetime.date) -> Geometry:
    return Geometry("no stand") if stand is None else geometry_of(stand, day)


def _begin_of(day: datetime.date) -> datetime.datetime:
    """Now, for a sheet of today; the noon of an earlier day, whose hour nobody noted."""
    if day == timezone.localdate():
        return timezone.now()
    return timezone.make_aware(datetime.datetime.combine(day, datetime.time(12)))


def _as_typed(block: Block, stand: Stand | None, day: datetime.date) -> bytes:
    """The block as it was typed, scale's grams and all, for ever."""
    sheet = {
        "format": "typed-readings",
        "version": 1,
        "day": f"{day}",
        "sample": block.sample.pk if block.sample else None,
        "propeller": block.propeller.full_name if block.propeller else None,
        "supply": block.supply.name if block.supply else None,
        "stand": stand.name if stand else None,
        "readings_are": "maxima" if block.maxima else "held",
        "readings_averaged": block.averaged,
        "rows": [dict(row.raw) for row in block.rows if not row.empty],
    }
    return json.dumps(sheet, ensure_ascii=False, indent=1, sort_keys=True).encode()
