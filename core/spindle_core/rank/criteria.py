"""What motors can be scored by: which run measures it, and whether less of it is better."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class MeasuredBy(StrEnum):
    """What has to be done for a criterion to be known."""

    CURVE = "curve"
    PEAK = "peak"
    FLYWHEEL = "flywheel"
    RESPONSE = "response"
    SOAK = "soak"
    SCALE = "scale"
    RECEIPT = "receipt"


@dataclass(frozen=True, slots=True)
class Measure:
    """A criterion that motors can be scored by.

    ``label`` in words with how it is read; ``at``: what a level has to be said for, empty where
    none is needed.
    """

    name: str
    label: str
    unit: str
    by: MeasuredBy
    lower_is_better: bool = False
    at: str = ""


_ALL = (
    Measure("max_thrust_gf", "Largest thrust", "gf", MeasuredBy.CURVE),
    Measure(
        "efficiency_g_per_w",
        "Thrust per power at one thrust",
        "gf/W",
        MeasuredBy.CURVE,
        at="thrust_gf",
    ),
    Measure(
        "efficiency_at_max_g_per_w", "Thrust per power at full throttle", "gf/W", MeasuredBy.CURVE
    ),
    Measure(
        "motor_esc_efficiency_pct",
        "Shaft efficiency at one shaft power",
        "%",
        MeasuredBy.CURVE,
        at="shaft_power_w",
    ),
    Measure(
        "vibration_g", "Vibration at full throttle", "g", MeasuredBy.CURVE, lower_is_better=True
    ),
    Measure("burst_thrust_gf", "Thrust in a burst", "gf", MeasuredBy.PEAK),
    Measure("peak_torque_nm", "Peak torque", "N·m", MeasuredBy.FLYWHEEL),
    Measure("response_rpm_per_s", "Response, up and down", "rpm/s", MeasuredBy.RESPONSE),
    Measure("rise_k", "Rise of the case", "K", MeasuredBy.SOAK, lower_is_better=True),
    Measure(
        "rise_k_per_kj",
        "Rise of the case per energy",
        "K/kJ",
        MeasuredBy.SOAK,
        lower_is_better=True,
    ),
    Measure("continuous_power_w", "Continuous power", "W", MeasuredBy.SOAK),
    Measure("mass_g", "Mass", "g", MeasuredBy.SCALE, lower_is_better=True),
    Measure("price", "Price", "", MeasuredBy.RECEIPT, lower_is_better=True),
)

MEASURES: Mapping[str, Measure] = {measure.name: measure for measure in _ALL}
"""Everything measured that a ranking may weigh, in the order of a form."""
