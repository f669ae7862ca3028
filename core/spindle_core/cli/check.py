"""``check``: the motor as an object, one question at a time."""

from __future__ import annotations

import argparse
import math
from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, Origin
from spindle_core.formats.plain import plain
from spindle_core.intake.claims import check_ratings
from spindle_core.intake.mounting_screw import screw_reach
from spindle_core.intake.propeller_code import parse_propeller_code
from spindle_core.intake.propeller_fit import Hub, Ring, Shaft, fits, propeller_fit
from spindle_core.model.air import air_density_kg_per_m3
from spindle_core.model.best_load import best_load
from spindle_core.model.propeller import FAMILY_FACTORS, estimate_coefficients
from spindle_core.model.thermal import cooling_time_s
from spindle_core.motor.lead_wire import (
    Weighing,
    lead_resistance_ohm_per_m,
    mass_at_length,
    mass_per_length_from_gauge,
    mass_per_length_from_weighings,
)
from spindle_core.motor.size_code import parse_size_code, propose_basis, stator_volume_mm3
from spindle_core.motor.temperature_ceiling import temperature_ceiling
from spindle_core.motor.winding import slots_and_poles
from spindle_core.run.scale import DeadWeight, Geometry, Lever, total_disagrees

Arguments = tuple[tuple[str, dict[str, Any]], ...]
_NUMBER: dict[str, Any] = {"type": float, "required": True}
_MAYBE: dict[str, Any] = {"type": float}


def add_commands(commands: Any) -> None:
    """``check`` with one question below it."""
    check = commands.add_parser(
        "check",
        help="size code, winding, leads, screws, fit, scale, ratings, heat, air",
        description="Answers one question about a motor as an object; numbers in mm, g, V, A, W.",
    )
    questions = check.add_subparsers(dest="question", required=True, metavar="QUESTION")
    for name, text, answer, arguments in _QUESTIONS:
        parser = questions.add_parser(name, help=text, description=f"Says {text}.")
        for flag, settings in arguments:
            parser.add_argument(flag, **settings)
        parser.set_defaults(run=answer)


def _size(options: argparse.Namespace) -> dict[str, Any]:
    code = parse_size_code(options.code, options.basis)
    proposed = propose_basis(code, options.mass_g)
    if options.basis is None:
        code = parse_size_code(options.code, proposed)
    return {
        "basis": str(code.basis),
        "proposed_basis": str(proposed),
        "diameter_mm": code.diameter_mm,
        "height_mm": code.height_mm,
        "aspect": code.aspect,
        "stator_volume_mm3": plain(stator_volume_mm3(code)),
    }


def _winding(options: argparse.Namespace) -> Any:
    return plain(slots_and_poles(options.slots, options.poles))


def _leads(options: argparse.Namespace) -> dict[str, Any]:
    found: dict[str, Any] = {}
    if options.awg is not None:
        found["resistance_ohm_per_m"] = lead_resistance_ohm_per_m(options.awg)
    length = Measured(options.at_mm, {"length": options.u_length_mm})
    first = Weighing(Measured(options.mass_g, {"scale_1": options.u_mass_g}), length)
    if options.other_mass_g is not None and options.other_at_mm is not None:
        other = Weighing(
            Measured(options.other_mass_g, {"scale_2": options.u_mass_g}),
            Measured(options.other_at_mm, {"length_2": options.u_length_mm}),
        )
        per_metre = mass_per_length_from_weighings(first, other)
    elif options.awg is not None:
        per_metre = mass_per_length_from_gauge(options.awg)
    else:
        raise QuantityError(
            "The lead's mass per metre needs a second weighing (--other-mass-g, --other-at-mm) or "
            "the gauge (--awg).",
            code="no_lead_mass",
        )
    return {
        **found,
        "mass_per_length_g_per_m": plain(per_metre),
        "mass_g": plain(mass_at_length(first, per_metre, lead_length_mm=options.wanted_mm)),
        "at_lead_length_mm": options.wanted_mm,
    }


def _screw(options: argparse.Namespace) -> Any:
    return plain(
        screw_reach(
            options.length,
            arm_thickness_mm=options.arm,
            thread_depth_mm=options.thread_depth,
            clearance_mm=options.clearance,
            washer_mm=options.washer,
        )
    )


