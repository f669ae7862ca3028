"""What a stand declares about itself: calibration, resolution and repeatability of each channel.

These are type B uncertainties (GUM 4.3): they do not show in the scatter of one run, and a
longer run does not shrink them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from spindle_core.errors import QuantityError

GRAVITY_RELATIVE_U = 0.0015
"""Local gravity against the standard one, where the stand does not say [relative u]."""


@dataclass(frozen=True, slots=True)
class Stand:
    """Declared properties of a stand.

    ``calibration``: channel → relative standard uncertainty of its gain.
    ``resolution``: channel → smallest step [unit of the channel].
    ``repeatability``: relative standard deviation of one run against the next, ≥ 0.
    ``local_gravity_known``: False adds 0.15 % to a thrust that is used as a force.
    """

    calibration: Mapping[str, float] = field(default_factory=dict)
    resolution: Mapping[str, float] = field(default_factory=dict)
    repeatability: float = 0.0
    local_gravity_known: bool = False

    def __post_init__(self) -> None:
        values = [self.repeatability, *self.calibration.values(), *self.resolution.values()]
        if not all(math.isfinite(value) and value >= 0 for value in values):
            raise QuantityError("A stand's declared uncertainties must be finite and not below 0.")

    def components(self, channel: str, value: float) -> dict[str, float]:
        """Type B components of a mean of ``channel`` at ``value``, named after the channel.

        The calibration is shared by all figures of the stand and carries the same name in each;
        resolution is q/√12 (rectangular).
        """
        found = {}
        gain = self.calibration.get(channel)
        if gain:
            found[f"calibration_{channel}"] = gain * value
        step = self.resolution.get(channel)
        if step:
            found[f"resolution_{channel}"] = step / math.sqrt(12.0)
        return found


UNDECLARED = Stand()

CALIBRATION_SUFFIX = "_calibration_pct"
RESOLUTION_SUFFIX = "_resolution"
REPEATABILITY_KEY = "repeatability_pct"


def stand_from_header(header: Mapping[str, str]) -> Stand:
    """The stand's declaration from preamble keys of a log.

    ``<channel>_calibration_pct`` (relative standard uncertainty in percent),
    ``<channel>_resolution`` (in the channel's unit), ``repeatability_pct`` and
    ``local_gravity_m_per_s2``.
    """
    return Stand(
        calibration={
            key.removesuffix(CALIBRATION_SUFFIX): float(value) / 100.0
            for key, value in header.items()
            if key.endswith(CALIBRATION_SUFFIX) and value
        },
        resolution={
            key.removesuffix(RESOLUTION_SUFFIX): float(value)
            for key, value in header.items()
            if key.endswith(RESOLUTION_SUFFIX) and value
        },
        repeatability=float(header.get(REPEATABILITY_KEY) or 0.0) / 100.0,
        local_gravity_known=bool(header.get("local_gravity_m_per_s2")),
    )
