"""What a way of writing a propeller can mean, beside what the library holds."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.intake.propeller_code import fitting, propeller_readings
from spindle_server.errors import ServiceError
from spindle_server.rig.models import Propeller


def readings_of(text: str, stator_mm: str = "") -> list[dict[str, Any]]:
    """Each reading of a text; ``fits``: whether a stator of this diameter turns it (None: no
    motor is in hand); ``there``: a propeller of that size that the library holds.

    :raises ServiceError: the text is no propeller.
    """
    try:
        found = propeller_readings(text)
    except QuantityError as error:
        raise ServiceError(error.message, code=error.code, fields={"text": [error.message]}) from (
            error
        )
    fit = None
    if stator_mm.replace(".", "", 1).isdigit():
        fit = fitting(found, float(stator_mm))
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


def _there(diameter_in: float, pitch_in: float | None, blades: int | None) -> str:
    rows = Propeller.objects.select_related("maker").filter(diameter_in=diameter_in)
    if pitch_in is not None:
        rows = rows.filter(pitch_in=pitch_in)
    if blades is not None:
        rows = rows.filter(blades=blades)
    row = rows.first()
    return row.full_name if row else ""
