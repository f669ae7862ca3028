"""Whether a propeller sits on a shaft: bore and rings, hub and nut, screws, tip."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.constants import METRE_PER_INCH

GOOD_PLAY_MM, MOST_PLAY_MM = 0.06, 0.15
"""Up to the first a propeller runs true; beyond the second it cannot be centred."""

TIGHTEST_MM = -0.02
"""A little less bore than shaft can be pressed on; more needs reaming."""

STATES = ("good", "caution", "impossible")

LEAST_NUT_SHARE = 0.8
USUAL_SCREW_MM = 2.0
LEAST_TIP_CLEARANCE_MM = 10.0


@dataclass(frozen=True, slots=True)
class Hub:
    """A propeller's hub [mm]: bore, thickness, and the circle and size of its two screw holes."""

    bore_mm: float
    thickness_mm: float
    hole_circle_mm: float | None = None
    hole_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Ring:
    """An adapter ring [mm]: from the shaft side outward, inside, outside, and height."""

    inner_mm: float
    outer_mm: float
    height_mm: float


@dataclass(frozen=True, slots=True)
class Shaft:
    """What carries the propeller [mm]: diameter, free length above the bell, nut, screw holes.

    ``nut_mm`` and ``washer_mm`` are heights; 0 where screws hold the propeller instead.
    """

    diameter_mm: float
    free_length_mm: float
    nut_mm: float = 0.0
    washer_mm: float = 0.0
    hole_circle_mm: float | None = None
    screw_mm: float | None = None


@dataclass(frozen=True, slots=True)
class FitFinding:
    """One thing about the fit. ``state`` is ``good``, ``caution`` or ``impossible``."""

    code: str
    state: str
    message: str


def propeller_fit(hub: Hub, shaft: Shaft, rings: Sequence[Ring] = ()) -> list[FitFinding]:
    """Everything a reviewer checks before pushing the propeller on.

    :param rings: adapter rings from the shaft outward.
    :raises QuantityError: a dimension that is not positive, or a ring turned inside out.
    """
    if min(hub.bore_mm, hub.thickness_mm, shaft.diameter_mm, shaft.free_length_mm) <= 0:
        raise QuantityError("Bore, hub, shaft and its free length must be above 0 mm.")
    if any(not 0 < ring.inner_mm < ring.outer_mm or ring.height_mm <= 0 for ring in rings):
        raise QuantityError("A ring's inner diameter lies below its outer one.")
    findings = _bore(hub, shaft, rings)
    findings += [_ring_above_hub(hub, ring) for ring in rings if ring.height_mm > hub.thickness_mm]
    findings += _nut(hub, shaft)
    findings += _holes(hub, shaft)
    return findings


def best_stack(
    hub: Hub, shaft: Shaft, rings: Sequence[Ring], *, most: int = 2
) -> tuple[tuple[Ring, ...], list[FitFinding]]:
    """The adapter rings that centre the propeller best: none, one, or up to ``most`` nested.

    :returns: the rings from the shaft outward, and the findings with them; of stacks that fit
        equally the one with fewer rings.
    """
    tried = []
    for count in range(most + 1):
        for chosen in itertools.permutations(dict.fromkeys(rings), count):
            found = propeller_fit(hub, shaft, chosen)
            tried.append(((*badness(found), count), chosen, found))
    _, stack, findings = min(tried, key=lambda item: item[0])
    return stack, findings


def fits(findings: Sequence[FitFinding]) -> bool:
    """Whether nothing makes the propeller impossible."""
    return all(finding.state != "impossible" for finding in findings)


def badness(findings: Sequence[FitFinding]) -> tuple[bool, int]:
    """For sorting: whether something is impossible, and how much there is to mind."""
    return not fits(findings), sum(STATES.index(finding.state) for finding in findings)


