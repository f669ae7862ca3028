"""Reduction of a run without a propeller: kV and the current the motor needs for itself."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from spindle_core.figures.measured import (
    Absent,
    Figure,
    Measured,
    Origin,
    mean_of_figures,
    propagate,
)
from spindle_core.reduction.figures import quotient
from spindle_core.reduction.result import Point, Reduction
from spindle_core.reduction.steps import plateau_points, say_all
from spindle_core.run.duty import FULL_THROTTLE_PCT
from spindle_core.run.facts import RunFacts
from spindle_core.run.trace import Trace

ASSUMED_RESISTANCE = 0.10
"""What a resistance written into a log without its u may be off (half-width, relative)."""

SAME_VOLTAGE = 0.02
"""Plateaus within 2 % of each other's voltage count as one voltage."""


def reduce(trace: Trace) -> Reduction:
    """kV raw and corrected, and I0, from the full-throttle plateaus of a ``no_load`` run.

    Raw kV is rpm ÷ V. Corrected is rpm ÷ (V − I·R) with the effective resistance that the log
    declares (``resistance_ohm``): the voltage lost in the winding does not turn the motor. At
    full throttle the duty is 1, so battery and motor current are the same.
    """
    work, plateaus, found = plateau_points(trace)
    resistance = declared_resistance(trace.facts)
    points = tuple(_with_kv(point, resistance) for point in plateaus)
    full = [point for point in points if _is_full(point)]
    if not full and found.guide != "throttle_pct":
        full = list(points)
    say_all(work, points, found)
    if resistance is not None and trace.facts.resistance_from:
        work.warn(
            "resistance_assumed",
            f"The motor's own resistance is not known: kV is corrected with "
            f"{trace.facts.resistance_from}, {resistance.value:.3f} ± {resistance.u:.3f} Ω.",
        )
    summary: dict[str, Figure]
    if not full:
        missing = Absent("no_full_throttle", "kV needs full throttle, where the duty is 1")
        summary = dict.fromkeys(("kv_raw_rpm_per_v", "kv_rpm_per_v", "no_load_current_a"), missing)
    else:
        summary = {
            name: combined([point.figures[key] for point in full])
            for name, key in (
                ("kv_raw_rpm_per_v", "kv_raw_rpm_per_v"),
                ("kv_rpm_per_v", "kv_rpm_per_v"),
                ("no_load_current_a", "current_a"),
                ("voltage_v", "voltage_v"),
                ("speed_rpm", "speed_rpm"),
            )
        }
        summary["no_load_current_a"] = _at_one_voltage(full, summary["no_load_current_a"])
        summary["no_load_slope_a_per_rpm"] = no_load_slope(full)
    return Reduction("no_load", points, summary, tuple(work.warnings), tuple(work.outliers))


def _is_full(point: Point) -> bool:
    throttle = point.value("throttle_pct")
    return throttle is not None and throttle >= FULL_THROTTLE_PCT


def declared_resistance(facts: RunFacts) -> Measured | None:
    """The effective resistance a log declares [Ω]; its u is assumed where that is not said."""
    ohm = facts.resistance_ohm
    if ohm is None:
        return None
    if facts.resistance_u_ohm is not None and facts.resistance_from:
        return Measured(
            ohm, {"assumed_resistance": facts.resistance_u_ohm}, origin=Origin.ESTIMATED
        )
    if facts.resistance_u_ohm is not None:
        return Measured(ohm, {"resistance": facts.resistance_u_ohm}, origin=Origin.DERIVED)
    return Measured(ohm, {"assumed_resistance": ASSUMED_RESISTANCE * ohm / math.sqrt(3.0)})


def _with_kv(point: Point, resistance: Measured | None) -> Point:
    figures = dict(point.figures)
    speed, voltage, current = (figures[n] for n in ("speed_rpm", "voltage_v", "current_a"))
    if not _is_full(point) and point.value("throttle_pct") is not None:
        partial = Absent("duty_unknown", "below full throttle the motor does not see the supply")
        figures["kv_raw_rpm_per_v"] = figures["kv_rpm_per_v"] = partial
    else:
        figures["kv_raw_rpm_per_v"] = quotient(speed, voltage, 1.0)
        figures["kv_rpm_per_v"] = corrected_kv(speed, voltage, current, resistance)
    return Point(figures, point.start_s, point.used_from_s, point.end_s, point.settled, point.marks)


def corrected_kv(speed: Figure, voltage: Figure, current: Figure, r: Measured | None) -> Figure:
    """kV = rpm ÷ (V − I·R) [rpm/V] at duty 1; absent without R or current."""
    for figure in (speed, voltage, current):
        if isinstance(figure, Absent):
            return figure
    if r is None:
        return Absent("no_resistance", "needs the motor's resistance (resistance_ohm)")
    assert isinstance(speed, Measured)
    assert isinstance(voltage, Measured)
    assert isinstance(current, Measured)
    back_emf = voltage.value - current.value * r.value
    if back_emf <= 0:
        return Absent("resistance_too_large", "I·R is larger than the voltage; check the ohms")
    kv = speed.value / back_emf
    return propagate(
        lambda n, v, i, ohm: n / (v - i * ohm),
        (speed, voltage, current, r),
        partials=(
            1.0 / back_emf,
            -kv / back_emf,
            kv * r.value / back_emf,
            kv * current.value / back_emf,
        ),
    )


def combined(figures: Sequence[Figure]) -> Figure:
    """Mean over plateaus of one run: scatter shrinks, what they share does not."""
    having = [figure for figure in figures if isinstance(figure, Measured)]
    if not having:
        return figures[0]
    return replace(mean_of_figures(having), n=1)


def _at_one_voltage(full: Sequence[Point], mean: Figure) -> Figure:
    """I0 grows with speed: over several voltages its mean belongs to none of them."""
    voltages = [value for point in full if (value := point.value("voltage_v")) is not None]
    if voltages and max(voltages) > (1.0 + SAME_VOLTAGE) * min(voltages):
        highest = max(full, key=lambda point: point.value("voltage_v") or 0.0)
        return highest.figures["current_a"]
    return mean


def no_load_slope(full: Sequence[Point]) -> Figure:
    """b of I0 = a + b·rpm [A per rpm] from plateaus at two or more voltages."""
    rows = [
        (speed.value, current)
        for point in full
        if isinstance(speed := point.figures["speed_rpm"], Measured)
        and isinstance(current := point.figures["current_a"], Measured)
    ]
    if len(rows) < 2 or max(r[0] for r in rows) <= (1.0 + SAME_VOLTAGE) * min(r[0] for r in rows):
        return Absent("one_voltage", "needs no-load plateaus at two voltages")
    speeds = np.array([row[0] for row in rows])
    weights = (speeds - speeds.mean()) / float(np.square(speeds - speeds.mean()).sum())
    currents = [row[1] for row in rows]
    return propagate(
        lambda *amps: float(weights @ np.array(amps)), currents, partials=weights.tolist()
    )
