"""Peers on the bench: motors near in size, mass, kV and price."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import CoreError
from spindle_core.measured import Absent
from spindle_core.peers import peers
from spindle_core.size_code import parse_size_code, stator_volume_mm3
from spindle_server.intake.models import Claim, MotorModel, Parcel
from spindle_server.intake.parcels import parcel_price


def nearest(
    traits: dict[str, float], *, currency: str = "", but: int | None = None
) -> list[dict[str, Any]]:
    """The nearest motors; three queries whatever their number.

    All traits but size are what is claimed or paid, so that a motor fresh from its parcel has
    peers; prices compare in one currency only.
    """
    labels: dict[int, str] = {}
    others: dict[str, dict[str, float]] = {}
    masses = dict(Claim.objects.filter(quantity="mass_g").values_list("motor", "value"))
    prices = _prices(currency)
    for motor in MotorModel.objects.select_related("maker"):
        if motor.pk == but:
            continue
        labels[motor.pk] = motor.full_name
        others[str(motor.pk)] = traits_of(motor, masses.get(motor.pk), prices.get(motor.pk))
    return [
        {"motor": int(peer.name), "full_name": labels[int(peer.name)],
         "distance": round(peer.distance, 2), "compared": list(peer.compared),
         "traits": others[peer.name]}
        for peer in peers(traits, others)
    ]  # fmt: skip


def _prices(currency: str) -> dict[int, float]:
    found = {}
    for parcel in Parcel.objects.filter(price_amount__gt=0, price_currency=currency):
        found[parcel.motor_id] = parcel_price(parcel)["amount"]
    return found


def traits_of(motor: MotorModel, mass_g: float | None, price: float | None) -> dict[str, float]:
    """What is known of a motor without a measurement, by the names of the core's traits."""
    traits = size_traits(motor.size_code, motor.size_basis)
    if motor.kv_label_rpm_per_v is not None:
        traits["kv_rpm_per_v"] = motor.kv_label_rpm_per_v
    if mass_g:
        traits["mass_g"] = mass_g
    if price:
        traits["price"] = price
    return traits


def size_traits(text: str, basis: str | None) -> dict[str, float]:
    """The stator volume by the size code; nothing off the stator basis or for no code."""
    try:
        volume = stator_volume_mm3(parse_size_code(text, basis or None))
    except CoreError:
        return {}
    return {} if isinstance(volume, Absent) else {"stator_volume_mm3": volume}
