"""Taking a motor in."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from spindle_core.errors import SizeCodeError
from spindle_core.size_code import parse_size_code
from spindle_server.accounts.models import User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.history import delete_as, save_as
from spindle_server.intake.claims import CLAIMS
from spindle_server.intake.models import Claim, Maker, MotorModel, Sample


@transaction.atomic
def take_in_motor(
    *,
    actor: User | None,
    maker: str,
    name: str,
    size_code: str,
    kv_label_rpm_per_v: float,
    size_basis: str | None = None,
    note: str = "",
    sample_marks: list[str] | None = None,
    obtained: str = "unknown",
    turning: str = "unknown",
) -> MotorModel:
    """A motor model with its first samples; the maker is created when it is new."""
    try:
        size = parse_size_code(size_code, size_basis or None)
    except SizeCodeError as error:
        raise ServiceError(
            error.message, code=error.code, fields={"size_code": [error.message]}
        ) from error
    maker_row = Maker.objects.filter(name=maker.strip()).first()
    if maker_row is None:
        maker_row = Maker(name=maker.strip())
        save_as(maker_row, actor)
    same = MotorModel.objects.filter(
        maker=maker_row, name=name.strip(), size_code=size.text,
        kv_label_rpm_per_v=kv_label_rpm_per_v,
    ).first()  # fmt: skip
    if same is not None:
        raise ConflictError(
            f"{same.full_name} is on the bench already; add a sample to it.",
            code="motor_exists", fields={"name": ["This motor is on the bench already."]},
        )  # fmt: skip
    motor = MotorModel(
        maker=maker_row, name=name.strip(), size_code=size.text, size_basis=str(size.basis),
        kv_label_rpm_per_v=kv_label_rpm_per_v, note=note,
    )  # fmt: skip
    save_as(motor, actor)
    for mark in sample_marks or ["A"]:
        add_sample(actor=actor, motor=motor, mark=mark, obtained=obtained, turning=turning)
    return motor


@transaction.atomic
def add_sample(
    *,
    actor: User | None,
    motor: MotorModel,
    mark: str,
    obtained: str = "unknown",
    turning: str = "unknown",
    note: str = "",
) -> Sample:
    """One more sample of a motor; its mark is its own."""
    mark = mark.strip()
    if motor.samples.filter(mark=mark).exists():
        raise ConflictError(
            f"There is a sample {mark} of this motor already.",
            code="sample_exists", fields={"mark": ["This mark is taken."]},
        )  # fmt: skip
    sample = Sample(motor=motor, mark=mark, obtained=obtained, turning=turning, note=note)
    save_as(sample, actor)
    return sample


@transaction.atomic
def put_claim(
    *, actor: User | None, motor: MotorModel, quantity: str, value: float, source: str
) -> Claim:
    """Note a claim; the same quantity from the same source is corrected, not doubled."""
    known = CLAIMS[quantity]
    if not known.low <= value <= known.high:
        message = (
            f"{known.label}: {value:g} {known.unit} is outside {known.low:g} to "
            f"{known.high:g} {known.unit}; check the unit."
        )
        raise ServiceError(message, code="out_of_range", fields={"value": [message]})
    claim = Claim.objects.filter(motor=motor, quantity=quantity, source=source.strip()).first()
    if claim is None:
        claim = Claim(motor=motor, quantity=quantity, source=source.strip())
    claim.value = value
    save_as(claim, actor)
    return claim


@transaction.atomic
def remove_claim(*, actor: User, claim: Claim) -> None:
    """Take a claim off; the history keeps it."""
    delete_as(claim, actor)


def claim_remarks(motor: MotorModel) -> list[dict[str, Any]]:
    """Claims checked for sense against each other.

    The rated power ÷ rated current implies a voltage, held against the cell range at 3.3 V
    (empty) to 4.2 V (full) per cell.
    """
    values: dict[str, float] = {}
    for claim in motor.claims.all():
        values.setdefault(claim.quantity, claim.value)
    remarks = []
    power, current = values.get("max_power_w"), values.get("max_current_a")
    if power and current:
        implied = power / current
        most, fewest = values.get("cells_max"), values.get("cells_min")
        text = f"Rated power ÷ rated current implies {implied:.2f} V"
        fits = True
        if most:
            low, high = 3.3 * (fewest or most), 4.2 * most
            fits = low <= implied <= high
            text += (
                f", {'inside' if fits else 'outside'} the {low:.1f} to {high:.1f} V "
                "of the claimed cells"
            )
        remarks.append({"code": "implied_voltage", "ok": fits, "message": text + "."})
    lowest, highest = values.get("cells_min"), values.get("cells_max")
    if lowest and highest and lowest > highest:
        remarks.append({
            "code": "cells_reversed", "ok": False,
            "message": f"Fewest cells ({lowest:g}) are above most cells ({highest:g}).",
        })  # fmt: skip
    return remarks
