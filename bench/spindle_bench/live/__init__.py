"""What a run in hand shows as it comes: a picture per kind that answers its question.

A new kind is one line in :data:`PICTURES` beside its module; web/src/features/bench/live draws each
``shape``.
"""

from __future__ import annotations

from collections.abc import Callable

from spindle_bench.limits import Limits
from spindle_bench.live.bursts import Bursts
from spindle_bench.live.converging import Converging
from spindle_bench.live.curve import PlateauCurve, SweepCurve
from spindle_bench.live.cycles import Cycles
from spindle_bench.live.heating import HeatingForecast
from spindle_bench.live.picture import Picture, Plain, Row
from spindle_bench.live.targets import Targets
from spindle_bench.live.torque import TorqueCurve
from spindle_bench.profiles import Profile

__all__ = ["PICTURES", "SHAPES", "Picture", "Row", "picture_of"]

SHAPES = ("none", "curve", "bars", "targets", "converging", "torque", "cycles", "heating")
"""Every way to draw a picture."""


def _heating(profile: Profile, limits: Limits) -> Picture:
    ceilings = [profile.values.get("until_c"), limits.motor_temp_c]
    known = [float(one) for one in ceilings if one is not None]
    return HeatingForecast(min(known, default=None))


PICTURES: dict[str, Callable[[Profile, Limits], Picture]] = {
    "steps": lambda profile, limits: PlateauCurve(),
    "ramp": lambda profile, limits: SweepCurve(),
    "peak": lambda profile, limits: Bursts(),
    "hold": lambda profile, limits: Targets(),
    "no_load": lambda profile, limits: Converging(),
    "flywheel": lambda profile, limits: TorqueCurve(profile.values["inertia_kg_mm2"]),
    "direction": lambda profile, limits: PlateauCurve(),
    "response": lambda profile, limits: Cycles(),
    "soak": _heating,
}
"""Kind → its picture."""


def picture_of(profile: Profile, limits: Limits) -> Picture:
    """The picture of a run before it has begun."""
    make = PICTURES.get(profile.kind)
    return make(profile, limits) if make is not None else Plain()
