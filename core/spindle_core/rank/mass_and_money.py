"""What a gram and a price buy: thrust per gram and per price, and what a size lets one expect.

A figure over the stator's volume is only a trend, y = a·V^b over the bench; how far a motor stands
above or below it is the finding.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, propagate, ratio
from spindle_core.motor.stator_trend import FEWEST_MOTORS
from spindle_core.rank.dominance import Dominance, MarginalPrice, Priced, dominated, marginal_price


@dataclass(frozen=True, slots=True)
class SizeTrend:
    """y = a·V^b over the bench, each motor's distance to it, and how they scatter [%].

    ``residual_pct``: with the u of the motor's own figure; the trend's is in ``scatter_pct``.
    """

    a: float
    exponent: float
    residual_pct: Mapping[str, Measured]
    scatter_pct: float
    motors: int


def size_trend(
    volumes_mm3: Mapping[str, float], figures: Mapping[str, Figure]
) -> SizeTrend | Absent:
    """The trend of a figure over the stator's volume, by least squares in the logarithms.

    :param volumes_mm3: motor → volume by its size code. :param figures: motor → figure above 0.
    :returns: absent below four motors that have both, or where all have one volume.
    :raises QuantityError: a volume that is not above 0.
    """
    if any(not volume > 0 for volume in volumes_mm3.values()):
        raise QuantityError("A stator's volume is above 0.")
    known = {
        name: figure
        for name in volumes_mm3
        if isinstance(figure := figures.get(name), Measured) and figure.value > 0
    }
    if len(known) < FEWEST_MOTORS:
        return Absent(
            "too_few_motors", f"a trend needs {FEWEST_MOTORS} motors with size and figure"
        )
    x = np.log([volumes_mm3[name] for name in known])
    y = np.log([figure.value for figure in known.values()])
    if float(np.ptp(x)) < 1e-9:
        return Absent("one_size", "all of them are of one size")
    exponent, level = (float(v) for v in np.polyfit(x, y, 1))
    residuals = {}
    for name, figure in known.items():
        expected = math.exp(level) * volumes_mm3[name] ** exponent
        residuals[name] = propagate(lambda v, e=expected: 100.0 * (v / e - 1.0), [figure])
    rest = y - (level + exponent * x)
    scatter = 100.0 * math.sqrt(float(np.square(rest).sum()) / max(1, len(known) - 2))
    return SizeTrend(math.exp(level), exponent, residuals, scatter, len(known))


def per(figure: Figure, of: Figure) -> Figure:
    """A figure per gram or per price; absent where either is, or where it cost nothing."""
    if isinstance(figure, Absent):
        return figure
    if isinstance(of, Absent):
        return of
    return ratio(figure, of)


@dataclass(frozen=True, slots=True)
class Choosing:
    """Who is left to choose among, who is beaten in everything and by whom, and what each step up
    the strongest's ladder costs."""

    left: tuple[str, ...]
    beaten: tuple[Dominance, ...]
    steps: tuple[MarginalPrice, ...]


def choosing(
    thrust: Mapping[str, Measured], mass: Mapping[str, Measured], price: Mapping[str, Measured]
) -> Choosing:
    """ "Choose A; B only if …; C never", over thrust, mass and price.

    :param thrust, mass, price: by motor; one without thrust is not looked at, one without mass or
        price is judged by what it has.
    """
    choices = {
        name: {
            "max_thrust_gf": figure,
            **({"mass_g": mass[name]} if name in mass else {}),
            **({"price": price[name]} if name in price else {}),
        }
        for name, figure in thrust.items()
    }
    best: dict[str, Dominance] = {}
    for one in sorted(dominated(choices), key=lambda d: -d.confidence):
        best.setdefault(one.worse, one)
    left = [name for name in thrust if name not in best]
    left.sort(key=lambda name: -thrust[name].value)
    return Choosing(tuple(left), tuple(best.values()), tuple(_steps(left, thrust, mass, price)))


def _steps(
    left: Sequence[str],
    thrust: Mapping[str, Measured],
    mass: Mapping[str, Measured],
    price: Mapping[str, Measured],
) -> list[MarginalPrice]:
    """From each that is left to the next stronger one that all three are known of."""
    known = [name for name in reversed(left) if name in mass and name in price]
    found = []
    for weaker, stronger in pairwise(known):
        step = marginal_price(
            *(
                Priced(name, price[name].value, mass[name], thrust[name])
                for name in (stronger, weaker)
            )
        )
        if not isinstance(step, Absent):
            found.append(step)
    return found
