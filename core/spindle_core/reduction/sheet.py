"""A sheet of typed readings: what each row means while it is typed, and the log it becomes.

A row holds what instruments showed: the scale's grams, not yet the thrust; volts, amps and watts
of one instant (``held``), or each at its own (``maxima`` of a meter that keeps them). Rows are in
their order; nobody invents seconds for them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from spindle_core.errors import QuantityError, ReductionError
from spindle_core.figures.arrays import Floats
from spindle_core.figures.measured import Measured, last_digit
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction.plateau import REST_BELOW_PCT
from spindle_core.reduction.typed_checks import TypedFinding, check_peaks, check_redundant
from spindle_core.run.scale import Geometry

SCALE = "scale_g"
"""What the scale shows [g]; the thrust follows from it by the stand's geometry."""

COLUMNS = ("throttle_pct", SCALE, "voltage_v", "current_a", "power_w", "speed_rpm", "motor_temp_c")
"""What a row may hold, in the order of the sheet."""

RISES_BY = 0.02
"""Volts may rise by this share with the load before somebody is asked [relative]."""

OFF_CURVE = 0.20
"""A thrust this far from the line through its neighbours is asked about [relative]."""

REST_SHARE = 0.05
"""A thrust at rest beyond this share of the largest one is asked about."""

MOST_ROWS = 200

Row = Mapping[str, float]


@dataclass(frozen=True, slots=True)
class RowLook:
    """What a row means: thrust above its zero [gf], power [W], gf/W; None where it cannot be told.

    ``findings``: what is wrong with its cells, each naming its column.
    """

    thrust_gf: float | None
    power_w: float | None
    efficiency_g_per_w: float | None
    findings: tuple[TypedFinding, ...] = field(default=())


def look_at(rows: Sequence[Row], *, geometry: Geometry, maxima: bool) -> list[RowLook]:
    """What the rows mean so far, and what is wrong with them.

    :param rows: column → value, columns of :data:`COLUMNS`, absent where a cell is empty.
    :raises QuantityError: a column that is none, or a value that is no number.
    """
    check_cells(rows)
    shown = [_thrust(row, geometry) for row in rows]
    rest = [at_rest(row) for row in rows]
    zeros = [t for t, still in zip(shown, rest, strict=True) if still and t is not None]
    zero = float(np.median(zeros)) if zeros else 0.0
    thrusts = [None if t is None else t - zero for t in shown]
    findings: list[list[TypedFinding]] = [[] for _ in rows]
    for index, row in enumerate(rows):
        if maxima:
            findings[index] += _maxima(rows, index)
        else:
            findings[index] += _held(row)
    across = _across(rows, thrusts, rest, zero if zeros else None, geometry)
    for index, found in across:
        findings[index].append(found)
    return [
        _row_look(row, thrust, still, maxima, tuple(found))
        for row, thrust, still, found in zip(rows, thrusts, rest, findings, strict=True)
    ]


def check_cells(rows: Sequence[Row]) -> None:
    """Whether every cell is a number of a column there is.

    :raises QuantityError: with the row and the column.
    """
    if len(rows) > MOST_ROWS:
        raise QuantityError(f"A sheet has at most {MOST_ROWS} rows.", code="sheet")
    for index, row in enumerate(rows):
        for name, value in row.items():
            if name not in COLUMNS:
                raise QuantityError(f"Row {index + 1}: {name!r} is no column.", code="sheet")
            if not math.isfinite(value):
                raise QuantityError(f"Row {index + 1}: {name} is no number.", code="sheet")


def at_rest(row: Row) -> bool:
    """Whether the motor stood still: throttle of 0, or no throttle noted and no amps."""
    throttle = row.get("throttle_pct")
    if throttle is not None:
        return throttle < REST_BELOW_PCT
    amps = row.get("current_a")
    return amps is not None and amps <= 0.0


def sheet_channels(rows: Sequence[Row], *, geometry: Geometry) -> dict[str, Floats]:
    """The channels of a sheet's log: thrust instead of the scale's grams; shape (n,) each, a row
    for every filled one, NaN for an empty cell.

    :raises ReductionError: no row under throttle.
    """
    check_cells(rows)
    filled = [row for row in rows if row]
    if all(at_rest(row) for row in filled):
        raise ReductionError("No reading was taken under throttle.", code="no_readings")
    columns = {
        name: [row.get(name, math.nan) for row in filled]
        for name in COLUMNS
        if any(name in row for row in filled)
    }
    if SCALE in columns:
        columns["thrust_gf"] = [
            math.nan if math.isnan(grams) else geometry.thrust_gf(Measured(grams)).value
            for grams in columns.pop(SCALE)
        ]
    return {name: np.array(columns[name]) for name in CHANNELS if name in columns}


def _thrust(row: Row, geometry: Geometry) -> float | None:
    grams = row.get(SCALE)
    return None if grams is None else geometry.thrust_gf(Measured(grams)).value


def _row_look(
    row: Row, thrust: float | None, still: bool, maxima: bool, findings: tuple[TypedFinding, ...]
) -> RowLook:
    watts = row.get("power_w")
    volts, amps = row.get("voltage_v"), row.get("current_a")
    if not maxima and volts is not None and amps is not None:
        watts = volts * amps
    quotient = None
    if thrust is not None and watts is not None and watts > 0 and not still:
        quotient = thrust / watts
    return RowLook(thrust, watts, quotient, findings)


def _held(row: Row) -> list[TypedFinding]:
    names = ("voltage_v", "current_a", "power_w")
    return check_redundant({name: row[name] for name in names if name in row})


