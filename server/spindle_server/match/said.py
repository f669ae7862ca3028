"""What is said of a match: its rows, who fell out, and what it rests on."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from spindle_core.figures.measured import Absent, Figure, Measured, last_digit
from spindle_core.match.craft import arm_inertia_kg_mm2
from spindle_core.match.electrics import EscSize, pack_need
from spindle_core.match.picks import Picks
from spindle_core.match.seats import Seat, tip_mach_of
from spindle_core.match.trades import apart_u
from spindle_core.model.propeller import TIP_MACH_CAUTION, pitch_speed_m_per_s
from spindle_server.match.barring import Looked, heat_left_k, least_ratio
from spindle_server.match.models import Craft
from spindle_server.match.selectors import Match, Seated, kv_volts_inches
from spindle_server.match.upgrade import upgrade_of
from spindle_server.rig.models import Propeller
from spindle_server.runs.stated import figure_json

MOST_ROWS = 150
MOST_ALIKE = 4
DRAWN = ("thrust_to_weight", "minutes")
"""What the chart holds against each other."""


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
    _apart(order[:MOST_ROWS], rows)
    picks = found.picks
    return {
        "supply": found.supply_words,
        "least_thrust_to_weight": least_ratio(found.row),
        "rows": rows,
        "more": max(0, len(order) - MOST_ROWS),
        "picks": None if isinstance(picks, Absent) else _picks(picks),
        "no_pick": picks.note if isinstance(picks, Absent) else "",
        "fell_out": _fell_out(found),
        "upgrade": upgrade_of(found),
        "remarks": _remarks(found),
    }


def _apart(seated: Sequence[Seated], rows: Sequence[dict[str, Any]]) -> None:
    """By how much those that were run may be off from one another; null for a prediction."""
    ran = [i for i, one in enumerate(seated) if not one.on.predicted and not one.on.barred]
    for row in rows:
        row["apart"] = dict.fromkeys(DRAWN)
    for name in DRAWN:
        figures = {i: getattr(seated[i].on, name) for i in ran}
        told = {i: one for i, one in figures.items() if isinstance(one, Measured)}
        for i, u in zip(told, apart_u(list(told.values())), strict=True):
            rows[i]["apart"][name] = u


def _row(found: Match, one: Seated) -> dict[str, Any]:
    row, on, seat = found.row, one.on, one.seat
    propeller = found.bench.propellers.get(seat.propeller)
    motor = next((m for m in found.bench.rows if str(m.key) == seat.motor), None)
    pack_a = on.peak_current_a.scaled(float(row.motors))
    looked = Looked(row, seat, on, motor)
    return {
        "name": on.name,
        "motor": int(seat.motor),
        "motor_name": found.facts[int(seat.motor)].motor.full_name,
        "short": ", ".join(
            (
                found.facts[int(seat.motor)].motor.short_name,
                propeller.short_name if propeller else seat.propeller,
            )
        ),
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
        "pack": _pack(row, pack_a),
        "tip_mach": figure_json(_tip(seat, propeller)),
        "pitch_speed_m_per_s": figure_json(_pitch_speed(seat, propeller)),
        "tip_fast": _too_fast(_tip(seat, propeller)),
        "arm_inertia_kg_mm2": figure_json(_inertia(found, seat, propeller)),
        "margin_hover_k": figure_json(heat_left_k(motor, looked.hover_a)),
        "margin_full_k": figure_json(heat_left_k(motor, seat.candidate.peak_current_a)),
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


def _picks(picks: Picks) -> dict[str, Any]:
    """The picks, each with the nearest of those that are not told apart from it."""
    return {
        "strongest": picks.strongest,
        "thriftiest": picks.thriftiest,
        "chosen": picks.chosen,
        "trade": picks.trade,
        "alike": {
            which: {"names": names[:MOST_ALIKE], "more": max(0, len(names) - MOST_ALIKE)}
            for which, names in picks.alike.items()
        },
    }


def _pack(row: Craft, peak_a: Measured) -> dict[str, Any] | None:
    if row.rated_c is None:
        return None
    need = pack_need(peak_a, capacity_mah=row.capacity_mah, rated_c=row.rated_c)
    return {
        "c_rate": figure_json(need.c_rate),
        "least_capacity_mah": figure_json(need.least_capacity_mah),
    }


def _tip(seat: Seat, propeller: Propeller | None) -> Figure:
    if propeller is None:
        return Absent("retired", "this propeller is retired")
    return tip_mach_of(seat.full_speed_rpm, propeller.diameter_in)


def _pitch_speed(seat: Seat, propeller: Propeller | None) -> Figure:
    """At full throttle on the stand; in flight it turns faster."""
    if propeller is None or propeller.pitch_in is None:
        return Absent("no_pitch", "the propeller's pitch is not known")
    if isinstance(seat.full_speed_rpm, Absent):
        return seat.full_speed_rpm
    return pitch_speed_m_per_s(propeller.pitch_in, seat.full_speed_rpm)


def _too_fast(figure: Figure) -> bool:
    return isinstance(figure, Measured) and figure.value > TIP_MACH_CAUTION


def _inertia(found: Match, seat: Seat, propeller: Propeller | None) -> Figure:
    """Σ m·r² of motors and propellers at the ends of the arms; absent without arm or a mass."""
    mass = found.facts[int(seat.motor)].mass_g
    if found.row.arm_mm is None:
        return Absent("no_arm", "the length of the craft's arms is not known")
    if isinstance(mass, Absent):
        return mass
    if propeller is None or propeller.mass_g is None:
        return Absent("no_mass", "the propeller was not weighed")
    turned = Measured(
        propeller.mass_g, {f"mass@{propeller.pk}": last_digit([propeller.mass_g]) / 12**0.5}
    )
    arm = found.row.arm_mm
    # Motors and propellers of one kind, on arms of one length: as well known as one of them.
    return arm_inertia_kg_mm2([mass, turned], [arm, arm]).scaled(float(found.row.motors))


def _picked(picks: Picks | Absent, name: str) -> list[str]:
    if isinstance(picks, Absent):
        return []
    return [
        which for which in ("strongest", "thriftiest", "chosen") if getattr(picks, which) == name
    ]


def _in_window(found: Match, one: Seated) -> str:
    product = kv_volts_inches(one, found.bench)
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
