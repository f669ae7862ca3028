"""Adapters for propellers: adding, changing, retiring, and as the core takes them."""

from __future__ import annotations

from typing import Any

from spindle_core.intake import prop_adapters as core
from spindle_core.intake.propeller_fit import Ring
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import ADAPTER_SIZES, NEEDED_SIZES, Adapter
from spindle_server.rig.names import refuse_double

ALL_SIZES = tuple(dict.fromkeys(size for sizes in ADAPTER_SIZES.values() for size in sizes))

IN_ORDER = (
    ("inner_mm", "outer_mm", "Inside, a ring is narrower than outside."),
    ("least_mm", "most_mm", "The thinnest shaft it takes comes first."),
    ("inner_mm", "hole_circle_mm", "The screw holes lie outside the hole in the middle."),
)


@writes(Role.REVIEWER)
def add_adapter(*, actor: User | None, name: str, kind: str, **values: Any) -> Adapter:
    """An adapter with the sizes that its kind has.

    :raises ServiceError: a size is missing, belongs to another kind, or contradicts another.
    """
    adapter = Adapter(name=name.strip(), kind=kind, **values)
    refuse_double(Adapter, adapter.name)
    _check(kind, {size: getattr(adapter, size) for size in ALL_SIZES})
    adapter.save()
    return adapter


@writes(Role.REVIEWER)
def change_adapter(*, actor: User, adapter: Adapter, base: int | None, **values: Any) -> Adapter:
    """Change what is known of an adapter, from version ``base``; its kind stays."""
    row = locked(Adapter, adapter.pk)
    values.pop("kind", None)
    if "name" in values:
        values["name"] = values["name"].strip()
        refuse_double(Adapter, values["name"], but=row.pk)
    _check(row.kind, {size: values.get(size, getattr(row, size)) for size in ALL_SIZES})
    write_fields(row, values, base=base)
    return row


def _check(kind: str, sizes: dict[str, float | None]) -> None:
    faults: dict[str, list[str]] = {}
    word = dict(Adapter._meta.get_field("kind").choices or [])[kind].lower()
    for size, value in sizes.items():
        if value is not None and size not in ADAPTER_SIZES[kind]:
            faults[size] = [f"A {word} has no such size."]
        elif value is None and size in NEEDED_SIZES[kind]:
            faults[size] = ["Measure it: without it no fit can be told."]
    for low, high, said in IN_ORDER:
        a, b = sizes[low], sizes[high]
        same = low == "least_mm"
        if a is not None and b is not None and (a > b or (a == b and not same)):
            faults.setdefault(high, []).append(said)
    if faults:
        first = next(iter(faults.values()))[0]
        raise ServiceError(first, code="adapter", fields=faults)


def at_hand() -> tuple[list[Ring], list[core.Adapter]]:
    """The bench's rings and its other adapters that are in use, as the core takes them."""
    rows = list(Adapter.objects.filter(retired=False))
    rings = [
        Ring(row.inner_mm, row.outer_mm, row.height_mm)
        for row in rows
        if row.kind == "ring" and row.inner_mm and row.outer_mm and row.height_mm
    ]
    return rings, [found for row in rows if (found := _as_core(row)) is not None]


def _as_core(row: Adapter) -> core.Adapter | None:
    if row.kind == "clamp_plate" and row.inner_mm and row.hole_circle_mm and row.hole_mm:
        return core.ClampPlate(row.name, row.inner_mm, row.hole_circle_mm, row.hole_mm)
    if not row.stud_mm or not row.free_length_mm:
        return None
    stud = core.Stud(row.stud_mm, row.free_length_mm, row.nut_mm or 0.0, row.washer_mm or 0.0)
    if row.kind == "collet" and row.least_mm and row.most_mm:
        return core.Collet(row.name, row.least_mm, row.most_mm, stud, row.grip_mm)
    if row.kind == "bolt_on" and row.hole_circle_mm and row.hole_mm:
        return core.BoltOn(row.name, row.hole_circle_mm, row.hole_mm, stud, row.inner_mm)
    return None
