"""Figures brought to nominal voltage and reference air.

The measurement is multiplied by the ratio of the model at the wanted and at the measured
conditions, so that an error of the model cancels but for its slope. Raw and corrected figures are
both kept by the caller. Without a model, powers of voltage and density stand in, and what is not
known of the exponents goes into u. What is not known of the measured voltage and air goes into it
either way: a voltmeter that shows 1 % too much makes a thrust at nominal 1.7 % too small.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from spindle_core.errors import CoreError, QuantityError
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Measured, Origin, source_of
from spindle_core.model.operating_point import Motor, Propeller, solve

FARTHEST_VOLTAGE = 0.10
"""Beyond ±10 % of the nominal voltage nothing is corrected."""

EXPONENTS: Mapping[str, tuple[float, float]] = {
    "thrust_gf": (1.7, 0.65),
    "power_w": (2.5, 0.60),
    "current_a": (1.5, 0.60),
    "speed_rpm": (0.85, -0.175),
}
"""Powers of voltage and density for a usual motor and propeller at one throttle."""

VOLTAGE_EXPONENT_HALF_WIDTH, DENSITY_EXPONENT_HALF_WIDTH = 0.2, 0.15
MODEL_SHARE = 0.05
"""Share of a correction by model that may be wrong (half-width)."""


@dataclass(frozen=True, slots=True)
class At:
    """Conditions of a figure: voltage at the ESC [V] and air density [kg/m³], with the components
    of their u in the same units; without them they are taken for exact, as wanted ones are."""

    voltage_v: float
    density_kg_per_m3: float = REFERENCE_AIR_DENSITY_KG_PER_M3
    voltage_parts: Mapping[str, float] = field(default_factory=dict)
    density_parts: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if self.voltage_v <= 0 or self.density_kg_per_m3 <= 0:
            raise QuantityError("Voltage and air density must be above 0.")


def corrected(
    figure: Measured,
    name: str,
    *,
    measured_at: At,
    wanted_at: At,
    motor: Motor | None = None,
    propeller: Propeller | None = None,
    duty: float = 1.0,
) -> Measured | Absent:
    """A figure as it would have been at the wanted voltage and air.

    :param name: ``thrust_gf``, ``power_w``, ``current_a`` or ``speed_rpm``; with a model also
        ``shaft_power_w``, ``efficiency_g_per_w`` and ``motor_current_a``.
    :returns: absent more than 10 % from the wanted voltage.
    :raises QuantityError: a name that cannot be corrected, or conditions that are impossible.
    """
    off = measured_at.voltage_v / wanted_at.voltage_v - 1.0
    if abs(off) > FARTHEST_VOLTAGE:
        return Absent(
            "too_far_from_nominal", f"measured {100 * off:+.0f} % off the nominal voltage"
        )
    if motor is not None and propeller is not None:
        return _by_model(figure, name, measured_at, wanted_at, motor, propeller, duty)
    if name not in EXPONENTS:
        raise QuantityError(
            f"{name} cannot be corrected without a model; can be: {', '.join(EXPONENTS)}."
        )
    volts = math.log(wanted_at.voltage_v / measured_at.voltage_v)
    air = math.log(wanted_at.density_kg_per_m3 / measured_at.density_kg_per_m3)
    by_volts, by_air = EXPONENTS[name]
    factor = math.exp(by_volts * volts + by_air * air)
    value = factor * figure.value
    doubt = {
        "voltage_exponent": value * volts * VOLTAGE_EXPONENT_HALF_WIDTH / math.sqrt(3.0),
        "density_exponent": value * air * DENSITY_EXPONENT_HALF_WIDTH / math.sqrt(3.0),
    }
    return _scaled(figure, factor, doubt, _of_conditions(value, measured_at, by_volts, by_air))


def _by_model(
    figure: Measured,
    name: str,
    measured_at: At,
    wanted_at: At,
    motor: Motor,
    propeller: Propeller,
    duty: float,
) -> Measured | Absent:

    def model(voltage_v: float, density_kg_per_m3: float) -> float:
        return solve(
            motor, propeller, voltage_v=voltage_v, duty=duty, density_kg_per_m3=density_kg_per_m3
        ).value(name)

    volts, air = measured_at.voltage_v, measured_at.density_kg_per_m3
    try:
        before, after = (
            model(at.voltage_v, at.density_kg_per_m3) for at in (measured_at, wanted_at)
        )
        by_volts = _power(lambda share: model(volts * share, air))
        by_air = _power(lambda share: model(volts, air * share))
    except AttributeError as error:
        raise QuantityError(f"{name} is no figure of an operating point.") from error
    except CoreError as error:
        return Absent(error.code, error.message)
    factor = after / before
    doubt = MODEL_SHARE * (factor - 1.0) * figure.value / math.sqrt(3.0)
    given = _of_conditions(factor * figure.value, measured_at, by_volts, by_air)
    return _scaled(figure, factor, {"model": doubt}, given)


_SHARE = 1e-3


def _power(model: Callable[[float], float]) -> float:
    """With which power of an input the model goes, from a little to either side of it."""
    above, below = model(1.0 + _SHARE), model(1.0 - _SHARE)
    return math.log(above / below) / math.log((1.0 + _SHARE) / (1.0 - _SHARE))


def _of_conditions(value: float, at: At, by_volts: float, by_air: float) -> list[tuple[str, float]]:
    """What the u of the measured conditions adds to a corrected value. Read too high, they take it
    too far down."""
    of_volts, of_air = value * by_volts / at.voltage_v, value * by_air / at.density_kg_per_m3
    return [
        *((key, -of_volts * part) for key, part in at.voltage_parts.items()),
        *((key, -of_air * part) for key, part in at.density_parts.items()),
    ]


def _scaled(
    figure: Measured, factor: float, extra: Mapping[str, float], given: list[tuple[str, float]]
) -> Measured:
    scaled = replace(figure.scaled(factor), origin=Origin.DERIVED)
    parts = dict(scaled.components)
    for key, part in extra.items():
        if part:
            # Corrected there and back, the exponent is the same one.
            parts[key] = parts.get(key, 0.0) + part
    for key, part in given:
        known = parts.get(key, 0.0)
        # Without a source nobody knows that the two are one.
        parts[key] = known + part if source_of(key) else math.hypot(known, part)
    return replace(scaled, components=parts)