def _ring(text: str) -> Ring:
    """An adapter ring as INNER/OUTER/HEIGHT [mm]."""
    parts = [float(part) for part in text.split("/")]
    if len(parts) != 3:
        raise argparse.ArgumentTypeError(f"{text!r}: expected INNER/OUTER/HEIGHT in mm")
    return Ring(*parts)


_ring.__name__ = "ring"
"""What argparse calls it when a number in it is none."""


def _fit(options: argparse.Namespace) -> dict[str, Any]:
    found = propeller_fit(
        Hub(options.bore, options.hub_thickness),
        Shaft(options.shaft, options.free_length, options.nut, options.washer),
        options.ring,
    )
    return {"fits": fits(found), "findings": plain(found)}


def _pair(text: str) -> tuple[float, float]:
    """Two lengths as MOTOR/SCALE [mm]."""
    parts = [float(part) for part in text.split("/")]
    if len(parts) != 2:
        raise argparse.ArgumentTypeError(f"{text!r}: expected MOTOR/SCALE in mm")
    return parts[0], parts[1]


_pair.__name__ = "pair"


def _weight(text: str) -> DeadWeight:
    """A dead weight as NAME=GRAMS."""
    name, _, grams = text.partition("=")
    return DeadWeight(name, float(grams))


_weight.__name__ = "weight"


def _scale(options: argparse.Namespace) -> dict[str, Any]:
    lever = None
    if options.lever is not None:
        motor_mm, scale_mm = options.lever
        lever = Lever(motor_mm, scale_mm, options.u_arm_mm)
    stand = Geometry(
        "scale",
        lever=lever,
        weights=options.weight,
        lifts=options.at_rest is not None,
        rest_g=options.at_rest or 0.0,
    )
    hidden = {"within_run": options.step / math.sqrt(12.0)} if options.step else {}
    found = stand.thrust_gf(Measured(options.read, hidden))
    said = "" if options.total is None else total_disagrees(stand, options.read, options.total)
    return {
        "thrust_gf": plain(found),
        "assumed": found.assumed,
        "added_g": stand.added_g,
        "total": said or None,
    }


def _ratings(options: argparse.Namespace) -> dict[str, Any]:
    found = check_ratings(
        rated_power_w=options.power, rated_current_a=options.current, cells=options.cells
    )
    return {**plain(found), "plausible": found.plausible}


def _ceiling(options: argparse.Namespace) -> Any:
    enamel = options.enamel
    if enamel is not None and enamel.replace(".", "", 1).isdigit():
        enamel = float(enamel)
    return plain(
        temperature_ceiling(
            enamel=enamel, magnet_grade=options.magnets, own_limit_c=options.own_limit_c
        )
    )


def _propeller(options: argparse.Namespace) -> dict[str, Any]:
    code = parse_propeller_code(options.code)
    estimate = estimate_coefficients(
        code.diameter_in, code.pitch_in, blades=code.blades, family=options.family
    )
    ct, cp = estimate.measured()
    return {**plain(code), "ct": plain(ct), "cp": plain(cp), "origin": str(Origin.ESTIMATED)}


def _load(options: argparse.Namespace) -> Any:
    # What is typed here has no u.
    best = best_load(
        voltage_v=options.voltage,
        no_load_current_a=Measured(options.i0),
        resistance_ohm=Measured(options.r),
        duty=options.duty,
    )
    return {"current_a": best.current_a.value, "efficiency_pct": best.efficiency_pct.value}


def _air(options: argparse.Namespace) -> dict[str, Any]:
    return {
        "density_kg_per_m3": air_density_kg_per_m3(
            options.temp_c, pressure_hpa=options.pressure_hpa, humidity_pct=options.humidity_pct
        )
    }


def _ready(options: argparse.Namespace) -> dict[str, Any]:
    time = cooling_time_s(
        options.from_c,
        options.to_c,
        ambient_c=options.ambient_c,
        time_constant_s=options.time_constant_s,
    )
    return {"ready_in_s": plain(time)}


