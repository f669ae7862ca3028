"""One motor on one propeller on a craft, looked at closer: flight, other batteries, other craft."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from spindle_core.compare.delta import is_told
from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent, Measured, product, propagate
from spindle_core.figures.said import figure as in_words
from spindle_core.match.electrics import seconds_of_flight
from spindle_core.match.suits import LEAST_THRUST_TO_WEIGHT, at_other_voltage, mass_range
from spindle_core.model.best_load import BestLoad
from spindle_core.model.in_flight import in_flight, torque_reserve_pct
from spindle_core.model.operating_point import Propeller as CorePropeller
from spindle_core.model.operating_point import solve
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.matrix import PlannedMotor
from spindle_server.errors import ServiceError
from spindle_server.identification.knowing import propeller_known
from spindle_server.match.as_core import core_craft
from spindle_server.match.kept import matched_now
from spindle_server.match.models import Craft
from spindle_server.match.selectors import Match, Seated
from spindle_server.rig.models import Propeller
from spindle_server.runs.stated import figure_json

NOMINAL_CELL_V = 3.7
USUAL_C = 75.0


def closer_look(row: Craft, motor: int, propeller: int, cells: int | None) -> dict[str, Any]:
    """What follows for one combination.

    :param cells: another number of cells to think of; one and a half times the craft's by default.
    :raises ServiceError: a combination that is not on the craft.
    """
    found = matched_now(row)
    wanted = Propeller.objects.filter(pk=propeller).select_related("maker").first()
    one = next(
        (
            each
            for each in found.seated
            if wanted is not None
            and (each.seat.motor, each.seat.propeller) == (str(motor), wanted.full_name)
        ),
        None,
    )
    if one is None or wanted is None:
        raise ServiceError(
            "This motor on this propeller was neither run for the craft nor can it be predicted.",
            code="not_matched",
        )
    known = next((each for each in found.bench.rows if each.key == motor), None)
    other = cells or round(row.cells * 1.5)
    said = [
        *_in_flight(row, one, wanted, known),
        *_other_cells(row, wanted, known, other),
        *_seconds(found, one),
    ]
    return {
        "name": one.on.name,
        "other_cells": other,
        "said": [{"topic": topic, "text": text} for topic, text in said],
        "suits": _suits(row, one),
    }


def _volts(one: Seated) -> float:
    return one.seat.load.voltage_v


def _in_flight(
    row: Craft, one: Seated, propeller: Propeller, known: PlannedMotor | None
) -> list[tuple[str, str]]:
    """Current in flight as a range: solved at a flight speed, and by the bench's own rule."""
    peak = one.on.peak_current_a.value
    u = one.on.peak_current_a.u
    told = in_words(peak, u, "A")
    said = []
    speed = row.flight_speed_m_per_s
    if speed is not None and known is not None and isinstance(known.known, KnownMotor):
        said.append(("In flight", _solved(one, propeller, known.known, speed)))
    low, high = row.less_current_from_pct, row.less_current_to_pct
    if low is not None and high is not None:
        least, most = (
            in_words(peak * (1 - pct / 100), u * (1 - pct / 100), "A") for pct in (high, low)
        )
        said.append(
            (
                "In flight",
                f"By the craft's own rule of {low:g} to {high:g} % less than on the stand: "
                f"{least} to {most}, of {told}.",
            )
        )
    if not said:
        said.append(
            (
                "In flight",
                f"{told} is drawn on the stand. In flight it is clearly less: give the craft a "
                "flight speed, or a rule of your own, to have the range.",
            )
        )
    return said


def _solved(one: Seated, propeller: Propeller, known: KnownMotor, speed: float) -> str:
    seen = _known_propeller(propeller)
    if isinstance(seen, Absent):
        return f"What it draws at {speed:g} m/s cannot be solved: {seen.note}."
    if propeller.pitch_in is None:
        return f"What it draws at {speed:g} m/s needs the propeller's pitch."
    duty = min(1.0, one.seat.up_to_pct / 100.0)
    try:
        flown = in_flight(
            known.model,
            seen,
            pitch_in=propeller.pitch_in,
            flight_speed_m_per_s=speed,
            voltage_v=_volts(one),
            duty=duty,
        )
        reserve = _reserve(known, seen, _volts(one), duty)
    except CoreError as error:
        return error.message
    # What the stand showed, less what the model says that flight takes off it.
    current = product(one.on.peak_current_a, flown.current_share)
    stands = one.on.peak_current_a
    return (
        f"At {speed:g} m/s about {in_words(current.value, current.u, 'A')} of "
        f"{in_words(stands.value, stands.u, 'A')} at a stand, {_percent(flown.unloading_pct)} "
        f"faster; without a load it would turn {_percent(reserve)} faster. Estimated: the "
        "propeller unloads."
    )


