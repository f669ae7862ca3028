"""Candidates for a craft, read from measured curves, and the three picks with their trade."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.compare.curve import Curve
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Figure, Measured, product, propagate, ratio
from spindle_core.match.craft import Craft, all_up_mass, needed_thrust_gf, thrust_to_weight
from spindle_core.match.electrics import USABLE_SHARE, EscSize, endurance_min, esc_sizes

DEFAULT_THRIFT = 0.5


@dataclass(frozen=True, slots=True)
class Candidate:
    """A motor with a propeller at the craft's voltage, as measured or as predicted.

    ``curves``: over thrust [gf], by figure (``power_w``, ``current_a``, ``throttle_pct``);
    ``at_hover``: the same already read at the thrust that the craft needs, then no curve is asked.
    ``esc_peak_a``: what an ESC must bear, where the motors of a pair differ. ``barred``: why it is
    never picked; empty where it may be.
    """

    name: str
    motor_mass_g: Measured
    max_thrust_gf: Measured
    peak_current_a: Measured
    curves: Mapping[str, Curve]
    barred: str = ""
    at_hover: Mapping[str, Figure] | None = None
    esc_peak_a: float | None = None
    predicted: bool = False


@dataclass(frozen=True, slots=True)
class Matched:
    """A candidate on the craft; figures are per motor but for mass, ratio and minutes."""

    name: str
    mass_g: Measured
    thrust_to_weight: Measured
    hover_thrust_gf: Figure
    throttle_pct: Figure
    current_a: Figure
    power_w: Figure
    efficiency_g_per_w: Figure
    minutes: Figure
    esc: tuple[EscSize | Absent, ...]
    max_thrust_gf: Measured
    peak_current_a: Measured
    barred: str
    predicted: bool


READ_IN_HOVER = ("throttle_pct", "current_a", "power_w")


def match(
    craft: Craft,
    candidates: Sequence[Candidate],
    *,
    capacity_mah: float,
    usable: float = USABLE_SHARE,
) -> list[Matched]:
    """Every candidate on the craft; what its curve does not reach is absent.

    :param usable: share of the capacity that is flown.
    :raises QuantityError: no candidates.
    """
    if not candidates:
        raise QuantityError("There is nothing to match with.", code="no_candidates")
    return [_on_craft(craft, candidate, capacity_mah, usable) for candidate in candidates]


def _on_craft(craft: Craft, candidate: Candidate, capacity_mah: float, usable: float) -> Matched:
    mass = all_up_mass(craft, candidate.motor_mass_g)
    hover = needed_thrust_gf(craft, mass)
    if candidate.at_hover is not None:
        figures = {
            name: candidate.at_hover.get(name, Absent("not_measured", "no curve of it"))
            for name in READ_IN_HOVER
        }
        # A cruise that is given as a throttle tells its own thrust.
        hover = candidate.at_hover.get("thrust_gf", hover)
    else:
        figures = {name: _read(candidate.curves.get(name), hover) for name in READ_IN_HOVER}
    power = figures["power_w"]
    lifted = product(candidate.max_thrust_gf, craft.thrust_share)
    return Matched(
        candidate.name,
        mass,
        thrust_to_weight(lifted, mass, motors=craft.motors),
        hover,
        figures["throttle_pct"],
        figures["current_a"],
        power,
        _per_power(hover, power),
        _minutes(craft, power, capacity_mah, usable),
        tuple(esc_sizes(candidate.esc_peak_a or candidate.peak_current_a.value)),
        candidate.max_thrust_gf,
        candidate.peak_current_a,
        candidate.barred,
        candidate.predicted,
    )


def _per_power(hover: Figure, power: Figure) -> Figure:
    if isinstance(power, Absent):
        return power
    return hover if isinstance(hover, Absent) else ratio(hover, power)


def _read(curve: Curve | None, at_gf: Figure) -> Figure:
    if isinstance(at_gf, Absent):
        return at_gf
    if curve is None:
        return Absent("not_measured", "no curve of it")
    return curve.read_measured(at_gf)


def _minutes(craft: Craft, power: Figure, capacity_mah: float, usable: float) -> Figure:
    if isinstance(power, Absent):
        return power
    value = endurance_min(
        craft.motors * power.value, capacity_mah=capacity_mah, cells=craft.cells, usable=usable
    )
    return propagate(
        lambda watts: value * power.value / watts, (power,), partials=(-value / power.value,)
    )


@dataclass(frozen=True, slots=True)
class Picks:
    """The strongest, the thriftiest and the chosen candidate, with the trade in words."""

    strongest: str
    thriftiest: str
    chosen: str
    trade: str


def pick(matched: Sequence[Matched], *, thrift: float = DEFAULT_THRIFT) -> Picks | Absent:
    """Three picks among the candidates that hover and are not barred.

    Chosen is the largest ln(thrust) − ``thrift``·ln(peak current) − (1 − ``thrift``)·ln(hover
    power): thrust against the current it costs at full throttle and the power it costs in hover.

    :param thrift: 0 counts hover power alone, 1 peak current alone.
    """
    if not 0 <= thrift <= 1:
        raise QuantityError("Thrift lies between 0 and 1.")
    usable = [m for m in matched if isinstance(m.power_w, Measured) and not m.barred]
    if not usable:
        return Absent("nothing_hovers", "no candidate was measured at the hover thrust")

    def power(m: Matched) -> float:
        assert isinstance(m.power_w, Measured)
        return m.power_w.value

    def worth(m: Matched) -> float:
        cost = thrift * math.log(m.peak_current_a.value) + (1.0 - thrift) * math.log(power(m))
        return math.log(m.max_thrust_gf.value) - cost

    strongest = max(usable, key=lambda m: m.max_thrust_gf.value)
    thriftiest = min(usable, key=power)
    chosen = max(usable, key=worth)
    return Picks(strongest.name, thriftiest.name, chosen.name, trade(chosen, strongest))


def trade(chosen: Matched, against: Matched) -> str:
    """The trade in words, such as “−7 % thrust for −21 % current, +1.4 min”."""
    if chosen.name == against.name:
        return "the strongest is also the one to choose"
    thrust = 100.0 * (chosen.max_thrust_gf.value / against.max_thrust_gf.value - 1.0)
    current = 100.0 * (chosen.peak_current_a.value / against.peak_current_a.value - 1.0)
    paid = "the same" if abs(current) < 0.5 else f"{_signed(current)} %"
    gained = "the same" if abs(thrust) < 0.5 else f"{_signed(thrust)} %"
    words = f"{gained} thrust for {paid} current"
    if isinstance(chosen.minutes, Measured) and isinstance(against.minutes, Measured):
        longer = chosen.minutes.value - against.minutes.value
        words += f", {_signed(longer, 1)} min"
    return words


def _signed(value: float, decimals: int = 0) -> str:
    return f"{round(value, decimals) + 0.0:+.{decimals}f}".replace("-", "−")


def frontier(matched: Sequence[Matched]) -> list[str]:
    """Names that no other beats in thrust-to-weight and minutes at once, the strongest first.

    Those without minutes and those that are barred are left out.
    """
    usable = [m for m in matched if isinstance(m.minutes, Measured) and not m.barred]
    ordered = sorted(usable, key=lambda m: (-m.thrust_to_weight.value, -_value(m.minutes), m.name))
    found: list[str] = []
    longest = -math.inf
    for one in ordered:
        if _value(one.minutes) > longest:
            found.append(one.name)
            longest = _value(one.minutes)
    return found


def _value(figure: Figure) -> float:
    return figure.value if isinstance(figure, Measured) else -math.inf
