"""Stands: what is declared of them, their dated geometry, instruments, calibrations, checks."""

from __future__ import annotations

import datetime
from typing import Any

from django.utils import timezone

from spindle_core.errors import QuantityError
from spindle_core.run.calibration import AppliedLoad, calibrate
from spindle_core.run.calibration import Calibration as Fit
from spindle_core.run.check_mass import MassCheck as Checked
from spindle_core.run.check_mass import check_mass
from spindle_core.run.scale import DeadWeight as CoreWeight
from spindle_core.run.scale import Geometry, Lever
from spindle_core.run.stand import Stand as CoreStand
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import (
    Calibration,
    DeadWeight,
    Instrument,
    MassCheck,
    Stand,
    StandState,
)
from spindle_server.rig.names import refuse_double

USUAL_STEP_G = 1.0


@writes(Role.REVIEWER)
def add_stand(*, actor: User | None, name: str, kind: str, **values: Any) -> Stand:
    """A stand with what is declared of it; what is not declared is assumed by kind."""
    stand = Stand(name=name.strip(), kind=kind, **values)
    refuse_double(Stand, stand.name)
    stand.save()
    return stand


@writes(Role.REVIEWER)
def change_stand(*, actor: User, stand: Stand, base: int | None, **values: Any) -> Stand:
    """Change what is declared of a stand, from version ``base``."""
    row = locked(Stand, stand.pk)
    if "name" in values:
        values["name"] = values["name"].strip()
        refuse_double(Stand, values["name"], but=row.pk)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def put_state(
    *,
    actor: User | None,
    stand: Stand,
    valid_from: datetime.date,
    weights: list[dict[str, Any]],
    base: int | None = None,
    **values: Any,
) -> StandState:
    """The geometry from a day on; a state of the same day is changed, from version ``base``.

    :raises ServiceError: a lever with one arm, or weights that cannot be.
    """
    if in_the_future(valid_from):
        raise _refused("valid_from", "The day lies in the future.")
    # The stand's row is held, so that two people do not both begin the same day.
    stand = locked(Stand, stand.pk)
    row = StandState.objects.filter(stand=stand, valid_from=valid_from).first()
    state = row or StandState(stand=stand, valid_from=valid_from)
    if row is not None and base != row.version:
        raise ConflictError(
            f"There is a state from {valid_from} already; it was read or changed by somebody "
            "else. Look at it, then write again.",
            code="changed_meanwhile",
        )
    for name, value in values.items():
        setattr(state, name, value)
    if (state.motor_arm_mm is None) != (state.scale_arm_mm is None):
        field = "motor_arm_mm" if state.motor_arm_mm is None else "scale_arm_mm"
        raise _refused(field, "A lever has two arms: give both lengths, or neither.")
    _core_geometry(state, [CoreWeight(w["name"], w["mass_g"], w.get("u_g")) for w in weights])
    if len({weight["name"] for weight in weights}) < len(weights):
        raise _refused("weights", "Two weights have the same name.")
    if row is not None:
        state.version += 1
    state.save()
    state.weights.all().delete()
    DeadWeight.objects.bulk_create(DeadWeight(state=state, **weight) for weight in weights)
    return state


@writes(Role.REVIEWER)
def put_instrument(
    *, actor: User | None, stand: Stand, channel: str, base: int | None = None, **values: Any
) -> Instrument:
    """What reads a channel of the stand; one a channel, changed from version ``base``."""
    stand = locked(Stand, stand.pk)
    row = Instrument.objects.select_for_update().filter(stand=stand, channel=channel).first()
    if row is None:
        row = Instrument(stand=stand, channel=channel, **values)
        row.save()
        return row
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def add_calibration(
    *,
    actor: User | None,
    stand: Stand,
    valid_from: datetime.date,
    loads: list[dict[str, Any]],
    step_g: float,
    masses_relative_u: float | None = None,
    remind_on: datetime.date | None = None,
    note: str = "",
) -> Calibration:
    """Keep a calibration as it was read; its result is the stand's u from that day on.

    :raises ServiceError: a day in the future, or loads that make no line.
    """
    if in_the_future(valid_from):
        raise _refused("valid_from", "The day lies in the future.")
    if remind_on is not None and remind_on <= valid_from:
        raise _refused("remind_on", "The reminder comes after the calibration.")
    fit = fitted(stand, valid_from, loads, step_g=step_g, masses_relative_u=masses_relative_u)
    if not fit.relative_u < 0.5:
        raise _refused(
            "loads",
            f"The stand would be uncertain by {100 * fit.relative_u:.0f} %. "
            + " ".join(remark.message for remark in fit.remarks),
        )
    row = Calibration(
        stand=stand,
        valid_from=valid_from,
        remind_on=remind_on,
        loads=loads,
        step_g=step_g,
        masses_relative_u=masses_relative_u,
        relative_u=fit.relative_u,
        note=note,
        noted_by=actor,
    )
    row.save()
    return row


