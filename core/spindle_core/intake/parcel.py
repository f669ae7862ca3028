"""What came in the box, held against what somebody needs who builds with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin
from spindle_core.intake.mounting_screw import ScrewOutcome, screw_reach

USUAL_MOUNTING_HOLES = 4
SAME_THREAD_MM = 0.15


class PartKind(StrEnum):
    """Kinds of parts that come with a motor."""

    MOUNTING_SCREW = "mounting_screw"
    PROP_SCREW = "prop_screw"
    NUT = "nut"
    WASHER = "washer"
    C_CLIP = "c_clip"
    CIRCLIP = "circlip"
    BELL_SCREW = "bell_screw"
    ADAPTER = "adapter"
    O_RING = "o_ring"
    OTHER = "other"

    @property
    def label(self) -> str:
        """The part in words, one of them."""
        words = {"c_clip": "C-clip", "o_ring": "O-ring"}
        return words.get(self.value, self.value.replace("_", " "))


@dataclass(frozen=True, slots=True)
class Part:
    """``count`` equal parts; thread and length, or inside, outside and height, all in mm."""

    kind: PartKind
    count: int
    thread_mm: float | None = None
    length_mm: float | None = None
    inner_mm: float | None = None
    outer_mm: float | None = None
    height_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Needs:
    """What the motor asks for; None where it is not known.

    ``prop_hold``: ``nut``, ``two_screws`` or ``press``; ``retention``: ``circlip``, ``c_clip`` or
    ``hex_screw``.
    """

    motors: int
    arm_thickness_mm: float
    mounting_holes: int | None = None
    mount_thread_mm: float | None = None
    thread_depth_mm: float | None = None
    clearance_mm: float | None = None
    prop_hold: str | None = None
    retention: str | None = None


@dataclass(frozen=True, slots=True)
class PartFinding:
    """One thing about the box. ``state`` is ``good``, ``caution``, ``missing`` or ``unknown``."""

    code: str
    state: str
    message: str


def check_parts(parts: Sequence[Part], needs: Needs) -> list[PartFinding]:
    """Screws that reach, a nut or two screws for the propeller, a spare of what gets lost.

    :raises QuantityError: a count below 0, an arm of no thickness, or no motor.
    """
    if needs.motors < 1 or needs.arm_thickness_mm <= 0 or any(part.count < 0 for part in parts):
        raise QuantityError("Counts cannot be below 0, and an arm has a thickness.")
    return [
        _mounting(parts, needs),
        *_reach(parts, needs),
        *_prop(parts, needs),
        *_retention(parts, needs),
    ]


def _count(parts: Sequence[Part], kind: PartKind) -> int:
    return sum(part.count for part in parts if part.kind is kind)


def _enough(code: str, name: str, have: int, wanted: int, *, assumed: str = "") -> PartFinding:
    """Enough, enough without a spare, or too few."""
    need = f"{wanted} {name}{'' if wanted == 1 else 's'} needed{assumed}, {have} in the box"
    if have < wanted:
        return PartFinding(code, "missing", f"{need}.")
    if have == wanted:
        return PartFinding(code, "caution", f"{need}: no spare.")
    return PartFinding(code, "good", f"{need}: {have - wanted} to spare.")


def _mounting(parts: Sequence[Part], needs: Needs) -> PartFinding:
    holes = needs.mounting_holes
    assumed = "" if holes else f" (taking {USUAL_MOUNTING_HOLES} holes a motor)"
    wanted = (holes or USUAL_MOUNTING_HOLES) * needs.motors
    have = _count(parts, PartKind.MOUNTING_SCREW)
    return _enough("mounting_screws", "mounting screw", have, wanted, assumed=assumed)


def _reach(parts: Sequence[Part], needs: Needs) -> list[PartFinding]:
    screws = [part for part in parts if part.kind is PartKind.MOUNTING_SCREW and part.count]
    if not screws:
        return []
    found = []
    thread = needs.mount_thread_mm
    for screw in screws:
        odd = screw.thread_mm is not None and thread is not None
        if odd and abs((screw.thread_mm or 0) - (thread or 0)) > SAME_THREAD_MM:
            text = f"Screws M{screw.thread_mm:g} do not go into a thread M{thread:g}."
            found.append(PartFinding("screw_thread", "missing", text))
    lengths = sorted({screw.length_mm for screw in screws if screw.length_mm is not None})
    if not lengths:
        return [*found, PartFinding("screw_length", "unknown", "No screw's length was measured.")]
    if needs.thread_depth_mm is None or needs.clearance_mm is None:
        text = "Needs thread depth and clearance to the winding to say which screws reach."
        return [*found, PartFinding("screw_length", "unknown", text)]
    reaches = {
        length: screw_reach(
            length,
            arm_thickness_mm=needs.arm_thickness_mm,
            thread_depth_mm=needs.thread_depth_mm,
            clearance_mm=needs.clearance_mm,
        )
        for length in lengths
    }
    arm = f"through an arm of {needs.arm_thickness_mm:g} mm"
    for length, reach in reaches.items():
        if reach.outcome is ScrewOutcome.HITS_WINDING:
            text = f"Screws of {length:g} mm go into the winding {arm}."
            found.append(PartFinding("screw_length", "missing", text))
        elif reach.outcome is ScrewOutcome.MAY_TOUCH:
            text = f"Screws of {length:g} mm may touch the winding {arm}."
            found.append(PartFinding("screw_length", "caution", text))
    holds = (ScrewOutcome.GOOD, ScrewOutcome.PAST_THREAD)
    good = [f"{length:g}" for length, reach in reaches.items() if reach.outcome in holds]
    if good:
        text = f"Screws of {' and '.join(good)} mm hold {arm}."
        return [*found, PartFinding("screw_length", "good", text)]
    return [*found, PartFinding("screw_length", "missing", f"No screw in the box is right {arm}.")]


def _prop(parts: Sequence[Part], needs: Needs) -> list[PartFinding]:
    if needs.prop_hold == "nut":
        return [_enough("nuts", "nut", _count(parts, PartKind.NUT), needs.motors)]
    if needs.prop_hold == "two_screws":
        have = _count(parts, PartKind.PROP_SCREW)
        return [_enough("prop_screws", "prop screw", have, 2 * needs.motors)]
    return []


def _retention(parts: Sequence[Part], needs: Needs) -> list[PartFinding]:
    """The bell's own clip or screw is in the motor; only a spare can be in the box."""
    kinds = {
        "circlip": PartKind.CIRCLIP,
        "c_clip": PartKind.C_CLIP,
        "hex_screw": PartKind.BELL_SCREW,
    }
    kind = kinds.get(needs.retention or "")
    if kind is None:
        return []
    have = _count(parts, kind)
    if have:
        text = f"{have} spare {kind.label}{'' if have == 1 else 's'} for the bell."
        return [PartFinding("bell_spare", "good", text)]
    text = f"No spare {kind.label}: whoever opens the motor may lose the only one."
    return [PartFinding("bell_spare", "caution", text)]


def price_each(
    amount: float | None,
    *,
    motors_for_it: int,
    shipping: float | None = None,
    guessed: bool = False,
) -> Measured | Absent:
    """Price of one motor in the currency of ``amount``, with its share of the shipping.

    :param motors_for_it: 1 for a price each, the number of motors of a set.
    :param shipping: for all of them; None when included, free or not known.
    :raises QuantityError: a price below 0, or a set of none.
    """
    if amount is None:
        return Absent("no_price", "no price on record")
    if amount < 0 or motors_for_it < 1 or (shipping or 0) < 0:
        raise QuantityError("A price cannot be below 0, and a set has at least one motor.")
    origin = Origin.ESTIMATED if guessed else Origin.DERIVED
    return Measured((amount + (shipping or 0.0)) / motors_for_it, origin=origin)
