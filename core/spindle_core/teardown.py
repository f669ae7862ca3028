"""The vocabulary of teardown observations: typed, versioned data in a fixed order of looking.

Each attribute says what is looked at, in which answers or unit it is recorded and what the
answer suggests, with the counter-argument where practitioners differ. The first slice holds the
attributes a reviewer meets first; more are added here, with a new version, never renamed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from spindle_core.errors import VocabularyError

VERSION: Final = 1


class Status(StrEnum):
    """What kind of answer an observation is."""

    MEASURED = "measured"
    OBSERVED = "observed"
    COULD_NOT_TELL = "could_not_tell"
    NOT_LOOKED = "not_looked"


@dataclass(frozen=True, slots=True)
class Choice:
    """One answer of an observed attribute and what it suggests."""

    key: str
    label: str
    suggests: str = ""


@dataclass(frozen=True, slots=True)
class Attribute:
    """One thing to look at: either choices, or a number with its unit and possible range."""

    key: str
    step: str
    label: str
    choices: tuple[Choice, ...] = ()
    unit: str | None = None
    low: float = 0.0
    high: float = math.inf
    integer: bool = False
    counterpoint: str = ""

    @property
    def is_number(self) -> bool:
        """Whether the answer is a number; a count has the unit ''."""
        return self.unit is not None


STEPS: Final = ("Turning by hand", "Retention", "Shaft and bearings", "Magnets", "Stator", "Base")

_ATTRIBUTES: Final = (
    Attribute("radial_play", STEPS[0], "Play when the bell is pushed sideways", (
        Choice("none", "none", "bearings fit well"),
        Choice("slight", "slight", "usual after a few packs"),
        Choice("clear", "clear", "worn or loose bearings; expect noise and rubbing"),
    )),
    Attribute("axial_play", STEPS[0], "Play when the bell is pulled", (
        Choice("none", "none", "shimmed well"),
        Choice("slight", "slight", "room for heat to grow the shaft"),
        Choice("clear", "clear", "a washer may be missing"),
    ), counterpoint="Some builders leave a hair of axial play so that a hot bell does not drag."),
    Attribute("free_spin", STEPS[0], "How it spins when flicked", (
        Choice("long", "long and quiet", "low drag"),
        Choice("short", "stops soon", "tight bearings or strong cogging"),
        Choice("rough", "rough or dry", "dry or dirty bearing: an open point"),
        Choice("rubs", "rubs", "bell touches the stator: do not run"),
    )),
    Attribute("bell_retention", STEPS[1], "What holds the bell", (
        Choice("circlip", "circlip", "light; needs pliers and a spare"),
        Choice("c_clip", "C-clip", "light; lost easily on removal"),
        Choice("hex_screw", "hex screw", "quick to service; check the thread-lock"),
    ), counterpoint="A screw serves faster, a clip cannot drag the bell when overtightened."),
    Attribute("screw_drags_bell", STEPS[1], "Does tightening the screw drag the bell?", (
        Choice("no", "no"),
        Choice("yes", "yes", "shims missing or screw too long: an open point"),
        Choice("no_screw", "no screw"),
    )),
    Attribute("shaft_diameter", STEPS[2], "Shaft diameter at the prop",
              unit="mm", low=0.5, high=12),
    Attribute("shaft_type", STEPS[2], "Shaft", (
        Choice("solid", "solid", "stiffer, heavier"),
        Choice("hollow", "hollow", "lighter; ask how thick its wall is"),
    )),
    Attribute("bearing_fit", STEPS[2], "Bearing fit", (
        Choice("press", "pressed tight", "stays put; harder to replace"),
        Choice("slide", "slides out", "easy to replace; may creep"),
        Choice("glued", "glued", "needs heat to replace"),
    )),
    Attribute("pole_count", STEPS[3], "Magnets (poles)", unit="", low=2, high=96, integer=True),
    Attribute("magnet_shape", STEPS[3], "Magnet shape", (
        Choice("arc", "arc", "even gap, more torque per gram"),
        Choice("flat", "flat", "cheaper; gap widens at the edges"),
    )),
    Attribute("magnet_inner_diameter", STEPS[3], "Inner diameter across the magnets",
              unit="mm", low=4, high=120),
    Attribute("magnet_bonding", STEPS[3], "How the magnets are held", (
        Choice("flush", "glued flush"),
        Choice("lip", "glued against a lip", "cannot slide out of the bell"),
        Choice("loose", "one is loose", "do not run: an open point"),
    )),
    Attribute("slot_count", STEPS[4], "Stator slots", unit="", low=3, high=96, integer=True),
    Attribute("stator_diameter", STEPS[4], "Stator diameter", unit="mm", low=4, high=120),
    Attribute("stator_height", STEPS[4], "Stator height (iron only)", unit="mm", low=1, high=60),
    Attribute("lamination_thickness", STEPS[4], "Lamination thickness",
              unit="mm", low=0.05, high=1),
    Attribute("winding", STEPS[4], "Winding", (
        Choice("single", "single strand", "fills the slot, sheds heat well"),
        Choice("multi", "several strands", "easier to wind, more joints of enamel"),
    ), counterpoint="Several strands reach the same copper area where one would be too stiff."),
    Attribute("winding_neatness", STEPS[4], "Neatness of the winding", (
        Choice("even", "even", "full slots"),
        Choice("crossed", "some crossings"),
        Choice("untidy", "untidy", "less copper, hot spots"),
    )),
    Attribute("base_type", STEPS[5], "Base", (
        Choice("open", "open", "cools better, lighter"),
        Choice("full", "full", "stiffer in a crash, keeps dirt out"),
    ), counterpoint="An open base cools better only with air moving past it."),
    Attribute("base_thickness", STEPS[5], "Base thickness at the screws",
              unit="mm", low=0.5, high=10),
)  # fmt: skip

ATTRIBUTES: Final[dict[str, Attribute]] = {item.key: item for item in _ATTRIBUTES}

OPEN_POINTS: Final = {
    ("free_spin", "rough"): "dry or rough bearing",
    ("free_spin", "rubs"): "bell rubs on the stator",
    ("screw_drags_bell", "yes"): "tightening the screw drags the bell",
    ("magnet_bonding", "loose"): "loose magnet",
    ("radial_play", "clear"): "clear play in the bearings",
}
"""Answers that are faults and go to the motor's open points."""


