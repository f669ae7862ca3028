"""The parcels of the demo: prices, boxes, the scale, and what was expected."""

from __future__ import annotations

import random
from datetime import date, timedelta
from typing import Any

from spindle_server.accounts.models import User
from spindle_server.demo.catalogue import DemoMotor
from spindle_server.motors.models import MotorModel, Parcel, Sample
from spindle_server.motors.parcels import change_parcel, put_part
from spindle_server.motors.services import expect, put_claim
from spindle_server.motors.weighing import add_incident, add_preparation, add_weighing

SEASON = date(2026, 10, 1)
LEADS_AS_SHIPPED_MM = 150.0

_PRICES: dict[str, dict[str, Any]] = {
    "Quillmoor Sable 2105.5 1950": {"price_amount": 21.9},
    "Quillmoor Sable 2105.5 2650": {"price_amount": 21.9},
    "Ostrel Drift 2206 1900": {"price_amount": 74.0, "price_per": "set", "set_size": 4},
    "Ostrel Drift Lite 2205 2420": {"price_amount": 15.5, "price_status": "guessed"},
    "Brackwater No. 4 2306 1800": {"price_amount": 24.5, "availability": "scarce"},
    "Fennick & Daw Teal 1505 3600": {"price_amount": 13.9},
    "Fennick & Daw Teal 1404 4100": {"price_amount": 11.9, "availability": "sold_out"},
    "Hollin Pale 2807 1250": {"price_amount": 36.0, "shipping": "extra", "shipping_amount": 7.8},
}
"""In EUR; what is not said is each, shipping included, known, in stock. One has no price yet."""

_FROM = {
    "bought": "a shop in town",
    "loaned": "a reader of the bench",
    "sponsored": "the maker",
    "early": "the maker, before the sale began",
}

_EXPECTED: dict[str, list[dict[str, Any]]] = {
    "Quillmoor Sable 2105.5 1950": [
        {"quantity": "max_thrust_gf", "value": 1050.0, "text": "Between the 2205s and the 2206s."},
        {"text": "Should run cooler than it looks: single strand, open base."},
    ],
    "Ostrel Drift Lite 2205 2420": [
        {"quantity": "kv_rpm_per_v", "value": 2420.0, "text": "If the label is honest."}
    ],
    "Brackwater No. 4 2306 1800": [
        {"quantity": "max_thrust_gf", "value": 1250.0, "text": "A size above Drift: more thrust."}
    ],
    "Hollin Pale 2807 1250": [{"quantity": "mass_g", "value": 50.0}],
}


def fill_parcel(actor: User, motor: MotorModel, demo: DemoMotor, index: int) -> None:
    """Price, box, scale, second sources and expectations of one motor."""
    parcel = motor.parcels.get()
    price = _PRICES.get(demo.full_name)
    arrived = SEASON - timedelta(days=14 - index)
    values: dict[str, Any] = {
        "obtained_from": _FROM.get(demo.obtained, ""),
        "arrived_on": arrived,
        "availability": "in_stock",
    }
    if price is not None:
        values |= {"price_currency": "EUR", "shipping": "included", "priced_on": arrived, **price}
    change_parcel(actor=actor, parcel=parcel, base=parcel.version, **values)
    _box(actor, parcel, demo)
    for sample in motor.samples.all():
        _scale(actor, sample, demo)
    if demo.name == "Drift Lite":
        for quantity, value in (("max_current_a", 36.0), ("mass_g", 24.0)):
            put_claim(actor=actor, motor=motor, quantity=quantity, value=value, source="web page")
    for expectation in _EXPECTED.get(demo.full_name, []):
        expect(actor=actor, motor=motor, **expectation)


def _box(actor: User, parcel: Parcel, demo: DemoMotor) -> None:
    count = 4 * len(demo.samples)
    thread = 2.0 if demo.small else 3.0
    screws: dict[str, Any] = {"kind": "mounting_screw", "thread_mm": thread}
    parts: list[dict[str, Any]] = [
        {**screws, "count": count + (2 if demo.maker != "Ostrel" else 0), "length_mm": 6.0}
    ]
    if demo.name in ("Sable", "Drift"):
        # The longer ones go into the winding through an arm of 4 mm.
        parts.append({**screws, "count": count, "length_mm": 8.0})
    if demo.small:
        parts.append(
            {
                "kind": "prop_screw",
                "count": 2 * len(demo.samples) + 2,
                "thread_mm": 2.0,
                "length_mm": 7.0,
            }
        )
    else:
        parts.append(
            {"kind": "nut", "count": len(demo.samples), "thread_mm": 5.0, "height_mm": 5.0}
        )
    if demo.retention == "circlip":
        parts.append({"kind": "circlip", "count": 2})
    if demo.name == "Pale":
        parts.append(
            {
                "kind": "adapter",
                "count": 2,
                "inner_mm": 5.03,
                "outer_mm": 7.98,
                "height_mm": 6.5,
                "note": "plastic ring, 5 to 8 mm",
            }
        )
    for part in parts:
        put_part(actor=actor, parcel=parcel, **part)


def true_mass_g(demo: DemoMotor, mark: str) -> float:
    """What a sample weighs with leads of 60 mm and no nut: near its claim, not at it."""
    spread = random.Random(f"{demo.full_name}/{mark}/mass")  # noqa: S311 - demo spread
    off = 1.055 if demo.name == "Drift Lite" else 1.012
    return demo.claims["mass_g"] * off * (1 + 0.004 * spread.uniform(-1, 1))


def lead_g_per_m(demo: DemoMotor) -> float:
    """The lead's mass per metre by its gauge."""
    return {True: 2.95, False: 7.5}[demo.small] if demo.name != "Pale" else 11.2


def _scale(actor: User, sample: Sample, demo: DemoMotor) -> None:
    """Each sample on the scale; how it was weighed differs, as it does on a bench."""
    if demo.name in ("Drift", "Teal") and sample.mark != "A":
        return
    at_60 = true_mass_g(demo, sample.mark)
    per_mm = 3 * lead_g_per_m(demo) / 1000.0
    weighed = SEASON + timedelta(days=1)
    scale: dict[str, Any] = {"resolution_g": 0.01, "instrument": "pocket scale"}

    def weigh(length_mm: float, day: date, **rest: Any) -> None:
        mass = at_60 + per_mm * (length_mm - 60.0) + (1.62 if rest.get("nut_on") else 0.0)
        add_weighing(
            actor=actor,
            sample=sample,
            mass_g=round(mass, 2),
            lead_length_mm=length_mm,
            weighed_on=day,
            **scale,
            **rest,
        )

    weigh(LEADS_AS_SHIPPED_MM, weighed)
    if demo.name == "Sable" and sample.mark == "A":
        add_preparation(
            actor=actor,
            sample=sample,
            kind="leads_cut",
            lead_length_mm=60.0,
            done_on=weighed + timedelta(days=1),
            note="To the bench's length, for the runs.",
        )
        weigh(60.0, weighed + timedelta(days=1))
    if demo.name == "No. 4":
        weigh(LEADS_AS_SHIPPED_MM, weighed, nut_on=True)


def burn_one(actor: User, motor: MotorModel) -> None:
    """The incident on file: the enamel of class F."""
    sample = motor.samples.get(mark="B")
    add_incident(
        actor=actor,
        sample=sample,
        kind="burnt_winding",
        happened_on=SEASON + timedelta(days=20),
        destroyed=True,
        note="Smoke after 12 s at full throttle with the 5.1 in prop; the "
        "enamel is claimed as class F only.",
    )
