"""Noting flights, letters and follow-ups; erasing names."""

from __future__ import annotations

import datetime
from typing import Any

from django.db.models import Q
from django.utils import timezone

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.formats.result_json import figure_from_json, figure_to_json
from spindle_core.match.flown import Flight as CoreFlight
from spindle_core.match.flown import at_mass
from spindle_server.accounts.models import Role, User
from spindle_server.afterwards.hours import used
from spindle_server.afterwards.models import Flight, FollowUp, Letter
from spindle_server.errors import ServiceError
from spindle_server.match.kept import matched_now
from spindle_server.match.models import Craft
from spindle_server.match.selectors import Match
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes
from spindle_server.rig.models import Propeller

ERASED = "erased"
MOST_READERS = 10_000
Matches = dict[int, Match]


@writes(Role.REVIEWER)
def note_flight(
    *,
    actor: User | None,
    craft: Craft,
    samples: list[Sample] | None = None,
    seen: Matches | None = None,
    **values: Any,
) -> Flight:
    """Note a flight; what is not said of pack, motor and propeller is the craft's.

    :param seen: what craft were matched with already, kept by who notes many.
    :raises ServiceError: a flight that cannot be, or samples of another motor.
    """
    row = Flight(craft=craft, noted_by=actor, **_with_the_crafts(craft, values))
    if in_the_future(row.flown_on):
        raise _refused("flown_on", "The day lies in the future.")
    _refuse_strangers(row.motor, samples or [])
    figure, row.rests_on = stand_power(craft, row.motor, row.propeller, row.mass_g, seen)
    row.hover_power = _stored(figure)
    _check(row)
    row.save()
    row.samples.set(samples or [])
    return row


def _with_the_crafts(craft: Craft, values: dict[str, Any]) -> dict[str, Any]:
    own = {
        "capacity_mah": craft.capacity_mah,
        "cells": craft.cells,
        "usable_pct": craft.usable_pct,
        "motor": craft.carries_motor,
        "propeller": craft.carries_propeller,
    }
    return {**own, **{name: value for name, value in values.items() if value is not None}}


def _refuse_strangers(motor: MotorModel | None, samples: list[Sample]) -> None:
    if any(motor is None or sample.motor_id != motor.pk for sample in samples):
        raise _refused("samples", "A sample is of the motor that flew.")


def _check(row: Flight) -> None:
    try:
        core_flight(row)
    except QuantityError as error:
        known = {"minutes", "capacity_mah", "cells", "put_back_mah"}
        raise _refused(error.code if error.code in known else "minutes", error.message) from error


def core_flight(row: Flight) -> CoreFlight:
    """A flight in the core's terms.

    :raises QuantityError: one that cannot be.
    """
    return CoreFlight(
        key=str(row.pk or 0),
        minutes=row.minutes,
        capacity_mah=row.capacity_mah,
        cells=row.cells,
        hover_power_w=_figure(row.hover_power),
        usable=row.usable_pct / 100.0,
        put_back_mah=row.put_back_mah,
        mass_g=row.mass_g,
        hover_share_pct=row.hover_share_pct,
        motor=row.motor.full_name if row.motor else "",
        propeller=row.propeller.full_name if row.propeller else "",
        wind=row.get_wind_display() if row.wind else "",
    )


def _stored(figure: Figure) -> dict[str, Any]:
    if isinstance(figure, Absent):
        return {"absent": figure.reason, "note": figure.note}
    return figure_to_json(figure) or {}


def _figure(data: dict[str, Any]) -> Figure:
    if "absent" in data:
        return Absent(data["absent"], data["note"])
    return figure_from_json(data or None)