def _percent(figure: Measured) -> str:
    return in_words(figure.value, figure.u, "%")


def _reserve(known: KnownMotor, seen: CorePropeller, voltage_v: float, duty: float) -> Measured:
    """How much faster it would turn without a load [%], as well as kV, R and I0 are known."""

    def reserve(kv: float, ohm: float, idle: float) -> float:
        motor = replace(
            known.model, kv_rpm_per_v=kv, resistance_ohm=ohm, no_load_current_a=max(0.0, idle)
        )
        static = solve(motor, seen, voltage_v=voltage_v, duty=duty)
        return torque_reserve_pct(motor, static, voltage_v=voltage_v, duty=duty)

    return propagate(reserve, (known.kv_rpm_per_v, known.resistance_ohm, known.no_load_a))


def _known_propeller(propeller: Propeller) -> CorePropeller | Absent:
    seen = propeller_known(propeller)
    return seen if isinstance(seen, Absent) else seen.model()


def _best(found: BestLoad | Absent) -> str:
    return (
        found.note
        if isinstance(found, Absent)
        else f"{in_words(found.current_a.value, found.current_a.u, 'A')} "
        f"({_percent(found.efficiency_pct)})"
    )


def _other_cells(
    row: Craft, propeller: Propeller, known: PlannedMotor | None, cells: int
) -> list[tuple[str, str]]:
    if known is None or not isinstance(known.known, KnownMotor):
        return []
    now_v, then_v = NOMINAL_CELL_V * row.cells, NOMINAL_CELL_V * cells
    try:
        other = at_other_voltage(
            known.known, diameter_in=propeller.diameter_in, from_v=now_v, to_v=then_v
        )
    except CoreError as error:
        return [("Other battery", error.message)]
    kv = in_words(other.kv_rpm_per_v.value, other.kv_rpm_per_v.u, "rpm/V")
    return [
        (
            "Other battery",
            f"On {cells} cells instead of {row.cells}: {kv} turn as fast; with this motor "
            f"{other.diameter_in:.1f} in of the same shape take the same shaft power.",
        ),
        (
            "Best load",
            f"Best at {_best(other.best_now)} on {row.cells} cells, at {_best(other.best_then)} on "
            f"{cells}: with more voltage it wants a heavier load.",
        ),
    ]


def _seconds(found: Match, one: Seated) -> list[tuple[str, str]]:
    """What its hover power is in seconds of flight against what is chosen."""
    if isinstance(found.picks, Absent) or isinstance(one.on.power_w, Absent):
        return []
    chosen = next(each for each in found.seated if each.on.name == found.picks.chosen)
    if chosen is one or not isinstance(chosen.on.power_w, Measured):
        return []
    row = found.row
    seconds = seconds_of_flight(
        one.on.power_w.scaled(float(row.motors)),
        chosen.on.power_w.scaled(float(row.motors)),
        capacity_mah=row.capacity_mah,
        cells=row.cells,
        usable=row.usable_pct / 100.0,
    )
    if not is_told(seconds):
        told = in_words(seconds.value, seconds.u, "s", signed=True)
        return [("Minutes", f"Not told to fly longer or shorter than {chosen.on.name}: {told}.")]
    than = "longer" if seconds.value > 0 else "shorter"
    told = in_words(abs(seconds.value), seconds.u, "s")
    return [("Minutes", f"Flies {told} {than} than {chosen.on.name}.")]


def _suits(row: Craft, one: Seated) -> list[dict[str, Any]]:
    """The other way round: which craft so many of it suit, per use."""
    share = core_craft(row).thrust_share
    rated = row.rated_c or USUAL_C
    found = []
    for use, ratio in LEAST_THRUST_TO_WEIGHT.items():
        span = mass_range(
            one.on.max_thrust_gf,
            one.on.peak_current_a,
            motors=row.motors,
            rated_c=rated,
            thrust_share=share,
            least_thrust_to_weight=ratio,
        )
        found.append(
            {
                "use": "any" if use == "equal" else use,
                "least_thrust_to_weight": ratio,
                "lightest_g": figure_json(span.lightest_g),
                "heaviest_g": figure_json(span.heaviest_g),
                "least_capacity_mah": figure_json(span.least_capacity_mah),
                "rated_c": rated,
            }
        )
    return found
