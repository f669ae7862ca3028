"""The other way round: which craft a motor suits, and what another battery or air would change."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.delta import apart, relative_pct
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, difference, product
from spindle_core.match.electrics import diameter_for_equal_power_in, kv_at_other_voltage
from spindle_core.match.picks import Matched
from spindle_core.match.trades import Differs, told_first
from spindle_core.model.best_load import BestLoad, best_load
from spindle_core.planning.known import KnownMotor

LEAST_THRUST_TO_WEIGHT: Mapping[str, float] = {
    "equal": 3.0,
    "racing": 8.0,
    "freestyle": 6.0,
    "long range": 3.0,
    "heavy lift": 2.0,
    "indoor": 4.0,
}
"""Thrust-to-weight below which a use is no fun: the bench's rule of thumb, said wherever it counts
and changed by whoever disagrees."""

LIGHTEST_HOVER_SHARE = 0.08
"""A craft that hovers below this share of the largest thrust is too light for its motors: little
throttle is left to be gentle with."""


WHOLE_THRUST = Measured(1.0)
"""The thrust share of motors that stand free of each other."""


@dataclass(frozen=True, slots=True)
class MassRange:
    """Masses of a craft that so many of a motor on a propeller suit [g], all-up.

    ``least_capacity_mah``: that gives the peak at the C-rate asked for.
    """

    lightest_g: Measured
    heaviest_g: Measured
    least_thrust_to_weight: float
    least_capacity_mah: Measured


def mass_range(
    max_thrust_gf: Measured,
    peak_current_a: Measured,
    *,
    motors: int,
    rated_c: float,
    thrust_share: Measured = WHOLE_THRUST,
    least_thrust_to_weight: float = LEAST_THRUST_TO_WEIGHT["equal"],
) -> MassRange:
    """From the craft that hovers with 8 % of the thrust to the one that just has the ratio.

    :param max_thrust_gf, peak_current_a: of one motor. :param thrust_share: of coaxial pairs.
    :raises QuantityError: a value that is not positive, or a ratio that leaves no range.
    """
    figures = (max_thrust_gf, peak_current_a, thrust_share)
    if min(rated_c, least_thrust_to_weight, *(f.value for f in figures)) <= 0 or motors < 1:
        raise QuantityError("Thrust, current, motors, C-rate and ratio must be above 0.")
    if least_thrust_to_weight >= 1.0 / LIGHTEST_HOVER_SHARE:
        raise QuantityError("A thrust-to-weight ratio lies below 12.5 here.", code="ratio")
    lift = product(max_thrust_gf, thrust_share).scaled(float(motors))
    return MassRange(
        lift.scaled(LIGHTEST_HOVER_SHARE),
        lift.scaled(1.0 / least_thrust_to_weight),
        least_thrust_to_weight,
        peak_current_a.scaled(1000.0 * motors / rated_c),
    )


@dataclass(frozen=True, slots=True)
class OtherVoltage:
    """The same craft on another voltage: kV for the same speed, diameter for the same shaft power,
    and where this motor is at its best before and after."""

    kv_rpm_per_v: Measured
    diameter_in: float
    best_now: BestLoad | Absent
    best_then: BestLoad | Absent


def at_other_voltage(
    motor: KnownMotor, *, diameter_in: float, from_v: float, to_v: float
) -> OtherVoltage:
    """What another number of cells asks for.

    :raises QuantityError: a voltage or diameter that is not positive.
    """
    return OtherVoltage(
        motor.kv_rpm_per_v.scaled(kv_at_other_voltage(1.0, from_v=from_v, to_v=to_v)),
        diameter_for_equal_power_in(diameter_in, from_v=from_v, to_v=to_v),
        _best(motor, from_v),
        _best(motor, to_v),
    )


def _best(motor: KnownMotor, voltage_v: float) -> BestLoad | Absent:
    if motor.no_load_a.value <= 0:
        return Absent("no_idle", "its no-load current is not known")
    try:
        return best_load(
            voltage_v=voltage_v,
            no_load_current_a=motor.no_load_a,
            resistance_ohm=motor.resistance_ohm,
        )
    except QuantityError as error:
        return Absent(error.code, error.message)


@dataclass(frozen=True, slots=True)
class ProductWindow:
    """What the bench ran within every rating, as kV × V × diameter [in·rpm]; ``n`` combinations.

    A product of the speed that a motor strives for and the size that it swings: too low is a
    propeller that never loads it, too high one that burns it.
    """

    low: float
    high: float
    n: int

    def says(self, product: float) -> str:
        """Where a combination lies: ``within``, ``light`` or ``heavy``."""
        if product < self.low:
            return "light"
        return "heavy" if product > self.high else "within"


LEAST_IN_WINDOW = 3


def window(products: Sequence[float]) -> ProductWindow | Absent:
    """The span of what was run well; absent with fewer than three combinations."""
    known = [value for value in products if math.isfinite(value) and value > 0]
    if len(known) < LEAST_IN_WINDOW:
        return Absent("too_few", "fewer than three combinations were run within their ratings")
    return ProductWindow(min(known), max(known), len(known))


@dataclass(frozen=True, slots=True)
class Change:
    """What a change to the craft does: differences, what both share taken out. ``price`` of all
    motors; absent where it is not known."""

    name: str
    mass_g: Measured
    thrust_to_weight: Measured
    thrust_to_weight_was: Measured
    thrust_pct: Measured
    peak_current_pct: Measured
    minutes: Figure
    hover_current_pct: Figure
    price: Figure

    def words(self) -> str:
        """All of it but the price, what is told apart first."""
        said = [
            Differs("thrust", self.thrust_pct, "%"),
            Differs("peak current", self.peak_current_pct, "%"),
        ]
        if isinstance(self.minutes, Measured):
            said.append(Differs("minutes", self.minutes, "min"))
        if self.mass_g.value or self.mass_g.u:
            said.append(Differs("mass", self.mass_g, "g"))
        return told_first(said)


def change(now: Matched, then: Matched, *, motors: int, price_each: Figure) -> Change:
    """From what the craft carries to a candidate.

    :param price_each: of one new motor; 0 where the motors stay.
    """
    no_hover = Absent("no_hover", "one of the two does not reach hover")
    minutes = apart(then.minutes, now.minutes)
    current: Figure = no_hover
    if isinstance(now.current_a, Measured) and isinstance(then.current_a, Measured):
        current = relative_pct(then.current_a, now.current_a)
    price = price_each if isinstance(price_each, Absent) else price_each.scaled(float(motors))
    return Change(
        then.name,
        difference(then.mass_g, now.mass_g),
        then.thrust_to_weight,
        now.thrust_to_weight,
        relative_pct(then.max_thrust_gf, now.max_thrust_gf),
        relative_pct(then.peak_current_a, now.peak_current_a),
        minutes if isinstance(minutes, Measured) else no_hover,
        current,
        price,
    )
