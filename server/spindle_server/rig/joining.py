"""Several packs as one supply: what is known of the whole follows from its packs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal, cast

from spindle_core.errors import QuantityError
from spindle_core.model.pack import CHEMISTRIES, compose
from spindle_server.errors import ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.rig.models import Supply

FOLLOWING = ("chemistry", "cells", "capacity_mah", "rate_c", "resistance_ohm", "nominal_voltage_v")
"""What follows from the packs and is not typed."""


def members_of(kind: str, joined: str, packs: Sequence[int]) -> list[Supply]:
    """The packs that are to be joined.

    :raises ServiceError: packs without a way to join them, fewer than two, one twice, or one that
        is no single pack with cells and a capacity.
    """
    if not joined:
        if packs:
            raise _refusal("joined", "Are the packs in series or in parallel?")
        return []
    if kind != "pack":
        raise _refusal("joined", "Only packs are joined; a bench supply stands alone.")
    if len(set(packs)) < max(2, len(packs)):
        raise _refusal("packs", "Name two packs or more, each of them once.")
    found = {row.pk: row for row in Supply.objects.filter(pk__in=packs).select_for_update()}
    members = [found[pk] for pk in packs if pk in found]
    if len(members) < len(packs):
        raise _refusal("packs", "One of these packs is not on this bench.")
    for pack in members:
        if pack.joined:
            raise _refusal("packs", f"{pack.name} is joined itself: name its packs.")
        if pack.facts is None:
            said = f"Of {pack.name} the cells or the capacity are not known, or it is no pack."
            raise _refusal("packs", said)
    return members


def facts_of(members: Sequence[Supply], joined: str, values: dict[str, Any]) -> dict[str, Any]:
    """Everything that is kept of the joined supply: what follows, and what was typed beside it."""
    refuse_own(values)
    own = {name: value for name, value in values.items() if name in ("cycles", "note")}
    return {**own, "joined": joined, **_following(members, joined)}


def refuse_own(values: dict[str, Any]) -> None:
    """Refuse what follows from the packs: it is changed there.

    :raises ServiceError: such a value was typed.
    """
    for name in (*FOLLOWING, "trip_a"):
        if values.get(name) not in (None, ""):
            raise _refusal(name, "This follows from the packs: change it there.")
        values.pop(name, None)
    values.pop("folds_back", None)


def pass_on(pack: Supply) -> None:
    """Write what a changed pack changes in the supplies that it is joined into.

    :raises ServiceError: one of them could not be any longer.
    """
    for whole in pack.joined_into.all():
        row = locked(Supply, whole.pk)
        if row.retired:
            # It is reckoned anew when it is put back.
            continue
        members = list(row.packs.order_by("pk"))
        lost = next((one.name for one in members if one.facts is None), None)
        if lost:
            raise ServiceError(
                f"{row.name} is joined of it: without cells and capacity of {lost} nothing is "
                f"known of {row.name}. Retire that one first.",
                code="joined",
            )
        write_fields(row, _following(members, row.joined), base=row.version)


def following(supply: Supply) -> dict[str, Any]:
    """What follows from the packs of a joined supply as they are now.

    :raises ServiceError: they can be joined no longer.
    """
    # Held, so that none of them changes between this and the write of the whole.
    members = list(supply.packs.select_for_update().order_by("pk"))
    if any(one.facts is None for one in members):
        raise _refusal("packs", "Of one of its packs the cells or the capacity are not known.")
    return _following(members, supply.joined)


def _following(members: Sequence[Supply], joined: str) -> dict[str, Any]:
    facts = [one.facts for one in members]
    way = cast(Literal["series", "parallel"], joined)
    try:
        whole = compose([one for one in facts if one is not None], way)
    except QuantityError as error:
        raise _refusal("packs", error.message) from error
    chemistry = members[0].chemistry or "lipo"
    measured = all(one.resistance_ohm is not None for one in members)
    cell = CHEMISTRIES[chemistry]
    limit = None if whole.limit_a is None else _brief(whole.limit_a)
    return {
        "chemistry": chemistry,
        "cells": whole.cells,
        "capacity_mah": whole.capacity_mah,
        # The rate of the whole: what its weakest pack lets it give, for each Ah.
        "rate_c": None if limit is None else limit * 1000.0 / whole.capacity_mah,
        "resistance_ohm": _brief(whole.resistance_ohm) if measured else None,
        "nominal_voltage_v": cell.nominal_v * whole.cells,
        "open_circuit_v": cell.full_v * whole.cells,
    }


def _brief(value: float) -> float:
    """To three digits: what follows is known no better than what was measured."""
    return float(f"{value:.3g}")


def limited_by(supply: Supply) -> str:
    """The pack that sets the limit of a joined supply; empty where none or nobody knows."""
    facts = [one.facts for one in supply.packs.all()]
    if not supply.joined or any(one is None for one in facts) or len(facts) < 2:
        return ""
    way = cast(Literal["series", "parallel"], supply.joined)
    return compose([one for one in facts if one is not None], way).limited_by


def _refusal(field: str, said: str) -> ServiceError:
    return ServiceError(said, code="joined", fields={field: [said]})