@writes(Role.REVIEWER)
def add_mass_check(*, actor: User | None, stand: Stand, **values: Any) -> MassCheck:
    """A known mass on the stand, and what the scale showed.

    :raises ServiceError: numbers that cannot be a check.
    """
    row = MassCheck(stand=stand, noted_by=actor, **values)
    if row.checked_at is None:
        row.checked_at = timezone.now()
    if row.checked_at > timezone.now() + datetime.timedelta(hours=14):
        raise _refused("checked_at", "The time lies in the future.")
    checked(row)
    row.save()
    return row


@writes(Role.REVIEWER)
def strike(
    *, actor: User, record: Calibration | MassCheck, reason: str, base: int | None
) -> Calibration | MassCheck:
    """Strike a calibration or a check out as a mistake, or let it stand again."""
    row = locked(type(record), record.pk)
    write_fields(row, {"struck_reason": reason.strip()}, base=base)
    return row


# In the core's terms


def state_on(stand: Stand, day: datetime.date) -> StandState | None:
    """The stand's geometry of a day; None before the first was noted."""
    states = [state for state in stand.states.all() if state.valid_from <= day]
    return max(states, key=lambda state: state.valid_from, default=None)


def geometry_of(stand: Stand, day: datetime.date) -> Geometry:
    """How the stand turned thrust into a reading on a day."""
    state = state_on(stand, day)
    if state is None:
        return Geometry(f"stand {stand.pk}")
    weights = [CoreWeight(w.name, w.mass_g, w.u_g) for w in state.weights.all()]
    return _core_geometry(state, weights)


def _core_geometry(state: StandState, weights: list[CoreWeight]) -> Geometry:
    try:
        lever = None
        if state.motor_arm_mm is not None and state.scale_arm_mm is not None:
            lever = Lever(state.motor_arm_mm, state.scale_arm_mm, state.arm_u_mm)
        return Geometry(f"stand {state.stand_id}", lever, weights, state.lifts, state.rest_g)
    except QuantityError as error:
        field = "motor_arm_mm" if error.code == "arm" else "weights"
        raise _refused(field, error.message) from error


def calibration_on(stand: Stand, day: datetime.date) -> Calibration | None:
    """The calibration that counts on a day: the last one before its end that was not struck."""
    rows = [
        row for row in stand.calibrations.all() if row.valid_from <= day and not row.struck_reason
    ]
    return max(rows, key=lambda row: (row.valid_from, row.pk), default=None)


def thrust_u_on(stand: Stand, day: datetime.date) -> float | None:
    """Relative standard uncertainty of the stand's thrust on a day: of its calibration, else as
    declared; None where nobody knows."""
    calibration = calibration_on(stand, day)
    return stand.calibration_rel if calibration is None else calibration.relative_u


def stand_of(stand: Stand, day: datetime.date) -> CoreStand:
    """What a stand declares of itself on a day, for a reduction."""
    instruments = list(stand.instruments.all())
    calibration = {i.channel: i.relative_u for i in instruments if i.relative_u is not None}
    thrust = thrust_u_on(stand, day)
    if thrust is not None:
        calibration["thrust_gf"] = thrust
    # What masses or somebody declared of the whole stand holds its arms already.
    lever = geometry_of(stand, day).lever if thrust is None else None
    return CoreStand(
        arms_relative_u=0.0 if lever is None else lever.relative_u,
        arms_assumed=lever is not None and lever.u_mm is None,
        calibration=calibration,
        resolution={i.channel: i.step for i in instruments if i.step is not None},
        repeatability=stand.repeatability_rel or 0.0,
        name=f"stand {stand.pk}",
        instruments={i.channel: i.kind for i in instruments},
    )


def fitted(
    stand: Stand,
    day: datetime.date,
    loads: list[dict[str, Any]],
    *,
    step_g: float,
    masses_relative_u: float | None,
) -> Fit:
    """What the core makes of a calibration's loads with the geometry of its day."""
    try:
        return calibrate(
            [AppliedLoad(**load) for load in loads],
            geometry=geometry_of(stand, day),
            step_g=step_g,
            masses_relative_u=masses_relative_u,
        )
    except QuantityError as error:
        raise _refused("loads", error.message) from error


def checked(row: MassCheck) -> Checked:
    """A check held against the u that counted on its day."""
    day = timezone.localtime(row.checked_at).date()
    try:
        return check_mass(
            mass_g=row.mass_g,
            reading_g=row.reading_g,
            geometry=geometry_of(row.stand, day),
            relative_u=thrust_u_on(row.stand, day),
            step_g=row.step_g,
        )
    except QuantityError as error:
        raise _refused("mass_g", error.message) from error


def _refused(field: str, message: str) -> ServiceError:
    return ServiceError(message, code="rig", fields={field: [message]})
