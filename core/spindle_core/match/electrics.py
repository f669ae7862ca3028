"""ESC, pack and kV for a motor's currents, by the rules of thumb of both schools."""

from __future__ import annotations

import math
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, propagate

STANDARD_ESC_A = (
    5,
    6,
    8,
    10,
    12,
    15,
    20,
    25,
    30,
    35,
    40,
    45,
    50,
    55,
    60,
    65,
    70,
    80,
    90,
    100,
    120,
    150,
)
ESC_MARGINS = (1.0, 1.2)
"""The two schools: the size at the peak, or with a fifth to spare (the default)."""

USABLE_SHARE = 0.80


@dataclass(frozen=True, slots=True)
class EscSize:
    """Peak × margin [A] and the next standard size at or above it."""

    margin: float
    needed_a: float
    size_a: int


def esc_size(peak_current_a: float, *, margin: float = ESC_MARGINS[1]) -> EscSize | Absent:
    """Next standard ESC at or above peak × margin; absent above the largest.

    :raises QuantityError: a current or margin that is not positive.
    """
    if peak_current_a <= 0 or margin <= 0:
        raise QuantityError("A peak current and its margin must be above 0.")
    needed = peak_current_a * margin
    size = next((size for size in STANDARD_ESC_A if size >= needed - 1e-9), None)
    if size is None:
        return Absent("no_such_esc", f"{needed:.0f} A is above every standard size")
    return EscSize(margin, needed, size)


def esc_sizes(peak_current_a: float) -> list[EscSize | Absent]:
    """What both schools say."""
    return [esc_size(peak_current_a, margin=margin) for margin in ESC_MARGINS]


@dataclass(frozen=True, slots=True)
class PackNeed:
    """C-rate the pack works at, and the least capacity [mAh] for its own C-rate."""

    c_rate: Measured
    least_capacity_mah: Measured


def pack_need(total_peak_a: Measured, *, capacity_mah: float, rated_c: float) -> PackNeed:
    """C-rate at the craft's peak and the smallest capacity that gives it at ``rated_c``.

    :raises QuantityError: a value that is not positive.
    """
    if min(total_peak_a.value, capacity_mah, rated_c) <= 0:
        raise QuantityError("Current, capacity and C-rate must be above 0.")
    return PackNeed(
        total_peak_a.scaled(1000.0 / capacity_mah), total_peak_a.scaled(1000.0 / rated_c)
    )


def endurance_min(
    power_w: float,
    *,
    capacity_mah: float,
    cells: int,
    usable: float = USABLE_SHARE,
    cell_v: float = 3.7,
) -> float:
    """Minutes = usable energy ÷ power.

    :param power_w: of the whole craft. :param usable: share of the capacity that is flown.
    :raises QuantityError: a value that is not positive, or a share above 1.
    """
    if min(power_w, capacity_mah, cells, usable) <= 0 or usable > 1:
        raise QuantityError(
            "Power, capacity and cells must be above 0, the usable share at most 1."
        )
    energy_wh = capacity_mah / 1000.0 * cells * cell_v * usable
    return 60.0 * energy_wh / power_w


def seconds_of_flight(power_w: Measured, other_power_w: Measured, **pack: float) -> Measured:
    """What a difference in power is in seconds of flight [s]: time at the first minus at the other.

    What both share, such as the craft's mass, cancels.

    :param power_w, other_power_w: of the whole craft. :param pack: as of :func:`endurance_min`.
    """

    def seconds(watts: float) -> float:
        return 60.0 * endurance_min(watts, **pack)  # type: ignore[arg-type]

    at, other = seconds(power_w.value), seconds(other_power_w.value)
    return propagate(
        lambda first, second: seconds(first) - seconds(second),
        (power_w, other_power_w),
        partials=(-at / power_w.value, other / other_power_w.value),
    )


def kv_at_other_voltage(kv_rpm_per_v: float, *, from_v: float, to_v: float) -> float:
    """kV that gives the same speed at another voltage, kV·V1/V2 [rpm/V]."""
    if min(kv_rpm_per_v, from_v, to_v) <= 0:
        raise QuantityError("kV and voltages must be above 0.")
    return kv_rpm_per_v * from_v / to_v


def diameter_for_equal_power_in(diameter_in: float, *, from_v: float, to_v: float) -> float:
    """Diameter that takes the same shaft power from one motor at another voltage [in].

    Speed follows the voltage and P ∝ n³·D⁵ at one CP, so D2 = D1·(V1/V2)^(3/5).
    """
    if min(diameter_in, from_v, to_v) <= 0:
        raise QuantityError("Diameter and voltages must be above 0.")
    return float(diameter_in * math.pow(from_v / to_v, 0.6))
