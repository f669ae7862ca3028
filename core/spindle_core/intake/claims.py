"""What a maker claims, checked for sense: against itself, and against what was measured."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from spindle_core.compare.delta import K_95
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, difference

EMPTY_V, NOMINAL_V, FULL_V = 3.3, 3.7, 4.2
"""Volts per lithium-polymer cell."""


@dataclass(frozen=True, slots=True)
class Binding:
    """Which rating binds at one voltage.

    ``binds`` is ``current`` or ``power``; ``power_w`` and ``current_a`` are what then stands.
    """

    voltage_v: float
    binds: str
    power_w: float
    current_a: float


@dataclass(frozen=True, slots=True)
class RatingCheck:
    """Rated power and current on one cell count, empty, nominal and full."""

    cells: int
    implied_voltage_v: float
    empty: Binding
    nominal: Binding
    full: Binding

    @property
    def plausible(self) -> bool:
        """Whether the implied voltage lies between an empty and a full pack."""
        return EMPTY_V * self.cells <= self.implied_voltage_v <= FULL_V * self.cells


def implied_voltage_v(rated_power_w: float, rated_current_a: float) -> float:
    """Rated power ÷ rated current [V]: the voltage at which both ratings can be true at once."""
    if rated_power_w <= 0 or rated_current_a <= 0:
        raise QuantityError("Rated power and current must be above 0.")
    return rated_power_w / rated_current_a


def check_ratings(*, rated_power_w: float, rated_current_a: float, cells: int) -> RatingCheck:
    """Which of rated power and rated current is met first on a cell count.

    :raises QuantityError: a rating or cell count that is not positive.
    """
    implied = implied_voltage_v(rated_power_w, rated_current_a)
    if cells < 1:
        raise QuantityError(f"A pack has at least one cell, got {cells}.")

    def at(volts: float) -> Binding:
        by_current = volts * rated_current_a
        if by_current <= rated_power_w:
            return Binding(volts, "current", by_current, rated_current_a)
        return Binding(volts, "power", rated_power_w, rated_power_w / volts)

    return RatingCheck(
        cells, implied, at(EMPTY_V * cells), at(NOMINAL_V * cells), at(FULL_V * cells)
    )


def deviation_pct(claimed: float, measured: Measured) -> Measured | Absent:
    """(measured − claimed) ÷ claimed [%], with the measurement's uncertainty."""
    if claimed == 0:
        return Absent("no_claim", "a claim of 0 cannot be compared with")
    scale = 100.0 / claimed
    return replace(measured, value=measured.value - claimed).scaled(scale)


@dataclass(frozen=True, slots=True)
class LabelConflict:
    """Two motors of one label whose measured kV differ beyond their uncertainty."""

    label_rpm_per_v: float
    first: str
    second: str
    difference_pct: float


def label_conflicts(
    motors: Mapping[str, tuple[float, Measured]], *, same_label: float = 0.01
) -> list[LabelConflict]:
    """Which labels agree while the measurements differ (95 %).

    :param motors: name → (kV on the label, measured kV) [rpm/V].
    :param same_label: labels within this relative distance count as one.
    """
    names = sorted(motors)
    conflicts = []
    for i, first in enumerate(names):
        for second in names[i + 1 :]:
            (label_a, kv_a), (label_b, kv_b) = motors[first], motors[second]
            if abs(label_a / label_b - 1.0) > same_label:
                continue
            gap = difference(kv_a, kv_b)
            if abs(gap.value) > K_95 * gap.u:
                off_pct = 100.0 * gap.value / kv_b.value
                conflicts.append(LabelConflict(label_a, first, second, off_pct))
    return conflicts
