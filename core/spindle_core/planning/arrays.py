"""Operating points of many motors, propellers and supplies at once.

The same balance as :mod:`spindle_core.model.operating_point`, written for arrays: a matrix of forty
motors by twenty-five propellers is solved in a few milliseconds. Where nothing would turn, NaN.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from spindle_core.figures.arrays import Floats
from spindle_core.figures.constants import METRE_PER_INCH, NEWTON_PER_GF

ROUNDS = 12


@dataclass(frozen=True, slots=True)
class Cells:
    """What is mounted in each cell, as arrays that broadcast to one shape.

    kV [rpm/V], R [Ω], I0 = a + b·rpm [A, A/rpm], warming [Ω/A²]; diameter [in], CT and CP at
    ``rpm_reference`` with their exponents; open-circuit voltage [V], series resistance [Ω]; air
    density [kg/m³].
    """

    kv: Floats
    ohm: Floats
    idle_a: Floats
    idle_slope: Floats
    warming: Floats
    diameter_in: Floats
    ct: Floats
    cp: Floats
    ct_exponent: Floats
    cp_exponent: Floats
    rpm_reference: Floats
    volts: Floats
    series_ohm: Floats
    density: Floats

    def changed(self, **parts: Floats) -> Cells:
        """The same cells with some of it otherwise."""
        return replace(self, **parts)


def operate(cells: Cells, duty: Floats | float = 1.0, *, warmed: float = 0.8) -> dict[str, Floats]:
    """Speed, currents, thrust, powers and the winding's own warming at a duty, by their names.

    :param warmed: how far the winding has come towards its final warmth, 0 to 1.
    """
    kt = 60.0 / (2.0 * math.pi * cells.kv)
    diameter = cells.diameter_in * METRE_PER_INCH
    duty = np.asarray(duty, dtype=float)
    hot = np.asarray(cells.ohm, dtype=float) + 0.0 * (kt + diameter + cells.volts + duty)
    rpm = cells.rpm_reference + 0.0 * hot
    current = 0.0 * hot
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        for turn in range(ROUNDS):
            if turn:
                wanted = cells.ohm + warmed * cells.warming * current**2
                hot = 0.5 * (hot + wanted)
            share = rpm / cells.rpm_reference
            cp = cells.cp * share**cells.cp_exponent
            ct = cells.ct * share**cells.ct_exponent
            quadratic = cp * cells.density * diameter**5 / (8.0 * math.pi**3)
            series = hot + duty**2 * cells.series_ohm
            linear = kt**2 / series + kt * cells.idle_slope * 30.0 / math.pi
            constant = kt * cells.idle_a - kt * duty * cells.volts / series
            constant = np.where(constant < 0, constant, np.nan)
            omega = -2.0 * constant / (linear + np.sqrt(linear**2 - 4.0 * quadratic * constant))
            rpm = omega * 30.0 / math.pi
            current = (duty * cells.volts - kt * omega) / series
        terminal = cells.volts - duty * current * cells.series_ohm
        thrust = ct * cells.density * (rpm / 60.0) ** 2 * diameter**4 / NEWTON_PER_GF
        power = terminal * duty * current
    return {
        "speed_rpm": rpm,
        "current_a": duty * current,
        "motor_current_a": current,
        "voltage_v": terminal,
        "thrust_gf": thrust,
        "power_w": power,
        "efficiency_g_per_w": thrust / power,
        "shaft_power_w": quadratic * omega**3,
        "warmed_ohm": hot - cells.ohm,
    }


def at_thrust(
    cells: Cells, thrust_gf: Floats | float, *, beyond: bool = False
) -> dict[str, Floats]:
    """Duty, current, power and gf/W at a thrust (an array of them broadcasts); NaN where full
    throttle does not give it.

    Solved from the propeller back: its speed gives torque, that the current, that the duty.

    :param beyond: what the supply would give at a duty above 1 is told too.
    """
    diameter = cells.diameter_in * METRE_PER_INCH
    kt = 60.0 / (2.0 * math.pi * cells.kv)
    reference = cells.rpm_reference / 60.0
    with np.errstate(invalid="ignore", divide="ignore"):
        at_reference = cells.ct * cells.density * reference**2 * diameter**4 / NEWTON_PER_GF
        share = (thrust_gf / at_reference) ** (1.0 / (2.0 + cells.ct_exponent))
        n = share * reference
        cp = cells.cp * share**cells.cp_exponent
        torque = cp * cells.density * n**2 * diameter**5 / (2.0 * math.pi)
        current = torque / kt + cells.idle_a + cells.idle_slope * 60.0 * n
        ohm = cells.ohm + cells.warming * current**2
        drop = 60.0 * n / cells.kv + current * ohm
        series = current * cells.series_ohm
        root = np.sqrt(cells.volts**2 - 4.0 * series * drop)
        # The smaller root, written without a difference of nearly equal numbers.
        duty = 2.0 * drop / (cells.volts + root)
        duty = np.where((duty <= 1.0) | beyond, duty, np.nan)
        power = np.where(np.isfinite(duty), drop * current, np.nan)
    return {
        "duty": duty,
        "current_a": duty * current,
        "power_w": power,
        "efficiency_g_per_w": thrust_gf / power,
    }


def most_duty(
    cells: Cells, limits: Mapping[str, Floats], *, warmed: float = 0.8, rounds: int = 18
) -> Floats:
    """The highest duty at which every limit holds, 0 to 1.

    :param limits: figure of :func:`operate` → what it may be at most; infinite where none is.
    """
    low = 0.0 * (cells.kv + cells.diameter_in + cells.volts)
    high = low + 1.0
    for _ in range(rounds):
        middle = 0.5 * (low + high)
        found = operate(cells, middle, warmed=warmed)
        fine = np.ones(middle.shape, dtype=bool)
        for name, most in limits.items():
            # What does not turn draws nothing.
            fine &= ~(found[name] > most)
        low, high = np.where(fine, middle, low), np.where(fine, high, middle)
    return low
