"""Adding to the rig."""

from __future__ import annotations

from typing import Any

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.models import Maker
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Declaration, Propeller, Stand, Supply


@writes(Role.REVIEWER)
def add_propeller(
    *, actor: User | None, maker: str, diameter_in: float, pitch_in: float, blades: int
) -> Propeller:
    """A propeller; its maker is created when it is new."""
    maker_row = Maker.objects.filter(name=maker.strip()).first()
    if maker_row is None:
        maker_row = Maker(name=maker.strip())
        maker_row.save()
    propeller = Propeller(
        maker=maker_row, diameter_in=diameter_in, pitch_in=pitch_in, blades=blades
    )
    if Propeller.objects.filter(
        maker=maker_row, diameter_in=diameter_in, pitch_in=pitch_in, blades=blades
    ).exists():
        raise ConflictError(f"{propeller.full_name} is there already.", code="propeller_exists")
    propeller.save()
    return propeller


@writes(Role.REVIEWER)
def measure_hub(
    *, actor: User, propeller: Propeller, base: int | None, **values: float | None
) -> Propeller:
    """Note what a propeller's hub measures [mm], from version ``base``."""
    bore, circle = values.get("bore_mm"), values.get("hole_circle_mm")
    if bore is not None and circle is not None and bore >= circle:
        message = f"The bore ({bore:g} mm) must be below the circle of holes ({circle:g} mm)."
        raise ServiceError(message, code="does_not_fit", fields={"bore_mm": [message]})
    row = locked(Propeller, propeller.pk)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def declare(*, actor: User, base: int | None, **values: float | None) -> Declaration:
    """What the bench declares, from version ``base``: lead length, usual arm, room round the
    propeller."""
    row = Declaration.objects.select_for_update().first() or Declaration()
    write_fields(row, values, base=base)
    return row


CELL_NOMINAL_V, CELL_FULL_V = 3.7, 4.2


@writes(Role.REVIEWER)
def add_supply(
    *,
    actor: User | None,
    name: str,
    kind: str,
    resistance_ohm: float,
    nominal_voltage_v: float | None = None,
    trip_a: float | None = None,
    cells: int | None = None,
    capacity_mah: float | None = None,
) -> Supply:
    """A bench supply (with its voltage) or a pack (with its cells, 3.7 V nominal, 4.2 V full)."""
    if kind == "pack":
        if not cells or not capacity_mah:
            message = "A pack needs its cells and its capacity."
            raise ServiceError(message, code="pack_incomplete", fields={"cells": [message]})
        nominal, full = CELL_NOMINAL_V * cells, CELL_FULL_V * cells
        trip_a = None
    else:
        if nominal_voltage_v is None:
            message = "A bench supply needs the voltage it is set to."
            raise ServiceError(
                message, code="supply_incomplete", fields={"nominal_voltage_v": [message]}
            )
        nominal = full = nominal_voltage_v
        cells = capacity_mah = None
    supply = Supply(
        name=name.strip(),
        kind=kind,
        nominal_voltage_v=nominal,
        open_circuit_v=full,
        resistance_ohm=resistance_ohm,
        trip_a=trip_a,
        cells=cells,
        capacity_mah=capacity_mah,
    )
    _refuse_double(Supply, supply.name)
    supply.save()
    return supply


@writes(Role.REVIEWER)
def add_stand(
    *,
    actor: User | None,
    name: str,
    kind: str,
    repeatability_rel: float,
    calibration_rel: float,
    live: bool = False,
    note: str = "",
) -> Stand:
    """A stand with what is declared of it."""
    stand = Stand(
        name=name.strip(),
        kind=kind,
        repeatability_rel=repeatability_rel,
        calibration_rel=calibration_rel,
        live=live,
        note=note,
    )
    _refuse_double(Stand, stand.name)
    stand.save()
    return stand


def _refuse_double(model: Any, name: str) -> None:
    if model.objects.filter(name=name).exists():
        message = f"There is a {model._meta.verbose_name} named {name} already."
        raise ConflictError(message, code="name_taken", fields={"name": [message]})
