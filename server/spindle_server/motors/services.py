"""Taking a motor in: the motor, its samples, what is claimed and what is expected of it."""

from __future__ import annotations

import datetime
from typing import Any

from spindle_core.errors import QuantityError, SizeCodeError
from spindle_core.intake.claim_quantities import CLAIMS, check_claim
from spindle_core.intake.motor_kind import MotorKind
from spindle_core.motor.size_code import SizeCode, parse_size_code
from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.motors.dates import in_the_future
from spindle_server.motors.models import Claim, Expectation, Maker, MotorModel, Parcel, Sample
from spindle_server.motors.parcels import add_parcel
from spindle_server.records.versions import changed_meanwhile, locked, refuse_stale, write_fields
from spindle_server.records.writes import writes


def read_size_code(text: str, basis: str | None, kind: str) -> SizeCode | None:
    """A size code on its basis, None for none; a brushed can's code measures the case unless said
    otherwise.

    :raises ServiceError: no size code.
    """
    if not text.strip():
        return None
    if not basis and kind == str(MotorKind.BRUSHED):
        basis = "case"
    try:
        return parse_size_code(text, basis or None)
    except SizeCodeError as error:
        raise ServiceError(
            error.message, code=error.code, fields={"size_code": [error.message]}
        ) from error


@writes(Role.REVIEWER)
def take_in_motor(
    *,
    actor: User | None,
    maker: str,
    name: str,
    size_code: str,
    kv_label_rpm_per_v: float | None = None,
    kind: str = "outrunner",
    size_basis: str | None = None,
    note: str = "",
    sample_marks: list[str] | None = None,
    turning: str = "unknown",
    **parcel: Any,
) -> MotorModel:
    """A motor model with its first parcel and samples; the maker is created when it is new.

    ``parcel`` takes what :func:`spindle_server.motors.parcels.add_parcel` takes.
    """
    motor = name_motor(
        actor=actor,
        maker=maker,
        name=name,
        size_code=size_code,
        kv_label_rpm_per_v=kv_label_rpm_per_v,
        kind=kind,
        size_basis=size_basis,
        note=note,
    )
    delivery = add_parcel(actor=actor, motor=motor, **parcel)
    for mark in sample_marks or ["A"]:
        add_sample(actor=actor, motor=motor, mark=mark, parcel=delivery, turning=turning)
    return motor


@writes(Role.REVIEWER)
def name_motor(
    *,
    actor: User | None,
    maker: str,
    name: str,
    size_code: str,
    kv_label_rpm_per_v: float | None = None,
    kind: str = "outrunner",
    size_basis: str | None = None,
    note: str = "",
) -> MotorModel:
    """A motor model of which nobody here has a sample yet; the maker is created when it is new.

    :raises ConflictError: it is on the bench already.
    """
    size = read_size_code(size_code, size_basis, kind)
    maker_row = Maker.objects.filter(name=maker.strip()).first()
    if maker_row is None:
        maker_row = Maker(name=maker.strip())
        maker_row.save()
    motor = MotorModel(
        maker=maker_row,
        name=name.strip(),
        kind=kind,
        size_code=size.text if size else "",
        size_basis=str(size.basis) if size else "",
        kv_label_rpm_per_v=kv_label_rpm_per_v,
        note=note,
    )
    _refuse_double(motor)
    motor.save()
    return motor


def _refuse_double(motor: MotorModel, *, but: int | None = None) -> None:
    same = MotorModel.objects.filter(
        maker=motor.maker,
        name=motor.name,
        size_code=motor.size_code,
        kv_label_rpm_per_v=motor.kv_label_rpm_per_v,
    )
    if but is not None:
        same = same.exclude(pk=but)
    if same.exists():
        raise ConflictError(
            f"{motor.full_name} is on the bench already; add a sample to it.",
            code="motor_exists",
            fields={"name": ["This motor is on the bench already."]},
        )


@writes(Role.REVIEWER)
def change_motor(*, actor: User, motor: MotorModel, base: int | None, **values: Any) -> MotorModel:
    """Change what a motor is called or said to be."""
    row = locked(MotorModel, motor.pk)
    if "size_code" in values or "size_basis" in values or "kind" in values:
        size = read_size_code(
            values.get("size_code", row.size_code),
            values.get("size_basis", row.size_basis if "size_code" not in values else None),
            values.get("kind", row.kind),
        )
        values["size_code"] = size.text if size else ""
        values["size_basis"] = str(size.basis) if size else ""
    called = ("maker", "name", "size_code", "kv_label_rpm_per_v")
    trial = MotorModel(**{name: values.get(name, getattr(row, name)) for name in called})
    _refuse_double(trial, but=row.pk)
    write_fields(row, values, base=base)
    return row


