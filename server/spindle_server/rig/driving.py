"""Supplies, packs and ESCs: adding, changing, retiring."""

from __future__ import annotations

from typing import Any

from spindle_core.model.pack import CHEMISTRIES
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig import joining
from spindle_server.rig.models import Esc, Supply
from spindle_server.rig.names import refuse_double

OF_PACKS = ("chemistry", "cells", "capacity_mah", "rate_c", "cycles")
OF_BENCH_SUPPLIES = ("trip_a", "folds_back")


@writes(Role.REVIEWER)
def add_supply(*, actor: User | None, name: str, kind: str, **values: Any) -> Supply:
    """A bench supply (with its voltage), or a pack, of which a name is enough.

    ``joined`` and ``packs`` (primary keys): several packs as one supply.
    """
    packs, joined = values.pop("packs", []), values.get("joined", "")
    supply = Supply(name=name.strip(), kind=kind)
    refuse_double(Supply, supply.name)
    members = joining.members_of(kind, joined, packs)
    facts = joining.facts_of(members, joined, values) if joined else _checked(kind, values)
    for field, value in facts.items():
        setattr(supply, field, value)
    supply.save()
    supply.packs.set(members)
    return supply


@writes(Role.REVIEWER)
def change_supply(*, actor: User, supply: Supply, base: int | None, **values: Any) -> Supply:
    """Change what is known of a supply, from version ``base``; its kind stays, and its packs.

    What follows from a pack in others that it is joined into is written there too.
    """
    row = locked(Supply, supply.pk)
    for fixed in ("kind", "joined", "packs"):
        values.pop(fixed, None)
    if "name" in values:
        values["name"] = values["name"].strip()
        refuse_double(Supply, values["name"], but=row.pk)
    if row.joined:
        joining.refuse_own(values)
        if values.get("retired") is False:
            values |= joining.following(row)
        write_fields(row, values, base=base)
        return row
    fields = {**OF_NOTHING, **{name: getattr(row, name) for name in FACTS}, **values}
    checked = _checked(row.kind, {name: fields[name] for name in FACTS})
    if write_fields(row, {**values, **checked}, base=base):
        joining.pass_on(row)
    return row


FACTS = ("nominal_voltage_v", "resistance_ohm", *OF_BENCH_SUPPLIES, *OF_PACKS)
OF_NOTHING: dict[str, Any] = {"folds_back": False, "chemistry": ""}


def _checked(kind: str, values: dict[str, Any]) -> dict[str, Any]:
    """The facts that fit the kind, with the volts that follow from a pack's cells."""
    found = dict(values)
    if kind == "pack":
        for name in OF_BENCH_SUPPLIES:
            found[name] = OF_NOTHING.get(name)
        chemistry = found.get("chemistry") or "lipo"
        cells, cell = found.get("cells"), CHEMISTRIES[chemistry]
        found["chemistry"] = chemistry
        found["nominal_voltage_v"] = cell.nominal_v * cells if cells else None
        found["open_circuit_v"] = cell.full_v * cells if cells else None
        return found
    for name in OF_PACKS:
        found[name] = OF_NOTHING.get(name)
    if found.get("nominal_voltage_v") is None:
        message = "A bench supply needs the voltage it is set to."
        raise ServiceError(
            message, code="supply_incomplete", fields={"nominal_voltage_v": [message]}
        )
    found["open_circuit_v"] = found["nominal_voltage_v"]
    return found


@writes(Role.REVIEWER)
def add_esc(*, actor: User | None, name: str, **values: Any) -> Esc:
    """An ESC; a name is enough."""
    esc = Esc(name=name.strip(), **values)
    refuse_double(Esc, esc.name)
    _check_ratings(esc.rated_a, esc.burst_a)
    esc.save()
    return esc


@writes(Role.REVIEWER)
def change_esc(*, actor: User, esc: Esc, base: int | None, **values: Any) -> Esc:
    """Change what is known of an ESC, from version ``base``."""
    row = locked(Esc, esc.pk)
    if "name" in values:
        values["name"] = values["name"].strip()
        refuse_double(Esc, values["name"], but=row.pk)
    _check_ratings(values.get("rated_a", row.rated_a), values.get("burst_a", row.burst_a))
    write_fields(row, values, base=base)
    return row


def _check_ratings(rated_a: float | None, burst_a: float | None) -> None:
    if rated_a is not None and burst_a is not None and burst_a < rated_a:
        message = f"The burst ({burst_a:g} A) is at least the rated current ({rated_a:g} A)."
        raise ServiceError(message, code="ratings", fields={"burst_a": [message]})
