"""Parcels: how a motor was obtained, what it cost, and what lay in the box."""

from __future__ import annotations

from typing import Any

from spindle_core.figures.measured import Absent
from spindle_core.intake.parcel import Needs, Part, PartKind, check_parts, price_each
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import MotorModel, Parcel, PartInBox
from spindle_server.records.versions import locked, refuse_stale, write_fields
from spindle_server.records.writes import writes

PARCEL_FIELDS = (
    "obtained",
    "obtained_from",
    "arrived_on",
    "price_amount",
    "price_currency",
    "price_per",
    "set_size",
    "shipping",
    "shipping_amount",
    "price_status",
    "priced_on",
    "availability",
    "note",
)


@writes(Role.REVIEWER)
def add_parcel(*, actor: User | None, motor: MotorModel, **values: Any) -> Parcel:
    """A delivery of a motor; ``values`` are :data:`PARCEL_FIELDS`."""
    parcel = Parcel(motor=motor, **values)
    _check(parcel)
    parcel.save()
    return parcel


@writes(Role.REVIEWER)
def change_parcel(*, actor: User, parcel: Parcel, base: int | None, **values: Any) -> Parcel:
    """Change what is known of a delivery."""
    row = locked(Parcel, parcel.pk)
    trial = Parcel(**{name: values.get(name, getattr(row, name)) for name in PARCEL_FIELDS})
    _check(trial)
    write_fields(row, values, base=base)
    return row


def _check(parcel: Parcel) -> None:
    """What the database would refuse, said beside its field."""
    faults = {
        "price_currency": (
            parcel.price_amount is not None and len(parcel.price_currency) != 3,
            "A price needs its currency, three letters.",
        ),
        "set_size": (
            (parcel.price_per == "set") != (parcel.set_size is not None),
            "How many motors is the price for? A set has at least two; leave it empty for one.",
        ),
        "shipping_amount": (
            parcel.shipping_amount is not None and parcel.shipping != "extra",
            "Only extra shipping has an amount.",
        ),
        "arrived_on": (
            in_the_future(parcel.arrived_on),
            "A parcel cannot have arrived in the future.",
        ),
        "priced_on": (in_the_future(parcel.priced_on), "A price is of today or before."),
    }
    fields = {name: [message] for name, (wrong, message) in faults.items() if wrong}
    if fields:
        first = next(iter(fields.values()))[0]
        raise ServiceError(first, code="parcel", fields=fields)


@writes(Role.REVIEWER)
def put_part(
    *,
    actor: User,
    parcel: Parcel,
    part: PartInBox | None = None,
    base: int | None = None,
    **values: Any,
) -> PartInBox:
    """A part of the box, new or corrected from version ``base``."""
    inner, outer = values.get("inner_mm"), values.get("outer_mm")
    if inner is not None and outer is not None and inner >= outer:
        message = f"Its inside ({inner:g} mm) must be below its outside ({outer:g} mm)."
        raise ServiceError(message, code="inside_out", fields={"inner_mm": [message]})
    if part is None:
        row = PartInBox(parcel=parcel, **values)
        row.save()
        return row
    row = locked(PartInBox, part.pk)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def remove_part(*, actor: User, part: PartInBox, base: int | None) -> None:
    """Take a part, read at version ``base``, off the list; the history keeps it."""
    row = locked(PartInBox, part.pk)
    refuse_stale(row, base, ["kind", "count"])
    row.delete()


def parcel_price(parcel: Parcel) -> dict[str, Any]:
    """Price of one motor of a parcel, with its basis in words; null with the reason."""
    figure = price_each(
        parcel.price_amount,
        motors_for_it=parcel.set_size or 1,
        shipping=parcel.shipping_amount,
        guessed=parcel.price_status == "guessed",
    )
    if isinstance(figure, Absent):
        return {"amount": None, "currency": "", "basis": figure.note, "guessed": False}
    basis = f"of a set of {parcel.set_size}" if parcel.set_size else "each"
    shipping = {
        "included": "shipping included",
        "free": "free shipping",
        "extra": "with its share of the shipping"
        if parcel.shipping_amount is not None
        else "shipping extra, amount not noted",
        "unknown": "shipping not known",
    }[parcel.shipping]
    return {
        "amount": round(figure.value, 2),
        "currency": parcel.price_currency,
        "basis": f"{basis}, {shipping}",
        "guessed": parcel.price_status == "guessed",
    }


def box_findings(
    parcel: Parcel, *, motors: int, arm_thickness_mm: float, known: dict[str, Any]
) -> list[Any]:
    """The box against a builder's needs, from what was measured of the motor.

    :param known: attribute → value or choice, as looked at on any sample.
    """
    parts = [
        Part(
            PartKind(part.kind),
            part.count,
            part.thread_mm,
            part.length_mm,
            part.inner_mm,
            part.outer_mm,
            part.height_mm,
        )
        for part in parcel.parts.all()
    ]
    holes = known.get("mount_hole_count")
    needs = Needs(
        motors=max(1, motors),
        arm_thickness_mm=arm_thickness_mm,
        mounting_holes=int(holes) if holes else None,
        mount_thread_mm=known.get("mount_thread"),
        thread_depth_mm=known.get("thread_depth"),
        clearance_mm=known.get("screw_clearance"),
        prop_hold=known.get("prop_hold"),
        retention=known.get("bell_retention"),
    )
    return check_parts(parts, needs)