@writes(Role.REVIEWER)
def add_sample(
    *,
    actor: User | None,
    motor: MotorModel,
    mark: str,
    parcel: Parcel | None = None,
    turning: str = "unknown",
    note: str = "",
) -> Sample:
    """One more sample of a motor; its mark is its own. Without a parcel it joins the latest."""
    mark = mark.strip()
    _refuse_taken_mark(motor, mark)
    _refuse_foreign_parcel(motor, parcel)
    sample = Sample(
        motor=motor, parcel=parcel or motor.parcels.last(), mark=mark, turning=turning, note=note
    )
    sample.save()
    return sample


@writes(Role.REVIEWER)
def change_sample(*, actor: User, sample: Sample, base: int | None, **values: Any) -> Sample:
    """Change a sample's mark, direction, parcel or note."""
    row = locked(Sample, sample.pk)
    if "mark" in values and values["mark"].strip() != row.mark:
        values["mark"] = values["mark"].strip()
        _refuse_taken_mark(row.motor, values["mark"])
    _refuse_foreign_parcel(row.motor, values.get("parcel"))
    write_fields(row, values, base=base)
    return row


def _refuse_taken_mark(motor: MotorModel, mark: str) -> None:
    if motor.samples.filter(mark=mark).exists():
        raise ConflictError(
            f"There is a sample {mark} of this motor already.",
            code="sample_exists",
            fields={"mark": ["This mark is taken."]},
        )


def _refuse_foreign_parcel(motor: MotorModel, parcel: Parcel | None) -> None:
    if parcel is not None and parcel.motor_id != motor.pk:
        message = "That parcel brought another motor."
        raise ServiceError(message, code="other_parcel", fields={"parcel": [message]})


@writes(Role.REVIEWER)
def put_claim(
    *,
    actor: User | None,
    motor: MotorModel,
    quantity: str,
    source: str,
    value: float | None = None,
    words: str = "",
    stated_on: datetime.date | None = None,
    base: int | None = None,
) -> Claim:
    """Note a claim; the same quantity from the same source is corrected, not doubled."""
    words, source = words.strip(), source.strip()
    if in_the_future(stated_on):
        message = "That day has not come yet."
        raise ServiceError(message, code="future", fields={"stated_on": [message]})
    try:
        check_claim(quantity, value, words)
    except QuantityError as error:
        field = "words" if CLAIMS[quantity].words else "value"
        raise ServiceError(
            error.message, code=error.code, fields={field: [error.message]}
        ) from error
    claim = (
        Claim.objects.select_for_update()
        .filter(motor=motor, quantity=quantity, source=source)
        .first()
    )
    if claim is None:
        claim = Claim(motor=motor, quantity=quantity, source=source)
        for name, said in {"value": value, "words": words, "stated_on": stated_on}.items():
            setattr(claim, name, said)
        claim.save()
        return claim
    if base is None and (claim.value, claim.words) != (value, words):
        raise changed_meanwhile(claim, ["value", "words"])
    written: dict[str, Any] = {"value": value, "words": words}
    if stated_on is not None:
        written["stated_on"] = stated_on
    write_fields(claim, written, base=base if base is not None else claim.version)
    return claim


@writes(Role.REVIEWER)
def remove_claim(*, actor: User, claim: Claim, base: int | None) -> None:
    """Take off a claim that was read at version ``base``; the history keeps it."""
    row = locked(Claim, claim.pk)
    refuse_stale(row, base, ["value", "words"])
    row.delete()


@writes(Role.REVIEWER)
def expect(
    *,
    actor: User | None,
    motor: MotorModel,
    quantity: str = "",
    value: float | None = None,
    text: str = "",
) -> Expectation:
    """Note what is expected, with today's date; it is never changed afterwards."""
    if not quantity and not text.strip():
        message = "Write what you expect."
        raise ServiceError(message, code="nothing_said", fields={"text": [message]})
    if bool(quantity) != (value is not None):
        message = "A number needs what it is a number of, and the other way round."
        raise ServiceError(message, code="half_said", fields={"value": [message]})
    row = Expectation(
        motor=motor, quantity=quantity, value=value, text=text.strip(), noted_by=actor
    )
    row.save()
    return row
