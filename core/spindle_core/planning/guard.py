"""What the next step of a run will draw, from what was expected and from the steps before it.

The expected curve gives the shape, the steps already seen give the scale and how the shape is
wrong: ln(seen/expected) is a straight line over ln(throttle), whose two parameters have a Gaussian
prior (Bayesian linear regression). Without an expected curve a power law takes its place, of which
only the exponent is known roughly; then the first step cannot be judged, and nothing is made up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

EXPONENTS: Mapping[str, float] = {
    "current_a": 2.6,
    "power_w": 2.6,
    "thrust_gf": 1.9,
    "speed_rpm": 0.9,
}
"""About how a propeller's figures go with the throttle, where nothing else is known."""

EXPONENT_U: Mapping[str, float] = {
    "current_a": 0.6,
    "power_w": 0.6,
    "thrust_gf": 0.5,
    "speed_rpm": 0.25,
}
CHANNELS = (*EXPONENTS, "voltage_v")
"""What a step is read by. The voltage has a law of its own: it sags with the current."""

SHAPE_SHARE = 0.5
"""How much of that is left where a curve was expected."""

NOISE = 0.01
BEND = 0.08
"""What a straight line leaves out per unit of ln(throttle), relative."""

UNKNOWN_SCALE = 20.0
UNKNOWN_V = 1000.0
SAG_OHM = (0.02, 0.05)
"""Resistance of supply and leads where no curve tells it: mean and standard deviation [Ω]."""

VOLT_NOISE = 0.002
LEAST_SCALE_U = 0.02
PLAUSIBLE = 1e6
"""A reading beyond this is none, in any unit of a bench; the hard limits deal with it."""

LEAST_PCT = 0.5
MOST_LOAD_RATIO = 4.0
"""Heat forecasts do not reach further than this many times the current."""

LEAST_CURRENT_A = 0.2


@dataclass(frozen=True, slots=True)
class ExpectedStep:
    """Figures expected at a throttle [%]: name → (value, standard uncertainty)."""

    throttle_pct: float
    figures: Mapping[str, tuple[float, float]]


@dataclass(frozen=True, slots=True)
class SeenStep:
    """Means that were read at a throttle [%], by channel."""

    throttle_pct: float
    values: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Forecast:
    """A figure of the next step, with its standard uncertainty."""

    value: float
    u: float


def forecast(
    throttle_pct: float, curve: Sequence[ExpectedStep], seen: Sequence[SeenStep]
) -> dict[str, Forecast]:
    """The figures of the next step at ``throttle_pct`` [%], by channel.

    A figure is missing where neither a curve nor a step says anything about it.

    :raises ValueError: a throttle that is not above 0.
    """
    if not throttle_pct > 0:
        raise ValueError(f"a step is above 0 % throttle, got {throttle_pct:g}")
    found = {name: _one(name, throttle_pct, curve, seen) for name in EXPONENTS}
    made = {name: one for name, one in found.items() if one is not None}
    volts = _sagging(made.get("current_a"), curve, seen)
    return made if volts is None else {**made, "voltage_v": volts}


def _sagging(
    current: Forecast | None, curve: Sequence[ExpectedStep], seen: Sequence[SeenStep]
) -> Forecast | None:
    """V = V0 − R·I, from the expected curve as a prior and from what was read."""
    if current is None:
        return None
    pairs = [
        (amps, volts)
        for step in seen
        if (amps := step.values.get("current_a")) is not None
        and (volts := step.values.get("voltage_v")) is not None
        and abs(amps) < PLAUSIBLE
        and 1.0 / PLAUSIBLE < volts < PLAUSIBLE
    ]
    told = [
        (step.figures["current_a"][0], *step.figures["voltage_v"])
        for step in curve
        if "current_a" in step.figures and "voltage_v" in step.figures
    ]
    told = [row for row in told if row[1] > 0 and all(map(math.isfinite, row))]
    if not pairs and not told:
        return None
    mean, sd = np.array([0.0, SAG_OHM[0]]), np.array([UNKNOWN_V, SAG_OHM[1]])
    if told:
        amps, volts, us = np.array(told).T
        ohm = SAG_OHM[0]
        if np.ptp(amps) > 0:
            ohm = max(0.0, -float(np.polyfit(amps, volts, 1)[0]))
            sd[1] = 0.5 * ohm + 0.003
        mean = np.array([float(np.mean(volts + ohm * amps)), ohm])
        sd[0] = max(float(np.max(us)), VOLT_NOISE * mean[0])
    precision = np.diag(sd**-2.0)
    pull = precision @ mean
    for amps, volts in pairs:
        row = np.array([1.0, -amps])
        weight = (VOLT_NOISE * volts) ** -2.0
        precision += weight * np.outer(row, row)
        pull += weight * volts * row
    covariance = np.linalg.inv(precision)
    found = covariance @ pull
    row = np.array([1.0, -current.value])
    value = float(row @ found)
    own = math.sqrt(max(0.0, float(row @ covariance @ row)))
    return Forecast(value, math.hypot(own, float(found[1]) * current.u, VOLT_NOISE * abs(value)))


