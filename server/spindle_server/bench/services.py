"""From a choice of motor, propeller and supply to a plan for the agent; and the agent's door."""

from __future__ import annotations

import time
import uuid
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

from django.conf import settings
from django.utils import timezone

from spindle_bench.agent.control import ask
from spindle_bench.door.token import sign
from spindle_bench.errors import BenchError
from spindle_bench.guard import rises
from spindle_bench.limits import Limits, check_off, limits_from_json
from spindle_bench.look_around import Mounted
from spindle_bench.plan import PAGE_GRACE_S, RunPlan
from spindle_bench.profiles import (
    PLAYS,
    Profile,
    course_to_the_top,
    duration_s,
    highest_throttle_pct,
    profile_from_json,
    segments,
)
from spindle_bench.states import State
from spindle_core.figures.measured import Figure
from spindle_core.reduction.kinds import KINDS
from spindle_server.accounts.models import User
from spindle_server.bench.checklists import asked_of, keep
from spindle_server.errors import ServiceError, UnavailableError
from spindle_server.identification.knowing import as_rows, density_of, expected, expected_curve
from spindle_server.motors.models import Sample
from spindle_server.rig.bench_day import completed, day_on
from spindle_server.rig.models import Esc, Propeller, Stand, Supply

MOST_ON_CURVE = 40


def plan_run(
    *,
    actor: User | None,
    sample: Sample,
    propeller: Propeller | None,
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
    guarded: bool = True,
    expect: bool = True,
    by_hand: bool = False,
    hand: str = "",
) -> RunPlan:
    """A plan for the agent. Its id is made here, and nobody else chooses one.

    :param expect: False where somebody adds later what is expected of the run.
    :raises PlanError: an impossible profile or limit, or a limit that is neither set nor off by
        choice. :raises ServiceError: a limit that does not fit the supply, a kind of run that
        needs a propeller and has none, or a hand that nobody named.
    """
    checked_profile = profile_from_json(profile)
    kind = KINDS[checked_profile.kind]
    if propeller is None and kind.needs_propeller:
        message = f"A {kind.label.lower()} run turns a propeller; say which."
        raise ServiceError(message, code="no_propeller", fields={"propeller": [message]})
    if not kind.needs_propeller:
        propeller = None
    if by_hand and not hand:
        message = "Say what the throttle is moved with."
        raise ServiceError(message, code="no_hand", fields={"hand": [message]})
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
    predicted: dict[str, Figure] = {}
    words = ""
    if expect:
        predicted, words = expected(
            kind=kind.key,
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
        **_load(checked_profile, propeller),
        "open_circuit_v": supply.open_circuit_v,
        "supply_resistance_ohm": supply.resistance_ohm
        or (supply.assumed.ohm if supply.assumed else None),
        "trip_a": supply.trip_a,
        "capacity_as": 3.6 * supply.capacity_mah if supply.capacity_mah else None,
        "ambient_c": air_temp_c,
        "air_density_kg_per_m3": density,
    }
    load_words = propeller.full_name if propeller else kind.label.lower()
    record: dict[str, Any] = {
        "title": f"{motor.full_name} {sample.mark} · {load_words} · {supply.name}",
        "sample_id": sample.pk,
        "propeller_id": propeller.pk if propeller else None,
        "header": header_of(checked_profile),
        "supply_id": supply.pk,
        "stand_id": stand.pk,
        "operator_id": actor.pk if actor else None,
        "operator": who,
        "esc_id": esc.pk if esc else None,
        "command_source": hand if by_hand else own.get("command_source", ""),
        "inherited": [name for name in taken if not (by_hand and name == "command_source")],
        "nominal_voltage_v": supply.nominal_voltage_v,
        "air_temp_c": air_temp_c,
        "air_pressure_hpa": air_pressure_hpa,
        "air_humidity_pct": air_humidity_pct,
        "purpose": purpose,
        "note": note,
        "predicted": as_rows(predicted, words),
        "started_at": timezone.now().isoformat(),
    }
    curve = expected_curve(
        sample=sample,
        propeller=propeller,
        supply=supply,
        esc=esc,
        density_kg_per_m3=density,
        throttles_pct=throttles_of(checked_profile) if guarded and not by_hand else [],
    )
    return RunPlan(
        run_id or str(uuid.uuid4()),
        checked_profile,
        checked,
        facts,
        record,
        rate_hz,
        off,
        page_grace_s,
        guarded=guarded and not by_hand,
        curve=curve,
        by_hand=by_hand,
        guard_off_by="" if guarded or by_hand or actor is None else who,
    )


