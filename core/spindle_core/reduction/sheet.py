"""A sheet of typed readings: what each row means while it is typed, and the log it becomes.

A row holds what instruments showed: the scale's grams, not yet the thrust; volts, amps and watts
of one instant (``held``), or each at its own (``maxima`` of a meter that keeps them). A cell may
say less than a number (:mod:`spindle_core.run.typed_cells`). Rows are in their order; nobody
invents seconds for them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from spindle_core.errors import QuantityError, ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Absent, Measured, last_digit, sample_standard_deviation
from spindle_core.figures.quantities import CHANNELS
from spindle_core.model.thermal import DEFAULT_CASE_TIME_CONSTANT_S, NEAR_AIR_K, cooling_time_s
from spindle_core.reduction.readings import bursts_of
from spindle_core.reduction.sheet_checks import (
    SCALE,
    TOTAL,
    Row,
    SheetFinding,
    Typed,
    at_rest,
    look_through,
)
from spindle_core.run.scale import Geometry
from spindle_core.run.tightest import Bounds
from spindle_core.run.typed_cells import LATER, Doubt, TypedCell

COLUMNS = (
    "throttle_pct",
    SCALE,
    TOTAL,
    "voltage_v",
    "current_a",
    "power_w",
    "speed_rpm",
    "torque_nm",
    "motor_temp_before_c",
    "motor_temp_c",
    "ambient_temp_c",
    "vibration_g",
    "duration_s",
    "charge_mah",
)
"""What a row may hold, in the order of the sheet. What is no channel of a log (the total that
somebody added up, how long it was held, what the meter counted) is checked and kept as typed."""

MOST_ROWS = 200


@dataclass(frozen=True, slots=True)
class RowLook:
    """What a row means; None where it cannot be told.

    ``thrust_gf`` above its zero [gf], ``power_w`` [W], ``efficiency_g_per_w`` [gf/W], ``rise_k``
    [K]. ``burst`` of ``bursts`` where rows are averaged; ``mean_thrust_gf`` and ``spread_gf`` (s)
    on the last of them [gf]. ``ready_s``: from reading the motor's temperature until the case is
    near the air again [s], on the last row that has one. ``findings``: what is wrong with its
    cells, each naming its column.
    """

    thrust_gf: float | None
    power_w: float | None
    efficiency_g_per_w: float | None
    rise_k: float | None = None
    burst: int | None = None
    bursts: int | None = None
    mean_thrust_gf: float | None = None
    spread_gf: float | None = None
    ready_s: float | None = None
    findings: tuple[SheetFinding, ...] = field(default=())


def look_at(
    rows: Sequence[Row],
    *,
    geometry: Geometry,
    maxima: bool,
    averaged: bool = False,
    wanted: Sequence[str] = (),
    limits: Sequence[Bounds] = (),
    air_c: float | None = None,
    case_time_constant_s: float | None = None,
) -> list[RowLook]:
    """What the rows mean so far, and what is wrong with them.

    :param rows: column → value or cell, columns of :data:`COLUMNS`, absent where a cell is empty.
    :param averaged: rows at one throttle are bursts of one point.
    :param wanted: columns that are read in each row; what is owed of them is said.
    :param limits: of motor and gear; what is above the tightest is said.
    :param air_c: of the day [°C], where no row has it.
    :param case_time_constant_s: of this motor's case [s]; None: the usual one is assumed.
    :raises QuantityError: a column that is none, or a value that is no number.
    """
    typed = check_cells(rows)
    shown = [_thrust(row.values, geometry) for row in typed]
    zeros = [t for row, t in zip(typed, shown, strict=True) if row.still and t is not None]
    zero = float(np.median(zeros)) if zeros else None
    thrusts = [None if t is None else t - (zero or 0.0) for t in shown]
    findings = look_through(
        typed, thrusts, zero_gf=zero, geometry=geometry, maxima=maxima, wanted=wanted, limits=limits
    )
    looks = [
        _row_look(row, thrust, maxima, tuple(found))
        for row, thrust, found in zip(typed, thrusts, findings, strict=True)
    ]
    looks = _with_ready(typed, looks, air_c, case_time_constant_s or DEFAULT_CASE_TIME_CONSTANT_S)
    return _with_bursts(typed, looks) if averaged else looks


def check_cells(rows: Sequence[Row]) -> list[Typed]:
    """The rows taken apart, where every cell is a number, or says what it may be, of a column
    there is.

    :raises QuantityError: with the row and the column.
    """
    if len(rows) > MOST_ROWS:
        raise QuantityError(f"A sheet has at most {MOST_ROWS} rows.", code="sheet")
    for index, row in enumerate(rows):
        for name, value in row.items():
            if name not in COLUMNS:
                raise QuantityError(f"Row {index + 1}: {name!r} is no column.", code="sheet")
            if not isinstance(value, TypedCell) and not math.isfinite(value):
                raise QuantityError(f"Row {index + 1}: {name} is no number.", code="sheet")
    return [_taken_apart(row) for row in rows]


@dataclass(frozen=True, slots=True)
class SheetLog:
    """The log of a sheet: ``channels``, shape (n,) each, and what its cells say besides.

    ``thrust_step_gf``: the last digit of the scale as a thrust [gf], None where it was not read:
    through a lever it is not to be seen in the thrusts themselves.
    """

    channels: dict[str, Floats]
    doubts: tuple[Doubt, ...]
    thrust_step_gf: float | None


def sheet_log(rows: Sequence[Row], *, geometry: Geometry) -> SheetLog:
    """A sheet's log: thrust instead of the scale's grams, a row for every filled one, NaN for an
    empty cell.

    :raises ReductionError: no row under throttle.
    """
    filled = [row for row in check_cells(rows) if row.values or row.doubts]
    if all(row.still for row in filled):
        raise ReductionError("No reading was taken under throttle.", code="no_readings")
    columns = {
        name: [row.values.get(name, math.nan) for row in filled]
        for name in COLUMNS
        if any(name in row.values for row in filled)
    }
    step = None
    if SCALE in columns:
        plain = [r.values[SCALE] for r in filled if SCALE in r.values and SCALE not in r.doubts]
        step = last_digit(plain) * _ratio(geometry)
        columns["thrust_gf"] = [
            math.nan if math.isnan(grams) else geometry.thrust_gf(Measured(grams)).value
            for grams in columns.pop(SCALE)
        ]
    doubts = tuple(
        _doubt(name, number, cell, geometry)
        for number, row in enumerate(filled, start=1)
        for name, cell in row.doubts.items()
        if cell is not LATER and (name == SCALE or name in CHANNELS)
    )
    channels = {name: np.array(columns[name]) for name in CHANNELS if name in columns}
    return SheetLog(channels, doubts, step)


def _ratio(geometry: Geometry) -> float:
    return 1.0 if geometry.lever is None else geometry.lever.ratio


def _doubt(name: str, row: int, cell: TypedCell, geometry: Geometry) -> Doubt:
    if name != SCALE:
        return Doubt(name, row, cell.half_width, cell.assumed, cell.bound, cell.limit)
    ratio = _ratio(geometry)
    limit, bound = cell.limit, cell.bound
    if bound:
        limit = geometry.thrust_gf(Measured(cell.limit)).value
        # Thrust that lifts makes the scale show less: what is below becomes above.
        bound = {"<": ">", ">": "<"}[bound] if geometry.lifts else bound
    return Doubt("thrust_gf", row, ratio * cell.half_width, cell.assumed, bound, limit)


def _taken_apart(row: Row) -> Typed:
    values = {}
    doubts = {}
    for name, cell in row.items():
        if isinstance(cell, TypedCell):
            doubts[name] = cell
            if cell.value is not None:
                values[name] = cell.value
        else:
            values[name] = float(cell)
    return Typed(values, doubts, at_rest(values))


def _thrust(row: Mapping[str, float], geometry: Geometry) -> float | None:
    grams = row.get(SCALE)
    return None if grams is None else geometry.thrust_gf(Measured(grams)).value


def _row_look(
    row: Typed, thrust: float | None, maxima: bool, findings: tuple[SheetFinding, ...]
) -> RowLook:
    values = row.values
    watts = values.get("power_w")
    volts, amps = values.get("voltage_v"), values.get("current_a")
    if not maxima and volts is not None and amps is not None:
        watts = volts * amps
    quotient = None
    if thrust is not None and watts is not None and watts > 0 and not row.still:
        quotient = thrust / watts
    before, after = values.get("motor_temp_before_c"), values.get("motor_temp_c")
    rise = None if before is None or after is None else after - before
    return RowLook(thrust, watts, quotient, rise, findings=findings)


def _with_ready(
    rows: Sequence[Typed], looks: Sequence[RowLook], air_c: float | None, time_constant_s: float
) -> list[RowLook]:
    """When the motor is cool again, by Newton's law from its last temperature."""
    found = list(looks)
    last = max((at for at, row in enumerate(rows) if "motor_temp_c" in row.values), default=None)
    airs = [row.values["ambient_temp_c"] for row in rows if "ambient_temp_c" in row.values]
    air = airs[-1] if airs else air_c
    if last is None or air is None:
        return found
    left = cooling_time_s(
        rows[last].values["motor_temp_c"],
        air + NEAR_AIR_K,
        ambient_c=air,
        time_constant_s=time_constant_s,
    )
    found[last] = replace(found[last], ready_s=None if isinstance(left, Absent) else left)
    return found


def _with_bursts(rows: Sequence[Typed], looks: Sequence[RowLook]) -> list[RowLook]:
    # As in the log that it becomes: empty rows are not there.
    filled = [at for at, row in enumerate(rows) if row.values or row.doubts]
    throttles = np.array([rows[at].values.get("throttle_pct", math.nan) for at in filled])
    noted = None if np.isnan(throttles).all() else throttles
    found = list(looks)
    turning = [number for number, at in enumerate(filled) if not rows[at].still]
    for numbers in bursts_of(noted, turning):
        group = [filled[number] for number in numbers]
        for place, at in enumerate(group, start=1):
            found[at] = replace(found[at], burst=place, bursts=len(group))
        thrusts = [t for at in group if (t := looks[at].thrust_gf) is not None]
        if len(thrusts) > 1:
            found[group[-1]] = replace(
                found[group[-1]],
                mean_thrust_gf=math.fsum(thrusts) / len(thrusts),
                spread_gf=sample_standard_deviation(thrusts),
            )
    return found
