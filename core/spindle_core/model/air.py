"""Density of moist air and the speed of sound in it."""

from __future__ import annotations

import math

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import (
    GAS_CONSTANT_DRY_AIR,
    GAS_CONSTANT_WATER_VAPOUR,
    ZERO_CELSIUS_K,
)


def vapour_pressure_hpa(temperature_c: float, *, humidity_pct: float) -> float:
    """Partial pressure of water vapour [hPa].

    Magnus form over water, e = RH·6.112·exp(17.62·t/(243.12 + t)) (WMO-No. 8, annex 4.B).

    :param temperature_c: air temperature [°C], −45 to 60.
    :param humidity_pct: relative humidity [%], 0 to 100.
    :raises QuantityError: outside those ranges.
    """
    if not -45.0 <= temperature_c <= 60.0:
        raise QuantityError(f"Air at {temperature_c} °C is outside −45 to 60 °C.")
    if not 0.0 <= humidity_pct <= 100.0:
        raise QuantityError(f"A relative humidity of {humidity_pct} % is outside 0 to 100 %.")
    saturation = 6.112 * math.exp(17.62 * temperature_c / (243.12 + temperature_c))
    return humidity_pct / 100.0 * saturation


def air_density_kg_per_m3(
    temperature_c: float, *, pressure_hpa: float, humidity_pct: float = 0.0
) -> float:
    """Density of moist air [kg/m³] as a mixture of two ideal gases.

    ρ = (p − e)·100/(R_dry·T) + e·100/(R_vapour·T).

    :param temperature_c: air temperature [°C].
    :param pressure_hpa: station pressure [hPa], 500 to 1100 (not reduced to sea level).
    :param humidity_pct: relative humidity [%].
    :raises QuantityError: a value is outside its range.
    """
    if not 500.0 <= pressure_hpa <= 1100.0:
        raise QuantityError(
            f"An air pressure of {pressure_hpa} hPa is outside 500 to 1100 hPa; "
            "enter the pressure at the bench, in hPa."
        )
    kelvin = temperature_c + ZERO_CELSIUS_K
    vapour = vapour_pressure_hpa(temperature_c, humidity_pct=humidity_pct)
    dry = (pressure_hpa - vapour) * 100.0 / (GAS_CONSTANT_DRY_AIR * kelvin)
    return dry + vapour * 100.0 / (GAS_CONSTANT_WATER_VAPOUR * kelvin)


WEATHER_U_HPA = 10.0
"""u of a pressure taken from the height alone [hPa]: highs and lows move it by ±20."""


def standard_pressure_hpa(height_m: float) -> float:
    """What the standard atmosphere has at a height above sea [hPa], for want of a barometer.

    p = 1013.25·(1 − 0.0065·h/288.15)^5.2559 (ISO 2533). The weather is not in it: its u is
    :data:`WEATHER_U_HPA`.

    :raises QuantityError: a height outside −450 to 5500 m.
    """
    if not -450.0 <= height_m <= 5500.0:
        raise QuantityError(f"A height of {height_m:g} m is outside −450 to 5500 m.")
    return float(1013.25 * (1.0 - 0.0065 * height_m / 288.15) ** 5.2559)


def speed_of_sound_m_per_s(temperature_c: float) -> float:
    """Speed of sound in dry air [m/s], √(1.4·287.05·T)."""
    return math.sqrt(1.4 * 287.05 * (temperature_c + ZERO_CELSIUS_K))