def throttles_of(profile: Profile) -> list[float]:
    """The throttles that a profile rises to [%], the first :data:`MOST_ON_CURVE` of them."""
    return sorted({round(rise.to_pct, 1) for rise in rises(profile)})[-MOST_ON_CURVE:]


def course_of(profile: dict[str, Any]) -> dict[str, Any]:
    """What a profile commands at its longest.

    :raises PlanError: an impossible profile, with its field.
    """
    checked = profile_from_json(profile)
    return {
        "duration_s": duration_s(checked),
        "highest_pct": highest_throttle_pct(checked),
        "depends": PLAYS[checked.kind].follow is not None,
        "segments": [asdict(segment) for segment in segments(checked)],
    }


def _load(profile: Profile, propeller: Propeller | None) -> dict[str, Any]:
    """What is on the shaft, for the stand."""
    if propeller is not None:
        return {
            "propeller": propeller.full_name,
            "prop_diameter_in": propeller.diameter_in,
            "prop_pitch_in": propeller.pitch_in,
            "prop_blades": propeller.blades,
        }
    if profile.kind == "flywheel":
        return {"load": "flywheel", "inertia_kg_mm2": profile.values["inertia_kg_mm2"]}
    return {"load": "none"}


IN_HEADER = {
    "peak": {"half_bursts": "half_bursts"},
    "hold": {"targets_gf": "target_thrust_gf"},
    "flywheel": {
        "inertia_kg_mm2": "inertia_kg_mm2",
        "spin_up_from_rpm": "spin_up_from_rpm",
        "spin_up_to_rpm": "spin_up_to_rpm",
    },
}
"""Kind → parameter of its profile → key of the bench log that its reduction reads."""


def header_of(profile: Profile) -> dict[str, str]:
    """What the profile says that the reduction of its run has to know."""
    found = {}
    for name, key in IN_HEADER.get(profile.kind, {}).items():
        value = profile.values[name]
        listed = value if isinstance(value, tuple) else (value,)
        found[key] = " ".join(f"{item:g}" for item in listed)
    return found


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
            f"{supply.name} is not run below {lowest:g} V; set the floor to at least "
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


def arm_run(*, actor: User, checklist: list[str], **values: Any) -> dict[str, Any]:
    """Plan a run and arm it, asking of the checklist what this person has not confirmed today."""
    plan = plan_run(actor=actor, **values)
    record = plan.record
    mounted = Mounted(
        record["sample_id"],
        record["propeller_id"],
        record["supply_id"],
        record["stand_id"],
        plan.profile.kind,
    )
    asked = asked_of(
        actor,
        mounted,
        limits_off=list(plan.limits_off),
        page_grace_s=plan.page_grace_s,
        guard_off=bool(plan.guard_off_by),
        by_hand=plan.by_hand,
    )
    plan = replace(plan, asked=asked.items)
    frame = arm(plan=plan, checklist=checklist)
    keep(actor=actor, plan=plan, mounted=mounted, confirmed=checklist)
    return frame


def arm(*, plan: RunPlan, checklist: list[str]) -> dict[str, Any]:
    """Ask the agent to mount, tare and arm; returns its frame."""
    request = {"do": "arm", "plan": plan.as_json(), "checklist": checklist}
    return _frame(ask(settings.AGENT_SOCKET, request))


def in_hand() -> dict[str, Any]:
    """The run that the bench has in hand, with what is expected along it."""
    return ask(settings.AGENT_SOCKET, {"do": "in_hand"})["in_hand"]  # type: ignore[no-any-return]


def command(what: str, **rest: Any) -> dict[str, Any]:
    """Ask the agent to ``reset``, ``retry`` a run or say its ``status``."""
    return _frame(ask(settings.AGENT_SOCKET, {"do": what, **rest}))


def is_hot() -> bool:
    """Whether something is armed or turns; not where there is no agent that could."""
    try:
        return command("status").get("state") in HOT
    except BenchError:
        return False


HOT = frozenset({State.ARMED, State.RUNNING, State.ABORTING, State.COASTING, State.WATCHING})


def _frame(answer: dict[str, Any]) -> dict[str, Any]:
    frame: dict[str, Any] = answer["frame"]
    return frame
