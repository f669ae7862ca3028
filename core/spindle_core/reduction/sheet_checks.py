"""What is wrong with the cells of a sheet: figures that contradict each other, rows that do not
fit those beside them, slips of the pen, and what a row still owes.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from spindle_core.figures.constants import GRAMS_PER_OUNCE
from spindle_core.figures.measured import Measured, last_digit
from spindle_core.figures.quantities import CHANNELS
from spindle_core.reduction.plateau import REST_BELOW_PCT
from spindle_core.reduction.typed_checks import check_peaks, check_redundant
from spindle_core.run.scale import Geometry, total_disagrees
from spindle_core.run.tightest import Bounds
from spindle_core.run.typed_cells import TypedCell

SCALE = "scale_g"
"""What the scale shows [g]; the thrust follows from it by the stand's geometry."""

TOTAL = "total_gf"
"""The thrust that somebody added up himself [gf]: checked, never used."""

BEFORE, AFTER = "motor_temp_before_c", "motor_temp_c"
"""The motor's temperature before a load and after it [°C]."""

RISES_BY = 0.02
"""Volts may rise by this share with the load before somebody is asked [relative]."""

OFF_CURVE = 0.20
"""A thrust this far from the line through its neighbours is asked about [relative]."""

REST_SHARE = 0.05
"""A thrust at rest beyond this share of the largest one is asked about."""

CHARGE_OFF = 0.10
"""A meter's mAh may be this far from amps times time: the throttle was opened and closed."""

Row = Mapping[str, float | TypedCell]


@dataclass(frozen=True, slots=True)
class Typed:
    """A row taken apart: numbers (middles of intervals too), what its cells say besides, and
    whether the motor stood still."""

    values: Mapping[str, float]
    doubts: Mapping[str, TypedCell] = field(default_factory=dict)
    still: bool = False

    def half_width(self, name: str) -> float:
        """Half of what a cell leaves open [unit of the column]."""
        cell = self.doubts.get(name)
        return 0.0 if cell is None else cell.half_width


@dataclass(frozen=True, slots=True)
class SheetFinding:
    """What is wrong with a cell. ``impossible``: it cannot be true beside the others; ``owed``: it
    was not read yet."""

    field: str
    code: str
    message: str
    impossible: bool = False
    owed: bool = False


def at_rest(values: Mapping[str, float]) -> bool:
    """Whether the motor stood still: throttle of 0, or no throttle noted and no amps."""
    throttle = values.get("throttle_pct")
    if throttle is not None:
        return throttle < REST_BELOW_PCT
    amps = values.get("current_a")
    return amps is not None and amps <= 0.0


def look_through(
    rows: Sequence[Typed],
    thrusts: Sequence[float | None],
    *,
    zero_gf: float | None,
    geometry: Geometry,
    maxima: bool,
    wanted: Sequence[str] = (),
    limits: Sequence[Bounds] = (),
) -> list[list[SheetFinding]]:
    """Findings of each row.

    :param thrusts: above their zero [gf], one a row. :param zero_gf: the thrust at rest that was
        taken off; None where no row was at rest. :param limits: of motor and gear.
    """
    findings: list[list[SheetFinding]] = [[] for _ in rows]
    for index, row in enumerate(rows):
        found = findings[index]
        found += _maxima(rows, index) if maxima else _held(row)
        found += _total(row, geometry)
        found += _before_at_rest(row)
        found += _charge(row, maxima)
        found += _overruns(row, limits)
    for index, one in _across(rows, thrusts, zero_gf, geometry):
        findings[index].append(one)
    for index, one in _owed(rows, wanted):
        findings[index].append(one)
    return findings


def _held(row: Typed) -> Iterator[SheetFinding]:
    names = [n for n in ("voltage_v", "current_a", "power_w") if n in row.values]
    typed = {name: row.values[name] for name in names}
    open_to = sum(row.half_width(n) / abs(typed[n]) for n in names if typed[n])
    for one in check_redundant(typed, tolerance=0.02 + open_to):
        yield SheetFinding(one.field, one.code, one.message, one.impossible)


def _before_at_rest(row: Typed) -> Iterator[SheetFinding]:
    """A temperature before belongs to the load that it comes before."""
    if row.still and BEFORE in row.values and AFTER not in row.values:
        message = "How warm it was before stands in the row of the load that follows: move it down."
        yield SheetFinding(BEFORE, "before_at_rest", message)


