"""Moments of inertia of simple bodies, for bells, flywheels and arms."""

from __future__ import annotations

from spindle_core.errors import QuantityError


def disc_kg_mm2(mass_g: float, radius_mm: float) -> float:
    """A solid disc about its axis, ½·m·r² [kg·mm²]."""
    _positive(mass_g, radius_mm)
    return 0.5 * mass_g * 1e-3 * radius_mm**2


def ring_kg_mm2(mass_g: float, inner_radius_mm: float, outer_radius_mm: float) -> float:
    """A ring about its axis, ½·m·(ri² + ro²) [kg·mm²]; bells and flux rings are rings.

    :raises QuantityError: a mass or radius that is not positive, or radii in the wrong order.
    """
    _positive(mass_g, outer_radius_mm)
    if not 0 <= inner_radius_mm < outer_radius_mm:
        raise QuantityError("A ring's inner radius lies between 0 and its outer radius.")
    return 0.5 * mass_g * 1e-3 * (inner_radius_mm**2 + outer_radius_mm**2)


def angular_acceleration_rad_per_s2(torque_nm: float, inertia_kg_mm2: float) -> float:
    """Torque ÷ inertia [rad/s²]: how fast a motor can change its speed."""
    if inertia_kg_mm2 <= 0:
        raise QuantityError("An inertia must be above 0 kg·mm².")
    return torque_nm / (inertia_kg_mm2 * 1e-6)


def _positive(mass_g: float, radius_mm: float) -> None:
    if mass_g <= 0 or radius_mm <= 0:
        raise QuantityError("A mass and a radius must be above 0.")