def _bore(hub: Hub, shaft: Shaft, rings: Sequence[Ring]) -> list[FitFinding]:
    """Play of each joint from the shaft through the rings to the hub, and of all together."""
    numbered = [(f"ring {i + 1}", ring) for i, ring in enumerate(rings)]
    solids = [("shaft", shaft.diameter_mm), *((name, ring.outer_mm) for name, ring in numbered)]
    holes = [*((name, ring.inner_mm) for name, ring in numbered), ("hub", hub.bore_mm)]
    findings, total = [], 0.0
    for (solid, outside), (hole, inside) in zip(solids, holes, strict=True):
        play = inside - outside
        total += max(0.0, play)
        if play < TIGHTEST_MM:
            findings.append(
                FitFinding(
                    "too_tight",
                    "impossible",
                    f"The {hole} ({inside:g} mm) does not go over the {solid} ({outside:g} mm).",
                )
            )
    if findings:
        return findings
    if total > MOST_PLAY_MM:
        return [
            FitFinding(
                "loose_bore",
                "impossible" if not rings and total > 0.5 else "caution",
                f"{total:.2f} mm of play in all: the propeller is not centred; use a ring.",
            )
        ]
    state = "good" if total <= GOOD_PLAY_MM else "caution"
    return [FitFinding("bore", state, f"{total:.2f} mm of play between shaft and hub.")]


def _ring_above_hub(hub: Hub, ring: Ring) -> FitFinding:
    over = ring.height_mm - hub.thickness_mm
    return FitFinding(
        "ring_above_hub",
        "impossible",
        f"The ring stands {over:.1f} mm above the hub: the nut clamps the ring and the propeller "
        "stays loose.",
    )


def _nut(hub: Hub, shaft: Shaft) -> list[FitFinding]:
    if shaft.nut_mm <= 0:
        return []
    left = shaft.free_length_mm - hub.thickness_mm - shaft.washer_mm
    if left < LEAST_NUT_SHARE * shaft.nut_mm:
        return [
            FitFinding(
                "nut_engagement",
                "impossible",
                f"Hub and washer leave {max(0.0, left):.1f} mm of shaft for a nut of "
                f"{shaft.nut_mm:g} mm.",
            )
        ]
    if left < shaft.nut_mm:
        return [
            FitFinding(
                "nut_engagement",
                "caution",
                f"The nut holds on {left:.1f} of its {shaft.nut_mm:g} mm; its lock may not bite.",
            )
        ]
    return [FitFinding("nut_engagement", "good", "The nut holds on its whole height.")]


def _holes(hub: Hub, shaft: Shaft) -> list[FitFinding]:
    if shaft.hole_circle_mm is None:
        return []
    if hub.hole_circle_mm is None or hub.hole_mm is None:
        if shaft.nut_mm > 0:
            return []
        return [
            FitFinding(
                "no_holes", "impossible", "The propeller has no holes for the motor's two screws."
            )
        ]
    return [
        hole_meeting(
            "hole_pattern",
            hub.hole_circle_mm,
            hub.hole_mm,
            on_mm=shaft.hole_circle_mm,
            screw_mm=shaft.screw_mm,
        )
    ]


def hole_meeting(
    code: str, circle_mm: float, hole_mm: float, *, on_mm: float, screw_mm: float | None
) -> FitFinding:
    """Two holes on a circle against screws on another [mm]; their thread None: the usual one."""
    screw = USUAL_SCREW_MM if screw_mm is None else screw_mm
    off, play = abs(circle_mm - on_mm) / 2.0, (hole_mm - screw) / 2.0
    if play < 0 or off > play + 0.05:
        return FitFinding(
            code,
            "impossible",
            f"Holes {hole_mm:g} mm on {circle_mm:g} mm do not meet screws "
            f"{screw:g} mm on {on_mm:g} mm.",
        )
    state = "good" if play - off <= 0.15 else "caution"
    return FitFinding(code, state, f"{max(0.0, play - off):.2f} mm of play at the screws.")


def tip_clearance(diameter_in: float, *, nearest_mm: float) -> FitFinding:
    """Room between the blade tip and the nearest part of the stand or guard.

    :param nearest_mm: distance from the shaft's axis to the nearest part [mm].
    """
    if diameter_in <= 0 or nearest_mm <= 0:
        raise QuantityError("Diameter and distance must be above 0.")
    room = nearest_mm - 500.0 * diameter_in * METRE_PER_INCH
    if room <= 0:
        return FitFinding(
            "tip_clearance", "impossible", f"The tip strikes: {-room:.0f} mm too long."
        )
    state = "good" if room >= LEAST_TIP_CLEARANCE_MM else "caution"
    return FitFinding("tip_clearance", state, f"{room:.0f} mm from the tip to the nearest part.")
