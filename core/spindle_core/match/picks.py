"""Candidates for a craft, read from measured curves, and the three picks with their trade."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from spindle_core.compare.curve import Curve
from spindle_core.compare.delta import K_95, apart, is_told, relative_pct
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    difference,
    product,
    propagate,
    ratio,
)
from spindle_core.match.craft import Craft, all_up_mass, needed_thrust_gf, thrust_to_weight
from spindle_core.match.electrics import USABLE_SHARE, EscSize, endurance_min, esc_sizes
from spindle_core.match.trades import Differs

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
    esc_peak_a: Measured | None = None
    predicted: bool = False


@dataclass(frozen=True, slots=True)
class Matched:
    """A candidate on the craft; figures are per motor but for mass, ratio and minutes.

    ``esc_peak_a``: of the thirstier motor of a pair whose motors differ.
    """

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
    esc_peak_a: Measured
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
    esc_peak = candidate.esc_peak_a or candidate.peak_current_a
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
        tuple(esc_sizes(esc_peak.value)),
        candidate.max_thrust_gf,
        candidate.peak_current_a,
        esc_peak,
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
    """The strongest, the thriftiest and the chosen candidate, with the trade in words.

    ``alike``: pick → who is not told apart from it in what it is picked for, the nearest first.
    """

    strongest: str
    thriftiest: str
    chosen: str
    trade: str
    alike: Mapping[str, tuple[str, ...]]


def pick(matched: Sequence[Matched], *, thrift: float = DEFAULT_THRIFT) -> Picks | Absent:
    """Three picks among the candidates that hover and are not barred.

    Chosen is the largest ln(thrust) − ``thrift``·ln(peak current) − (1 − ``thrift``)·ln(hover
    power): thrust against the current it costs at full throttle and the power it costs in hover.
    A prediction is picked only where it is told apart from everything that was run: of many vague
    figures the largest is mostly the luckiest.

    :param thrift: 0 counts hover power alone, 1 peak current alone.
    """
    if not 0 <= thrift <= 1:
        raise QuantityError("Thrift lies between 0 and 1.")
    usable = [m for m in matched if isinstance(m.power_w, Measured) and not m.barred]
    if not usable:
        return Absent("nothing_hovers", "no candidate was measured at the hover thrust")
    powers = [m.power_w for m in usable if isinstance(m.power_w, Measured)]
    worth = [_worth(m, power, thrift) for m, power in zip(usable, powers, strict=True)]
    strongest, as_strong = _best(usable, [m.max_thrust_gf for m in usable])
    thriftiest, as_thrifty = _best(usable, [power.scaled(-1.0) for power in powers])
    chosen, as_good = _best(usable, worth)
    return Picks(
        strongest.name,
        thriftiest.name,
        chosen.name,
        trade(chosen, strongest),
        {"strongest": as_strong, "thriftiest": as_thrifty, "chosen": as_good},
    )


def _worth(m: Matched, power: Measured, thrift: float) -> Measured:
    """What a candidate is chosen by, with its u."""
    inputs = (m.max_thrust_gf, m.peak_current_a, power)
    shares = (1.0, -thrift, thrift - 1.0)

    def worth(*values: float) -> float:
        return math.fsum(s * math.log(v) for s, v in zip(shares, values, strict=True))

    slopes = [s / one.value for s, one in zip(shares, inputs, strict=True)]
    return propagate(worth, inputs, partials=slopes)


def _best(
    usable: Sequence[Matched], figures: Sequence[Measured]
) -> tuple[Matched, tuple[str, ...]]:
    """Who has the largest figure, and who is not told apart from them.

    Of a prediction and what was run and is not told apart from it, the best that was run counts.
    The largest of m predictions had m chances to be lucky, and is told apart at 1 − 5 % ÷ m
    (Bonferroni).
    """
    order = sorted(range(len(usable)), key=lambda i: (-figures[i].value, usable[i].name))
    first = order[0]
    if usable[first].predicted:
        chances = sum(one.predicted for one in usable)
        level = _level(first, order, figures, NormalDist().inv_cdf(1.0 - 0.025 / chances))
        first = next((i for i in level if not usable[i].predicted), first)
    level = sorted(
        _level(first, order, figures), key=lambda i: abs(figures[i].value - figures[first].value)
    )
    return usable[first], tuple(usable[i].name for i in level)


def _level(
    first: int, order: Sequence[int], figures: Sequence[Measured], k: float = K_95
) -> list[int]:
    """Those of ``order`` that are not told apart from one of them, in their order."""
    return [i for i in order if i != first and not _told_apart(figures[i], figures[first], k)]


def _told_apart(a: Measured, b: Measured, k: float = K_95) -> bool:
    # What is further apart than both could be off at once need not be propagated.
    if abs(a.value - b.value) > k * (a.u + b.u):
        return True
    return is_told(difference(a, b), k)


def trade(chosen: Matched, against: Matched) -> str:
    """The trade in words, such as “−7.0 ± 1.2 % thrust for −21 ± 2 % current, +1.4 ± 0.3 min”."""
    if chosen.name == against.name:
        return "the strongest is also the one to choose"
    thrust = Differs("thrust", relative_pct(chosen.max_thrust_gf, against.max_thrust_gf), "%")
    current = Differs("current", relative_pct(chosen.peak_current_a, against.peak_current_a), "%")
    words = f"{thrust.words()} for {current.words()}"
    longer = apart(chosen.minutes, against.minutes)
    if isinstance(longer, Measured):
        words += f", {Differs('minutes', longer, 'min').words()}"
    return words


def frontier(matched: Sequence[Matched]) -> list[str]:
    """Names that no other beats in thrust-to-weight and minutes at once, the strongest first.

    One that is behind in both is beaten where at least one of the two is told apart. Those without
    minutes and those that are barred are left out.
    """
    usable = [m for m in matched if isinstance(m.minutes, Measured) and not m.barred]
    ordered = sorted(usable, key=lambda m: (-m.thrust_to_weight.value, -_value(m.minutes), m.name))
    pairs = [(m.thrust_to_weight, m.minutes) for m in ordered if isinstance(m.minutes, Measured)]
    value, u = (
        np.array([[getattr(figure, part) for figure in pair] for pair in pairs]).reshape(-1, 2)
        for part in ("value", "u")
    )
    found = []
    for i, one in enumerate(ordered):
        # Those before it have the ratio; of them, who flies as long.
        ahead = np.flatnonzero(value[:i, 1] >= value[i, 1])
        far = np.abs(value[ahead] - value[i]) > K_95 * (u[ahead] + u[i])
        if far.any():
            continue
        if not any(
            _told_apart(*both) for j in ahead for both in zip(pairs[j], pairs[i], strict=True)
        ):
            found.append(one.name)
    return found


def _value(figure: Figure) -> float:
    return figure.value if isinstance(figure, Measured) else -math.inf
