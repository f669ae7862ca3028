"""Slots and poles: which combinations exist, how well the winding links, how it cogs."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class SlotsAndPoles:
    """What N slots and P poles make of a three-phase motor.

    ``winding_factor``: share of the copper's flux linkage that counts (0–1);
    ``cogging_steps``: steps felt in one turn by hand.
    """

    slots: int
    poles: int
    winding_factor: float
    cogging_steps: int


def slots_and_poles(slots: int, poles: int) -> SlotsAndPoles:
    """Winding factor and cogging of N slots and P poles.

    :raises QuantityError: a combination that no balanced three-phase winding has.
    """
    check_slots_and_poles(slots, poles)
    return SlotsAndPoles(slots, poles, winding_factor(slots, poles), math.lcm(slots, poles))


def check_slots_and_poles(slots: int, poles: int) -> None:
    """Refuse what cannot exist: odd poles, or N not divisible by 3·gcd(N, P/2).

    :raises QuantityError: with what is wrong and what would be right.
    """
    if poles < 2 or poles % 2:
        raise QuantityError(f"Magnets come in pairs: {poles} poles are impossible.", code="poles")
    if slots < 3:
        raise QuantityError(f"A stator has at least 3 slots, got {slots}.", code="slots")
    group = 3 * math.gcd(slots, poles // 2)
    if slots % group:
        raise QuantityError(
            f"{slots}N{poles}P is impossible: the slots of a balanced three-phase winding are a "
            f"multiple of {group} here. Count again.",
            code="slots_and_poles",
        )


def winding_factor(slots: int, poles: int) -> float:
    """Fundamental winding factor of a double-layer winding of one-slot pitch.

    Pitch factor sin(α/2) with α = π·P/N, times the distribution factor from the star of slots:
    each coil's phasor k·α joins, forward or reversed, one of three belts of 60° (Bianchi and
    Dai Pré 2006, IEE Proc. Electr. Power Appl. 153). Of all positions of the belts the one that
    links most is taken, as a winder would.

    :raises QuantityError: an impossible combination.
    """
    check_slots_and_poles(slots, poles)
    alpha = math.pi * poles / slots
    angles = [k * alpha for k in range(slots)]
    best = 0.0
    for offset in angles:
        belts: list[list[complex]] = [[], [], []]
        for angle in angles:
            turned = (angle - offset + 1e-9) % (2.0 * math.pi)
            reversed_coil = turned >= math.pi
            belt = int((turned - math.pi * reversed_coil) / (math.pi / 3.0))
            phasor = cmath.exp(1j * angle)
            belts[min(belt, 2)].append(-phasor if reversed_coil else phasor)
        if all(len(belt) == slots // 3 for belt in belts):
            best = max(best, abs(sum(belts[0])) / (slots / 3))
    return abs(math.sin(alpha / 2.0)) * best
