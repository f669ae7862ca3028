"""A bench's motors as candidates for a craft, each with the propellers it was run with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from spindle_core.compare.curve import Curve, curve_from_points
from spindle_core.compare.measured_run import CURVE_KINDS, MeasuredRun, strongest_point
from spindle_core.figures.measured import Absent, mean_of_figures
from spindle_core.match.picks import Candidate
from spindle_core.rank.ranking import MotorFacts

VOLTAGE_TOLERANCE = 0.06
"""A run within this share of the craft's nominal voltage is one at its voltage."""

NOMINAL_CELL_V, FULL_CELL_V = 3.7, 4.2


def candidates(
    runs: Sequence[MeasuredRun], motors: Mapping[str, MotorFacts], *, cells: int
) -> tuple[list[Candidate], list[str]]:
    """One candidate per motor and propeller run at the craft's voltage, and who was left out why.

    :param motors: motor → its facts; a motor without a mass cannot be mounted.
    :param cells: in series; the voltages from nominal (3.7 V a cell) to full (4.2 V) fit.
    """
    found: dict[str, list[Candidate]] = {}
    left_out: list[str] = []
    for run in runs:
        if run.trace.kind not in CURVE_KINDS:
            continue
        name = f"{run.motor}, {run.trace.facts.propeller or 'unnamed propeller'}"
        reason = _unfit(run, motors.get(run.motor), cells)
        if reason:
            if name not in found:
                left_out.append(f"{run.name} ({name}): {reason}")
            continue
        found.setdefault(name, []).append(_candidate(name, run, motors[run.motor]))
    return [_of_repeats(runs) for runs in found.values()], left_out


def _of_repeats(runs: Sequence[Candidate]) -> Candidate:
    """Several runs of one combination as one: their mean, and the curves of who is nearest to it.

    The strongest of them would be the luckiest.
    """
    thrust = mean_of_figures([run.max_thrust_gf for run in runs])
    nearest = min(runs, key=lambda run: abs(run.max_thrust_gf.value - thrust.value))
    current = mean_of_figures([run.peak_current_a for run in runs])
    return replace(nearest, max_thrust_gf=thrust, peak_current_a=current)


def _unfit(run: MeasuredRun, facts: MotorFacts | None, cells: int) -> str:
    if facts is None or facts.mass_g is None:
        return "its mass is not known"
    top = strongest_point(run.reduction.points)
    if top is None or top.value("current_a") is None:
        return "thrust or current was not logged"
    volts = run.trace.facts.nominal_voltage_v or top.value("voltage_v")
    if volts is None:
        return "its voltage is not known"
    low = (1.0 - VOLTAGE_TOLERANCE) * NOMINAL_CELL_V * cells
    high = (1.0 + VOLTAGE_TOLERANCE) * FULL_CELL_V * cells
    if not low <= volts <= high:
        return f"run at {volts:.1f} V, which is not {cells} cells"
    return ""


def _candidate(name: str, run: MeasuredRun, facts: MotorFacts) -> Candidate:
    curves = {
        figure: line
        for figure in ("power_w", "current_a", "throttle_pct")
        if isinstance(line := curve_from_points(run.reduction.points, "thrust_gf", figure), Curve)
    }
    top = strongest_point(run.reduction.points)
    assert top is not None
    thrust, current = top.figures["thrust_gf"], top.figures["current_a"]
    assert not isinstance(thrust, Absent)
    assert not isinstance(current, Absent)
    assert facts.mass is not None
    return Candidate(name, facts.mass, thrust, current, curves)
