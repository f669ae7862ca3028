"""Peers on the bench: motors near in size, mass, kV and price."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

from django.db.models import Q

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent
from spindle_core.intake.parcel import price_each
from spindle_core.intake.peers import SPANS, peers
from spindle_core.motor.size_code import parse_size_code, stator_volume_mm3
from spindle_server.motors.models import Claim, MotorModel, Parcel, Weighing


def nearest(
    traits: dict[str, float], *, currency: str = "", but: int | None = None
) -> list[dict[str, Any]]:
    """The nearest motors; five queries whatever their number.

    Size, kV and price are what is claimed or paid, so that a motor fresh from its parcel has
    peers; the mass is the measured one once there is one. Prices compare in one currency only.
    """
    kv = traits.get("kv_rpm_per_v")
    claims = Claim.objects.filter(_near_in_kv(kv, "motor__"), quantity="mass_g").order_by()
    weighed = weighed_masses(kv)
    masses = {**dict(claims.values_list("motor", "value")), **weighed}
    prices = _prices(currency, kv) if "price" in traits else {}
    near = MotorModel.objects.filter(_near_in_kv(kv)).order_by()
    rows = near.values_list("pk", "size_code", "size_basis", "kv_label_rpm_per_v")
    others = {
        str(pk): traits_of(code, basis, label, masses.get(pk), prices.get(pk))
        for pk, code, basis, label in rows
        if pk != but
    }
    found = peers(traits, others)
    named = MotorModel.objects.select_related("maker").in_bulk([int(peer.name) for peer in found])
    return [
        {
            "motor": int(peer.name),
            "full_name": named[int(peer.name)].full_name,
            "distance": round(peer.distance, 2),
            "compared": list(peer.compared),
            "traits": others[peer.name],
            "mass_weighed": int(peer.name) in weighed,
        }
        for peer in found
    ]


def weighed_masses(kv: float | None = None, motor: int | None = None) -> dict[int, float]:
    """Mass by motor as it was weighed [g], the mean over its samples; of one motor, or of all
    whose kV is near.

    Of each sample the mean of its weighings without nut and connectors. A few centimetres of
    lead are small beside the distance at which motors stop being peers.
    """
    rows = Weighing.objects.filter(
        _near_in_kv(kv, "sample__motor__"), struck_reason="", nut_on=False, connectors_on=False
    ).order_by("pk")
    if motor is not None:
        rows = rows.filter(sample__motor=motor)
    samples: dict[tuple[int, int], list[float]] = {}
    for pk, sample, mass in rows.values_list("sample__motor", "sample", "mass_g"):
        samples.setdefault((pk, sample), []).append(mass)
    motors: dict[int, list[float]] = {}
    for (pk, _), masses in samples.items():
        motors.setdefault(pk, []).append(math.fsum(masses) / len(masses))
    return {pk: math.fsum(masses) / len(masses) for pk, masses in motors.items()}


def _near_in_kv(kv: float | None, path: str = "") -> Q:
    """Motors whose kV alone does not rule them out: the root mean square over all traits exceeds
    1 as soon as one of n traits is √n spans away."""
    if kv is None:
        return Q()
    widest = (1 + SPANS["kv_rpm_per_v"]) ** math.sqrt(len(SPANS))
    name = f"{path}kv_label_rpm_per_v"
    between = {f"{name}__gte": kv / widest, f"{name}__lte": kv * widest}
    return Q(**{f"{name}__isnull": True}) | Q(**between)


def _prices(currency: str, kv: float | None) -> dict[int, float]:
    """Price of one motor by motor, in one currency."""
    found = {}
    rows = Parcel.objects.filter(
        _near_in_kv(kv, "motor__"), price_amount__gt=0, price_currency=currency
    ).order_by("pk")
    for motor, amount, size, shipping in rows.values_list(
        "motor", "price_amount", "set_size", "shipping_amount"
    ):
        each = price_each(amount, motors_for_it=size or 1, shipping=shipping)
        if not isinstance(each, Absent):
            found[motor] = each.value
    return found


def traits_of(
    size_code: str, size_basis: str, kv: float | None, mass_g: float | None, price: float | None
) -> dict[str, float]:
    """What is known of a motor without a measurement, by the names of the core's traits."""
    traits = dict(size_traits(size_code, size_basis))
    for name, value in (("kv_rpm_per_v", kv), ("mass_g", mass_g), ("price", price)):
        if value:
            traits[name] = value
    return traits


@lru_cache(maxsize=512)
def size_traits(text: str, basis: str | None) -> dict[str, float]:
    """The stator volume by the size code; nothing off the stator basis or for no code."""
    try:
        volume = stator_volume_mm3(parse_size_code(text, basis or None))
    except CoreError:
        return {}
    return {} if isinstance(volume, Absent) else {"stator_volume_mm3": volume}
