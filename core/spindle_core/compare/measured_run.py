"""The runs of a bench, and which of them are like one another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.like_with_like import Conditions, voltage_under_load_v
from spindle_core.figures.measured import Absent
from spindle_core.reduction import reduce_trace
from spindle_core.reduction.result import Point, Reduction
from spindle_core.run.trace import Trace

UNNAMED_STAND = "unnamed stand"

CURVE_KINDS = ("steps", "ramp", "readings")
"""Kinds of run whose points make a curve over thrust."""


@dataclass(frozen=True, slots=True)
class MeasuredRun:
    """A run with its figures, under the name of its file."""

    name: str
    trace: Trace
    reduction: Reduction

    @classmethod
    def reduced(cls, name: str, trace: Trace) -> MeasuredRun:
        """A run of a bench, reduced.

        Logs that name no stand are taken for one stand's, whose calibration is then shared: a
        mean of its runs does not shrink it, and it cancels between them. That the stand is not
        said stands among the factors of every comparison.
        """
        if not trace.stand.name:
            trace = replace(trace, stand=replace(trace.stand, name=UNNAMED_STAND))
        return cls(name, trace, reduce_trace(trace))

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
            start_rise_k=self.reduction.start_rise_k,
            air_density_kg_per_m3=None if isinstance(density, Absent) else density,
            lead_length_mm=facts.lead_length_mm,
            esc=facts.esc or None,
            esc_settings=facts.esc_settings or None,
            voltage_under_load_v=voltage_under_load_v(self.reduction.points),
        )


def like_runs(runs: Sequence[MeasuredRun]) -> dict[tuple[str, str, str, str], list[MeasuredRun]]:
    """Runs by what they repeat, in the order of their first."""
    found: dict[tuple[str, str, str, str], list[MeasuredRun]] = {}
    for run in runs:
        found.setdefault(run.like, []).append(run)
    return found


def points_of(run: MeasuredRun) -> Sequence[Point]:
    """What was averaged of a run."""
    return run.reduction.points


def strongest_point(points: Sequence[Point]) -> Point | None:
    """The point of most thrust; None where no point has a thrust."""
    with_thrust = [point for point in points if point.value("thrust_gf") is not None]
    return max(with_thrust, key=lambda point: point.value("thrust_gf") or 0.0, default=None)
