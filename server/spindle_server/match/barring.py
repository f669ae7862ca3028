"""What bars a candidate from being chosen, and what is to be known of one that may be.

What is wanted (a ratio) bars where it is told to be missed. What must not be passed (a rating, a
winding's ceiling) bars where it more likely is than not, and is a caution as long as it may be.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from spindle_core.compare.bounds import Standing, at_least, at_most
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.figures.said import figure as in_words
from spindle_core.match.picks import Matched
from spindle_core.match.seats import Seat, fits_cells, heat_margin_k
from spindle_core.match.suits import LEAST_THRUST_TO_WEIGHT
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.matrix import PlannedMotor
from spindle_server.match.known import KnownBench
from spindle_server.match.models import Craft

FULL_PCT = 98.0
HIGH_STICK_PCT = 70.0


@dataclass(frozen=True, slots=True)
class Looked:
    """A candidate with all that may stand against it."""

    row: Craft
    seat: Seat
    on: Matched
    motor: PlannedMotor | None

    @property
    def hover_a(self) -> Figure:
        """Current of this motor in hover [A]; of a pair whose motors differ, not their mean."""
        own = self.seat.candidate.at_hover or {}
        return own.get("current_a", self.on.current_a)


@dataclass(frozen=True, slots=True)
class Rating:
    """A figure and the most that somebody rated: ``whose`` in words."""

    figure: Measured
    most: float
    unit: str
    whose: str

    @property
    def words(self) -> str:
        """The figure with its u."""
        return in_words(self.figure.value, self.figure.u, self.unit)


def least_ratio(row: Craft) -> float:
    """The thrust-to-weight below which a candidate falls out: as said, else of the use."""
    if row.layout == "plane":
        return row.least_thrust_to_weight or 0.0
    return row.least_thrust_to_weight or LEAST_THRUST_TO_WEIGHT[row.use]


def pack_limit_a(row: Craft) -> float | None:
    """What the pack gives at its C-rate [A]; None where nobody said it."""
    return None if row.rated_c is None else row.rated_c * row.capacity_mah / 1000.0


def heat_left_k(motor: PlannedMotor | None, current: Figure) -> Figure:
    """From the winding to its ceiling at a lasting current [K]; absent where it is not known."""
    if motor is None or not isinstance(motor.known, KnownMotor) or motor.most_winding_c is None:
        return Absent("not_known", "the motor's winding is not known")
    return heat_margin_k(motor.known, current, ceiling_c=motor.most_winding_c)


def _ratings(looked: Looked) -> Iterator[Rating]:
    """The ratings that there are; none where nobody said one."""
    motor, seat = looked.motor, looked.seat
    if looked.row.esc_rated_a is not None:
        yield Rating(looked.on.esc_peak_a, looked.row.esc_rated_a, "A", "the craft's ESC bears")
    if motor is None:
        return
    if motor.most_current_a is not None:
        peak = seat.candidate.peak_current_a
        yield Rating(peak, motor.most_current_a, "A", "the motor is rated")
    if motor.most_power_w is not None and isinstance(seat.full_power_w, Measured):
        yield Rating(seat.full_power_w, motor.most_power_w, "W", "the motor is rated")


def barred(looked: Looked, bench: KnownBench) -> tuple[str, str]:
    """Why a candidate cannot be chosen, as a kind of reason and in words; empty where it can."""
    row, seat, on = looked.row, looked.seat, looked.on
    sits = bench.unmountable.get((seat.motor, seat.propeller))
    # What was run was mounted, whatever was measured of it.
    if sits is not None and not seat.runs:
        return "does not sit on the motor", sits
    if on.barred:
        return "predicted too vaguely to choose by", on.barred
    propeller = bench.propellers.get(seat.propeller)
    room = row.propeller_room_in
    if propeller is None:
        return "no longer at hand", "this propeller is retired"
    if room is not None and propeller.diameter_in > room:
        return "too large a propeller", f"{propeller.diameter_in:g} in, room for {room:g} in"
    least, ratio = least_ratio(row), on.thrust_to_weight
    if at_least(ratio, least) is Standing.BROKEN:
        told = in_words(ratio.value, ratio.u, "")
        return "too little thrust for the craft", f"thrust-to-weight {told}, below {least:g}"
    if isinstance(on.power_w, Absent) and row.layout != "plane":
        return "does not hover", f"no hover: {on.power_w.note or 'not reached'}"
    for one in _ratings(looked):
        if one.figure.value > one.most:
            why = f"full throttle takes {one.words}, {one.whose} {one.most:g} {one.unit}"
            return "beyond a rating", why
    heat = heat_left_k(looked.motor, looked.hover_a)
    if isinstance(heat, Measured) and heat.value < 0:
        told = in_words(-heat.value, heat.u, "K")
        return "too hot in hover", f"in hover its winding would be {told} above its ceiling"
    return "", ""


def cautions_of(looked: Looked) -> list[str]:
    """What is to be known of a candidate that may be chosen."""
    row, seat, on = looked.row, looked.seat, looked.on
    found = []
    if seat.up_to_pct < FULL_PCT:
        found.append(
            f"only up to {seat.up_to_pct:.0f} % throttle: no more was run within its rating"
        )
    ratio, least = on.thrust_to_weight, least_ratio(row)
    if at_least(ratio, least) is Standing.NOT_TOLD:
        told = in_words(ratio.value, ratio.u, "")
        found.append(f"thrust-to-weight {told}, which is not told from the wanted {least:g}")
    for one in _ratings(looked):
        if one.figure.value <= one.most and at_most(one.figure, one.most) is Standing.NOT_TOLD:
            found.append(
                f"full throttle takes {one.words} and may pass what {one.whose}: "
                f"{one.most:g} {one.unit}"
            )
    limit, peak = pack_limit_a(row), on.peak_current_a.scaled(row.motors)
    if limit is not None and at_most(peak, limit) is not Standing.KEPT:
        told = in_words(peak.value, peak.u, "A")
        found.append(f"full throttle takes {told}, the pack is rated for {limit:g} A")
    found += _heat(looked)
    if isinstance(on.throttle_pct, Measured) and on.throttle_pct.value > HIGH_STICK_PCT:
        told = in_words(on.throttle_pct.value, on.throttle_pct.u, "%")
        found.append(f"hovers at {told} of the stick")
    if not fits_cells(seat.load.voltage_v, row.cells):
        found.append(f"of {seat.load.voltage_v:g} V")
    return found


def _heat(looked: Looked) -> list[str]:
    found = []
    hover = heat_left_k(looked.motor, looked.hover_a)
    if isinstance(hover, Measured) and at_least(hover, 0.0) is Standing.NOT_TOLD:
        told = in_words(hover.value, hover.u, "K")
        found.append(f"in hover its winding may pass its ceiling: {told} below it")
    full = heat_left_k(looked.motor, looked.seat.candidate.peak_current_a)
    if isinstance(full, Measured) and at_least(full, 0.0) is not Standing.KEPT:
        may = "passes" if at_least(full, 0.0) is Standing.BROKEN else "may pass"
        found.append(f"at full throttle for long its winding {may} its ceiling")
    return found
