"""The made-up world behind the simulated stand: the truth that a reviewer tries to find.

Makers, motors and propellers are invented. A motor that is not in this world gets typical
constants of its size and kV, so that a motor typed in by a newcomer runs too.
"""

from __future__ import annotations

import math
import zlib
from dataclasses import dataclass

from spindle_bench.errors import PlanError
from spindle_bench.stand.physics import Mounted, TrueMotor, TrueSupply
from spindle_core.errors import SizeCodeError
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.model.propeller import estimate_coefficients
from spindle_core.motor.size_code import Basis, parse_size_code


@dataclass(frozen=True, slots=True)
class MotorFacts:
    """How a motor of this world differs from the typical one of its label."""

    kv_factor: float = 1.0
    resistance_factor: float = 1.0
    no_load_factor: float = 1.0
    imbalance: float = 1.0


MOTORS: dict[str, MotorFacts] = {
    "Quillmoor Sable 2105.5 1950": MotorFacts(0.992, 0.94, 0.9),
    "Quillmoor Sable 2105.5 2650": MotorFacts(0.985, 0.97, 0.95),
    "Ostrel Drift 2206 1900": MotorFacts(0.9895, 0.98, 1.05),
    "Ostrel Drift Lite 2205 2420": MotorFacts(0.943, 1.08, 1.1),
    "Brackwater No. 4 2306 1800": MotorFacts(1.0444, 0.9613, 1.014),
    "Fennick & Daw Teal 1505 3600": MotorFacts(0.99, 1.05, 1.0),
    "Fennick & Daw Teal 1404 4100": MotorFacts(0.98, 1.02, 1.0),
    "Hollin Pale 2807 1250": MotorFacts(1.004, 0.97, 0.95),
    "Hollin Pale 2807 1480": MotorFacts(0.996, 0.98, 0.97),
}
"""Drift Lite's label is 6 % optimistic; Drift and No. 4 end up as the same motor in practice."""

SAMPLES: dict[tuple[str, str], MotorFacts] = {
    ("Ostrel Drift Lite 2205 2420", "B"): MotorFacts(1.0, 1.0, 1.9, 2.2)
}
"""A dry bearing: more no-load current and vibration."""

PROPELLER_FACTORS: dict[str, tuple[float, float]] = {
    "Wickett 5.1x4.2x3": (1.04, 1.02),
    "Wickett 5x3.6x3": (1.01, 0.97),
    "Wickett 5.1x3.1x2": (1.05, 1.0),
    "Sallow 3x3x3": (0.95, 1.04),
    "Sallow 4x2.8x3": (1.0, 1.0),
    "Corran 7x3.8x3": (1.0, 0.98),
    "Corran 7.5x4.4x3": (1.02, 1.0),
    "Corran 6.1x4.4x3": (0.99, 1.0),
    "Corran 6x4x2": (1.03, 1.0),
}
"""(CT, CP) of the real propeller ÷ what geometry alone suggests."""


def typical_motor(size_code: str, kv_rpm_per_v: float) -> TrueMotor:
    """Typical constants of a motor from its size code and kV.

    The motor constant Km² = Kt²/R grows with the stator's volume; the numbers are set so that
    a 2306 of 1,900 rpm/V has about 0.08 Ω with its ESC.

    :raises PlanError: the size code is not one of an outrunner's stator.
    """
    try:
        size = parse_size_code(size_code)
    except SizeCodeError as error:
        raise PlanError(
            "The simulated stand makes its motor from the size code, and this one has none."
        ) from error
    if size.basis is not Basis.STATOR:
        raise PlanError(f"The simulated stand has no model of {size_code!r}: not a stator size.")
    volume = size.diameter_mm**2 * size.height_mm
    kt = 60.0 / (2.0 * math.pi * kv_rpm_per_v)
    resistance = kt**2 / (1.02e-7 * volume)
    scale = volume / 3174.0 * kv_rpm_per_v / 1900.0
    mass_g = 4.0 + 0.0088 * volume
    radius_m = (size.diameter_mm / 2.0 + 2.0) * 1e-3
    return TrueMotor(
        Motor(kv_rpm_per_v, resistance, 0.35 * scale, 2.6e-5 * scale),
        inertia_kg_m2=0.45 * mass_g * 1e-3 * radius_m**2,
        mass_g=mass_g,
    )


