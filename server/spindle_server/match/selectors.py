"""A craft with every motor on every propeller: what it would fly like, and what to choose."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from django.utils import timezone

from spindle_core.compare.measured_run import CURVE_KINDS
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.match.craft import Craft as CoreCraft
from spindle_core.match.craft import arm_inertia_kg_mm2
from spindle_core.match.electrics import EscSize, pack_need
from spindle_core.match.picks import Matched, Picks, frontier, match, pick
from spindle_core.match.seats import (
    Seat,
    coaxial_pair,
    fits_cells,
    heat_margin_k,
    measured_seats,
    predicted_seats,
    tip_mach,
    usual_voltage,
)
from spindle_core.match.suits import LEAST_THRUST_TO_WEIGHT, Change, Window, change, window
from spindle_core.model.propeller import TIP_MACH_CAUTION
from spindle_core.planning.known import KnownMotor
from spindle_core.planning.matrix import MotorRow
from spindle_core.planning.predict import KnownSupply
from spindle_server.identification.knowing import air_known, density_of, supply_known
from spindle_server.match.as_core import core_craft
from spindle_server.match.known import KnownBench, known_bench
from spindle_server.match.models import Craft
from spindle_server.rank.facts import Facts, facts_of
from spindle_server.rig.bench_day import day_on, given_by
from spindle_server.rig.models import Propeller, Supply
from spindle_server.runs.ran import (
    counted_runs,
    evidence_of,
    ratings_of,
    run_elsewhere,
    run_voltages,
)
from spindle_server.runs.stated import figure_json

MOST_ROWS = 150
REST_CELL_V = 3.8
"""A cell in flight, where nothing was run at so many cells: neither full nor empty."""

PACK_SHARE_OF_OHM = 0.003
COLD_K = 0.0
FULL_PCT = 98.0


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
    window: Window | Absent
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
        group, why = _barred(row, seat, on, bench, motor)
        held = replace(on, barred=why)
        cautions = [*_cautions(row, seat, held, motor), *_lost(facts[int(seat.motor)])]
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


def least_ratio(row: Craft) -> float:
    """The thrust-to-weight below which a candidate falls out: as said, else of the use."""
    if row.layout == "plane":
        return row.least_thrust_to_weight or 0.0
    return row.least_thrust_to_weight or LEAST_THRUST_TO_WEIGHT[row.use]


def _barred(
    row: Craft, seat: Seat, on: Matched, bench: KnownBench, motor: MotorRow | None
) -> tuple[str, str]:
    """Why a candidate cannot be chosen, as a kind of reason and in words; empty where it can."""
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
    least = least_ratio(row)
    if on.thrust_to_weight.value < least:
        return (
            "too little thrust for the craft",
            f"thrust-to-weight {on.thrust_to_weight.value:.2f}, below {least:g}",
        )
    if isinstance(on.power_w, Absent) and row.layout != "plane":
        return "does not hover", f"no hover: {on.power_w.note or 'not reached'}"
    peak = on.peak_current_a.value
    if row.esc_rated_a is not None and peak > row.esc_rated_a:
        return "beyond a rating", f"peak {peak:.1f} A, the craft's ESC bears {row.esc_rated_a:g} A"
    if motor is not None and motor.most_current_a is not None and peak > motor.most_current_a:
        return (
            "beyond a rating",
            f"peak {peak:.1f} A, the motor is rated {motor.most_current_a:g} A",
        )
    if (
        motor is not None
        and motor.most_power_w is not None
        and isinstance(seat.full_power_w, Measured)
        and seat.full_power_w.value > motor.most_power_w
    ):
        return (
            "beyond a rating",
            f"{seat.full_power_w.value:.0f} W, the motor is rated {motor.most_power_w:g} W",
        )
    heat = _heat(motor, on.current_a)
    if isinstance(heat, Measured) and heat.value < COLD_K:
        return "too hot in hover", "its winding would pass its ceiling in hover"
    return "", ""


def _heat(motor: MotorRow | None, current: Figure) -> Figure:
    if motor is None or not isinstance(motor.known, KnownMotor) or motor.most_winding_c is None:
        return Absent("not_known", "the motor's winding is not known")
    return heat_margin_k(motor.known, current, ceiling_c=motor.most_winding_c)


def pack_limit_a(row: Craft) -> float | None:
    """What the pack gives at its C-rate [A]; None where nobody said it."""
    return None if row.rated_c is None else row.rated_c * row.capacity_mah / 1000.0


def _cautions(row: Craft, seat: Seat, on: Matched, motor: MotorRow | None) -> list[str]:
    """What is to be known of a candidate that may be chosen."""
    found = []
    if seat.up_to_pct < FULL_PCT:
        found.append(
            f"only up to {seat.up_to_pct:.0f} % throttle: no more was run within its rating"
        )
    limit, peak = pack_limit_a(row), row.motors * on.peak_current_a.value
    if limit is not None and peak > limit:
        found.append(f"full throttle takes {peak:.0f} A, the pack is rated for {limit:.0f} A")
    heat = _heat(motor, on.peak_current_a)
    if isinstance(heat, Measured) and heat.value < COLD_K:
        found.append("at full throttle for long its winding passes its ceiling")
    if isinstance(on.throttle_pct, Measured) and on.throttle_pct.value > 70:
        found.append(f"hovers at {on.throttle_pct.value:.0f} % of the stick")
    if not fits_cells(seat.load.voltage_v, row.cells):
        found.append(f"of {seat.load.voltage_v:g} V")
    return found


def _lost(own: Facts) -> list[str]:
    lost, there = own.losses
    return [f"{lost} of {there} lost on test"] if lost else []


def _window(seated: Sequence[Seated], bench: KnownBench) -> Window | Absent:
    """kV × V × diameter of what was run within its ratings."""
    return window([_product(one, bench) for one in seated if one.seat.runs])


def _product(one: Seated, bench: KnownBench) -> float:
    propeller = bench.propellers.get(one.seat.propeller)
    motor = next((row for row in bench.rows if str(row.key) == one.seat.motor), None)
    if propeller is None or motor is None or not isinstance(motor.known, KnownMotor):
        return float("nan")
    kv = motor.known.kv_rpm_per_v.value
    return kv * one.seat.load.voltage_v * propeller.diameter_in


def match_json(found: Match) -> dict[str, Any]:
    """The match with its words."""
    order = sorted(
        found.seated,
        key=lambda one: (
            bool(one.on.barred),
            one.on.predicted,
            -one.on.thrust_to_weight.value,
            one.on.name,
        ),
    )
    rows = [_row(found, one) for one in order[:MOST_ROWS]]
    picks = found.picks
    return {
        "supply": found.supply_words,
        "least_thrust_to_weight": least_ratio(found.row),
        "rows": rows,
        "more": max(0, len(order) - MOST_ROWS),
        "picks": None if isinstance(picks, Absent) else asdict(picks),
        "no_pick": picks.note if isinstance(picks, Absent) else "",
        "fell_out": _fell_out(found),
        "upgrade": upgrade_of(found),
        "remarks": _remarks(found),
    }


def _row(found: Match, one: Seated) -> dict[str, Any]:
    row, on, seat = found.row, one.on, one.seat
    propeller = found.bench.propellers.get(seat.propeller)
    motor = next((m for m in found.bench.rows if str(m.key) == seat.motor), None)
    pack_a = on.peak_current_a.scaled(float(row.motors))
    return {
        "name": on.name,
        "motor": int(seat.motor),
        "motor_name": found.facts[int(seat.motor)].motor.full_name,
        "propeller": propeller.pk if propeller else None,
        "propeller_name": seat.propeller,
        "predicted": on.predicted,
        "runs": seat.runs,
        "samples": seat.samples,
        "load": f"{seat.load.voltage_v:g} V {seat.load.supply}",
        "up_to_pct": seat.up_to_pct,
        "mass_g": figure_json(on.mass_g),
        "thrust_to_weight": figure_json(on.thrust_to_weight),
        "hover_thrust_gf": figure_json(on.hover_thrust_gf),
        "throttle_pct": figure_json(on.throttle_pct),
        "current_a": figure_json(on.current_a),
        "power_w": figure_json(on.power_w),
        "efficiency_g_per_w": figure_json(on.efficiency_g_per_w),
        "minutes": figure_json(on.minutes),
        "max_thrust_gf": figure_json(on.max_thrust_gf),
        "peak_current_a": figure_json(on.peak_current_a),
        "pack_current_a": figure_json(pack_a),
        "esc": [_esc(size) for size in on.esc],
        "pack": _pack(row, pack_a.value),
        "tip_mach": figure_json(_tip(seat, propeller)),
        "tip_fast": _too_fast(_tip(seat, propeller)),
        "arm_inertia_kg_mm2": _inertia(found, seat, propeller),
        "margin_hover_k": figure_json(_heat(motor, on.current_a)),
        "margin_full_k": figure_json(_heat(motor, on.peak_current_a)),
        "on_frontier": on.name in found.front,
        "picked": _picked(found.picks, on.name),
        "barred": on.barred,
        "cautions": one.cautions,
        "window": _in_window(found, one),
    }


def _esc(size: EscSize | Absent) -> dict[str, Any]:
    if isinstance(size, Absent):
        return {"margin": None, "needed_a": None, "size_a": None, "note": size.note}
    return {"margin": size.margin, "needed_a": size.needed_a, "size_a": size.size_a, "note": ""}


def _pack(row: Craft, peak_a: float) -> dict[str, float] | None:
    if row.rated_c is None:
        return None
    need = pack_need(peak_a, capacity_mah=row.capacity_mah, rated_c=row.rated_c)
    return {"c_rate": need.c_rate, "least_capacity_mah": need.least_capacity_mah}


def _tip(seat: Seat, propeller: Propeller | None) -> Figure:
    if propeller is None:
        return Absent("retired", "this propeller is retired")
    return tip_mach(seat.full_speed_rpm, propeller.diameter_in)


def _too_fast(figure: Figure) -> bool:
    return isinstance(figure, Measured) and figure.value > TIP_MACH_CAUTION


def _inertia(found: Match, seat: Seat, propeller: Propeller | None) -> float | None:
    """Σ m·r² of motors and propellers at the ends of the arms; None without arm or mass."""
    mass = found.facts[int(seat.motor)].mass_g
    if found.row.arm_mm is None or isinstance(mass, Absent):
        return None
    each = mass.value + ((propeller.mass_g or 0.0) if propeller else 0.0)
    count = found.row.motors
    return arm_inertia_kg_mm2([each] * count, [found.row.arm_mm] * count)


def _picked(picks: Picks | Absent, name: str) -> list[str]:
    if isinstance(picks, Absent):
        return []
    return [
        which for which in ("strongest", "thriftiest", "chosen") if getattr(picks, which) == name
    ]


def _in_window(found: Match, one: Seated) -> str:
    product = _product(one, found.bench)
    if isinstance(found.window, Absent) or product != product:
        return ""
    return found.window.says(product)


def _fell_out(found: Match) -> list[dict[str, Any]]:
    """Reasons and how many fell out by each, with the first few of them."""
    reasons: dict[str, list[str]] = {}
    for one in found.seated:
        if one.group:
            reasons.setdefault(one.group, []).append(f"{one.on.name}: {one.on.barred}")
    for name, why in found.left.items():
        reasons.setdefault("not run for this craft", []).append(f"{name}: {why}")
    return [
        {"reason": reason, "count": len(names), "examples": names[:6]}
        for reason, names in sorted(reasons.items(), key=lambda item: -len(item[1]))
    ]


_CHANGES = {
    (True, False): "new propeller",
    (False, True): "new motor",
    (False, False): "new motor and propeller",
}
"""Whether motor and propeller stay, and what is said of it."""


def upgrade_of(found: Match) -> dict[str, Any] | None:
    """What a new propeller, a new motor or both would change; None where nothing is carried."""
    row = found.row
    if row.carries_motor_id is None or row.carries_propeller is None:
        return None
    motor, propeller = str(row.carries_motor_id), row.carries_propeller.full_name
    now = next(
        (o for o in found.seated if (o.seat.motor, o.seat.propeller) == (motor, propeller)), None
    )
    carried = f"{row.carries_motor}, {propeller}"
    if now is None:
        why = "it was neither run nor can it be predicted"
        return {"now": carried, "why_not": why, "changes": []}
    changes = []
    for (same_motor, same_propeller), kind in _CHANGES.items():
        among = [
            one
            for one in found.seated
            if not one.on.barred
            and (one.seat.motor == motor) is same_motor
            and (one.seat.propeller == propeller) is same_propeller
        ]
        chosen = pick([one.on for one in among]) if among else Absent("none", "")
        if isinstance(chosen, Absent):
            continue
        then = next(one for one in among if one.on.name == chosen.chosen)
        price: Figure = Measured(0.0)
        if then.seat.motor != motor:
            price = found.facts[int(then.seat.motor)].price
        made = change(now.on, then.on, motors=row.motors, price_each=price)
        changes.append(
            {
                "kind": kind,
                **_change_json(made),
                "currency": found.facts[int(then.seat.motor)].currency,
                "estimated": now.on.predicted or then.on.predicted,
                "sentence": _change_words(kind, made, found, then),
            }
        )
    return {"now": carried, "why_not": "", "changes": changes}


def _plain(value: float | Absent) -> float | None:
    return None if isinstance(value, Absent) else value


def _change_json(made: Change) -> dict[str, Any]:
    return {
        "name": made.name,
        "mass_g": made.mass_g,
        "thrust_to_weight": figure_json(made.thrust_to_weight),
        "thrust_to_weight_was": figure_json(made.thrust_to_weight_was),
        "thrust_pct": made.thrust_pct,
        "peak_current_pct": made.peak_current_pct,
        "minutes": _plain(made.minutes),
        "hover_current_pct": _plain(made.hover_current_pct),
        "price": figure_json(made.price),
    }


def _signed(value: float, decimals: int = 0) -> str:
    return f"{round(value, decimals) + 0.0:+.{decimals}f}".replace("-", "−")


def _change_words(kind: str, made: Change, found: Match, then: Seated) -> str:
    parts = [
        f"{_signed(made.thrust_pct)} % thrust",
        f"{_signed(made.peak_current_pct)} % peak current",
    ]
    if not isinstance(made.minutes, Absent):
        parts.append(f"{_signed(made.minutes, 1)} min")
    if abs(made.mass_g) >= 0.05:
        parts.append(f"{_signed(made.mass_g, 1)} g")
    paid = ""
    if "motor" in kind:
        currency = found.facts[int(then.seat.motor)].currency
        count = found.row.motors
        paid = (
            f"; {count} motors cost {made.price.value:.2f} {currency}"
            if isinstance(made.price, Measured)
            else "; what the motors cost is not known"
        )
    return f"{made.name}: {', '.join(parts)}{paid}."


def _remarks(found: Match) -> list[str]:
    row = found.row
    made = Counter(one.seat.load.voltage_v for one in found.seated if one.seat.runs)
    said = [
        f"Figures are static, at {found.supply_words}; in flight the propeller unloads and a pack "
        "sags.",
        f"A ratio below {least_ratio(row):g} falls out"
        + (
            ", as the craft says."
            if row.least_thrust_to_weight
            else f": the rule of thumb for the use “{row.get_use_display()}”."
        ),
        f"Minutes fly {row.usable_pct:g} % of {row.capacity_mah:g} mAh at 3.7 V a cell.",
    ]
    if len(made) > 1:
        others = ", ".join(f"{volts:g} V" for volts in sorted(made))
        said.append(f"Not all were run at one voltage: {others}. Compare across it with care.")
    if row.layout == "coaxial":
        said.append("A coaxial pair gives 0.80 to 0.90 of two free propellers: assumed 0.85.")
    if row.layout == "plane" and row.lift_to_drag is None and row.cruise_throttle_pct is None:
        said.append(
            "Without a lift-to-drag ratio or a cruise throttle a plane's figures are static only."
        )
    if not isinstance(found.window, Absent):
        said.append(
            f"This bench ran {found.window.n} combinations within their ratings at kV × V × inches "
            f"from {found.window.low:,.0f} to {found.window.high:,.0f}; others are marked."
        )
    return said
