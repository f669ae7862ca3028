"""What a scale says and the thrust it means: levers, dead weights, and which way thrust pulls.

A scale under a stand need not show the thrust. An arm with two lengths turns it into another force;
a weight that holds the stand down has to be added to what is left of it; thrust that lifts off a
scale makes it show less. What is declared of the geometry has its own u, the same for every reading
of the stand, so that it cancels between two motors and stays in every single figure.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured, component, propagate

ARM_U_MM = 1.0
"""u of an arm's length that nobody declared [mm]: a ruler held to two axles."""

WEIGHT_U_G = 0.5
"""u of a dead weight that nobody declared [g]: a scale that shows grams."""


@dataclass(frozen=True, slots=True)
class DeadWeight:
    """A named weight whose grams are missing from what the scale shows."""

    name: str
    mass_g: float
    u_g: float | None = None


@dataclass(frozen=True, slots=True)
class Lever:
    """An arm: the motor pulls at ``motor_mm`` from the axle, the scale holds at ``scale_mm``."""

    motor_mm: float
    scale_mm: float
    u_mm: float | None = None

    def __post_init__(self) -> None:
        for name, length in (("motor", self.motor_mm), ("scale", self.scale_mm)):
            if not (math.isfinite(length) and length > 0):
                raise QuantityError(
                    f"The arm of the {name} is a length above 0 mm, not {length:g} mm.", code="arm"
                )

    @property
    def ratio(self) -> float:
        """Thrust for each gram on the scale."""
        return self.scale_mm / self.motor_mm

    @property
    def relative_u(self) -> float:
        """u of the ratio from both arms [relative]."""
        u_mm = ARM_U_MM if self.u_mm is None else self.u_mm
        return math.hypot(u_mm / self.motor_mm, u_mm / self.scale_mm)


@dataclass(frozen=True, slots=True)
class Geometry:
    """How a stand turns thrust into a reading.

    ``stand``: whose geometry it is; readings of one stand share its u.
    ``lifts``: thrust takes load off the scale, which shows ``rest_g`` with the motor still.
    ``weights``: added to what the scale shows, on the scale's side of the lever.
    """

    stand: str
    lever: Lever | None = None
    weights: Sequence[DeadWeight] = ()
    lifts: bool = False
    rest_g: float = 0.0

    def __post_init__(self) -> None:
        for weight in self.weights:
            if not (math.isfinite(weight.mass_g) and weight.mass_g >= 0):
                raise QuantityError(
                    f"The weight {weight.name!r} is a mass of 0 g or more, not "
                    f"{weight.mass_g:g} g.",
                    code="weight",
                )

    @property
    def added_g(self) -> float:
        """Sum of the dead weights [g]."""
        return math.fsum(weight.mass_g for weight in self.weights)

    def thrust_gf(self, read: Measured) -> Measured:
        """The thrust that a reading [g] means, with u of reading, weights and arms."""
        inputs = [read]
        for weight in self.weights:
            u = WEIGHT_U_G if weight.u_g is None else weight.u_g
            kind = "assumed_dead_weight" if weight.u_g is None else "dead_weight"
            key = component(kind, f"{self.stand}/{weight.name}")
            inputs.append(Measured(weight.mass_g, {key: u} if u else {}))
        sign = -1.0 if self.lifts else 1.0
        on_scale = sign * (read.value - (self.rest_g if self.lifts else 0.0)) + self.added_g
        ratio = 1.0 if self.lever is None else self.lever.ratio
        partials = [sign * ratio, *([ratio] * len(self.weights))]
        found = propagate(lambda *_: ratio * on_scale, inputs, partials=partials)
        if self.lever is None:
            return found
        u_mm = ARM_U_MM if self.lever.u_mm is None else self.lever.u_mm
        kind = "assumed_lever" if self.lever.u_mm is None else "lever"
        for name, length in (("motor", self.lever.motor_mm), ("scale", self.lever.scale_mm)):
            way = -1.0 if name == "motor" else 1.0
            key = component(kind, f"{self.stand}/{name}")
            found = found.with_component(key, way * found.value * u_mm / length)
        return found


def total_disagrees(geometry: Geometry, read_g: float, typed_gf: float, step_g: float = 1.0) -> str:
    """Why a total that somebody added up cannot be one; '' where it is within its last digit.

    :param step_g: last digit of the total that was typed [g].
    """
    thrust = geometry.thrust_gf(Measured(read_g)).value
    if abs(thrust - typed_gf) <= 0.5 * step_g + 1e-9:
        return ""
    parts = [f"{read_g:g}", *(f"{weight.mass_g:g} ({weight.name})" for weight in geometry.weights)]
    total = " + ".join(parts)
    lever = f", times {geometry.lever.ratio:.4g} for the lever" if geometry.lever else ""
    return f"{typed_gf:g} g was typed; {total}{lever} make {thrust:.4g} gf."