def true_motor(model: str, sample: str, size_code: str, kv_rpm_per_v: float) -> TrueMotor:
    """The motor on the stand: the model's truth with its sample's small differences."""
    typical = typical_motor(size_code, kv_rpm_per_v)
    model_facts = MOTORS.get(model, MotorFacts())
    sample_facts = SAMPLES.get((model, sample), MotorFacts())
    draw = zlib.crc32(f"{model}/{sample}".encode())
    kv_spread = 1.0 + 0.006 * (draw % 1000 / 500.0 - 1.0) * (model in MOTORS)
    r_spread = 1.0 + 0.012 * (draw // 1000 % 1000 / 500.0 - 1.0) * (model in MOTORS)
    if model in ("Ostrel Drift 2206 1900", "Brackwater No. 4 2306 1800"):
        kv_spread = r_spread = 1.0
    electrical = typical.electrical
    drag = model_facts.no_load_factor * sample_facts.no_load_factor
    return TrueMotor(
        Motor(
            electrical.kv_rpm_per_v * model_facts.kv_factor * kv_spread,
            electrical.resistance_ohm * model_facts.resistance_factor * r_spread,
            electrical.no_load_current_a * drag,
            electrical.no_load_slope_a_per_rpm * drag,
        ),
        typical.inertia_kg_m2,
        typical.mass_g,
    )


def imbalance(model: str, sample: str) -> float:
    """Vibration relative to a well-balanced motor."""
    return SAMPLES.get((model, sample), MotorFacts()).imbalance


def true_propeller(name: str, diameter_in: float, pitch_in: float, blades: int) -> Propeller:
    """The propeller on the stand."""
    estimate = estimate_coefficients(diameter_in, pitch_in, blades=blades)
    ct, cp = PROPELLER_FACTORS.get(name, (1.0, 1.0))
    return Propeller(diameter_in, estimate.ct * ct, estimate.cp * cp)


def propeller_inertia_kg_m2(diameter_in: float, blades: int) -> float:
    """A plastic propeller's inertia: mass grows with area and blades, rod ends at the tip."""
    mass_kg = 1.35e-3 * blades * math.pow(diameter_in / 5.1, 2.5)
    return mass_kg * (diameter_in * 0.0254) ** 2 / 20.0


def mounted_from(facts: dict[str, object]) -> Mounted:
    """What a ``mount`` message puts on the stand.

    :raises PlanError: a value is missing or impossible.
    """
    try:
        model, sample = str(facts["motor"]), str(facts["sample"])
        motor = true_motor(model, sample, str(facts["size_code"]), _number(facts, "kv_rpm_per_v"))
        propeller, load_inertia = _load(facts)
        if facts.get("load") == "flywheel":
            load_inertia = max(BARE_SHAFT_KG_M2, load_inertia - motor.inertia_kg_m2)
        supply = TrueSupply(
            _number(facts, "open_circuit_v"),
            _optional(facts, "supply_resistance_ohm") or USUAL_SUPPLY_OHM,
            _optional(facts, "trip_a"),
            _optional(facts, "capacity_as"),
        )
        ambient = _between(facts, "ambient_c", *AMBIENT_C)
        density = _between(facts, "air_density_kg_per_m3", *DENSITY_KG_PER_M3)
    except (KeyError, TypeError, ValueError, OverflowError) as error:
        raise PlanError(f"The stand cannot mount this: {error}.") from error
    return Mounted(
        motor,
        propeller,
        load_inertia,
        supply,
        21.0 if ambient is None else ambient,
        1.2 if density is None else density,
    )


USUAL_SUPPLY_OHM = 0.005
"""Of a supply whose resistance nobody measured, with its leads [Ω]."""

TO_NOTE = {
    "open_circuit_v": "what the supply gives without load; note it, or the pack's cells, on the "
    "Rig page",
    "kv_rpm_per_v": "the motor's kV; note it in the motor's file",
    "inertia_kg_mm2": "the inertia of the flywheel; type it with the run",
}
"""What a motor cannot be simulated without, and where it is noted."""

AMBIENT_C = (-40.0, 60.0)
DENSITY_KG_PER_M3 = (0.5, 1.7)

LOADS = ("propeller", "none", "flywheel")
"""What a shaft may carry; ``load`` of a ``mount`` message, a propeller when it is not said."""

BARE_SHAFT_KG_M2 = 1e-8


def _load(facts: dict[str, object]) -> tuple[Propeller | None, float]:
    """The propeller, None for a bare shaft or a flywheel, and the inertia on the shaft [kg·m²].

    A flywheel's inertia is given with the motor's own rotor, as a log of it says it.
    """
    load = facts.get("load") or "propeller"
    if load == "none":
        return None, BARE_SHAFT_KG_M2
    if load == "flywheel":
        return None, _number(facts, "inertia_kg_mm2") * 1e-6
    if load != "propeller":
        raise ValueError(f"load is one of {', '.join(LOADS)}, got {load!r}")
    diameter, blades = _number(facts, "prop_diameter_in"), int(_number(facts, "prop_blades"))
    propeller = true_propeller(
        str(facts["propeller"]), diameter, _number(facts, "prop_pitch_in"), blades
    )
    return propeller, propeller_inertia_kg_m2(diameter, blades)


def _number(facts: dict[str, object], name: str) -> float:
    value = facts[name]
    if value is None:
        raise ValueError(f"nobody noted {TO_NOTE.get(name, name)}")
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 < value < 1e9:
        raise ValueError(f"{name} must be a number above 0, got {value!r}")
    return float(value)


def _optional(facts: dict[str, object], name: str) -> float | None:
    return None if facts.get(name) is None else _number(facts, name)


def _between(facts: dict[str, object], name: str, low: float, high: float) -> float | None:
    """A number that may be negative, as a temperature in a cold shed is; None when not given."""
    value = facts.get(name)
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise ValueError(f"{name} is {low:g} to {high:g}, got {value!r}")
    return float(value)
