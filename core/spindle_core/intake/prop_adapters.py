"""What carries a propeller that the motor's own shaft does not: collet, bolt-on stud, clamp plate.

Rings only fill a bore and are in :mod:`spindle_core.intake.propeller_fit`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import QuantityError
from spindle_core.intake.propeller_fit import (
    FitFinding,
    Hub,
    Ring,
    Shaft,
    badness,
    best_stack,
    hole_meeting,
)

LEAST_GRIP_SHARE = 0.8
"""A collet that holds on less of its length than this slips or runs out."""

LOOSE_PLATE_MM = 0.5
"""A clamp plate with more room than this around the shaft can sit off centre."""


@dataclass(frozen=True, slots=True)
class Stud:
    """What an adapter offers to the propeller [mm]: diameter, free length, nut and washer."""

    diameter_mm: float
    free_length_mm: float
    nut_mm: float = 0.0
    washer_mm: float = 0.0

    def shaft(self) -> Shaft:
        """The stud as the shaft that the propeller sits on."""
        return Shaft(self.diameter_mm, self.free_length_mm, self.nut_mm, self.washer_mm)


@dataclass(frozen=True, slots=True)
class Collet:
    """Closes around a shaft between two diameters [mm]; ``grip_mm``: how far it reaches down."""

    name: str
    least_mm: float
    most_mm: float
    stud: Stud
    grip_mm: float | None = None

    def carry(self, shaft: Shaft | None) -> tuple[Shaft | None, list[FitFinding]]:
        """The shaft that the propeller sits on, and what is to be said of the collet on the motor.

        :raises QuantityError: a collet whose range is turned round.
        """
        if not 0 < self.least_mm <= self.most_mm:
            raise QuantityError(f"{self.name}: the thinnest shaft it takes comes first.")
        if shaft is None:
            return None, [_impossible("collet", "There is no shaft for the collet to close on.")]
        diameter = shaft.diameter_mm
        if not self.least_mm <= diameter <= self.most_mm:
            return None, [
                _impossible(
                    "collet",
                    f"The collet takes {self.least_mm:g} to {self.most_mm:g} mm, "
                    f"the shaft has {diameter:g} mm.",
                )
            ]
        if self.grip_mm is None:
            said = "How deep the collet grips is not known: push it home and look."
            return self.stud.shaft(), [FitFinding("collet", "caution", said)]
        held = min(shaft.free_length_mm, self.grip_mm)
        said = f"The collet holds on {held:.1f} of its {self.grip_mm:g} mm."
        if held < LEAST_GRIP_SHARE * self.grip_mm:
            return None, [_impossible("collet", said)]
        state = "good" if held == self.grip_mm else "caution"
        return self.stud.shaft(), [FitFinding("collet", state, said)]


@dataclass(frozen=True, slots=True)
class BoltOn:
    """Screwed onto the bell: circle and size of its holes, and its bore for a shaft [mm].

    ``bore_mm`` None: nobody measured it.
    """

    name: str
    hole_circle_mm: float
    hole_mm: float
    stud: Stud
    bore_mm: float | None = None

    def carry(self, shaft: Shaft | None, seat: ScrewHoles) -> tuple[Shaft | None, list[FitFinding]]:
        """As :meth:`Collet.carry`; ``seat``: the holes of the bell."""
        if seat.hole_circle_mm is None:
            said = "The bell has no screw holes for the adapter."
            return None, [_impossible("bolt_on", said)]
        found = [
            hole_meeting(
                "bolt_on",
                self.hole_circle_mm,
                self.hole_mm,
                on_mm=seat.hole_circle_mm,
                screw_mm=seat.screw_mm,
            )
        ]
        if shaft is not None:
            if self.bore_mm is None:
                said = "Whether the shaft goes into the adapter is not known: measure its bore."
                found.append(FitFinding("bolt_on_bore", "caution", said))
            elif self.bore_mm < shaft.diameter_mm:
                said = (
                    f"The adapter's bore ({self.bore_mm:g} mm) does not go over the shaft "
                    f"({shaft.diameter_mm:g} mm)."
                )
                found.append(_impossible("bolt_on_bore", said))
        if any(one.state == "impossible" for one in found):
            return None, found
        return self.stud.shaft(), found


@dataclass(frozen=True, slots=True)
class ClampPlate:
    """A plate over the hub, drawn down by screws into the bell: its own hole, and those [mm]."""

    name: str
    hole_mm: float
    hole_circle_mm: float
    screw_hole_mm: float

    def press(self, hub: Hub, shaft: Shaft, seat: ScrewHoles) -> list[FitFinding]:
        """What is to be said of the plate; the bore is judged as without it."""
        if seat.hole_circle_mm is None:
            return [_impossible("plate", "The bell has no screw holes for the plate.")]
        room = self.hole_mm - shaft.diameter_mm
        if room < 0:
            return [
                _impossible(
                    "plate",
                    f"The plate's hole ({self.hole_mm:g} mm) does not go over the shaft "
                    f"({shaft.diameter_mm:g} mm).",
                )
            ]
        state = "good" if room <= LOOSE_PLATE_MM else "caution"
        found = [FitFinding("plate", state, f"The plate has {room:.2f} mm of room at the shaft.")]
        found.append(
            hole_meeting(
                "plate_screws",
                self.hole_circle_mm,
                self.screw_hole_mm,
                on_mm=seat.hole_circle_mm,
                screw_mm=seat.screw_mm,
            )
        )
        if hub.hole_circle_mm is None or hub.hole_mm is None:
            said = (
                f"The screws pass only if the hub is narrower than their circle "
                f"({seat.hole_circle_mm:g} mm): look before it is drawn down."
            )
            found.append(FitFinding("plate_hub", "caution", said))
        return found


Adapter = Collet | BoltOn | ClampPlate


@dataclass(frozen=True, slots=True)
class ScrewHoles:
    """The two screw holes of the bell [mm]; None: there are none, or nobody measured them."""

    hole_circle_mm: float | None = None
    screw_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Mounting:
    """The best way to mount a propeller: rings from the shaft outward, adapter, what it sits on.

    ``on`` is None where nothing carries it.
    """

    rings: tuple[Ring, ...]
    adapter: str
    on: Shaft | None
    findings: list[FitFinding]


def best_mounting(
    hub: Hub,
    shaft: Shaft | None,
    *,
    seat: ScrewHoles | None = None,
    rings: Sequence[Ring] = (),
    adapters: Sequence[Adapter] = (),
) -> Mounting:
    """The propeller on the motor's own shaft, or on whatever adapter serves better.

    :param shaft: what sticks out where the propeller goes; None where nothing does.
    :param seat: the screw holes of the bell; None takes those of ``shaft``.
    :returns: of ways that are equally good the one with fewer parts.
    :raises QuantityError: a dimension that is not possible.
    """
    if seat is None:
        seat = ScrewHoles(shaft.hole_circle_mm, shaft.screw_mm) if shaft else ScrewHoles()
    ways = [_bare(hub, shaft, seat, rings)]
    ways += [_with(adapter, hub, shaft, seat, rings) for adapter in adapters]
    return min(ways, key=lambda way: (*badness(way.findings), len(way.rings) + bool(way.adapter)))


def _bare(hub: Hub, shaft: Shaft | None, seat: ScrewHoles, rings: Sequence[Ring]) -> Mounting:
    if shaft is None:
        said = "No shaft sticks out where the propeller goes: an adapter must carry it."
        return Mounting((), "", None, [_impossible("no_shaft", said)])
    own = replace(shaft, hole_circle_mm=seat.hole_circle_mm, screw_mm=seat.screw_mm)
    stack, found = best_stack(hub, own, rings)
    return Mounting(stack, "", own, found)


def _with(
    adapter: Adapter, hub: Hub, shaft: Shaft | None, seat: ScrewHoles, rings: Sequence[Ring]
) -> Mounting:
    if isinstance(adapter, ClampPlate):
        if shaft is None:
            said = "There is no shaft to centre the propeller under the plate."
            return Mounting((), adapter.name, None, [_impossible("plate", said)])
        screwed = Shaft(shaft.diameter_mm, shaft.free_length_mm)
        if hub.hole_circle_mm is not None and hub.hole_mm is not None:
            screwed = replace(screwed, hole_circle_mm=seat.hole_circle_mm, screw_mm=seat.screw_mm)
        stack, found = best_stack(hub, screwed, rings)
        return Mounting(stack, adapter.name, screwed, [*adapter.press(hub, shaft, seat), *found])
    on, carried = (
        adapter.carry(shaft) if isinstance(adapter, Collet) else adapter.carry(shaft, seat)
    )
    if on is None:
        return Mounting((), adapter.name, None, carried)
    stack, found = best_stack(hub, on, rings)
    return Mounting(stack, adapter.name, on, [*carried, *found])


def below_the_mount(
    shaft: Shaft, *, arm_thickness_mm: float
) -> tuple[Shaft | None, list[FitFinding]]:
    """A shaft that leaves on the mounting side, behind what the motor is screwed to.

    :param shaft: as measured, its free length from the mounting face [mm].
    :param arm_thickness_mm: what it has to pass first [mm].
    :returns: what is left of it for the propeller (no screws into a bell there), and what to mind.
    """
    if arm_thickness_mm < 0:
        raise QuantityError("What the motor is screwed to is not thinner than 0 mm.")
    left = shaft.free_length_mm - arm_thickness_mm
    if left <= 0:
        return None, [
            _impossible(
                "below_the_mount",
                f"The shaft leaves on the mounting side and ends in the arm: "
                f"{shaft.free_length_mm:g} mm of it, {arm_thickness_mm:g} mm of arm.",
            )
        ]
    said = (
        f"The shaft leaves on the mounting side: {left:.1f} mm are left behind an arm of "
        f"{arm_thickness_mm:g} mm, which needs a hole wider than {shaft.diameter_mm:g} mm. "
        "The propeller turns below the arm."
    )
    return (
        replace(shaft, free_length_mm=left, hole_circle_mm=None, screw_mm=None),
        [FitFinding("below_the_mount", "caution", said)],
    )


def _impossible(code: str, said: str) -> FitFinding:
    return FitFinding(code, "impossible", said)
