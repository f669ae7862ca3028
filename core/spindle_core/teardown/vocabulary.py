"""All attributes in the order of looking, and which answers are faults."""

from __future__ import annotations

from typing import Final

from spindle_core.teardown import by_hand, outside, rotor, stator
from spindle_core.teardown.words import Attribute

VERSION: Final = 4
"""Version 1 had twenty attributes, 2 the rest of the inside, 3 adds the outside, 4 what is judged
by eye and taken apart for good; keys are added, never renamed, so earlier answers stand.
"""

STEPS: Final = (
    by_hand.HAND,
    by_hand.RETENTION,
    by_hand.SHAFT,
    rotor.MAGNETS,
    stator.STATOR,
    stator.WINDING,
    rotor.BELL,
    stator.BASE,
)

OUTSIDE_STEP: Final = outside.OUTSIDE
"""Measured at intake; no step of the teardown."""

ATTRIBUTES: Final[dict[str, Attribute]] = {
    item.key: item
    for item in (
        *outside.ATTRIBUTES,
        *by_hand.ATTRIBUTES,
        *rotor.OF_MAGNETS,
        *stator.OF_STATOR,
        *stator.OF_WINDING,
        *rotor.OF_BELL,
        *stator.OF_BASE,
    )
}

OPEN_POINTS: Final = {
    ("free_spin", "rough"): "dry or rough bearing",
    ("free_spin", "rubs"): "bell rubs on the stator",
    ("screw_drags_bell", "yes"): "tightening the screw drags the bell",
    ("magnet_bonding", "loose"): "loose magnet",
    ("radial_play", "clear"): "clear play in the bearings",
    ("axial_play", "clear"): "clear play along the shaft",
    ("twist_play", "clear"): "the bell turns on its shaft",
    ("bottom_of_shaft", "proud"): "the shaft stands out below the base",
    ("crash_marks", "yes"): "marks of a crash or of tools",
}
"""Answers that are faults and go to the motor's open points."""