def stand_power(
    craft: Craft,
    motor: MotorModel | None,
    propeller: Propeller | None,
    mass_g: float | None,
    seen: Matches | None = None,
) -> tuple[Figure, str]:
    """What the craft's motors take on the stand for its weight [W], by Match, and on what that
    rests in words."""
    if motor is None or propeller is None:
        return Absent("not_named", "motor and propeller were not named"), ""
    key = (str(motor.pk), propeller.full_name)
    kept = {} if seen is None else seen
    found = kept.get(craft.pk) or matched_now(craft)
    kept[craft.pk] = found
    seated = next((o for o in found.seated if (o.seat.motor, o.seat.propeller) == key), None)
    if seated is None:
        why = found.left.get(f"{motor.full_name}, {propeller.full_name}", "")
        return Absent("not_matched", why or "it was neither run nor can it be predicted"), ""
    power = seated.on.power_w
    if isinstance(power, Absent):
        return power, ""
    whole = power.scaled(float(craft.motors))
    if mass_g is not None:
        whole = at_mass(whole, matched_g=seated.on.mass_g.value, flown_g=mass_g)
    runs = seated.seat.runs
    how = f"from {runs} run{'' if runs == 1 else 's'}" if runs else "predicted from constants"
    load = seated.seat.load
    said = f"{how}, {load.voltage_v:g} V {load.supply}"
    return Measured(whole.value, whole.components, n=whole.n, origin=whole.origin), said[:300]


@writes(Role.REVIEWER)
def change_flight(
    *,
    actor: User,
    flight: Flight,
    base: int | None,
    samples: list[Sample] | None = None,
    **values: Any,
) -> Flight:
    """Change what was noted, or strike it out; what was foreseen stays as it was foreseen."""
    row = locked(Flight, flight.pk)
    trial = Flight.objects.select_related("motor__maker", "propeller__maker").get(pk=flight.pk)
    for name, value in values.items():
        if value is None and not Flight._meta.get_field(name).null:
            raise _refused(name, "Say it, or leave it as it was.")
        setattr(trial, name, value)
    _check(trial)
    if samples is not None:
        _refuse_strangers(trial.motor, samples)
    changed = write_fields(row, values, base=base)
    if samples is not None and {s.pk for s in samples} != {s.pk for s in row.samples.all()}:
        if not changed:
            write_fields(row, {"version": row.version}, base=base)
        row.samples.set(samples)
    return row


@writes(Role.REVIEWER)
def note_letter(*, actor: User | None, **values: Any) -> Letter:
    """Note what somebody wrote.

    :raises ServiceError: a day in the future, or a failure that is no report.
    """
    row = Letter(noted_by=actor, **values)
    _check_letter(row)
    row.save()
    return row


@writes(Role.REVIEWER)
def note_letters(*, actor: User | None, rows: list[dict[str, Any]]) -> list[Letter]:
    """Note several, all or none."""
    return [note_letter(actor=actor, **values) for values in rows]


@writes(Role.REVIEWER)
def change_letter(*, actor: User, letter: Letter, base: int | None, **values: Any) -> Letter:
    """Change or answer a letter; an answer bears the day on which it was written."""
    row = locked(Letter, letter.pk)
    if "answer" in values:
        values["answer"] = values["answer"].strip()
        if values["answer"] != row.answer:
            values["answered_on"] = timezone.localdate() if values["answer"] else None
        if not values["answer"] and "declined" not in values:
            # What is open again was not declined.
            values["declined"] = False
    trial = Letter.objects.get(pk=letter.pk)
    for name, value in values.items():
        setattr(trial, name, value)
    _check_letter(trial)
    write_fields(row, values, base=base)
    return row


def _check_letter(row: Letter) -> None:
    row.text = row.text.strip()
    row.person = row.person.strip()
    if not row.text:
        raise _refused("text", "Say what was written.")
    if in_the_future(row.received_on):
        raise _refused("received_on", "The day lies in the future.")
    if not 1 <= row.readers <= MOST_READERS:
        raise _refused("readers", f"Between 1 and {MOST_READERS:,} readers.")
    if row.declined and not row.answer:
        raise _refused("answer", "Say why it will not be done.")
    if row.failure and row.kind != "report":
        raise _refused("failure", "Only a report tells of a failure.")