_QUESTIONS: tuple[tuple[str, str, Any, Arguments], ...] = (
    (
        "size",
        "what a size code means, and the stator's volume",
        _size,
        (
            ("code", {"metavar": "CODE"}),
            ("--basis", {"choices": ("stator", "outer_can", "case")}),
            ("--mass-g", _MAYBE),
        ),
    ),
    (
        "winding",
        "winding factor and cogging of slots and poles",
        _winding,
        (
            ("--slots", {"type": int, "required": True}),
            ("--poles", {"type": int, "required": True}),
        ),
    ),
    (
        "leads",
        "the mass at the bench's lead length and the leads' resistance",
        _leads,
        (
            ("--mass-g", _NUMBER),
            ("--at-mm", _NUMBER),
            ("--other-mass-g", _MAYBE),
            ("--other-at-mm", _MAYBE),
            ("--awg", {"type": int}),
            ("--wanted-mm", {"type": float, "default": 60.0}),
            ("--u-mass-g", {"type": float, "default": 0.01}),
            ("--u-length-mm", {"type": float, "default": 1.0}),
        ),
    ),
    (
        "screw",
        "whether a mounting screw hits the winding, is too short, or good",
        _screw,
        (
            ("--length", _NUMBER),
            ("--arm", _NUMBER),
            ("--thread-depth", _NUMBER),
            ("--clearance", _NUMBER),
            ("--washer", {"type": float, "default": 0.0}),
        ),
    ),
    (
        "fit",
        "whether a propeller fits a shaft, with adapter rings",
        _fit,
        (
            ("--bore", _NUMBER),
            ("--hub-thickness", _NUMBER),
            ("--shaft", _NUMBER),
            ("--free-length", _NUMBER),
            ("--nut", {"type": float, "default": 0.0}),
            ("--washer", {"type": float, "default": 0.0}),
            (
                "--ring",
                {"action": "append", "default": [], "type": _ring, "metavar": "INNER/OUTER/HEIGHT"},
            ),
        ),
    ),
    (
        "scale",
        "the thrust that a reading means, with a lever and dead weights",
        _scale,
        (
            ("read", {"type": float, "metavar": "GRAMS"}),
            ("--lever", {"type": _pair, "metavar": "MOTOR/SCALE"}),
            ("--u-arm-mm", _MAYBE),
            (
                "--weight",
                {"action": "append", "default": [], "type": _weight, "metavar": "NAME=GRAMS"},
            ),
            ("--at-rest", {"type": float, "help": "what it shows at rest, where thrust lifts"}),
            ("--step", {"type": float, "default": 1.0, "help": "its last digit [g]"}),
            ("--total", {"type": float, "help": "a sum to check [gf]"}),
        ),
    ),
    (
        "ratings",
        "which of rated power and current binds, and the voltage they imply",
        _ratings,
        (
            ("--power", _NUMBER),
            ("--current", _NUMBER),
            ("--cells", {"type": int, "required": True}),
        ),
    ),
    (
        "ceiling",
        "the highest temperature of winding and case",
        _ceiling,
        (
            ("--enamel", {"help": "B, F, H, N, R or degrees C"}),
            ("--magnets", {"help": "a grade such as N52SH"}),
            ("--own-limit-c", _MAYBE),
        ),
    ),
    (
        "propeller",
        "what a propeller's code means, and CT and CP estimated from it",
        _propeller,
        (("code", {"metavar": "CODE"}), ("--family", {"choices": tuple(FAMILY_FACTORS)})),
    ),
    (
        "load",
        "the current of best efficiency",
        _load,
        (
            ("--voltage", _NUMBER),
            ("--i0", _NUMBER),
            ("--r", _NUMBER),
            ("--duty", {"type": float, "default": 1.0}),
        ),
    ),
    (
        "air",
        "the density of the air",
        _air,
        (("--temp-c", _NUMBER), ("--pressure-hpa", _NUMBER), ("--humidity-pct", _NUMBER)),
    ),
    (
        "ready",
        "when a warm motor has cooled",
        _ready,
        (
            ("--from-c", _NUMBER),
            ("--to-c", _NUMBER),
            ("--ambient-c", _NUMBER),
            ("--time-constant-s", _NUMBER),
        ),
    ),
)
