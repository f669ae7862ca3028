"""A craft with every motor on every propeller: what it would fly like, and what to choose."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.utils import timezone

from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.match.craft import Craft as CoreCraft
from spindle_core.match.picks import Matched, Picks, frontier, match, pick
from spindle_core.match.seats import (
    Seat,
    coaxial_pair,
    fits_cells,
    measured_seats,
    predicted_seats,
    usual_voltage,
)
from spindle_core.match.suits import ProductWindow, window
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.predict import KnownSupply
from spindle_server.identification.knowing import air_known, density_of, supply_known
from spindle_server.match.as_core import core_craft
from spindle_server.match.barring import Looked, barred, cautions_of
from spindle_server.match.known import KnownBench, known_bench
from spindle_server.match.models import Craft
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rig.bench_day import day_on, given_by
from spindle_server.rig.models import Supply
from spindle_server.runs.ran import (
    counted_runs,
    evidence_of,
    ratings_of,
    run_elsewhere,
    run_voltages,
)

REST_CELL_V = 3.8
"""A cell in flight, where nothing was run at so many cells: neither full nor empty."""

PACK_SHARE_OF_OHM = 0.003


@dataclass(slots=True)
class Seated:
    """A candidate on the craft with what it is made of."""

    seat: Seat
    on: Matched
    cautions: list[str]
    group: str
    """The kind of reason why it is barred; empty where it is not."""


@dataclass(slots=True)
class Match:
    """The whole match, before it is put into words."""

    row: Craft
    core: CoreCraft
    seated: list[Seated]
    picks: Picks | Absent
    front: list[str]
    facts: dict[int, Facts]
    bench: KnownBench
    supply_words: str
    window: ProductWindow | Absent
    left: dict[str, str]


def craft_list() -> list[Craft]:
    """Craft, those in use first."""
    rows = Craft.objects.select_related(
        "made_by",
        "carries_motor__maker",
        "carries_propeller__maker",
        "lower_motor__maker",
        "lower_propeller__maker",
    )
    return list(rows)


def match_of(row: Craft) -> Match:
    """Every motor on every propeller on the craft."""
    core = core_craft(row)
    bench = known_bench()
    facts = facts_of([one.key for one in bench.rows])
    names = {str(pk): one.motor.full_name for pk, one in facts.items()}
    masses = {str(pk): one.mass_g for pk, one in facts.items()}
    at_cells = [volts for volts in run_voltages() if fits_cells(volts, row.cells)]
    runs = counted_runs(list(facts)).filter(kind__in=CURVE_KINDS)
    evidence = evidence_of(runs.filter(nominal_voltage_v__in=at_cells), ratings_of(facts))
    measured, left = measured_seats(core, evidence.runs, names, masses)
    elsewhere: dict[tuple[int, str], list[str]] = {}
    for motor_pk, propeller, volts in run_elsewhere(list(facts), at_cells):
        elsewhere.setdefault((motor_pk, propeller), []).append(f"{volts:g} V")
    for (motor_pk, propeller), listed in elsewhere.items():
        why = f"run at {', '.join(sorted(listed))} only, which is not {row.cells} cells"
        left.setdefault((str(motor_pk), propeller), why)
    usual = usual_voltage(evidence.runs, row.cells)
    supply, load = _supply(row, usual)
    seats = measured + predicted_seats(
        core,
        bench.rows,
        bench.columns,
        masses,
        supply,
        air_known(density_of(given_by(day_on(timezone.localdate())))),
        load=load,
        leave=frozenset((seat.motor, seat.propeller) for seat in measured),
    )
    lower = _lower(row, seats)
    candidates = [
        coaxial_pair(seat.candidate, lower.candidate)
        if lower is not None and seat is not lower
        else seat.candidate
        for seat in seats
    ]
    matched = (
        match(core, candidates, capacity_mah=row.capacity_mah, usable=row.usable_pct / 100.0)
        if candidates
        else []
    )
    by_key = {str(one.key): one for one in bench.rows}
    seated = []
    for seat, on in zip(seats, matched, strict=True):
        motor = by_key.get(seat.motor)
        looked = Looked(row, seat, on, motor)
        group, why = barred(looked, bench)
        held = replace(on, barred=why)
        cautions = [*cautions_of(looked), *_lost(facts[int(seat.motor)])]
        seated.append(Seated(seat, held, cautions, group))
    said = {
        f"{names[motor]}, {propeller}": why
        for (motor, propeller), why in left.items()
        if (motor, propeller) not in {(seat.motor, seat.propeller) for seat in seats}
    }
    kept = [one.on for one in seated]
    return Match(
        row,
        core,
        seated,
        pick(kept) if kept else Absent("nothing", "there is nothing to match with"),
        frontier(kept),
        facts,
        bench,
        f"{load[1]:g} V {load[0]}",
        _window(seated, bench),
        said,
    )


def _supply(row: Craft, usual: tuple[str, float] | None) -> tuple[KnownSupply, tuple[str, float]]:
    """The supply that most runs at the craft's cells were made on; a pack at rest without any."""
    if usual is not None:
        kind = "psu" if usual[0] == "bench supply" else "pack"
        found = Supply.objects.filter(kind=kind, nominal_voltage_v=usual[1]).first()
        known = supply_known(found) if found else None
        if known is not None and not isinstance(known, Absent):
            return known, usual
    volts = usual[1] if usual else REST_CELL_V * row.cells
    ohm = PACK_SHARE_OF_OHM * row.cells
    known_supply = KnownSupply(
        Measured(volts, {"assumed_supply": 0.03 * volts}, origin=Origin.ESTIMATED),
        Measured(ohm, {"assumed_pack_resistance": 0.5 * ohm}, origin=Origin.ESTIMATED),
    )
    return known_supply, usual or ("pack, assumed", volts)


def _lower(row: Craft, seats: Sequence[Seat]) -> Seat | None:
    if row.lower_motor_id is None or row.lower_propeller is None:
        return None
    key = (str(row.lower_motor_id), row.lower_propeller.full_name)
    return next((seat for seat in seats if (seat.motor, seat.propeller) == key), None)


def _lost(own: Facts) -> list[str]:
    lost, there = own.losses
    return [f"{lost} of {there} lost on test"] if lost else []


def _window(seated: Sequence[Seated], bench: KnownBench) -> ProductWindow | Absent:
    """kV × V × diameter of what was run within its ratings."""
    return window([kv_volts_inches(one, bench) for one in seated if one.seat.runs])


def kv_volts_inches(one: Seated, bench: KnownBench) -> float:
    """kV × V × diameter [rpm·in], NaN where one of them is not known."""
    propeller = bench.propellers.get(one.seat.propeller)
    motor = next((row for row in bench.rows if str(row.key) == one.seat.motor), None)
    if propeller is None or motor is None or not isinstance(motor.known, KnownMotor):
        return float("nan")
    kv = motor.known.kv_rpm_per_v.value
    return kv * one.seat.load.voltage_v * propeller.diameter_in
