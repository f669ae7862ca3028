"""Motor and propeller constants from several runs.

``evidence`` is what one run has to say, ``blocks`` in it short stretches with known duty;
``motor`` fits kV, resistance and heat to them, ``no_load`` the motor's own current,
``propeller`` the coefficients.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from spindle_core.errors import IdentificationError
from spindle_core.figures.remark import Remark
from spindle_core.identification.blocks import Block
from spindle_core.identification.evidence import RunEvidence, evidence_of, numbered
from spindle_core.identification.motor import MotorFit, identify_motor
from spindle_core.identification.propeller import PropellerFit, identify_propeller
from spindle_core.reduction.kinds import KINDS
from spindle_core.run.trace import Trace

__all__ = ["Block", "Identification", "MotorFit", "PropellerFit", "RunEvidence", "identify"]


@dataclass(frozen=True, slots=True)
class Identification:
    """What the runs tell: constants per motor and per propeller, and remarks."""

    motors: tuple[MotorFit, ...]
    propellers: tuple[PropellerFit, ...]
    warnings: tuple[Remark, ...]


def identify(traces: Sequence[Trace]) -> Identification:
    """Constants of every motor and propeller that the runs name.

    A run that names no motor, or no sample, counts as the only one that the other runs name.

    :raises IdentificationError: no run at all, or none with voltage, current and speed at a known
        duty, nor thrust with speed.
    """
    if not traces:
        raise IdentificationError("No run was given.", code="no_runs")
    warnings: list[Remark] = []
    evidence = [evidence_of(trace) for trace in _named(traces, warnings)]
    by_motor: dict[str, list[RunEvidence]] = {}
    for run in evidence:
        by_motor.setdefault(run.facts.motor_key, []).append(run)
    motors = tuple(
        identify_motor(name, numbered(runs), warnings) for name, runs in by_motor.items()
    )
    models = {fit.motor: fit for fit in motors}
    by_propeller: dict[str, list[RunEvidence]] = {}
    for run in evidence:
        if run.kind not in KINDS or KINDS[run.kind].loads_propeller:
            by_propeller.setdefault(run.facts.propeller, []).append(run)
    propellers = tuple(
        fit
        for name, runs in by_propeller.items()
        if (fit := identify_propeller(name, runs, models, warnings)) is not None
    )
    if not propellers and not any(fit.usable for fit in motors):
        raise IdentificationError(
            "No run holds voltage, current and speed at full throttle (or a logged duty), nor "
            "thrust with speed.",
            code="nothing_to_identify",
        )
    if len(motors) > 1:
        listed = ", ".join(fit.motor or "unnamed" for fit in motors)
        warnings.append(Remark("several_motors", f"The runs name several motors: {listed}."))
    return Identification(motors, propellers, tuple(warnings))


def _named(traces: Sequence[Trace], warnings: list[Remark]) -> list[Trace]:
    """The runs with motor and sample filled in where the others leave only one choice."""
    motors = {trace.facts.motor for trace in traces if trace.facts.motor}
    only = next(iter(motors)) if len(motors) == 1 else ""
    samples: dict[str, set[str]] = {}
    for trace in traces:
        if trace.facts.sample:
            samples.setdefault(trace.facts.motor or only, set()).add(trace.facts.sample)
    named, filled = [], 0
    for trace in traces:
        motor = trace.facts.motor or only
        known = samples.get(motor, set())
        sample = trace.facts.sample or (next(iter(known)) if len(known) == 1 else "")
        if (motor, sample) != (trace.facts.motor, trace.facts.sample):
            filled += 1
            facts = replace(trace.facts, motor=motor, sample=sample)
            trace = replace(trace, facts=facts)
        named.append(trace)
    if filled:
        warnings.append(
            Remark(
                "motor_assumed",
                f"{filled} of {len(traces)} runs do not name motor and sample in full; they were "
                "taken for the one the others name.",
            )
        )
    return named
