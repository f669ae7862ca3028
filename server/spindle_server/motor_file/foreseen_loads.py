"""What a maker's rows should read, where nothing was run to hold them against."""

from __future__ import annotations

from typing import Any

from spindle_core.figures.measured import Absent, Figure
from spindle_core.intake.claim_evidence import against
from spindle_core.intake.claimed_loads import STATED
from spindle_core.planning.claimed_table import best_known, foreseen_load, propeller_by_words
from spindle_core.planning.known import KnownMotor, KnownPropeller
from spindle_server.identification.knowing import (
    air_known,
    experience,
    propellers_known,
    samples_known,
)
from spindle_server.motor_file.claimed_loads import may_mean, meant_by
from spindle_server.motors.models import ClaimedLoad, MotorModel
from spindle_server.rig.models import Propeller
from spindle_server.runs.stated import figure_json


def foreseen_loads(motor: MotorModel) -> list[dict[str, Any]]:
    """Every row of a maker's table as the model foresees it; nothing is asked where there is no
    table."""
    rows = list(motor.claimed_loads.all())
    if not rows:
        return []
    samples = list(motor.samples.select_related("motor__maker"))
    known = best_known(list(samples_known(samples, experience()).values()))
    at_hand = list(Propeller.objects.select_related("maker"))
    loads = propellers_known(at_hand)
    return [_row(row, known, _propeller(row.propeller, at_hand, loads)) for row in rows]


def _row(
    row: ClaimedLoad, motor: KnownMotor | Absent, propeller: KnownPropeller | Absent
) -> dict[str, Any]:
    figures: dict[str, Figure] = {}
    rests_on, why_not = "", ""
    if isinstance(motor, Absent):
        why_not = motor.note
    elif isinstance(propeller, Absent):
        why_not = propeller.note
    else:
        found, rests_on = foreseen_load(
            motor, propeller, cells=row.cells, density_kg_per_m3=air_known(None)
        )
        figures = dict(found)
    missing = Absent("not_foreseen", why_not)
    return {
        "id": row.pk,
        "rests_on": rests_on,
        "why_not": why_not,
        "figures": [
            _figure(name, float(said), figures.get(name, missing))
            for name in STATED
            if (said := getattr(row, name)) is not None
        ],
    }


def _propeller(
    words: str, at_hand: list[Propeller], loads: dict[int, KnownPropeller | Absent]
) -> KnownPropeller | Absent:
    """The one of the library that the words mean, else what they say of its geometry."""
    meant = meant_by(words, at_hand)
    if len(meant) > 1:
        return Absent("ambiguous", may_mean(words, meant))
    return loads[meant[0].pk] if meant else propeller_by_words(words)


def _figure(name: str, said: float, foreseen: Figure) -> dict[str, Any]:
    held = against(said, foreseen, rating=False)
    return {
        "name": name,
        "foreseen": figure_json(foreseen),
        "off_pct": figure_json(held.deviation_pct),
        "differs": held.differs,
    }
