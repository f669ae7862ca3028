"""Identified motors rewound to one kV, so that a difference splits into winding and design.

The same stator and magnets with other turns: kv ∝ 1/turns, R ∝ turns² = 1/kv², and what turns the
motor idle is a torque, so that I0 ∝ kv. What is left between two motors at one kV is design.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, Origin, difference, propagate
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_core.planning.predict import KnownSupply, predict

FIGURES = ("thrust_gf", "power_w", "current_a", "efficiency_g_per_w", "speed_rpm")


def rewound(motor: KnownMotor, kv_rpm_per_v: float) -> KnownMotor:
    """The motor with other turns, to have this kV.

    :raises QuantityError: a kV that is not above 0.
    """
    if not kv_rpm_per_v > 0:
        raise QuantityError("A motor is wound for a kV above 0 rpm/V.", code="kv")
    kv, share = motor.kv_rpm_per_v, motor.kv_rpm_per_v.value / kv_rpm_per_v
    resistance = propagate(
        lambda ohm, own: ohm * (own / kv_rpm_per_v) ** 2,
        [motor.resistance_ohm, kv],
        origin=Origin.ESTIMATED,
    )
    idle = propagate(
        lambda amp, own: amp * kv_rpm_per_v / own, [motor.no_load_a, kv], origin=Origin.ESTIMATED
    )
    return replace(
        motor,
        # The turns are chosen for this kV: it is exact, its doubt is in R and I0.
        kv_rpm_per_v=Measured(kv_rpm_per_v, origin=Origin.ESTIMATED),
        resistance_ohm=resistance,
        no_load_a=idle,
        no_load_slope_a_per_rpm=motor.no_load_slope_a_per_rpm / share,
        warming_ohm_per_a2=motor.warming_ohm_per_a2.scaled(share**4),
        words=f"rewound to {kv_rpm_per_v:,.0f} rpm/V; {motor.words}",
    )


def copper_figure(motor: KnownMotor) -> Measured:
    """Km = Kt/√R [N·m/√W]: what the design makes of copper, whatever its turns."""
    return propagate(
        lambda kv, ohm: 60.0 / (2.0 * math.pi * kv) / math.sqrt(ohm),
        [motor.kv_rpm_per_v, motor.resistance_ohm],
        origin=Origin.DERIVED,
    )


@dataclass(frozen=True, slots=True)
class AtOneKv:
    """A motor as it is and rewound, at full throttle on one propeller.

    ``total_pct`` is its difference to the reference [% of the reference as it is]; ``design_pct``
    what is left of it at one kV, ``winding_pct`` the rest. Absent for the reference itself.
    """

    as_it_is: Mapping[str, Figure]
    rewound: Mapping[str, Figure]
    total_pct: Figure
    design_pct: Figure
    winding_pct: Figure


def at_one_kv(
    motors: Mapping[str, KnownMotor],
    reference: str,
    kv_rpm_per_v: float,
    propeller: KnownPropeller,
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    *,
    figure: str = "thrust_gf",
) -> dict[str, AtOneKv]:
    """Every motor as it is and rewound, held against the reference.

    :param figure: of :data:`FIGURES`, in which the difference is told.
    :raises QuantityError: a reference that is not among them, a figure that is none.
    """
    if reference not in motors:
        raise QuantityError("The reference must be one of the motors.", code="reference")
    if figure not in FIGURES:
        raise QuantityError(f"Told in {', '.join(FIGURES)}; not {figure!r}.", code="figure")

    def full(motor: KnownMotor) -> dict[str, Figure]:
        found = predict(motor, propeller, supply, density_kg_per_m3).figures
        return {name: found[name] for name in FIGURES}

    pairs = {key: (full(one), full(rewound(one, kv_rpm_per_v))) for key, one in motors.items()}
    base = pairs[reference]
    found = {}
    for key, (own, wound) in pairs.items():
        if key == reference:
            missing = Absent("reference", "the others are held against it")
            split: Sequence[Figure] = (missing, missing, missing)
        else:
            split = _split(own[figure], wound[figure], base[0][figure], base[1][figure])
        found[key] = AtOneKv(own, wound, *split)
    return found


def _split(own: Figure, wound: Figure, base: Figure, base_wound: Figure) -> Sequence[Figure]:
    parts = (own, wound, base, base_wound)
    for part in parts:
        if isinstance(part, Absent):
            return part, part, part
    known = [part for part in parts if isinstance(part, Measured)]
    scale = 100.0 / known[2].value
    total = difference(known[0], known[2]).scaled(scale)
    design = difference(known[1], known[3]).scaled(scale)
    return total, design, difference(total, design)
