"""What a motor is, and what of the record applies to it.

A brushed can has neither bell nor stator with slots; a motor coded by its outer can has no stator
size. What does not apply is absent with that reason, never wrong and never a gap.
"""

from __future__ import annotations

from enum import StrEnum

from spindle_core.figures.measured import Absent
from spindle_core.motor.size_code import Basis
from spindle_core.teardown import ATTRIBUTES


class MotorKind(StrEnum):
    """How the motor is built."""

    OUTRUNNER = "outrunner"
    BRUSHED = "brushed"

    @property
    def label(self) -> str:
        """In words."""
        return "Brushed can" if self is MotorKind.BRUSHED else "Brushless outrunner"


NOT_IN_A_CAN = frozenset({"Retention", "Magnets", "Stator", "Winding", "Bell"})
"""Steps of the teardown that a closed brushed can does not have."""

_NO_BELL = frozenset({"twist_play", "screw_drags_bell"})


def not_applicable(kind: MotorKind | str, attribute: str) -> Absent | None:
    """Why an attribute of the vocabulary does not apply to this kind; None where it does."""
    if MotorKind(kind) is MotorKind.OUTRUNNER:
        return None
    step = ATTRIBUTES[attribute].step
    if step in NOT_IN_A_CAN or attribute in _NO_BELL:
        return Absent("brushed_can", "a brushed can has no bell and no open stator")
    return None


def basis_conflict(kind: MotorKind | str, basis: Basis | str) -> str:
    """What is odd about a kind with this basis of its size code; empty when nothing is."""
    brushed, case = MotorKind(kind) is MotorKind.BRUSHED, Basis(basis) is Basis.CASE
    if brushed and Basis(basis) is Basis.STATOR:
        return "A brushed can has no stator size; its code measures the case."
    if case and not brushed:
        return "A code like 8x20 measures the case of a brushed can; is this an outrunner?"
    return ""
