"""Flights against their prediction, and what a bench learns of flying from its own.

A flight that somebody noted says minutes and a pack, rarely more. What it drew on average follows
from what was put back into the pack, or, where nobody measured that, from the share of it that is
usually flown. Held against the power that the motors took on the stand for the same weight, that is
one ratio: 1 where a craft hovers as its motors did on the stand, less where the air that comes
towards a propeller unloads it, more where it is thrown about. Schools differ in what they take for
it; the flights say which of them fits.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from spindle_core.compare.delta import Delta, compare
from spindle_core.compare.of_models import of_sample
from spindle_core.errors import QuantityError
from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    Origin,
    component,
    last_digit,
    mean_of_figures,
    ratio,
)
from spindle_core.figures.repeats import PooledSpread, coverage_factor, pooled_spread
from spindle_core.figures.said import figure as in_words

CELL_V, CELL_U_V = 3.7, 0.05
"""Mean voltage of a lithium polymer cell over a flight [V], and what is not known of it."""

CHARGER_RELATIVE_U = 0.02
USABLE_U = 0.06
"""Standard u of the share of a pack that was flown, where nobody put back and measured."""

STOPWATCH_U_MIN = 0.1
MASS_POWER, MASS_POWER_HALF_WIDTH = 1.5, 0.15
"""Hover power goes with mass^1.5 at one disc area (momentum theory)."""

ASSUMED_FLIGHT_S = 0.08
"""Relative s of one flight against the next like it, where no flights repeat each other."""

FEWEST = 3
"""Flights from which on a school can be said to fit."""


@dataclass(frozen=True, slots=True)
class Flight:
    """A flight as it was noted; None and '' where it was not.

    ``hover_power_w``: of the whole craft at the weight it flew at, from the stand [W]. ``usable``:
    share of the capacity that is usually flown. ``hover_share_pct``: of the time [%].
    """

    key: str
    minutes: float
    capacity_mah: float
    cells: int
    hover_power_w: Figure
    usable: float = 0.8
    put_back_mah: float | None = None
    mass_g: float | None = None
    hover_share_pct: float | None = None
    motor: str = ""
    propeller: str = ""
    wind: str = ""

    def __post_init__(self) -> None:
        for name in ("minutes", "capacity_mah", "cells"):
            if not getattr(self, name) > 0:
                raise QuantityError(f"{name} of a flight is above 0.", code=name)
        if not 0 < self.usable <= 1:
            raise QuantityError("The share of a pack that is flown is above 0, at most 1.")
        if self.put_back_mah is not None and not 0 < self.put_back_mah <= 1.3 * self.capacity_mah:
            raise QuantityError(
                f"{self.put_back_mah:g} mAh were not put back into a pack of "
                f"{self.capacity_mah:g} mAh.",
                code="put_back_mah",
            )

    @property
    def minutes_figure(self) -> Measured:
        """Minutes with what their last digit and a stopwatch leave open."""
        rounded = 0.5 * last_digit([self.minutes]) / math.sqrt(3.0)
        return Measured(
            self.minutes, {component("stopwatch", self.key): math.hypot(rounded, STOPWATCH_U_MIN)}
        )

    @property
    def energy_wh(self) -> Measured:
        """What was flown out of the pack [Wh]."""
        volts = CELL_V * self.cells
        measured = self.put_back_mah is not None
        mah = (
            self.put_back_mah if self.put_back_mah is not None else self.usable * self.capacity_mah
        )
        value = mah / 1000.0 * volts
        parts = {component("assumed_cell_voltage", "packs"): value * CELL_U_V / CELL_V}
        if measured:
            parts[component("charger", "the bench's")] = CHARGER_RELATIVE_U * value
        else:
            # One habit of landing: it is the same doubt in every flight.
            parts[component("assumed_usable", "packs")] = value * USABLE_U / self.usable
        origin = Origin.DERIVED if measured else Origin.ESTIMATED
        return Measured(value, parts, origin=origin)

    @property
    def power_w(self) -> Measured:
        """What the craft drew on average [W]."""
        found = ratio(self.energy_wh, self.minutes_figure)
        assert isinstance(found, Measured)
        return found.scaled(60.0)

    @property
    def to_stand(self) -> Figure:
        """What it drew ÷ what its motors take on the stand for the same weight."""
        if isinstance(self.hover_power_w, Absent):
            return self.hover_power_w
        return ratio(self.power_w, self.hover_power_w)

    @property
    def predicted_minutes(self) -> Figure:
        """Minutes of a hover as on the stand, with the energy that was flown."""
        if isinstance(self.hover_power_w, Absent):
            return self.hover_power_w
        found = ratio(self.energy_wh, self.hover_power_w)
        return found if isinstance(found, Absent) else found.scaled(60.0)

    @property
    def error_pct(self) -> Figure:
        """(flown − predicted) ÷ predicted [%]."""
        predicted = self.predicted_minutes
        if isinstance(predicted, Absent):
            return predicted
        found = ratio(self.minutes_figure, predicted)
        if isinstance(found, Absent):
            return found
        return replace(found.scaled(100.0), value=100.0 * (found.value - 1.0))


def at_mass(power_w: Measured, *, matched_g: float, flown_g: float) -> Measured:
    """Hover power at another all-up mass [W].

    :param matched_g: at which the power was told.
    :raises QuantityError: a mass that is not above 0.
    """
    if min(matched_g, flown_g) <= 0:
        raise QuantityError("A mass is above 0 g.", code="mass_g")
    apart = math.log(flown_g / matched_g)
    scaled = power_w.scaled(math.exp(MASS_POWER * apart))
    doubt = scaled.value * apart * MASS_POWER_HALF_WIDTH / math.sqrt(3.0)
    key = component("assumed_mass_power", "hover")
    return replace(scaled, components={**scaled.components, key: doubt}, origin=Origin.DERIVED)


@dataclass(frozen=True, slots=True)
class School:
    """What one school makes of the flights.

    ``factor``: flight ÷ stand that it takes. ``error_pct``: mean of (flown − foreseen) ÷ foreseen
    [%], with u. ``rms_pct``: of the single flights [%]. ``refuted``: the mean error's 95 % interval
    excludes 0.
    """

    key: str
    words: str
    factor: Measured
    error_pct: Measured
    rms_pct: float
    refuted: bool


@dataclass(frozen=True, slots=True)
class Judged:
    """What flights say together. ``fits``: key of the school that fits best; '' where too few flew
    or none is told apart. ``counted``: flights that have a prediction."""

    counted: int
    error_pct: Figure
    schools: tuple[School, ...]
    fits: str
    says: str


def judge(
    flights: Sequence[Flight], *, less_current_pct: tuple[float, float] | None = None
) -> Judged:
    """Flights against their predictions, and which school of flight current fits them.

    :param less_current_pct: the bench's own rule, as a range (low, high) [%].
    """
    known = [one for one in flights if isinstance(one.to_stand, Measured)]
    if not known:
        missing = Absent("no_prediction", "no flight can be held against a prediction")
        return Judged(0, missing, (), "", "No flight can be held against a prediction yet.")
    stand = _school("stand", "a hover as on the stand", [Measured(1.0)] * len(known), known)
    schools = [stand]
    if less_current_pct is not None:
        schools.append(_by_rule(less_current_pct, known))
    if len(known) >= FEWEST:
        schools.append(_learnt(known))
    fits = _fits(schools, len(known))
    return Judged(
        len(known), stand.error_pct, tuple(schools), fits, _says(len(known), schools, fits)
    )


def _school(key: str, words: str, factors: Sequence[Measured], known: Sequence[Flight]) -> School:
    quotients = []
    for factor, flight in zip(factors, known, strict=True):
        to_stand = flight.to_stand
        assert isinstance(to_stand, Measured)
        found = ratio(factor, to_stand)
        assert isinstance(found, Measured)
        quotients.append(found)
    mean = of_sample(quotients, source=f"flights/{key}")
    error = replace(mean.scaled(100.0), value=100.0 * (mean.value - 1.0))
    rms = 100.0 * math.sqrt(math.fsum((one.value - 1.0) ** 2 for one in quotients) / len(quotients))
    k = coverage_factor(0.95, max(1, len(known) - 1))
    return School(key, words, factors[0], error, rms, abs(error.value) > k * error.u)


def _by_rule(less_pct: tuple[float, float], known: Sequence[Flight]) -> School:
    low, high = less_pct
    if not 0.0 <= low <= high < 100.0:
        raise QuantityError(
            f"So much less current in flight is 0 to below 100 %, low before high, "
            f"not {low:g} to {high:g}."
        )
    half = 0.5 * (high - low) / 100.0
    factor = Measured(
        1.0 - 0.5 * (low + high) / 100.0,
        {component("rule", "the bench's"): half / math.sqrt(3.0)},
        origin=Origin.ESTIMATED,
    )
    words = f"the bench's rule, {low:g} to {high:g} % less"
    return _school("rule", words, [factor] * len(known), known)


def _learnt(known: Sequence[Flight]) -> School:
    """Each flight foreseen from the others: a school that saw the answer proves nothing."""
    factors = []
    for one in known:
        others = [f.to_stand for f in known if f is not one]
        factors.append(mean_of_figures([f for f in others if isinstance(f, Measured)]))
    school = _school("learnt", "what its own flights say", factors, known)
    every = [f.to_stand for f in known if isinstance(f.to_stand, Measured)]
    return replace(school, factor=of_sample(every, source="flights/learnt"))


def _fits(schools: Sequence[School], counted: int) -> str:
    if counted < FEWEST:
        return ""
    standing = [one for one in schools if not one.refuted]
    best = min(standing, key=lambda one: one.rms_pct, default=None)
    # Where every school still stands, nothing was told apart.
    return best.key if best is not None and len(standing) < len(schools) else ""


def _says(counted: int, schools: Sequence[School], fits: str) -> str:
    over = f"Over {counted} {'flight' if counted == 1 else 'flights'}"
    error = schools[0].error_pct
    way = "longer" if error.value > 0 else "shorter"
    off = in_words(abs(error.value), error.u, "%")
    told = f"{over} it stayed up {off} {way} than on the stand."
    if counted < FEWEST:
        return f"{told} {FEWEST} flights say which school fits."
    if not fits:
        return f"{told} No school is told apart from the others yet."
    best = next(one for one in schools if one.key == fits)
    factor = f", × {best.factor.value:.2f} ± {best.factor.u:.2f}" if best.factor.u else ""
    others = [one.words for one in schools if not one.refuted and one.key != fits]
    near = f"; not told apart from it: {', '.join(others)}" if others else ""
    return f"{told} What fits best is {best.words}{factor}{near}."


FACTORS = ("motor", "propeller", "pack", "mass", "wind", "hover share")


@dataclass(frozen=True, slots=True)
class FlightPair:
    """Two kinds of flight that differ in one thing; figures are means over each kind's flights.

    ``unknown``: factors that neither noted.
    """

    factor: str
    values: tuple[str, str]
    flights: tuple[tuple[str, ...], tuple[str, ...]]
    minutes: tuple[Measured, Measured]
    power_w: tuple[Measured, Measured]
    minutes_delta: Delta
    power_delta: Delta
    unknown: tuple[str, ...]


def factors_of(flight: Flight) -> dict[str, str]:
    """What makes a flight like another, in words; '' where it was not noted."""
    mass = "" if flight.mass_g is None else f"about {_rounded(flight.mass_g):g} g"
    hover = "" if flight.hover_share_pct is None else f"{_band(flight.hover_share_pct)} hovered"
    return {
        "motor": flight.motor,
        "propeller": flight.propeller,
        "pack": f"{flight.cells}S {flight.capacity_mah:g} mAh",
        "mass": mass,
        "wind": flight.wind,
        "hover share": hover,
    }


def _rounded(mass_g: float) -> float:
    """To about 3 %: flights that weigh alike are alike."""
    return round(math.exp(0.03 * round(math.log(mass_g) / 0.03)))


def _band(share_pct: float) -> str:
    return "mostly" if share_pct >= 67 else "partly" if share_pct >= 33 else "hardly"


def pairs_of(flights: Sequence[Flight]) -> list[FlightPair]:
    """Every two kinds of flight that differ in one thing and no more, compared like runs."""
    groups: dict[tuple[str, ...], list[Flight]] = {}
    for flight in flights:
        groups.setdefault(tuple(factors_of(flight).values()), []).append(flight)
    spread = pooled_spread([[one.power_w.value for one in group] for group in groups.values()])
    found = []
    for (a, ours), (b, theirs) in combinations(groups.items(), 2):
        differing = [i for i, pair in enumerate(zip(a, b, strict=True)) if pair[0] != pair[1]]
        # What only one of them noted may differ too.
        if len(differing) != 1 or not (a[differing[0]] and b[differing[0]]):
            continue
        at = differing[0]
        minutes = _mean(ours, spread, "minutes"), _mean(theirs, spread, "minutes")
        power = _mean(ours, spread, "power"), _mean(theirs, spread, "power")
        found.append(
            FlightPair(
                FACTORS[at],
                (a[at], b[at]),
                (tuple(one.key for one in ours), tuple(one.key for one in theirs)),
                minutes,
                power,
                compare(minutes[1], minutes[0]),
                compare(power[1], power[0]),
                tuple(name for name, value in zip(FACTORS, a, strict=True) if not value),
            )
        )
    return found


def _mean(group: Sequence[Flight], spread: PooledSpread | None, what: str) -> Measured:
    figures = [one.minutes_figure if what == "minutes" else one.power_w for one in group]
    mean = mean_of_figures(figures)
    share, kind = (ASSUMED_FLIGHT_S, "assumed_flight")
    if spread is not None:
        # Student's t of few repeats has wider tails; its variance is ν ÷ (ν − 2).
        nu = max(spread.freedom, 3)
        share, kind = spread.relative_s * math.sqrt(nu / (nu - 2.0)), "flight"
    source = "/".join(one.key for one in group)
    size = share * mean.value / math.sqrt(len(group))
    return mean.with_component(component(kind, f"{source}/{what}"), size)