@writes(Role.REVIEWER)
def note_follow_up(*, actor: User | None, motor: MotorModel, **values: Any) -> FollowUp:
    """Have an open point wait for its trigger.

    :raises ServiceError: a trigger without what it needs.
    """
    row = FollowUp(motor=motor, noted_by=actor, **values)
    for name, value in _triggered(row).items():
        setattr(row, name, value)
    row.hours_then = most_used(motor)
    row.save()
    return row


def _triggered(row: FollowUp) -> dict[str, Any]:
    """Its text and its trigger, without what another trigger would need.

    :raises ServiceError: a trigger without what it needs.
    """
    text = row.text.strip()
    if not text:
        raise _refused("text", "Say what is to be looked at.")
    if row.trigger == "date" and row.due_on is None:
        raise _refused("due_on", "Say on which day.")
    if row.trigger == "hours" and not (row.after_hours or 0) > 0:
        raise _refused("after_hours", "Say after how many hours.")
    return {
        "text": text,
        "due_on": row.due_on if row.trigger == "date" else None,
        "after_hours": row.after_hours if row.trigger == "hours" else None,
    }


def most_used(motor: MotorModel) -> float:
    """Hours of the sample that was used most."""
    found = used(motor.samples.values_list("pk", flat=True))
    return max((one.hours for one in found.values()), default=0.0)


@writes(Role.REVIEWER)
def change_follow_up(
    *, actor: User, follow_up: FollowUp, base: int | None, done: bool | None = None, **values: Any
) -> FollowUp:
    """Say that it is done, with a word, or that it is not; or change its text or its trigger.

    :raises ServiceError: a trigger without what it needs.
    """
    row = locked(FollowUp, follow_up.pk)
    changed = FollowUp(
        **{name: getattr(row, name) for name in ("text", "trigger", "due_on", "after_hours")}
        | {
            name: values[name]
            for name in ("text", "trigger", "due_on", "after_hours")
            if name in values
        }
    )
    if {"text", "trigger", "due_on", "after_hours"} & values.keys():
        values |= _triggered(changed)
    if done is not None:
        values["done_on"] = timezone.localdate() if done else None
    write_fields(row, values, base=base)
    return row


@writes(Role.ADMINISTRATOR)
def erase_person(*, actor: User, name: str) -> tuple[int, list[int]]:
    """Take a name off every letter and flight and off their histories; the records stay.

    :returns: how many rows bore it, histories aside, and the letters whose words still hold it:
        those somebody has to read.
    :raises ServiceError: nobody of that name.
    """
    wanted = name.strip()
    if not wanted or wanted == ERASED:
        raise _refused("name", "Say whose name is erased.")
    changed = 0
    for model, field in ((Letter, "person"), (Flight, "flown_by")):
        of = {f"{field}__iexact": wanted}
        changed += model._default_manager.filter(**of).update(**{field: ERASED})
        model.history.filter(**of).update(**{field: ERASED})
    if not changed:
        raise _refused("name", f"Nobody here is called {wanted}.")
    words = Q(text__icontains=wanted) | Q(answer__icontains=wanted)
    return changed, list(Letter.objects.filter(words).order_by("pk").values_list("pk", flat=True))


def _refused(field: str, message: str) -> ServiceError:
    return ServiceError(message, code="afterwards", fields={field: [message]})


def due(row: FollowUp, today: datetime.date, hours: float, flown: bool) -> bool:
    """Whether a follow-up's trigger has come.

    :param hours: that the motor's most used sample has now. :param flown: whether the motor flew.
    """
    if row.done_on is not None:
        return False
    if row.trigger == "date":
        return row.due_on is not None and row.due_on <= today
    if row.trigger == "hours":
        return hours - row.hours_then >= (row.after_hours or 0.0)
    return flown
