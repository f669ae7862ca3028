"""A run's strongest point as it would have been at nominal voltage and in reference air."""

from __future__ import annotations

from collections.abc import Mapping

from spindle_core.compare.measured_run import MeasuredRun, strongest_point
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.identification import Identification
from spindle_core.model.correction import At, corrected
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.run.duty import known_duty

CORRECTED: Mapping[str, str] = {
    "max_thrust_gf": "thrust_gf",
    "max_current_a": "current_a",
    "max_power_w": "power_w",
}
"""Summary figure → the figure of the strongest point it is."""


def at_nominal(run: MeasuredRun, models: Identification | None = None) -> dict[str, Figure]:
    """Maximum thrust, current and power at nominal voltage and 1.225 kg/m³.

    The raw figures stay in the summary. Uses the identified motor and propeller where both are
    known and the duty of the point is, else powers of voltage and density with their uncertainty.
    """
    point = strongest_point(run.reduction.points)
    nominal_v = run.trace.facts.nominal_voltage_v
    density = run.trace.facts.air_density()
    if isinstance(density, Absent):
        return dict.fromkeys(CORRECTED, density)
    volts = None if point is None else point.value("voltage_v")
    if point is None or nominal_v is None or volts is None:
        missing = Absent("voltage_unknown", "needs the voltage and the nominal voltage")
        return dict.fromkeys(CORRECTED, missing)
    duty = known_duty(
        duty=None, throttle_pct=point.value("throttle_pct"), esc_linear=run.trace.facts.esc_linear
    )
    motor, propeller = (None, None) if duty is None else _models(run, models)
    found: dict[str, Figure] = {}
    for summary_name, name in CORRECTED.items():
        figure = point.figures.get(name)
        if not isinstance(figure, Measured):
            found[summary_name] = Absent("not_logged", f"{name} was not logged")
            continue
        found[summary_name] = corrected(
            figure,
            name,
            measured_at=At(volts, density),
            wanted_at=At(nominal_v, REFERENCE_AIR_DENSITY_KG_PER_M3),
            motor=motor,
            propeller=propeller,
            duty=duty or 1.0,
        )
    return found


def _models(
    run: MeasuredRun, models: Identification | None
) -> tuple[Motor | None, Propeller | None]:
    if models is None:
        return None, None
    key = run.trace.facts.motor_key
    motor = next((fit.model() for fit in models.motors if fit.motor == key), None)
    propeller = next(
        (fit.model() for fit in models.propellers if fit.propeller == run.trace.facts.propeller),
        None,
    )
    if not isinstance(motor, Motor) or not isinstance(propeller, Propeller):
        return None, None
    return motor, propeller
