"""The runs of a bench, and which of them are like one another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from spindle_core.like_with_like import Conditions
from spindle_core.measured import Absent, Measured
from spindle_core.reduction.result import Point, Reduction
from spindle_core.trace import Trace

CURVE_KINDS = ("steps", "ramp", "readings")
"""Kinds of run whose points make a curve over thrust."""


@dataclass(frozen=True, slots=True)
class CohortRun:
    """A run with its figures, under the name of its file."""

    name: str
    trace: Trace
    reduction: Reduction

    @property
    def motor(self) -> str:
        """The motor's name; runs that name none are one motor's."""
        return self.trace.facts.motor or "unnamed"

    @property
    def like(self) -> tuple[str, str, str, str]:
        """Kind, motor with sample, propeller and voltage; equal for runs that repeat each other."""
        facts = self.trace.facts
        return (self.trace.kind, facts.motor_key or "unnamed", facts.propeller, self.voltage)

    @property
    def voltage(self) -> str:
        """Nominal voltage in words; '' where it was not said."""
        volts = self.trace.facts.nominal_voltage_v
        return "" if volts is None else f"{volts:.1f} V"

    @property
    def tared(self) -> bool:
        """Whether the run's thrust counts from a measured zero."""
        return not any(item.code == "tare_missing" for item in self.reduction.warnings)

    def conditions(self) -> Conditions:
        """What a fair comparison depends on, as far as the log says it."""
        facts = self.trace.facts
        density = facts.air_density()
        return Conditions(
            motor=self.motor,
            sample=facts.sample,
            propeller=facts.propeller,
            supply_kind={"psu": "bench supply", "pack": "pack"}.get(facts.supply),
            nominal_voltage_v=facts.nominal_voltage_v,
            stand=facts.stand or None,
            start_rise_k=self._start_rise_k(),
            air_density_kg_per_m3=None if isinstance(density, Absent) else density,
            lead_length_mm=facts.lead_length_mm,
            esc=facts.esc or None,
            esc_settings=facts.esc_settings or None,
        )

    def _start_rise_k(self) -> float | None:
        if not (self.trace.has("motor_temp_c") and self.trace.has("ambient_temp_c")):
            return None
        first = self.trace.time_s <= self.trace.time_s[0] + 1.0
        rise = self.trace.get("motor_temp_c")[first] - self.trace.get("ambient_temp_c")[first]
        rise = rise[np.isfinite(rise)]
        return float(np.median(rise)) if rise.size else None


def like_runs(runs: Sequence[CohortRun]) -> dict[tuple[str, str, str, str], list[CohortRun]]:
    """Runs by what they repeat, in the order of their first."""
    found: dict[tuple[str, str, str, str], list[CohortRun]] = {}
    for run in runs:
        found.setdefault(run.like, []).append(run)
    return found


def strongest_point(points: Sequence[Point]) -> Point | None:
    """The point of most thrust; None where no point has a thrust."""
    with_thrust = [point for point in points if point.value("thrust_gf") is not None]
    return max(with_thrust, key=lambda point: point.value("thrust_gf") or 0.0, default=None)


def mean_of_runs(figures: Sequence[Measured]) -> Measured:
    """Mean of a figure over runs: each part of its uncertainty averaged under its own name.

    Parts that only one run carries shrink with their number; those that all share do not.
    """
    count = len(figures)
    parts: dict[str, float] = {}
    for figure in figures:
        for name, part in figure.components.items():
            parts[name] = parts.get(name, 0.0) + part / count
    value = sum(figure.value for figure in figures) / count
    return Measured(value, parts, n=count, origin=figures[0].origin)