def check_observation(
    key: str, status: Status, *, choice: str | None = None, value: float | None = None
) -> Attribute:
    """Whether an observation is one the vocabulary allows; returns its attribute.

    :raises VocabularyError: with what is wrong and what would be right.
    """
    attribute = ATTRIBUTES.get(key)
    if attribute is None:
        raise VocabularyError(f"{key!r} is not in the vocabulary.", code="unknown_attribute")
    if status in (Status.COULD_NOT_TELL, Status.NOT_LOOKED):
        if choice is not None or value is not None:
            raise VocabularyError(
                f"{attribute.label}: 'could not tell' and 'not looked at' carry no answer."
            )
        return attribute
    if attribute.is_number:
        _check_number(attribute, status, choice, value)
    else:
        _check_choice(attribute, status, choice, value)
    return attribute


def _check_number(
    attribute: Attribute, status: Status, choice: str | None, value: float | None
) -> None:
    if choice is not None or value is None:
        raise VocabularyError(f"{attribute.label}: give a number.", code="number_needed")
    if attribute.integer != (status is Status.OBSERVED):
        kind = "counted (observed)" if attribute.integer else "measured"
        raise VocabularyError(f"{attribute.label} is {kind}.", code="wrong_status")
    if not attribute.low <= value <= attribute.high:
        raise VocabularyError(
            f"{attribute.label}: {value:g} {attribute.unit} is outside {attribute.low:g} to "
            f"{attribute.high:g} {attribute.unit}; check the unit.",
            code="out_of_range",
        )
    if attribute.integer and value != int(value):
        raise VocabularyError(f"{attribute.label} is a whole number.", code="whole_number")
    if attribute.key == "pole_count" and int(value) % 2:
        raise VocabularyError("Magnets come in pairs: the count must be even.", code="odd_poles")
    if attribute.key == "slot_count" and int(value) % 3:
        raise VocabularyError(
            "A three-phase stator has a multiple of three slots.", code="slots_not_by_three"
        )


def _check_choice(
    attribute: Attribute, status: Status, choice: str | None, value: float | None
) -> None:
    if status is not Status.OBSERVED or value is not None:
        raise VocabularyError(f"{attribute.label} is observed.", code="wrong_status")
    if choice not in {item.key for item in attribute.choices}:
        allowed = ", ".join(item.key for item in attribute.choices)
        raise VocabularyError(f"{attribute.label}: choose one of {allowed}.", code="choice")


def air_gap_mm(magnet_inner_diameter_mm: float, stator_diameter_mm: float) -> float:
    """Air gap = (magnet inner − stator outer diameter) ÷ 2 [mm].

    :raises VocabularyError: the stator would not fit inside the magnets.
    """
    gap = (magnet_inner_diameter_mm - stator_diameter_mm) / 2.0
    if gap <= 0:
        raise VocabularyError(
            f"A stator of {stator_diameter_mm:g} mm does not fit inside magnets "
            f"{magnet_inner_diameter_mm:g} mm across.",
            code="no_air_gap",
        )
    return gap