def _total(row: Typed, geometry: Geometry) -> Iterator[SheetFinding]:
    """A total that was added up by hand beside what the scale means."""
    scale, total = row.values.get(SCALE), row.values.get(TOTAL)
    if scale is None or total is None:
        return
    step = max(1.0, 2.0 * (row.half_width(SCALE) + row.half_width(TOTAL)))
    if why := total_disagrees(geometry, scale, total, step):
        yield SheetFinding(TOTAL, "total_disagrees", why, impossible=True)


def _charge(row: Typed, maxima: bool) -> Iterator[SheetFinding]:
    """The meter's mAh beside amps and seconds: 1 A for 3.6 s is 1 mAh."""
    charge, amps, seconds = (row.values.get(n) for n in ("charge_mah", "current_a", "duration_s"))
    if charge is None or amps is None or seconds is None or min(amps, seconds) <= 0:
        return
    wanted = amps * seconds / 3.6
    slack = 0.5 * last_digit([charge]) + CHARGE_OFF * wanted
    slack += wanted * (row.half_width("current_a") / amps + row.half_width("duration_s") / seconds)
    slack += row.half_width("charge_mah") + wanted * 0.5 * last_digit([seconds]) / seconds
    if charge > wanted + slack:
        message = f"{charge:g} mAh was read; {amps:g} A for {seconds:g} s make {wanted:.3g} mAh"
        message += " at the most." if maxima else "."
        yield SheetFinding("charge_mah", "charge_mismatch", message, impossible=maxima)
    elif not maxima and charge < wanted - slack:
        message = f"{charge:g} mAh was read; {amps:g} A for {seconds:g} s make {wanted:.3g} mAh."
        yield SheetFinding("charge_mah", "charge_mismatch", message)


OVERRUN = "overrun"


def _overruns(row: Typed, limits: Sequence[Bounds]) -> Iterator[SheetFinding]:
    """What is above the tightest rating by more than its cell leaves open, and for how long."""
    for bounds in limits:
        value, binding = row.values.get(bounds.channel), bounds.binding
        if value is None or binding is None or binding.value is None or bounds.side != "most":
            continue
        if value - row.half_width(bounds.channel) > binding.value:
            unit = CHANNELS[bounds.channel].unit
            seconds = row.values.get("duration_s")
            lasted = "" if seconds is None else f", for {seconds:g} s"
            message = f"{value:g} {unit}{lasted}: above {binding.value:g} {unit}, {binding.source}."
            yield SheetFinding(bounds.channel, OVERRUN, message)


def _maxima(rows: Sequence[Typed], index: int) -> Iterator[SheetFinding]:
    row = rows[index]
    if index and not row.still:
        above = rows[index - 1].values
        mine = row.values
        same = [n for n in ("current_a", "power_w") if n in mine and mine[n] == above.get(n)]
        if same and mine.get("throttle_pct") != above.get("throttle_pct"):
            label = CHANNELS[same[0]].label.lower()
            message = f"The same {label} as the row above: was the meter reset?"
            yield SheetFinding(same[0], "not_reset", message)
    names = ("voltage_v", "current_a", "power_w")
    volts, amps, watts = (row.values.get(n) for n in names)
    if volts is None or amps is None or watts is None or min(volts, amps, watts) <= 0:
        return
    resting = [r.values["voltage_v"] for r in rows if r.still and "voltage_v" in r.values]
    # Volts above those at rest are asked about beside the other rows.
    open_v = max(volts, *resting) if resting else math.inf
    half = {name: max(0.5 * _step(rows, name), row.half_width(name)) for name in names}
    highest = max(volts, *resting) if resting else volts
    slack = half["voltage_v"] * amps + half["current_a"] * highest + half["power_w"]
    for one in check_peaks(
        lowest_voltage_v=volts,
        open_voltage_v=open_v,
        peak_current_a=amps,
        peak_power_w=watts,
        slack_w=slack,
    ):
        yield SheetFinding("power_w", one.code, one.message, one.impossible)


def _step(rows: Sequence[Typed], name: str) -> float:
    """The last digit of the plain numbers of a column."""
    return last_digit([r.values[name] for r in rows if name in r.values and name not in r.doubts])


