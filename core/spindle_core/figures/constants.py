"""Physical constants, each with its source."""

from __future__ import annotations

STANDARD_GRAVITY_M_PER_S2 = 9.80665
"""Standard acceleration of gravity [m/s²], CGPM 1901."""

NEWTON_PER_GF = STANDARD_GRAVITY_M_PER_S2 / 1000.0
"""One gram-force in newton."""

GRAMS_PER_POUND = 453.59237
"""International pound, 1959 [g]."""

GRAMS_PER_OUNCE = GRAMS_PER_POUND / 16.0
"""International avoirdupois ounce [g]."""

METRE_PER_INCH = 0.0254
"""International inch, 1959."""

ZERO_CELSIUS_K = 273.15
"""0 °C in kelvin."""

GAS_CONSTANT_DRY_AIR = 287.055
"""Specific gas constant of dry air [J/(kg·K)], for the density equation (CIPM rounding)."""

GAS_CONSTANT_WATER_VAPOUR = 461.523
"""Specific gas constant of water vapour [J/(kg·K)]."""

COPPER_TEMPERATURE_COEFFICIENT_PER_K = 0.00393
"""Relative change of copper's resistance per kelvin at 20 °C (IEC 60028)."""

REFERENCE_AIR_DENSITY_KG_PER_M3 = 1.2250
"""Density of dry air at 15 °C and 1013.25 hPa (ISO 2533) [kg/m³]."""
