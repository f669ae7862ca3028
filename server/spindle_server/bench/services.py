"""From a choice of motor, propeller and supply to a plan for the agent; and the agent's door."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.utils import timezone

from spindle_bench.agent.control import ask
from spindle_bench.limits import limits_from_json
from spindle_bench.plan import RunPlan
from spindle_bench.profiles import profile_from_json
from spindle_core.air import air_density_kg_per_m3
from spindle_server.accounts.models import User
from spindle_server.errors import ServiceError
from spindle_server.intake.models import Sample
from spindle_server.rig.models import Propeller, Stand, Supply


def plan_run(
    *,
    actor: User | None,
    sample: Sample,
    propeller: Propeller,
    supply: Supply,
    stand: Stand,
    profile: dict[str, Any],
    limits: dict[str, Any],
    rate_hz: float = 200.0,
    air_temp_c: float | None = None,
    air_pressure_hpa: float | None = None,
    air_humidity_pct: float | None = None,
    purpose: str = "",
    note: str = "",
    run_id: str | None = None,
) -> RunPlan:
    """A plan for the agent.

    :raises PlanError: an impossible profile or limit. :raises ServiceError: the supply cannot
        give the current the limit allows.
    """
    checked = limits_from_json(limits)
    if supply.trip_a is not None and checked.current_a and checked.current_a > supply.trip_a:
        message = (
            f"{supply.name} trips at {supply.trip_a:g} A; set the current limit to at most that."
        )
        raise ServiceError(message, code="above_trip", fields={"current_a": [message]})
    motor = sample.motor
    if motor.kv_label_rpm_per_v is None:
        message = "This motor has no kV on its label; note what it is before it is run."
        raise ServiceError(message, code="no_kv", fields={"sample": [message]})
    density = None
    if air_temp_c is not None and air_pressure_hpa is not None:
        density = air_density_kg_per_m3(
            air_temp_c, pressure_hpa=air_pressure_hpa, humidity_pct=air_humidity_pct or 0.0
        )
    facts: dict[str, Any] = {
        "motor": motor.full_name, "sample": sample.mark, "size_code": motor.size_code,
        "kv_rpm_per_v": motor.kv_label_rpm_per_v, "propeller": propeller.full_name,
        "prop_diameter_in": propeller.diameter_in, "prop_pitch_in": propeller.pitch_in,
        "prop_blades": propeller.blades, "open_circuit_v": supply.open_circuit_v,
        "supply_resistance_ohm": supply.resistance_ohm, "trip_a": supply.trip_a,
        "capacity_as": 3.6 * supply.capacity_mah if supply.capacity_mah else None,
        "ambient_c": air_temp_c, "air_density_kg_per_m3": density,
    }  # fmt: skip
    record: dict[str, Any] = {
        "title": f"{motor.full_name} {sample.mark} · {propeller.full_name} · {supply.name}",
        "sample_id": sample.pk, "propeller_id": propeller.pk, "supply_id": supply.pk,
        "stand_id": stand.pk, "operator_id": actor.pk if actor else None,
        "nominal_voltage_v": supply.nominal_voltage_v, "air_temp_c": air_temp_c,
        "air_pressure_hpa": air_pressure_hpa, "air_humidity_pct": air_humidity_pct,
        "purpose": purpose, "note": note, "started_at": timezone.now().isoformat(),
    }  # fmt: skip
    return RunPlan(
        run_id or str(uuid.uuid4()), profile_from_json(profile), checked, facts, record, rate_hz
    )


def arm(*, plan: RunPlan, checklist: list[str]) -> dict[str, Any]:
    """Ask the agent to mount, tare and arm; returns its frame."""
    request = {"do": "arm", "plan": plan.as_json(), "checklist": checklist}
    return _frame(ask(settings.AGENT_SOCKET, request))


def command(what: str, **rest: str) -> dict[str, Any]:
    """Ask the agent to ``start``, ``stop``, ``reset`` or say its ``status``."""
    return _frame(ask(settings.AGENT_SOCKET, {"do": what, **rest}))


def _frame(answer: dict[str, Any]) -> dict[str, Any]:
    frame: dict[str, Any] = answer["frame"]
    return frame