def _across(
    rows: Sequence[Typed],
    thrusts: Sequence[float | None],
    zero_gf: float | None,
    geometry: Geometry,
) -> Iterator[tuple[int, SheetFinding]]:
    """What only shows beside the other rows."""
    largest = max((t for t in thrusts if t is not None), default=0.0)
    if zero_gf is not None and largest > 0 and abs(zero_gf) > REST_SHARE * largest:
        index = next(i for i, row in enumerate(rows) if row.still)
        message = (
            f"At rest this means {zero_gf:.4g} gf: is a dead weight missing, or the tare? It is "
            "taken off every row."
        )
        yield index, SheetFinding(SCALE, "zero_far", message)
    yield from _volts_that_rise(rows)

    def meant(grams: float) -> float:
        return geometry.thrust_gf(Measured(grams)).value - (zero_gf or 0.0)

    yield from _off_the_curve(rows, thrusts, meant)


def _volts_that_rise(rows: Sequence[Typed]) -> Iterator[tuple[int, SheetFinding]]:
    both = [
        (row.values["throttle_pct"], row.values["voltage_v"], index)
        for index, row in enumerate(rows)
        if "throttle_pct" in row.values and "voltage_v" in row.values
    ]
    both.sort()
    for (low, before, _), (high, after, index) in pairwise(both):
        slack = rows[index].half_width("voltage_v")
        if high > low and after - slack > (1.0 + RISES_BY) * before > 0:
            message = (
                f"{after:g} V at {high:g} % after {before:g} V at {low:g} %: volts fall under load."
            )
            yield index, SheetFinding("voltage_v", "volts_rise", message)


def _off_the_curve(
    rows: Sequence[Typed], thrusts: Sequence[float | None], meant: Callable[[float], float]
) -> Iterator[tuple[int, SheetFinding]]:
    """A thrust far from the line through its neighbours; where digits swapped, or another unit,
    would fit, so it says. One wrong row bends the lines of those beside it: of neighbours the
    farthest is named."""
    points = [
        (row.values["throttle_pct"], thrust, index)
        for index, (row, thrust) in enumerate(zip(rows, thrusts, strict=True))
        if not row.still and thrust is not None and thrust > 0 and "throttle_pct" in row.values
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
        grams = rows[index].values[SCALE]
        message = f"{thrust:.4g} gf here; the rows beside it make about {wanted:.3g} gf."
        if (swapped := _swap_that_fits(grams, wanted, meant)) is not None:
            message += f" Were it {swapped:g} g on the scale, it would fit: digits swapped?"
        elif unit := _unit_that_fits(grams, wanted, meant):
            message += f" {unit}"
        yield index, SheetFinding(SCALE, "off_curve", message)


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
    near = [g for g in found if _near(meant(g), wanted_gf)]
    return min(near, key=lambda g: abs(meant(g) - wanted_gf), default=None)


def _unit_that_fits(grams: float, wanted_gf: float, meant: Callable[[float], float]) -> str:
    """Whether the number would fit were it ounces, or grams among ounces; '' where neither."""
    if _near(meant(GRAMS_PER_OUNCE * grams), wanted_gf):
        return f"Were it {grams:g} oz, it would fit: the scale's other unit?"
    if _near(meant(grams / GRAMS_PER_OUNCE), wanted_gf):
        return f"Were it {grams / GRAMS_PER_OUNCE:.3g} g, it would fit: grams among ounces?"
    return ""


def _near(thrust_gf: float, wanted_gf: float) -> bool:
    return thrust_gf > 0 and abs(thrust_gf / wanted_gf - 1.0) <= OFF_CURVE


def _owed(rows: Sequence[Typed], wanted: Sequence[str]) -> Iterator[tuple[int, SheetFinding]]:
    """What a row under throttle has not said yet of what is read in each."""
    for index, row in enumerate(rows):
        begun = [n for n in row.values if n != "throttle_pct"] or list(row.doubts)
        if row.still or not begun:
            continue
        missing = [n for n in wanted if n not in row.values and n not in row.doubts]
        if missing:
            words = ", ".join(_word(name) for name in missing)
            message = f"Still owed before a reset or a swap: {words}."
            yield index, SheetFinding(missing[0], "owed", message, owed=True)


def _word(name: str) -> str:
    if name == SCALE:
        return "the scale"
    if name in CHANNELS:
        return CHANNELS[name].label.lower()
    return {TOTAL: "the total", "duration_s": "the seconds", "charge_mah": "the mAh"}[name]
