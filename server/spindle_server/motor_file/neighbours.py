"""Peers on the bench: motors near in size, mass, kV and price."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from spindle_core.errors import CoreError
from spindle_core.figures.measured import Absent
from spindle_core.intake.parcel import price_each
from spindle_core.intake.peers import SPANS, peers
from spindle_core.motor.size_code import parse_size_code, stator_volume_mm3
from spindle_server.motors.models import Claim, MotorModel, Parcel, Sample, Weighing
from spindle_server.records.kept import kept
from spindle_server.records.revision import revision


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of every motor beside a measurement. ``masses``: as weighed, else as claimed
    [g]; ``prices``: by currency."""

    rows: list[tuple[int, str, str, float | None]]
    masses: dict[int, float]
    weighed: frozenset[int]
    prices: dict[str, dict[int, float]]


def _known() -> Known:
    claims = Claim.objects.filter(quantity="mass_g", value__isnull=False).order_by()
    weighed = weighed_masses()
    rows = MotorModel.objects.order_by("pk")
    return Known(
        list(rows.values_list("pk", "size_code", "size_basis", "kv_label_rpm_per_v")),
        {**{motor: mass or 0.0 for motor, mass in claims.values_list("motor", "value")}, **weighed},
        frozenset(weighed),
        _prices(),
    )


def nearest(
    traits: dict[str, float], *, currency: str = "", but: int | None = None
) -> list[dict[str, Any]]:
    """The nearest motors; two queries, and four more where anything was written since.

    Size, kV and price are what is claimed or paid, so that a motor fresh from its parcel has
    peers; the mass is the measured one once there is one. Prices compare in one currency only.
    """
    known = kept("near", revision((MotorModel, Sample, Claim, Weighing, Parcel)), _known)
    prices = known.prices.get(currency, {}) if "price" in traits else {}
    kv = traits.get("kv_rpm_per_v")
    others = {
        str(pk): traits_of(code, basis, label, known.masses.get(pk), prices.get(pk))
        for pk, code, basis, label in known.rows
        if pk != but and _near_in_kv(kv, label)
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
            "mass_weighed": int(peer.name) in known.weighed,
        }
        for peer in found
    ]


def weighed_masses(motor: int | None = None) -> dict[int, float]:
    """Mass by motor as it was weighed [g], the mean over its samples; of one motor, or of all.

    Of each sample the mean of its weighings without nut and connectors. A few centimetres of
    lead are small beside the distance at which motors stop being peers.
    """
    rows = Weighing.objects.filter(struck_reason="", nut_on=False, connectors_on=False).order_by(
        "pk"
    )
    if motor is not None:
        rows = rows.filter(sample__motor=motor)
    samples: dict[tuple[int, int], list[float]] = {}
    for pk, sample, mass in rows.values_list("sample__motor", "sample", "mass_g"):
        samples.setdefault((pk, sample), []).append(mass)
    motors: dict[int, list[float]] = {}
    for (pk, _), masses in samples.items():
        motors.setdefault(pk, []).append(math.fsum(masses) / len(masses))
    return {pk: math.fsum(masses) / len(masses) for pk, masses in motors.items()}


def _near_in_kv(kv: float | None, other: float | None) -> bool:
    """Whether their kV alone does not rule a motor out: the root mean square over all traits
    exceeds 1 as soon as one of n traits is √n spans away."""
    if kv is None or other is None:
        return True
    widest = float((1 + SPANS["kv_rpm_per_v"]) ** math.sqrt(len(SPANS)))
    return kv / widest <= other <= kv * widest


def _prices() -> dict[str, dict[int, float]]:
    """Price of one motor by currency and motor."""
    found: dict[str, dict[int, float]] = {}
    rows = Parcel.objects.filter(price_amount__gt=0).order_by("pk")
    for motor, currency, amount, size, shipping in rows.values_list(
        "motor", "price_currency", "price_amount", "set_size", "shipping_amount"
    ):
        each = price_each(amount, motors_for_it=size or 1, shipping=shipping)
        if not isinstance(each, Absent):
            found.setdefault(currency, {})[motor] = each.value
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


@lru_cache(maxsize=4096)
def size_traits(text: str, basis: str | None) -> dict[str, float]:
    """The stator volume by the size code; nothing off the stator basis or for no code."""
    try:
        volume = stator_volume_mm3(parse_size_code(text, basis or None))
    except CoreError:
        return {}
    return {} if isinstance(volume, Absent) else {"stator_volume_mm3": volume}
