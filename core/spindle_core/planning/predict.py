"""What a run will draw and give, before anything spins.

The operating point of what is known of motor, propeller, supply and air, with the uncertainty of
each carried through (GUM 5, numerical sensitivities) and a share for what the model leaves out.
Parts that a prediction shares with the measurement that follows, such as the gain of the stand
both rest on, keep their name, so that they cancel when the two are held against each other.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from spindle_core.errors import CoreError
from spindle_core.figures.constants import COPPER_TEMPERATURE_COEFFICIENT_PER_K
from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.identification.motor import COPPER_SHARE
from spindle_core.model.operating_point import Motor, OperatingPoint, Propeller, solve
from spindle_core.planning.known import Foundation, KnownMotor, KnownPropeller

MODEL_U: Mapping[str, float] = {
    "speed_rpm": 0.008,
    "thrust_gf": 0.012,
    "current_a": 0.02,
    "power_w": 0.02,
    "efficiency_g_per_w": 0.015,
    "voltage_v": 0.004,
}
"""What the model leaves out (iron at load, a winding warmer or colder than when it was
identified, the ESC at its limits), relative, k = 1. Held against what came of it by
:mod:`spindle_core.planning.hindsight`."""

BURST_ABOVE = 0.01
"""A burst's best twentieth of a second of thrust stands about this far above its mean. Its current
is that of speeding up, which this model does not hold, and is not predicted."""

FULL_PCT = 99.0
WARMED = 0.8
"""Where nobody says how long: most of the way to the final warmth."""

ROUNDS = 12
CASE_WARMER_K = Measured(0.0, {"case_temperature": 8.0})
"""The case against the mean of the runs that R was identified from [K]."""

LOAD_POWER = 4.0
"""Copper loss goes about with this power of the throttle."""

_STEP_S = 0.05

_GUESSES: Mapping[str, tuple[str, float]] = {
    "max_thrust_gf": ("thrust_gf", 0.0),
    "max_current_a": ("current_a", 0.0),
    "max_power_w": ("power_w", 0.0),
    "efficiency_at_max_g_per_w": ("efficiency_g_per_w", 0.0),
    "sustained_thrust_gf": ("thrust_gf", 0.0),
    "sustained_current_a": ("current_a", 0.0),
    "burst_thrust_gf": ("thrust_gf", BURST_ABOVE),
}

_BY_KIND: Mapping[str, tuple[str, ...]] = {
    "steps": ("max_thrust_gf", "max_current_a", "max_power_w", "efficiency_at_max_g_per_w"),
    "ramp": ("max_thrust_gf", "max_current_a", "max_power_w", "efficiency_at_max_g_per_w"),
    "readings": ("max_thrust_gf", "max_current_a", "max_power_w"),
    "peak": ("sustained_thrust_gf", "sustained_current_a", "burst_thrust_gf"),
}


@dataclass(frozen=True, slots=True)
class KnownSupply:
    """Open-circuit voltage [V] and resistance [Ω], as well as they are known."""

    open_circuit_v: Measured
    resistance_ohm: Measured


@dataclass(frozen=True, slots=True)
class Prediction:
    """Figures of the operating point, all *estimated*; ``weakest`` is what limits them most."""

    figures: Mapping[str, Figure]
    weakest: Foundation
    words: str


def predict(
    motor: KnownMotor,
    propeller: KnownPropeller,
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    *,
    duty: float = 1.0,
    warmed: float = WARMED,
) -> Prediction:
    """The operating point at a duty.

    Figures by the names of :class:`OperatingPoint`; all absent where it would not turn.

    :param warmed: how far the winding has come towards its final warmth at this load, 0 (cold) to
        1; :func:`warmed_by` tells it of a course of throttle.
    """
    words = f"motor {motor.words}; propeller {propeller.words}"
    weakest = max(motor.basis, propeller.basis, key=list(Foundation).index)
    inputs = (
        motor.kv_rpm_per_v,
        motor.resistance_ohm,
        motor.no_load_a,
        propeller.ct,
        propeller.cp,
        supply.open_circuit_v,
        supply.resistance_ohm,
        density_kg_per_m3,
        motor.warming_ohm_per_a2,
        CASE_WARMER_K,
    )

    def point(values: list[float]) -> OperatingPoint:
        kv, ohm, idle, ct, cp, volts, series, density, warming, warmer_k = values
        at_case = ohm * (1.0 + COPPER_SHARE * COPPER_TEMPERATURE_COEFFICIENT_PER_K * warmer_k)
        return settled(
            Motor(kv, at_case, max(0.0, idle), max(0.0, motor.no_load_slope_a_per_rpm)),
            warmed * max(0.0, warming),
            replace(propeller, ct=Measured(ct), cp=Measured(cp)).model,
            volts,
            max(0.0, series),
            density,
            duty,
        )

    values = [figure.value for figure in inputs]
    try:
        middle = point(values)
        slopes = [_slope(point, values, i, figure) for i, figure in enumerate(inputs)]
    except CoreError as error:
        missing = Absent(error.code, error.message)
        return Prediction(dict.fromkeys(MODEL_U, missing), weakest, words)
    figures: dict[str, Figure] = {}
    for name, share in MODEL_U.items():
        parts: dict[str, float] = {}
        for figure, slope in zip(inputs, slopes, strict=True):
            for key, part in figure.components.items():
                parts[key] = _together(key, parts.get(key, 0.0), slope[name] * part)
        value = middle.value(name)
        parts["model"] = share * value
        figures[name] = Measured(value, parts, origin=Origin.ESTIMATED)
    return Prediction(figures, weakest, words)


def settled(
    motor: Motor,
    warming_ohm_per_a2: float,
    propeller: Callable[[float | None], Propeller],
    volts: float,
    series_ohm: float,
    density: float,
    duty: float,
) -> OperatingPoint:
    """The operating point of a motor that its own current warms, with a propeller whose
    coefficients follow its speed. The rounds halve the step, since heat and current push against
    each other."""
    found, ohm = None, motor.resistance_ohm
    for _ in range(ROUNDS):
        if found is not None:
            hot = motor.resistance_ohm + warming_ohm_per_a2 * found.motor_current_a**2
            ohm = 0.5 * (ohm + hot)
        found = solve(
            replace(motor, resistance_ohm=ohm),
            propeller(None if found is None else found.speed_rpm),
            voltage_v=volts,
            duty=duty,
            density_kg_per_m3=density,
            pack_resistance_ohm=series_ohm,
        )
    assert found is not None
    return found


def warmed_by(course: Sequence[tuple[float, float, float]], time_s: float) -> float:
    """How far a winding has come at the end of a course of throttle, 0 to 1.

    1 is the final warmth at the highest throttle of the course; the winding follows its copper
    loss with the time constant ``time_s``.

    :param course: stretches of throttle, each from [%], to [%], seconds.
    """
    top = max((max(begin, end) for begin, end, _ in course), default=0.0)
    if top <= 0:
        return 0.0
    warm = 0.0
    for begin, end, seconds in course:
        count = max(1, math.ceil(seconds / _STEP_S))
        fade = math.exp(-seconds / count / time_s)
        for i in range(count):
            throttle = begin + (end - begin) * (i + 0.5) / count
            warm = warm * fade + (1.0 - fade) * (throttle / top) ** LOAD_POWER
    return warm


def _together(key: str, known: float, part: float) -> float:
    # Without a source nobody knows that the two are one.
    return known + part if "@" in key else math.hypot(known, part)


def _slope(
    point: Callable[[list[float]], OperatingPoint],
    values: list[float],
    index: int,
    figure: Measured,
) -> dict[str, float]:
    step = 0.5 * figure.u or 1e-6 * abs(values[index]) or 1e-9
    # A wide guess must not step to where nothing turns.
    step = min(step, 0.3 * abs(values[index]) or step)
    above, below = list(values), list(values)
    above[index] += step
    below[index] -= step
    high, low = point(above), point(below)
    return {name: (high.value(name) - low.value(name)) / (2.0 * step) for name in MODEL_U}


def predict_run(
    kind: str,
    motor: KnownMotor,
    propeller: KnownPropeller | None,
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    *,
    highest_pct: float = 100.0,
    esc_linear: bool | None = None,
    course: Sequence[tuple[float, float, float]] = (),
) -> dict[str, Figure]:
    """The summary figures of a run of ``kind``, by their names.

    Empty for a kind of which nothing can be said beforehand.

    :param highest_pct: the highest throttle of the run; below full the duty is known only with an
        ESC declared linear.
    :param course: the throttle up to where those figures are read, see :func:`warmed_by`.
    """
    if kind == "no_load":
        return _no_load(motor, supply)
    names = _BY_KIND.get(kind, ())
    if propeller is None or not names:
        return {}
    full = highest_pct >= FULL_PCT
    if not full and not esc_linear:
        unknown = Absent("duty_unknown", "below full throttle needs an ESC declared linear")
        return dict.fromkeys(names, unknown)
    duty = 1.0 if full else highest_pct / 100.0
    warmed = warmed_by(course, motor.winding_time_s) if course else WARMED
    made = predict(motor, propeller, supply, density_kg_per_m3, duty=duty, warmed=warmed).figures
    figures: dict[str, Figure] = {}
    for name in names:
        source, above = _GUESSES[name]
        figure = made[source]
        if above and isinstance(figure, Measured):
            figure = figure.scaled(1.0 + above)
            figure = figure.with_component("burst", 0.5 * above * figure.value)
        figures[name] = figure
    return figures


DUTY_U_PCT = 5.0
"""How far the duty may lie from the throttle [%] where no ESC is declared linear."""


def predict_curve(
    motor: KnownMotor,
    propeller: KnownPropeller,
    supply: KnownSupply,
    density_kg_per_m3: Measured,
    throttles_pct: Sequence[float],
    *,
    esc_linear: bool | None = None,
) -> list[tuple[float, dict[str, Measured]]]:
    """The operating points over a run's throttles [%], each above 0; those that do not turn are
    left out.

    Where no ESC is declared linear the duty is assumed to be the throttle, to within 5 %.
    """
    found = []
    for throttle in sorted(set(throttles_pct)):
        duty = throttle / 100.0
        warmed = WARMED * duty**LOAD_POWER
        made = predict(motor, propeller, supply, density_kg_per_m3, duty=duty, warmed=warmed)
        figures = {k: v for k, v in made.figures.items() if isinstance(v, Measured)}
        if figures:
            found.append((throttle, figures))
    if esc_linear or len(found) < 2:
        return found
    at = np.log([throttle for throttle, _ in found])
    for name in MODEL_U:
        values = np.array([figures[name].value for _, figures in found])
        slopes = np.gradient(values, at)
        for (throttle, figures), slope in zip(found, slopes, strict=True):
            if throttle < FULL_PCT:
                off = abs(float(slope)) * DUTY_U_PCT / throttle
                figures[name] = figures[name].with_component("assumed_duty", off)
    return found


def _no_load(motor: KnownMotor, supply: KnownSupply) -> dict[str, Figure]:
    """Full throttle without a propeller: I0 at the speed that leaves V = rpm/kv + R·I0."""
    volts = supply.open_circuit_v
    kv, ohm, idle = motor.kv_rpm_per_v, motor.resistance_ohm, motor.no_load_a
    b = motor.no_load_slope_a_per_rpm
    speed = kv.value * (volts.value - ohm.value * idle.value) / (1.0 + kv.value * ohm.value * b)
    if speed <= 0:
        missing = Absent("does_not_turn", "the voltage does not overcome the no-load current")
        return {"kv_raw_rpm_per_v": missing, "no_load_current_a": missing}
    current = idle.value + b * speed
    lost = ohm.value * current / volts.value
    raw = Measured(
        kv.value * (1.0 - lost),
        {
            **{key: part * (1.0 - lost) for key, part in kv.components.items()},
            "no_load_drop": kv.value * lost * math.hypot(ohm.relative_u, idle.relative_u),
            "model": 0.003 * kv.value,
        },
        origin=Origin.ESTIMATED,
    )
    drawn = Measured(current, {**idle.components, "model": 0.05 * current}, origin=Origin.ESTIMATED)
    return {"kv_raw_rpm_per_v": raw, "no_load_current_a": drawn}