def _one(
    name: str, throttle_pct: float, curve: Sequence[ExpectedStep], seen: Sequence[SeenStep]
) -> Forecast | None:
    shape = _Shape.of(name, curve)
    pairs = [
        (math.log(step.throttle_pct / throttle_pct), math.log(value / shape.at(step.throttle_pct)))
        for step in seen
        if step.throttle_pct >= LEAST_PCT
        and (value := step.values.get(name)) is not None
        and 1.0 / PLAUSIBLE < value < PLAUSIBLE
    ]
    if not pairs and not shape.known:
        return None
    # Prior of (a, b) in ln(seen/expected) = a + b·ln(throttle/next); precision form.
    precision = np.diag([shape.scale_u**-2.0, shape.exponent_u**-2.0])
    pull = np.zeros(2)
    for x, residual in pairs:
        weight = 1.0 / (NOISE**2 + (BEND * x) ** 2)
        row = np.array([1.0, x])
        precision += weight * np.outer(row, row)
        pull += weight * residual * row
    covariance = np.linalg.inv(precision)
    value = shape.at(throttle_pct) * math.exp(float((covariance @ pull)[0]))
    return Forecast(value, value * math.hypot(math.sqrt(float(covariance[0, 0])), NOISE))


@dataclass(frozen=True, slots=True)
class _Shape:
    """How a figure goes with the throttle, and how well scale and exponent of that are known."""

    name: str
    points: tuple[tuple[float, float], ...]
    scale_u: float
    exponent_u: float

    @classmethod
    def of(cls, name: str, curve: Sequence[ExpectedStep]) -> _Shape:
        points, shares = [], []
        for step in sorted(curve, key=lambda one: one.throttle_pct):
            value, u = step.figures.get(name, (0.0, 0.0))
            if step.throttle_pct >= LEAST_PCT and 0 < value < PLAUSIBLE and math.isfinite(u):
                points.append((math.log(step.throttle_pct), math.log(value)))
                shares.append(u / value)
        if not points:
            return cls(name, (), UNKNOWN_SCALE, EXPONENT_U[name])
        scale = max(LEAST_SCALE_U, *shares)
        return cls(name, tuple(points), scale, SHAPE_SHARE * EXPONENT_U[name])

    @property
    def known(self) -> bool:
        return bool(self.points)

    def at(self, throttle_pct: float) -> float:
        """The figure on the curve; beyond its ends by the usual power of the throttle."""
        x = math.log(throttle_pct)
        if not self.points:
            return math.exp(EXPONENTS[self.name] * x)
        first, last = self.points[0], self.points[-1]
        end = first if x < first[0] else last if x > last[0] else None
        if end is not None:
            return math.exp(end[1] + EXPONENTS[self.name] * (x - end[0]))
        xs, ys = zip(*self.points, strict=True)
        return math.exp(float(np.interp(x, xs, ys)))


def warmest(
    now_c: float, k_per_s: float, seconds: float, *, current_now_a: float, current_next_a: float
) -> Forecast | None:
    """The case at the end of the next step [°C], if it goes on as it does, with more current.

    Copper loss goes with the square of the current. u is a third of the rise, since the case lags
    behind the winding. None while no current says how fast it warms.
    """
    if current_now_a < LEAST_CURRENT_A or not math.isfinite(now_c + k_per_s):
        return None
    ratio = min(MOST_LOAD_RATIO, max(1.0, current_next_a / current_now_a))
    rise = max(0.0, k_per_s) * seconds * ratio**2
    return Forecast(now_c + rise, rise / 3.0)


@dataclass(frozen=True, slots=True)
class Passed:
    """A limit that the next step would pass; ``floor``: it is a least, not a most."""

    name: str
    forecast: Forecast
    limit: float
    floor: bool = False


def passed(
    forecasts: Mapping[str, Forecast], most: Mapping[str, float], floor_v: float | None = None
) -> Passed | None:
    """The limit that the next step would pass by the most of itself, more likely than not.

    :param most: channel → what cuts the run. ``floor_v``: voltage below which it is cut [V].
    """
    found = [
        Passed(name, one, most[name])
        for name, one in forecasts.items()
        if name in most and one.value > most[name]
    ]
    volts = forecasts.get("voltage_v")
    if floor_v is not None and volts is not None and volts.value < floor_v:
        found.append(Passed("voltage_v", volts, floor_v, floor=True))
    return max(
        found,
        key=lambda one: abs(one.forecast.value - one.limit) / max(abs(one.limit), 1e-9),
        default=None,
    )
