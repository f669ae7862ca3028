"""From a choice of motor, propeller and supply to a plan for the agent; and the agent's door."""

from __future__ import annotations

import time
import uuid
from collections.abc import Sequence
from typing import Any

from django.conf import settings
from django.utils import timezone

from spindle_bench.agent.control import ask
from spindle_bench.door.token import sign
from spindle_bench.limits import Limits, check_off, limits_from_json
from spindle_bench.plan import PAGE_GRACE_S, RunPlan
from spindle_bench.profiles import course_to_the_top, highest_throttle_pct, profile_from_json
from spindle_server.accounts.models import User
from spindle_server.errors import ServiceError, UnavailableError
from spindle_server.identification.knowing import as_rows, density_of, expected
from spindle_server.motors.models import Sample
from spindle_server.rig.bench_day import completed, day_on
from spindle_server.rig.models import Esc, Propeller, Stand, Supply


def plan_run(
    *,
    actor: User | None,
    sample: Sample,
    propeller: Propeller,
    supply: Supply,
    stand: Stand,
    profile: dict[str, Any],
    limits: dict[str, Any],
    limits_off: Sequence[str] = (),
    page_grace_s: float = PAGE_GRACE_S,
    rate_hz: float = 200.0,
    air_temp_c: float | None = None,
    air_pressure_hpa: float | None = None,
    air_humidity_pct: float | None = None,
    purpose: str = "",
    note: str = "",
    run_id: str | None = None,
) -> RunPlan:
    """A plan for the agent. Its id is made here, and nobody else chooses one.

    :raises PlanError: an impossible profile or limit, or a limit that is neither set nor off by
        choice. :raises ServiceError: a limit that does not fit the supply.
    """
    checked = limits_from_json(limits)
    who = actor.shown_name if actor else "the demo"
    off = dict.fromkeys(limits_off, who)
    check_off(checked, off)
    _fits_supply(checked, supply)
    if supply.open_circuit_v is None or supply.nominal_voltage_v is None:
        message = f"How many cells {supply.name} has is not known; note it at the rig first."
        raise ServiceError(message, code="no_cells", fields={"supply": [message]})
    own, taken = completed(
        {
            "air_temp_c": air_temp_c,
            "air_pressure_hpa": air_pressure_hpa,
            "air_humidity_pct": air_humidity_pct,
        },
        day_on(timezone.localdate()),
    )
    air_temp_c, air_pressure_hpa = own["air_temp_c"], own["air_pressure_hpa"]
    air_humidity_pct = own["air_humidity_pct"]
    esc: Esc | None = own.get("esc")
    motor = sample.motor
    if motor.kv_label_rpm_per_v is None:
        message = "This motor has no kV on its label; note what it is before it is run."
        raise ServiceError(message, code="no_kv", fields={"sample": [message]})
    density = density_of(own)
    checked_profile = profile_from_json(profile)
    predicted, words = expected(
        kind="steps",
        sample=sample,
        propeller=propeller,
        supply=supply,
        esc=esc,
        density_kg_per_m3=density,
        highest_pct=highest_throttle_pct(checked_profile),
        course=course_to_the_top(checked_profile),
    )
    facts: dict[str, Any] = {
        "motor": motor.full_name,
        "sample": sample.mark,
        "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v,
        "propeller": propeller.full_name,
        "prop_diameter_in": propeller.diameter_in,
        "prop_pitch_in": propeller.pitch_in,
        "prop_blades": propeller.blades,
        "open_circuit_v": supply.open_circuit_v,
        "supply_resistance_ohm": supply.resistance_ohm
        or (supply.assumed.ohm if supply.assumed else None),
        "trip_a": supply.trip_a,
        "capacity_as": 3.6 * supply.capacity_mah if supply.capacity_mah else None,
        "ambient_c": air_temp_c,
        "air_density_kg_per_m3": density,
    }
    record: dict[str, Any] = {
        "title": f"{motor.full_name} {sample.mark} · {propeller.full_name} · {supply.name}",
        "sample_id": sample.pk,
        "propeller_id": propeller.pk,
        "supply_id": supply.pk,
        "stand_id": stand.pk,
        "operator_id": actor.pk if actor else None,
        "operator": who,
        "esc_id": esc.pk if esc else None,
        "command_source": own.get("command_source", ""),
        "inherited": taken,
        "nominal_voltage_v": supply.nominal_voltage_v,
        "air_temp_c": air_temp_c,
        "air_pressure_hpa": air_pressure_hpa,
        "air_humidity_pct": air_humidity_pct,
        "purpose": purpose,
        "note": note,
        "predicted": as_rows(predicted, words),
        "started_at": timezone.now().isoformat(),
    }
    return RunPlan(
        run_id or str(uuid.uuid4()),
        checked_profile,
        checked,
        facts,
        record,
        rate_hz,
        off,
        page_grace_s,
    )


def _fits_supply(limits: Limits, supply: Supply) -> None:
    """A limit that the supply's own is beyond protects nothing."""
    if supply.trip_a is not None and limits.current_a and limits.current_a > supply.trip_a:
        message = (
            f"{supply.name} trips at {supply.trip_a:g} A; set the current limit to at most that."
        )
        raise ServiceError(message, code="above_trip", fields={"current_a": [message]})
    floor = limits.voltage_floor_v
    if floor is None:
        return
    lowest, open_v = supply.floor_v, supply.open_circuit_v
    if lowest is not None and floor < lowest - 1e-9:
        message = (
            f"{supply.name} is not run below {lowest:.1f} V; set the floor to at least "
            "that, or choose that it is off."
        )
        raise ServiceError(message, code="below_floor", fields={"voltage_floor_v": [message]})
    if open_v is not None and floor >= open_v:
        message = f"{supply.name} gives {open_v:g} V; the floor is above that."
        raise ServiceError(message, code="above_supply", fields={"voltage_floor_v": [message]})


def door_pass(*, actor: User) -> dict[str, Any]:
    """How a person's page reaches the stop door, for the next twelve hours.

    :raises UnavailableError: this installation runs no stop door.
    """
    if not settings.DOOR_KEY:
        raise UnavailableError("This installation runs no stop door.", code="no_door")
    token = sign(actor.shown_name, key=settings.DOOR_KEY, now=time.time())
    return {"token": token, "port": settings.DOOR_PORT, "url": settings.DOOR_URL}


def start(*, actor: User, run_id: str) -> dict[str, Any]:
    """Ask the agent to start the run that this person armed."""
    return command("start", run_id=run_id, operator_id=actor.pk)


def stop(*, actor: User) -> dict[str, Any]:
    """Ask the agent to cut; the end record names who asked."""
    return command("stop", by=actor.shown_name)


def arm(*, plan: RunPlan, checklist: list[str]) -> dict[str, Any]:
    """Ask the agent to mount, tare and arm; returns its frame."""
    request = {"do": "arm", "plan": plan.as_json(), "checklist": checklist}
    return _frame(ask(settings.AGENT_SOCKET, request))


def command(what: str, **rest: Any) -> dict[str, Any]:
    """Ask the agent to ``reset``, ``retry`` a run or say its ``status``."""
    return _frame(ask(settings.AGENT_SOCKET, {"do": what, **rest}))


def _frame(answer: dict[str, Any]) -> dict[str, Any]:
    frame: dict[str, Any] = answer["frame"]
    return frame
