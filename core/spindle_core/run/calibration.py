"""A stand held against known masses: gain, offset, linearity, hysteresis, repeatability.

Masses that pull as thrust would are put on and taken off again; what the stand makes of them is
fitted by a line. Nothing is corrected by it: a gain that is not 1 stays in the stand's u, as half
of a rectangle (GUM F.2.4.5), until somebody sets the scale. The offset is no part of u, since
every run is tared at rest.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Measured
from spindle_core.figures.numerics import t_quantile
from spindle_core.figures.remark import Remark
from spindle_core.run.scale import Geometry

MASSES_RELATIVE_U = 0.002
"""u of known masses that nobody certified [relative]: kitchen weights, or bottles on a scale."""

FEWEST_LOADS = 3
ENOUGH_LOADS = 5
NORMAL_95 = 1.96

Going = Literal["up", "down"]


@dataclass(frozen=True, slots=True)
class AppliedLoad:
    """A known mass [g] and what the stand shows [g], while loading ``up`` or unloading."""

    mass_g: float
    reading_g: float
    going: Going = "up"


@dataclass(frozen=True, slots=True)
class Calibration:
    """What the masses say of a stand. Forces in gf; None where it cannot be told.

    ``gain``: gf shown for each gram pulled, with ``u_gain``. ``linearity_gf``: the largest way of a
    load's mean off the line. ``hysteresis_gf``: the largest way between loading and unloading at
    one mass. ``repeatability_gf``: s of like readings. ``relative_u``: standard uncertainty of a
    thrust that this stand shows, to be declared for it. ``residuals_gf``: per load, in their order.
    """

    gain: float
    u_gain: float
    offset_gf: float
    u_offset_gf: float
    linearity_gf: float
    hysteresis_gf: float | None
    repeatability_gf: float | None
    largest_g: float
    relative_u: float
    residuals_gf: tuple[float, ...]
    remarks: tuple[Remark, ...]


def calibrate(
    loads: Sequence[AppliedLoad],
    *,
    geometry: Geometry,
    step_g: float,
    masses_relative_u: float | None = None,
) -> Calibration:
    """Fit the stand's line through its readings.

    :param step_g: the smallest step that the scale shows [g].
    :param masses_relative_u: of the known masses, shared by all; assumed where None.
    :raises QuantityError: fewer than three different masses, or numbers that cannot be.
    """
    _check(loads, step_g, masses_relative_u)
    mass = np.array([load.mass_g for load in loads])
    shown = np.array([geometry.thrust_gf(Measured(load.reading_g)).value for load in loads])
    step_gf = step_g * abs(
        geometry.thrust_gf(Measured(1.0)).value - geometry.thrust_gf(Measured(0.0)).value
    )
    centre = mass - mass.mean()
    spread = float(centre @ centre)
    gain = float(centre @ shown) / spread
    offset = float(shown.mean() - gain * mass.mean())
    residuals = shown - (offset + gain * mass)
    free = len(loads) - 2
    # Readings that agree to the last digit are known to no more than that digit.
    s = max(math.sqrt(float(residuals @ residuals) / free), step_gf / math.sqrt(12.0))
    s *= t_quantile(free, 0.975) / NORMAL_95
    u_gain = s / math.sqrt(spread)
    u_offset = s * math.sqrt(1.0 / len(loads) + mass.mean() ** 2 / spread)
    largest = float(mass.max())
    means = _means(loads, residuals)
    linearity = max(abs(float(np.mean(values))) for values in means.values())
    hysteresis = _hysteresis(loads, shown)
    masses_u = MASSES_RELATIVE_U if masses_relative_u is None else masses_relative_u
    parts = (
        u_gain / gain,
        masses_u,
        (gain - 1.0) / math.sqrt(3.0),
        linearity / math.sqrt(3.0) / largest,
        (hysteresis or 0.0) / math.sqrt(12.0) / largest,
    )
    return Calibration(
        gain,
        u_gain,
        offset,
        u_offset,
        linearity,
        hysteresis,
        _repeatability(loads, shown),
        largest,
        math.sqrt(math.fsum(part * part for part in parts)),
        tuple(float(value) for value in residuals),
        tuple(_remarks(loads, gain, u_gain, hysteresis, masses_relative_u)),
    )


def _check(loads: Sequence[AppliedLoad], step_g: float, masses_relative_u: float | None) -> None:
    numbers = [value for load in loads for value in (load.mass_g, load.reading_g)]
    if not all(math.isfinite(value) for value in numbers):
        raise QuantityError("Masses and readings are numbers in grams.", code="calibration")
    if any(load.mass_g < 0 for load in loads):
        raise QuantityError("A known mass is 0 g or more.", code="calibration")
    different = len({load.mass_g for load in loads})
    if different < FEWEST_LOADS:
        raise QuantityError(
            f"A line needs {FEWEST_LOADS} different masses, 0 g among them if you like; "
            f"{different} were given.",
            code="calibration",
        )
    if not (math.isfinite(step_g) and step_g > 0):
        raise QuantityError("The step of the scale is above 0 g.", code="calibration")
    if masses_relative_u is not None and not 0 <= masses_relative_u < 0.5:
        raise QuantityError("u of the masses lies in 0 to 50 %.", code="calibration")
    first, last = min(loads, key=_mass), max(loads, key=_mass)
    if first.reading_g == last.reading_g:
        raise QuantityError(
            f"The stand shows {first.reading_g:g} g at {first.mass_g:g} g and at "
            f"{last.mass_g:g} g: nothing reaches the scale.",
            code="calibration",
        )


def _mass(load: AppliedLoad) -> float:
    return load.mass_g


def _means(
    loads: Sequence[AppliedLoad], values: np.ndarray[tuple[int], np.dtype[np.float64]]
) -> Mapping[float, list[float]]:
    found: dict[float, list[float]] = {}
    for load, value in zip(loads, values, strict=True):
        found.setdefault(load.mass_g, []).append(float(value))
    return found


def _hysteresis(
    loads: Sequence[AppliedLoad], shown: np.ndarray[tuple[int], np.dtype[np.float64]]
) -> float | None:
    up: dict[float, list[float]] = {}
    down: dict[float, list[float]] = {}
    for load, value in zip(loads, shown, strict=True):
        (up if load.going == "up" else down).setdefault(load.mass_g, []).append(float(value))
    both = up.keys() & down.keys()
    if not both:
        return None
    return max(abs(float(np.mean(up[mass]) - np.mean(down[mass]))) for mass in both)


def _repeatability(
    loads: Sequence[AppliedLoad], shown: np.ndarray[tuple[int], np.dtype[np.float64]]
) -> float | None:
    groups: dict[tuple[float, str], list[float]] = {}
    for load, value in zip(loads, shown, strict=True):
        groups.setdefault((load.mass_g, load.going), []).append(float(value))
    repeated = [values for values in groups.values() if len(values) > 1]
    if not repeated:
        return None
    free = sum(len(values) - 1 for values in repeated)
    squares = math.fsum(float(np.var(values)) * len(values) for values in repeated)
    return math.sqrt(squares / free)


def _remarks(
    loads: Sequence[AppliedLoad],
    gain: float,
    u_gain: float,
    hysteresis: float | None,
    masses_relative_u: float | None,
) -> list[Remark]:
    found = []
    if gain < 0:
        message = (
            "The stand shows less the more is pulled: its direction is declared the other way "
            "round."
        )
        found.append(Remark("reversed", message))
    elif abs(gain - 1.0) > 2.0 * u_gain:
        way = "too much" if gain > 1 else "too little"
        message = (
            f"The stand shows {100 * abs(gain - 1):.2g} % {way}. Set the scale or the arms; until "
            "then that is a part of every u."
        )
        found.append(Remark("gain", message))
    if len({load.mass_g for load in loads}) < ENOUGH_LOADS:
        message = f"Fewer than {ENOUGH_LOADS} different masses tell little of its linearity."
        found.append(Remark("few_masses", message))
    if hysteresis is None:
        found.append(Remark("one_way", "Loaded one way only: whether it sticks is not known."))
    if masses_relative_u is None:
        message = (
            f"The masses are taken to be good to {100 * MASSES_RELATIVE_U:g} % (assumed): weigh "
            "them on a better scale and say so."
        )
        found.append(Remark("masses_assumed", message))
    return found
