"""What a new propeller, a new motor or both would change for who has a craft in the air."""

from __future__ import annotations

from typing import Any

from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.match.picks import pick
from spindle_core.match.suits import Change, change
from spindle_server.match.selectors import Match, Seated
from spindle_server.runs.stated import figure_json

_CHANGES = {
    (True, False): "new propeller",
    (False, True): "new motor",
    (False, False): "new motor and propeller",
}
"""Whether motor and propeller stay, and what is said of it."""


def upgrade_of(found: Match) -> dict[str, Any] | None:
    """What a new propeller, a new motor or both would change; None where nothing is carried."""
    row = found.row
    if row.carries_motor_id is None or row.carries_propeller is None:
        return None
    motor, propeller = str(row.carries_motor_id), row.carries_propeller.full_name
    now = next(
        (o for o in found.seated if (o.seat.motor, o.seat.propeller) == (motor, propeller)), None
    )
    carried = f"{row.carries_motor}, {propeller}"
    if now is None:
        why = "it was neither run nor can it be predicted"
        return {"now": carried, "why_not": why, "changes": []}
    changes = []
    for (same_motor, same_propeller), kind in _CHANGES.items():
        among = [
            one
            for one in found.seated
            if not one.on.barred
            and (one.seat.motor == motor) is same_motor
            and (one.seat.propeller == propeller) is same_propeller
        ]
        chosen = pick([one.on for one in among]) if among else Absent("none", "")
        if isinstance(chosen, Absent):
            continue
        then = next(one for one in among if one.on.name == chosen.chosen)
        price: Figure = Measured(0.0)
        if then.seat.motor != motor:
            price = found.facts[int(then.seat.motor)].price
        made = change(now.on, then.on, motors=row.motors, price_each=price)
        changes.append(
            {
                "kind": kind,
                **_change_json(made),
                "currency": found.facts[int(then.seat.motor)].currency,
                "estimated": now.on.predicted or then.on.predicted,
                "sentence": _change_words(kind, made, found, then),
            }
        )
    return {"now": carried, "why_not": "", "changes": changes}


def _change_json(made: Change) -> dict[str, Any]:
    return {
        "name": made.name,
        "mass_g": figure_json(made.mass_g),
        "thrust_to_weight": figure_json(made.thrust_to_weight),
        "thrust_to_weight_was": figure_json(made.thrust_to_weight_was),
        "thrust_pct": figure_json(made.thrust_pct),
        "peak_current_pct": figure_json(made.peak_current_pct),
        "minutes": figure_json(made.minutes),
        "hover_current_pct": figure_json(made.hover_current_pct),
        "price": figure_json(made.price),
    }


def _change_words(kind: str, made: Change, found: Match, then: Seated) -> str:
    paid = ""
    if "motor" in kind:
        currency = found.facts[int(then.seat.motor)].currency
        count = found.row.motors
        paid = (
            f"; {count} motors cost {made.price.value:.2f} {currency}"
            if isinstance(made.price, Measured)
            else "; what the motors cost is not known"
        )
    return f"{made.name}: {made.words()}{paid}."
