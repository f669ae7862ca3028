"""Motors near to one another, where one stands among them, and what suits a motor like these."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent
from spindle_core.model.operating_point import Motor, Propeller, solve
from spindle_core.model.propeller import tip_speed_m_per_s

SPANS: Mapping[str, float] = {
    "stator_volume_mm3": 0.25,
    "mass_g": 0.20,
    "kv_rpm_per_v": 0.15,
    "price": 0.35,
}
"""Relative distance in each trait at which two motors stop being peers."""


@dataclass(frozen=True, slots=True)
class Peer:
    """A near motor: its distance (1 = at the edge) and the traits that were compared."""

    name: str
    distance: float
    compared: tuple[str, ...]


def peers(
    traits: Mapping[str, float],
    others: Mapping[str, Mapping[str, float]],
    *,
    spans: Mapping[str, float] = SPANS,
    most: int = 6,
) -> list[Peer]:
    """The nearest motors in size, mass, kV and price, nearest first.

    Distance is the root mean square of ln(ratio) ÷ ln(1 + span) over the traits both have; beyond
    1 a motor is no peer. At least two shared traits are needed.

    :param traits: of the motor in hand, all above 0. :param others: name → traits.
    """
    found = []
    for name, theirs in others.items():
        shared = [key for key in spans if key in traits and key in theirs]
        if len(shared) < 2:
            continue
        if any(traits[key] <= 0 or theirs[key] <= 0 for key in shared):
            raise QuantityError("Traits of a motor must be above 0.")
        parts = [math.log(theirs[key] / traits[key]) / math.log1p(spans[key]) for key in shared]
        distance = math.sqrt(math.fsum(part * part for part in parts) / len(parts))
        if distance <= 1.0:
            found.append(Peer(name, distance, tuple(shared)))
    return sorted(found, key=lambda peer: peer.distance)[:most]


def percentile(value: float, cohort: Sequence[float]) -> float | Absent:
    """Share of the cohort at or below a value [%]; ties count half. Absent below three."""
    if len(cohort) < 3:
        return Absent("too_few_peers", "a place among fewer than three says nothing")
    below = sum(1 for other in cohort if other < value)
    level = sum(1 for other in cohort if other == value)
    return 100.0 * (below + 0.5 * level) / len(cohort)


@dataclass(frozen=True, slots=True)
class Loading:
    """How hard a combination works a motor: loaded speed, tip speed, and speed kept in reserve.

    ``loaded_share``: loaded ÷ unloaded speed (kV·V); ``current_share``: of the rated current,
    None without a rating.
    """

    loaded_rpm: float
    tip_speed_m_per_s: float
    loaded_share: float
    current_share: float | None


def loading(
    motor: Motor, propeller: Propeller, *, voltage_v: float, rated_current_a: float | None = None
) -> Loading:
    """Loading of a motor by a propeller at a voltage, duty 1."""
    point = solve(motor, propeller, voltage_v=voltage_v)
    return Loading(
        point.speed_rpm,
        tip_speed_m_per_s(propeller.diameter_in, point.speed_rpm),
        point.speed_rpm / (motor.kv_rpm_per_v * voltage_v),
        None if rated_current_a is None else point.current_a / rated_current_a,
    )


@dataclass(frozen=True, slots=True)
class Window:
    """Ranges that the cohort's good combinations lie in, 10th to 90th percentile."""

    loaded_share: tuple[float, float]
    tip_speed_m_per_s: tuple[float, float]
    count: int

    def verdict(self, found: Loading) -> str:
        """``suits``, ``too light``, ``too heavy`` or ``tip too fast`` in this cohort."""
        if found.tip_speed_m_per_s > self.tip_speed_m_per_s[1]:
            return "tip too fast"
        if found.loaded_share < self.loaded_share[0]:
            return "too heavy"
        if found.loaded_share > self.loaded_share[1]:
            return "too light"
        return "suits"


def suitability_window(good: Sequence[Loading]) -> Window | Absent:
    """The window learnt from combinations that proved good; absent below five of them."""
    if len(good) < 5:
        return Absent("too_few_combinations", "a window needs five combinations that proved good")
    return Window(
        _range([item.loaded_share for item in good]),
        _range([item.tip_speed_m_per_s for item in good]),
        len(good),
    )


def _range(values: Sequence[float]) -> tuple[float, float]:
    ordered = sorted(values)

    def at(share: float) -> float:
        place = share * (len(ordered) - 1)
        low = int(place)
        high = min(low + 1, len(ordered) - 1)
        return ordered[low] + (place - low) * (ordered[high] - ordered[low])

    return at(0.1), at(0.9)
