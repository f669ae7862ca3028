"""A stored run at nominal voltage and in reference air, by what is identified by now."""

from __future__ import annotations

from spindle_core.compare.bench_table import RanRun
from spindle_core.compare.nominal import AtNominal, points_at_nominal
from spindle_core.figures.measured import Absent
from spindle_core.planning.known import Foundation
from spindle_server.identification.knowing import propeller_known, sample_known
from spindle_server.runs.as_core import air_density, run_facts
from spindle_server.runs.models import Run


def at_nominal(run: Run, ran: RanRun) -> AtNominal | Absent:
    """The run's points corrected; by the model where motor and propeller are both identified."""
    facts, _ = run_facts(run)
    motor = sample_known(run.sample)
    propeller = propeller_known(run.propeller) if run.propeller else Absent("no_propeller", "")
    both = (
        not isinstance(motor, Absent)
        and not isinstance(propeller, Absent)
        and motor.basis is Foundation.IDENTIFIED
        and propeller.basis is Foundation.IDENTIFIED
    )
    return points_at_nominal(
        ran.core.points,
        key=ran.core.key,
        nominal_v=run.nominal_voltage_v,
        density_kg_per_m3=air_density(run),
        esc_linear=facts.esc_linear,
        motor=motor.model if both and not isinstance(motor, Absent) else None,
        propeller=propeller.model() if both and not isinstance(propeller, Absent) else None,
    )
