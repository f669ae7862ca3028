"""The demo's rig: two stands as they are trusted, what drives the motors, and two bench days."""

from __future__ import annotations

import datetime
from typing import Any

import numpy as np
from django.utils import timezone

from spindle_server.accounts.models import User
from spindle_server.demo import catalogue
from spindle_server.demo.simulated_runs import SEASON_BEGINS
from spindle_server.records.writes import acting
from spindle_server.rig.adapters import add_adapter
from spindle_server.rig.driving import add_esc, add_supply
from spindle_server.rig.models import Stand, Supply
from spindle_server.rig.services import add_propeller, change_propeller
from spindle_server.rig.stands import (
    add_calibration,
    add_mass_check,
    add_stand,
    put_instrument,
    put_state,
)

MASSES_G = (0.0, 200.0, 500.0, 1000.0, 1500.0, 2000.0)
CHECK_G = 500.0


def fill_rig(actor: User) -> None:
    """Propellers, supplies, ESCs and stands, with what is known of each and what is not."""
    for maker, diameter, pitch, blades, mass in catalogue.PROPELLERS:
        propeller = add_propeller(
            actor=actor,
            maker=maker,
            diameter_in=diameter,
            pitch_in=pitch,
            blades=blades,
            mass_g=mass,
        )
        if propeller.full_name not in catalogue.UNMEASURED_HUBS:
            change_propeller(
                actor=actor, propeller=propeller, base=propeller.version, **catalogue.HUBS[maker]
            )
    for supply in catalogue.SUPPLIES:
        add_supply(actor=actor, **supply)
    packs = [Supply.objects.get(name=name).pk for name in catalogue.JOINED_PACKS]
    add_supply(actor=actor, kind="pack", packs=packs, **catalogue.JOINED_SUPPLY)
    for adapter in catalogue.ADAPTERS:
        add_adapter(actor=actor, **adapter)
    for esc in catalogue.ESCS:
        add_esc(actor=actor, **esc)
    with acting(actor):
        yard, lever, scale = (add_stand(actor=actor, **stand) for stand in catalogue.STANDS)
    _logging(actor, yard)
    _lever(actor, lever)
    put_instrument(
        actor=actor, stand=scale, channel="thrust_gf", kind="kitchen_scale", step=1.0, range_to=3000
    )


def _logging(actor: User, stand: Stand) -> None:
    for channel, kind, step, to in (
        ("thrust_gf", "load_cell", 0.1, 5000.0),
        ("voltage_v", "shunt_logger", 0.01, 60.0),
        ("current_a", "shunt_logger", 0.01, 100.0),
    ):
        put_instrument(
            actor=actor,
            stand=stand,
            channel=channel,
            kind=kind,
            step=step,
            range_to=to,
            relative_u=None if channel == "thrust_gf" else 0.004,
        )
    _checks(actor, stand, offsets=(-1.2, 0.4, 2.1, -0.6, 1.0, 3.2), step_g=0.1)


def _lever(actor: User, stand: Stand) -> None:
    """168 mm to the motor, 112 mm to the scale; a plate and a clamp hold the arm down."""
    put_state(
        actor=actor,
        stand=stand,
        valid_from=_day(-15),
        motor_arm_mm=168.0,
        scale_arm_mm=112.0,
        arm_u_mm=0.5,
        step_g=1.0,
        weights=[{"name": "plate", "mass_g": 131.0, "u_g": 0.5}, {"name": "clamp", "mass_g": 92.0}],
    )
    rng = np.random.default_rng(12)
    loads: list[dict[str, Any]] = []
    for going, masses in (("up", MASSES_G), ("down", tuple(reversed(MASSES_G)))):
        for mass in masses:
            sticks = 4.0 if going == "down" and mass else 0.0
            reading = 1.5 * mass * 1.006 - 223.0 + sticks + rng.normal(scale=1.5)
            loads.append({"mass_g": mass, "reading_g": float(round(reading)), "going": going})
    add_calibration(
        actor=actor,
        stand=stand,
        valid_from=_day(-14),
        remind_on=_day(168),
        loads=loads,
        step_g=1.0,
        note="kitchen weights, weighed on the pocket scale",
    )
    _checks(actor, stand, offsets=(1.0, 2.0, -1.0, 3.0, 14.0), step_g=1.0, scale=1.5, less=223.0)
    put_instrument(
        actor=actor,
        stand=stand,
        channel="current_a",
        kind="watt_meter",
        keeps="maxima",
        step=0.1,
        range_to=150.0,
    )


def _checks(
    actor: User,
    stand: Stand,
    *,
    offsets: tuple[float, ...],
    step_g: float,
    scale: float = 1.0,
    less: float = 0.0,
) -> None:
    for index, offset in enumerate(offsets):
        at = season() + datetime.timedelta(days=3 * index, minutes=-25)
        reading = scale * (CHECK_G + offset) - less
        add_mass_check(
            actor=actor,
            stand=stand,
            checked_at=at,
            mass_g=CHECK_G,
            reading_g=round(reading / step_g) * step_g,
            step_g=step_g,
        )


def season() -> datetime.datetime:
    """When the runs began; on a machine whose clock is behind, before its today."""
    return min(SEASON_BEGINS, timezone.now() - datetime.timedelta(days=60))


def _day(after: int) -> datetime.date:
    return season().date() + datetime.timedelta(days=after)
