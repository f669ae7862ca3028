"""Reduction of a run without a propeller: kV and the current the motor needs for itself."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from spindle_core.measured import Absent, Measured, propagate
from spindle_core.reduction.bursts import FULL_THROTTLE_PCT
from spindle_core.reduction.figures import own_scatter, quotient
from spindle_core.reduction.result import Figure, Point, Reduction
from spindle_core.reduction.steps import plateau_points, say_all
from spindle_core.trace import Trace

SAME_VOLTAGE = 0.02
"""Plateaus within 2 % of each other's voltage count as one voltage."""


def reduce(trace: Trace) -> Reduction:
    """kV raw and corrected, and I0, from the full-throttle plateaus of a ``no_load`` run.

    Raw kV is rpm ÷ V. Corrected is rpm ÷ (V − I·R) with the effective resistance that the log
    declares (``resistance_ohm``): the voltage lost in the winding does not turn the motor. At
    full throttle the duty is 1, so battery and motor current are the same.
    """
    work, plateaus, found = plateau_points(trace)
    points = tuple(_with_kv(point, trace.facts.resistance_ohm) for point in plateaus)
    full = [point for point in points if _is_full(point)]
    if not full and found.guide != "throttle_pct":
        full = list(points)
    say_all(work, points, found)
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


def _with_kv(point: Point, resistance_ohm: float | None) -> Point:
    figures = dict(point.figures)
    speed, voltage, current = (figures[n] for n in ("speed_rpm", "voltage_v", "current_a"))
    if not _is_full(point) and point.value("throttle_pct") is not None:
        partial = Absent("duty_unknown", "below full throttle the motor does not see the supply")
        figures["kv_raw_rpm_per_v"] = figures["kv_rpm_per_v"] = partial
    else:
        figures["kv_raw_rpm_per_v"] = quotient(speed, voltage, 1.0)
        figures["kv_rpm_per_v"] = corrected_kv(speed, voltage, current, resistance_ohm)
    return Point(figures, point.start_s, point.used_from_s, point.end_s, point.settled, point.marks)


def corrected_kv(
    speed: Figure, voltage: Figure, current: Figure, resistance_ohm: float | None
) -> Figure:
    """kV = rpm ÷ (V − I·R) [rpm/V] at duty 1; absent without R or current."""
    for figure in (speed, voltage, current):
        if isinstance(figure, Absent):
            return figure
    if resistance_ohm is None:
        return Absent("no_resistance", "needs the motor's resistance (resistance_ohm)")
    assert isinstance(speed, Measured)
    assert isinstance(voltage, Measured)
    assert isinstance(current, Measured)
    r = resistance_ohm
    back_emf = voltage.value - current.value * r
    if back_emf <= 0:
        return Absent("resistance_too_large", "I·R is larger than the voltage; check the ohms")
    kv = speed.value / back_emf
    return propagate(
        lambda n, v, i: n / (v - i * r),
        (
            own_scatter(speed, "speed"),
            own_scatter(voltage, "voltage"),
            own_scatter(current, "current"),
        ),
        partials=(1.0 / back_emf, -kv / back_emf, kv * r / back_emf),
    )


def combined(figures: Sequence[Figure]) -> Figure:
    """Mean over plateaus of one run: scatter shrinks, what they share does not."""
    having = [figure for figure in figures if isinstance(figure, Measured)]
    if not having:
        return figures[0]
    shared = ("calibration_", "resolution_", "tare")
    count = len(having)
    parts: dict[str, float] = {}
    for key in {key for figure in having for key in figure.components}:
        column = [figure.components.get(key, 0.0) for figure in having]
        parts[key] = (
            math.fsum(column) / count if key.startswith(shared) else math.hypot(*column) / count
        )
    return Measured(
        math.fsum(figure.value for figure in having) / count, parts, origin=having[0].origin
    )


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
        (speed.value, current.value, current.component("within_run"))
        for point in full
        if isinstance(speed := point.figures["speed_rpm"], Measured)
        and isinstance(current := point.figures["current_a"], Measured)
    ]
    if len(rows) < 2 or max(r[0] for r in rows) <= (1.0 + SAME_VOLTAGE) * min(r[0] for r in rows):
        return Absent("one_voltage", "needs no-load plateaus at two voltages")
    speed, current, u = np.array(rows).T
    weights = (speed - speed.mean()) / float(np.square(speed - speed.mean()).sum())
    return Measured(float(weights @ current), {"within_run": float(np.linalg.norm(weights * u))})
