"""Heat: copper and magnets at temperature, cooling after a run, rises that may be compared."""

from __future__ import annotations

import math

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent

DEFAULT_CASE_TIME_CONSTANT_S = 140.0
"""Cooling time constant of a still motor's case, until a soak has measured its own [s]."""

NEAR_AIR_K = 5.0
"""A case this near to the air counts as cool again [K]."""


def cooling_time_s(
    from_c: float, to_c: float, *, ambient_c: float, time_constant_s: float
) -> float | Absent:
    """Time until a case has cooled from one temperature to another [s].

    Newton's law of cooling, t = τ·ln((T0 − Ta)/(T1 − Ta)); 0 when it is already there.

    :param from_c: temperature now [°C].
    :param to_c: temperature wanted [°C]; at or below ambient it is never reached: absent.
    :raises QuantityError: a time constant that is not positive.
    """
    if time_constant_s <= 0:
        raise QuantityError(f"A time constant must be above 0 s, got {time_constant_s}.")
    if from_c <= to_c:
        return 0.0
    if to_c <= ambient_c:
        return Absent("never_reached", "the target is not above the air")
    return time_constant_s * math.log((from_c - ambient_c) / (to_c - ambient_c))


def resistance_at_ohm(copper_ohm: float, temperature_c: float, *, esc_ohm: float = 0.0) -> float:
    """R(T) = R_cu·(1 + 0.00393·(T − 20)) + R_esc [Ω].

    :param copper_ohm: winding and leads at 20 °C [Ω]; ``esc_ohm``: what does not warm with them.
    :raises QuantityError: a negative resistance, or a temperature at which copper has none.
    """
    factor = 1.0 + COPPER_TEMPERATURE_COEFFICIENT_PER_K * (temperature_c - 20.0)
    if copper_ohm < 0 or esc_ohm < 0 or factor <= 0:
        raise QuantityError("A resistance cannot be below 0 Ω; check ohms and temperature.")
    return copper_ohm * factor + esc_ohm


MAGNET_TEMPERATURE_COEFFICIENT_PER_K = 0.0011
"""Reversible loss of a NdFeB magnet's remanence per kelvin (usual data-sheet value)."""


def kv_at_rpm_per_v(kv_at_20c: float, magnet_c: float) -> float:
    """kV of a motor with warm NdFeB magnets: kv20/(1 − 0.0011·(T − 20)) [rpm/V].

    A weaker magnet makes a faster motor with less torque per ampere.

    :raises QuantityError: a kV that is not positive, or magnets outside −60 to 250 °C.
    """
    if kv_at_20c <= 0 or not -60.0 <= magnet_c <= 250.0:
        raise QuantityError("kV must be above 0 rpm/V and magnets between −60 and 250 °C.")
    return kv_at_20c / (1.0 - MAGNET_TEMPERATURE_COEFFICIENT_PER_K * (magnet_c - 20.0))


def rise_per_kilojoule(rise_k: float, energy_kj: float) -> float | Absent:
    """Temperature rise for the electrical energy that went in [K/kJ].

    Final temperatures of runs of different length or load do not compare; rises per energy do,
    roughly, while little heat has left the case.
    """
    if energy_kj <= 0:
        return Absent("no_energy", "no electrical energy was logged")
    return rise_k / energy_kj
