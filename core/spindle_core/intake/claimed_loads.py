"""What a maker states of his motor by cell count: on which propeller what thrust, current, power.

Such a row is a claim of one load, not of the motor. It is checked in itself and against the
other rows of its source, and held against what was measured on the same propeller and cells.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.errors import CoreError, QuantityError
from spindle_core.intake.claims import EMPTY_V, FULL_V
from spindle_core.intake.propeller_code import propeller_readings
from spindle_core.intake.same_thing import geometry_conflict, plain_name

STATED = {
    "thrust_gf": ("thrust", "gf", 1.0, 50_000.0),
    "current_a": ("current", "A", 0.1, 500.0),
    "power_w": ("power", "W", 0.5, 20_000.0),
}
"""Figure → in words, unit, and the range outside of which the unit is most likely another."""

MOST_CELLS = 16


@dataclass(frozen=True, slots=True)
class ClaimedLoad:
    """One row of a maker's table; ``propeller`` as he writes it."""

    cells: int
    propeller: str
    thrust_gf: float | None = None
    current_a: float | None = None
    power_w: float | None = None


def check_claimed_load(load: ClaimedLoad) -> None:
    """Whether a row says something, in possible figures.

    :raises QuantityError: it does not; its code is the field at fault, or ``nothing``.
    """
    if not 1 <= load.cells <= MOST_CELLS:
        raise QuantityError(f"Cells: {load.cells} is outside 1 to {MOST_CELLS}.", code="cells")
    if not load.propeller.strip():
        raise QuantityError("Write the propeller as the maker does.", code="propeller")
    for name, (words, unit, low, high) in STATED.items():
        value: float | None = getattr(load, name)
        if value is not None and not low <= value <= high:
            raise QuantityError(
                f"{words.capitalize()}: {value:g} {unit} is outside {low:g} to {high:g} {unit}; "
                "check the unit.",
                code=name,
            )
    if all(getattr(load, name) is None for name in STATED):
        raise QuantityError(
            "Write at least one of thrust, current and power; a row without any claims nothing.",
            code="nothing",
        )


def odd_about(load: ClaimedLoad, others: Sequence[ClaimedLoad]) -> list[str]:
    """What of a row cannot be as it is stated, in sentences; empty where nothing is odd.

    Power over current is the voltage under load, within what so many cells can have. More cells on
    the same propeller turn it faster, which takes more current and gives more thrust.

    :param others: of the same motor and source.
    """
    found = []
    if load.power_w is not None and load.current_a is not None:
        volts = load.power_w / load.current_a
        low, high = EMPTY_V * load.cells, FULL_V * load.cells
        if not low <= volts <= high:
            found.append(
                f"{load.power_w:g} W at {load.current_a:g} A are {volts:.1f} V, which {load.cells} "
                f"cells ({low:.1f} to {high:.1f} V) do not have under load."
            )
    for other in others:
        if other.cells >= load.cells or plain_name(other.propeller) != plain_name(load.propeller):
            continue
        for name, (words, unit, _, _) in STATED.items():
            more, less = getattr(load, name), getattr(other, name)
            if more is not None and less is not None and more <= less:
                found.append(
                    f"No more {words} on {load.cells} cells ({more:g} {unit}) than on "
                    f"{other.cells} ({less:g} {unit}) with the same propeller."
                )
    return found


@dataclass(frozen=True, slots=True)
class RunPropeller:
    """A propeller of the bench: what it is called in full and by itself, and its geometry [in]."""

    full_name: str
    name: str
    size: str
    geometry: tuple[float, float | None, int | None]


def is_that_propeller(words: str, propeller: RunPropeller) -> bool:
    """Whether a maker's words mean a propeller of the bench: its name, or a geometry that can be
    read in one way only and is wholly its own."""
    wanted = plain_name(words)
    if wanted in {plain_name(propeller.full_name), plain_name(propeller.name)} - {""}:
        return True
    if wanted == plain_name(propeller.size):
        return True
    try:
        readings = propeller_readings(words)
    except CoreError:
        return False
    if len(readings) != 1:
        return False
    one = readings[0]
    stated = (one.diameter_in, one.pitch_in, one.blades)
    told = propeller.geometry
    # What the maker does not say is no claim of it; what the bench does not know is no proof.
    if any(a is not None and b is None for a, b in zip(stated, told, strict=True)):
        return False
    return not geometry_conflict(stated, told)
