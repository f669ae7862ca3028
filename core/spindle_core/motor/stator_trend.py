"""How much motor a stator's size lets one expect, and which motor is better or worse than that.

Km = Kt/√R is the torque per square root of the copper's heat: it does not depend on the wind.
Over a cohort Km² = c·D²h²/(h + k·D): long stators lose little to their end turns, flat ones much.
The residual of a motor is the finding; the volume alone is only the trend.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.figures.numerics import least_of
from spindle_core.model.operating_point import Motor

FEWEST_MOTORS = 4


@dataclass(frozen=True, slots=True)
class TrendMotor:
    """A motor of the cohort: stator diameter and height [mm] and Km [N·m/√W]."""

    name: str
    diameter_mm: float
    height_mm: float
    km_nm_per_sqrt_w: float


@dataclass(frozen=True, slots=True)
class Trend:
    """c and k of the trend and each motor's Km above or below it [%]."""

    c: float
    k: float
    residual_pct: dict[str, float]
    scatter_pct: float


def motor_constant_nm_per_sqrt_w(motor: Motor) -> float:
    """Km = Kt/√R [N·m/√W]."""
    return motor.torque_constant_nm_per_a / math.sqrt(motor.resistance_ohm)


def stator_trend(motors: Sequence[TrendMotor]) -> Trend | Absent:
    """Fit c and a shared k by least squares on ln Km²; absent below four motors.

    :raises QuantityError: a dimension or Km that is not positive.
    """
    if any(min(m.diameter_mm, m.height_mm, m.km_nm_per_sqrt_w) <= 0 for m in motors):
        raise QuantityError("Stator dimensions and Km must be above 0.")
    if len(motors) < FEWEST_MOTORS:
        return Absent("too_few_motors", f"a trend needs {FEWEST_MOTORS} motors on the stator basis")
    d = np.array([m.diameter_mm for m in motors])
    h = np.array([m.height_mm for m in motors])
    y = 2.0 * np.log(np.array([m.km_nm_per_sqrt_w for m in motors]))

    def rest(k: float) -> np.ndarray:
        shape = y - np.log(d**2 * h**2 / (h + k * d))
        return np.asarray(shape - shape.mean())

    k = least_of(lambda k: float(np.sum(rest(k) ** 2)), 0.0, 3.0)
    left = 0.5 * rest(k)
    level = float(np.mean(y - np.log(d**2 * h**2 / (h + k * d))))
    residuals = {m.name: 100.0 * math.expm1(float(r)) for m, r in zip(motors, left, strict=True)}
    scatter = 100.0 * float(np.sqrt(np.sum(left**2) / max(1, len(motors) - 2)))
    return Trend(math.exp(level), k, residuals, scatter)


def copper_room_index(
    *, slots: int, tooth_length_mm: float, hub_diameter_mm: float, height_mm: float
) -> float:
    """Room for copper between the teeth [mm³]: the ring of the teeth's length, half of it slots.

    Half the ring from hub to tooth tip, times the height: an index to compare stators of equal
    volume by, not a volume of wire.

    :raises QuantityError: a dimension that is not positive.
    """
    if min(tooth_length_mm, hub_diameter_mm, height_mm) <= 0 or slots < 3:
        raise QuantityError("Tooth length, hub, height and slots must be above 0.")
    inner, outer = hub_diameter_mm / 2.0, hub_diameter_mm / 2.0 + tooth_length_mm
    return 0.5 * math.pi * (outer**2 - inner**2) * height_mm
