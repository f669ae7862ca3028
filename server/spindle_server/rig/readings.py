"""What a way of writing a propeller can mean, beside what the library holds."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.intake.propeller_code import fitting, propeller_readings
from spindle_core.motor.size_code import Basis
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.rig.models import Propeller


def readings_of(text: str, motor: MotorModel | None = None) -> list[dict[str, Any]]:
    """Each reading of a text; ``fits``: whether the motor in hand turns it (None: there is none,
    or its stator is not known); ``there``: a propeller of that size that the library holds.

    :raises ServiceError: the text is no propeller.
    """
    try:
        found = propeller_readings(text)
    except QuantityError as error:
        raise ServiceError(error.message, code=error.code, fields={"text": [error.message]}) from (
            error
        )
    stator_mm = None if motor is None else _stator_mm(motor)
    fit = None if stator_mm is None else fitting(found, stator_mm)
    return [
        {
            "diameter_in": one.diameter_in,
            "pitch_in": one.pitch_in,
            "blades": one.blades,
            "certain": one.certain,
            "how": one.how,
            "fits": None if fit is None else one in fit,
            "there": _there(one.diameter_in, one.pitch_in, one.blades),
        }
        for one in found
    ]


def _stator_mm(motor: MotorModel) -> float | None:
    size = motor.size
    return size.diameter_mm if size and size.basis is Basis.STATOR else None


def _there(diameter_in: float, pitch_in: float | None, blades: int | None) -> str:
    rows = Propeller.objects.select_related("maker").filter(diameter_in=diameter_in)
    if pitch_in is not None:
        rows = rows.filter(pitch_in=pitch_in)
    if blades is not None:
        rows = rows.filter(blades=blades)
    row = rows.first()
    return row.full_name if row else ""