def _maxima(rows: Sequence[Row], index: int) -> list[TypedFinding]:
    row = rows[index]
    found = []
    if index and not at_rest(row):
        above = rows[index - 1]
        same = [n for n in ("current_a", "power_w") if n in row and row[n] == above.get(n)]
        if same and row.get("throttle_pct") != above.get("throttle_pct"):
            label = CHANNELS[same[0]].label.lower()
            message = f"The same {label} as the row above: was the meter reset?"
            found.append(TypedFinding(same[0], "not_reset", message))
    volts, amps, watts = (row.get(n) for n in ("voltage_v", "current_a", "power_w"))
    if volts is None or amps is None or watts is None or min(volts, amps, watts) <= 0:
        return found
    resting = [r["voltage_v"] for r in rows if at_rest(r) and "voltage_v" in r]
    # Volts above those at rest are asked about beside the other rows.
    open_v = max(volts, *resting) if resting else math.inf
    half = {n: 0.5 * last_digit([r[n] for r in rows if n in r]) for n in row if n != SCALE}
    highest = max(volts, *resting) if resting else volts
    slack = half["voltage_v"] * amps + half["current_a"] * highest + half["power_w"]
    peaks = check_peaks(
        lowest_voltage_v=volts,
        open_voltage_v=open_v,
        peak_current_a=amps,
        peak_power_w=watts,
        slack_w=slack,
    )
    return found + [TypedFinding("power_w", p.code, p.message, p.impossible) for p in peaks]


def _across(
    rows: Sequence[Row],
    thrusts: Sequence[float | None],
    rest: Sequence[bool],
    zero_gf: float | None,
    geometry: Geometry,
) -> Iterator[tuple[int, TypedFinding]]:
    """What only shows beside the other rows."""
    largest = max((t for t in thrusts if t is not None), default=0.0)
    if zero_gf is not None and largest > 0 and abs(zero_gf) > REST_SHARE * largest:
        index = next(i for i, still in enumerate(rest) if still)
        message = (
            f"At rest this means {zero_gf:.4g} gf: is a dead weight missing, or the tare? It is "
            "taken off every row."
        )
        yield index, TypedFinding(SCALE, "zero_far", message)
    yield from _volts_that_rise(rows)

    def meant(grams: float) -> float:
        return geometry.thrust_gf(Measured(grams)).value - (zero_gf or 0.0)

    yield from _off_the_curve(rows, thrusts, rest, meant)


def _volts_that_rise(rows: Sequence[Row]) -> Iterator[tuple[int, TypedFinding]]:
    both = [
        (row["throttle_pct"], row["voltage_v"], index)
        for index, row in enumerate(rows)
        if "throttle_pct" in row and "voltage_v" in row
    ]
    both.sort()
    for (low, before, _), (high, after, index) in pairwise(both):
        if high > low and after > (1.0 + RISES_BY) * before > 0:
            message = (
                f"{after:g} V at {high:g} % after {before:g} V at {low:g} %: volts fall under load."
            )
            yield index, TypedFinding("voltage_v", "volts_rise", message)


def _off_the_curve(
    rows: Sequence[Row],
    thrusts: Sequence[float | None],
    rest: Sequence[bool],
    meant: Callable[[float], float],
) -> Iterator[tuple[int, TypedFinding]]:
    """A thrust far from the line through its neighbours; where digits swapped would fit, so it
    says. One wrong row bends the lines of those beside it: of neighbours the farthest is named."""
    points = [
        (row["throttle_pct"], thrust, index)
        for index, (row, thrust, still) in enumerate(zip(rows, thrusts, rest, strict=True))
        if not still and thrust is not None and thrust > 0 and "throttle_pct" in row
    ]
    points.sort()
    off: dict[int, tuple[float, float]] = {}
    for at in range(1, len(points) - 1):
        left, here, right = points[at - 1 : at + 2]
        if not left[0] < here[0] < right[0]:
            continue
        share = math.log(here[0] / left[0]) / math.log(right[0] / left[0])
        wanted = math.exp((1 - share) * math.log(left[1]) + share * math.log(right[1]))
        off[at] = abs(math.log(here[1] / wanted)), wanted
    for at, (far, wanted) in off.items():
        beside = max(off.get(at - 1, (0.0, 0.0))[0], off.get(at + 1, (0.0, 0.0))[0])
        if far <= math.log1p(OFF_CURVE) or far < beside:
            continue
        _, thrust, index = points[at]
        message = f"{thrust:.4g} gf here; the rows beside it make about {wanted:.3g} gf."
        swapped = _swap_that_fits(rows[index][SCALE], wanted, meant)
        if swapped is not None:
            message += f" Were it {swapped:g} g on the scale, it would fit: digits swapped?"
        yield index, TypedFinding(SCALE, "off_curve", message)


def _swap_that_fits(
    grams: float, wanted_gf: float, meant: Callable[[float], float]
) -> float | None:
    """The reading with two neighbouring digits swapped whose thrust comes nearest to what is
    wanted; None where none comes as near as a row may lie."""
    text = f"{abs(grams):g}"
    found = [
        math.copysign(float(text[:i] + b + a + text[i + 2 :]), grams)
        for i, (a, b) in enumerate(pairwise(text))
        if a.isdigit() and b.isdigit() and a != b
    ]
    near = [g for g in found if meant(g) > 0 and abs(meant(g) / wanted_gf - 1.0) <= OFF_CURVE]
    return min(near, key=lambda g: abs(meant(g) - wanted_gf), default=None)
