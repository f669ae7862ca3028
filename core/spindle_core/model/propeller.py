"""Propellers: coefficients from geometry, loads, speeds at the tip and in the air."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import METRE_PER_INCH, NEWTON_PER_GF
from spindle_core.figures.measured import Absent, Measured, Origin, propagate
from spindle_core.model.air import speed_of_sound_m_per_s

TYPICAL_FIGURE_OF_MERIT = 0.55
ESTIMATE_HALF_WIDTH = 0.30
TIP_MACH_CAUTION = 0.75

FAMILY_FACTORS: Mapping[str, tuple[float, float]] = {
    "slow-fly": (1.10, 1.12),
    "sport": (1.00, 1.00),
    "racing": (0.98, 1.00),
    "bullnose": (1.06, 1.10),
}
"""Family → (CT, CP) relative to what diameter, pitch and blades alone suggest."""


@dataclass(frozen=True, slots=True)
class EstimatedCoefficients:
    """CT and CP of an unmeasured propeller; ``relative_half_width`` is rectangular."""

    ct: float
    cp: float
    relative_half_width: float = ESTIMATE_HALF_WIDTH

    def measured(self) -> tuple[Measured, Measured]:
        """CT and CP as figures of origin *estimated*, u = half-width/√3."""
        share = self.relative_half_width / math.sqrt(3.0)
        return (
            Measured(self.ct, {"geometry_ct": share * self.ct}, origin=Origin.ESTIMATED),
            Measured(self.cp, {"geometry_cp": share * self.cp}, origin=Origin.ESTIMATED),
        )


def estimate_coefficients(
    diameter_in: float, pitch_in: float, *, blades: int, family: str | None = None
) -> EstimatedCoefficients:
    """Static CT and CP from geometry alone.

    CP = 0.06·(pitch/D)·blades^0.8 and CT = (1.2533·FoM·CP)^(2/3) with a figure of merit of 0.55;
    1.2533 = √(2·π/4) joins them through momentum theory. Always an estimate.

    :param family: one of :data:`FAMILY_FACTORS`, which shifts both.
    :raises QuantityError: a dimension or blade count that is not positive, an unknown family.
    """
    if diameter_in <= 0 or pitch_in <= 0 or blades < 1:
        raise QuantityError("A propeller needs a diameter, a pitch and blades above 0.")
    if family is not None and family not in FAMILY_FACTORS:
        listed = ", ".join(FAMILY_FACTORS)
        raise QuantityError(f"{family!r} is no family of propellers; they are {listed}.")
    shift_t, shift_p = FAMILY_FACTORS[family] if family else (1.0, 1.0)
    cp = 0.06 * (pitch_in / diameter_in) * blades**0.8
    ct = (1.2533 * TYPICAL_FIGURE_OF_MERIT * cp) ** (2.0 / 3.0)
    return EstimatedCoefficients(ct * shift_t, cp * shift_p)


def disc_area_m2(diameter_in: float) -> float:
    """Area swept by the blades, π·D²/4 [m²]."""
    return float(math.pi / 4.0 * (diameter_in * METRE_PER_INCH) ** 2)


def figure_of_merit(
    thrust_gf: float, shaft_power_w: float, *, diameter_in: float, density_kg_per_m3: float
) -> float:
    """FoM = T^1.5/√(2·ρ·A)/P: ideal hover power ÷ shaft power.

    :raises QuantityError: a value that is not positive.
    """
    if min(thrust_gf, shaft_power_w, diameter_in, density_kg_per_m3) <= 0:
        raise QuantityError("Thrust, power, diameter and density must be above 0.")
    newton = thrust_gf * NEWTON_PER_GF
    ideal = math.pow(newton, 1.5) / math.sqrt(2.0 * density_kg_per_m3 * disc_area_m2(diameter_in))
    return ideal / shaft_power_w


def merit_of(ct: Measured, cp: Measured) -> Measured:
    """Figure of merit of a propeller at a stand from its coefficients, CT^1.5/(√(π/2)·CP): the
    power that an ideal one would need ÷ what it needs. Speed, density and diameter cancel.

    :raises QuantityError: a coefficient that is not positive.
    """
    if ct.value <= 0 or cp.value <= 0:
        raise QuantityError("CT and CP must be above 0.")
    value = ct.value**1.5 / (math.sqrt(math.pi / 2.0) * cp.value)
    return propagate(
        lambda t, p: t**1.5 / (math.sqrt(math.pi / 2.0) * p),
        (ct, cp),
        partials=(1.5 * value / ct.value, -value / cp.value),
    )


def load_index_m5(cp: Measured, diameter_in: float) -> Measured:
    """CP·D⁵ [m⁵]: orders propellers from light to heavy, whatever their size. At one speed the
    shaft power goes with it.

    :raises QuantityError: CP or diameter that is not positive.
    """
    if cp.value <= 0 or diameter_in <= 0:
        raise QuantityError("CP and diameter must be above 0.")
    return cp.scaled((diameter_in * METRE_PER_INCH) ** 5)


def pitch_speed_m_per_s(pitch_in: float, speed_rpm: Measured) -> Measured:
    """Speed of the air a propeller would screw itself through, pitch × n [m/s]; the pitch as it is
    printed."""
    return speed_rpm.scaled(pitch_in * METRE_PER_INCH / 60.0)


def tip_speed_m_per_s(diameter_in: float, speed_rpm: float) -> float:
    """Speed of the blade tip, π·D·n [m/s]."""
    return math.pi * diameter_in * METRE_PER_INCH * speed_rpm / 60.0


def tip_mach(diameter_in: float, speed_rpm: float, *, air_temp_c: float) -> float:
    """Tip speed ÷ speed of sound; above 0.75 noise and losses grow quickly."""
    return tip_speed_m_per_s(diameter_in, speed_rpm) / speed_of_sound_m_per_s(air_temp_c)


def reynolds_number(
    diameter_in: float,
    speed_rpm: float,
    *,
    chord_mm: float,
    density_kg_per_m3: float,
    air_temp_c: float,
) -> float:
    """Reynolds number of the blade at 75 % of its radius.

    Viscosity of air after Sutherland (1893), with S = 110.4 K and 1.458e-6 kg/(m·s·√K).

    :raises QuantityError: a value that is not positive.
    """
    if min(diameter_in, speed_rpm, chord_mm, density_kg_per_m3) <= 0:
        raise QuantityError("Diameter, speed, chord and density must be above 0.")
    kelvin = air_temp_c + 273.15
    viscosity = 1.458e-6 * kelvin**1.5 / (kelvin + 110.4)
    speed = 0.75 * tip_speed_m_per_s(diameter_in, speed_rpm)
    return float(density_kg_per_m3 * speed * chord_mm * 1e-3 / viscosity)


def pooled_reynolds_exponent(
    propellers: Sequence[tuple[Sequence[float], Sequence[float]]],
) -> Measured | Absent:
    """One exponent m of C = C₀·Re^m for a whole library; each propeller has its own C₀.

    Within-propeller least squares on logarithms (fixed effects).

    :param propellers: per propeller its Reynolds numbers and coefficients, shape (n,) each.
    :returns: absent where the library does not show it (|m| below 3 u, or too few points).
    """
    xs, ys, groups = [], [], 0
    for reynolds, coefficients in propellers:
        if len(reynolds) < 2:
            continue
        x, y = np.log(np.asarray(reynolds)), np.log(np.asarray(coefficients))
        xs.append(x - x.mean())
        ys.append(y - y.mean())
        groups += 1
    if not xs:
        return Absent("too_few_points", "needs propellers with points at two speeds")
    x, y = np.concatenate(xs), np.concatenate(ys)
    spread = float(x @ x)
    freedom = x.size - groups - 1
    if freedom < 3 or spread < 0.05:
        return Absent("too_few_points", "the points span too little of the Reynolds number")
    m = float(x @ y) / spread
    rest = y - m * x
    u = math.sqrt(float(rest @ rest) / freedom / spread)
    if abs(m) < 3.0 * u:
        return Absent("not_shown", "the library shows no change with the Reynolds number")
    return Measured(m, {"fit": u}, n=groups, origin=Origin.DERIVED)
