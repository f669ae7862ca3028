"""Runs as they would have been at nominal voltage and in reference air."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from spindle_core.compare.measured_run import MeasuredRun, strongest_point
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Figure, Measured, component, kind_of, ratio
from spindle_core.identification import Identification
from spindle_core.identification.propeller import KNOWN_AIR_RELATIVE_U
from spindle_core.model.correction import EXPONENTS, At, corrected
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.reduction.result import Point
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
    volts = None if point is None else point.figures.get("voltage_v")
    if point is None or nominal_v is None or not isinstance(volts, Measured):
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
            measured_at=_as_measured(volts, density, run.trace.run),
            wanted_at=At(nominal_v, REFERENCE_AIR_DENSITY_KG_PER_M3),
            motor=motor,
            propeller=propeller,
            duty=duty or 1.0,
        )
    return found


def _as_measured(volts: Measured, density_kg_per_m3: float, key: str) -> At:
    """Conditions with their u. The air's is the run's own: it cancels between thrust and power of
    one, and not between two days."""
    air = {component("air", key): KNOWN_AIR_RELATIVE_U * density_kg_per_m3}
    return At(volts.value, density_kg_per_m3, volts.components, air)


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


@dataclass(frozen=True, slots=True)
class AtNominal:
    """A run's points at nominal voltage and in reference air.

    ``changed_pct``: figure of the strongest point → what the correction did to it [%]. ``way``:
    ``model`` or ``powers`` of voltage and density. ``left_out``: points too far from nominal.
    """

    points: tuple[Point, ...]
    changed_pct: Mapping[str, float]
    way: str
    left_out: int


def points_at_nominal(
    points: Sequence[Point],
    *,
    key: str,
    nominal_v: float | None,
    density_kg_per_m3: float | None,
    esc_linear: bool | None = None,
    motor: Motor | None = None,
    propeller: Propeller | None = None,
) -> AtNominal | Absent:
    """Every point of a run corrected; its figures stay as they are where this is not called.

    :param key: of the run; what is not known of the correction is its own figure's, so that it
        cancels neither between motors nor between thrust and power.
    :returns: absent without the nominal voltage, the air, or any voltage that was measured.
    """
    if nominal_v is None or density_kg_per_m3 is None:
        what = "its nominal voltage" if nominal_v is None else "the air"
        return Absent("conditions_unknown", f"{what} was not noted")
    wanted = At(nominal_v, REFERENCE_AIR_DENSITY_KG_PER_M3)
    by_model = motor is not None and propeller is not None
    found: list[Point] = []
    left_out = 0
    for point in points:
        volts = point.figures.get("voltage_v")
        if not isinstance(volts, Measured) or volts.value <= 0:
            continue
        duty = known_duty(
            duty=None, throttle_pct=point.value("throttle_pct"), esc_linear=esc_linear
        )
        models = (motor, propeller) if by_model and duty is not None else (None, None)
        figures = _corrected_figures(
            point, key, _as_measured(volts, density_kg_per_m3, key), wanted, models, duty or 1.0
        )
        if figures is None:
            left_out += 1
        else:
            found.append(replace(point, figures=figures))
    if not found:
        reason = "no point within 10 % of the nominal voltage" if left_out else "no voltage logged"
        return Absent("too_far_from_nominal" if left_out else "not_logged", reason)
    return AtNominal(
        tuple(found), _changes(points, found), "model" if by_model else "powers", left_out
    )


def _corrected_figures(
    point: Point,
    key: str,
    measured_at: At,
    wanted_at: At,
    models: tuple[Motor | None, Propeller | None],
    duty: float,
) -> dict[str, Figure] | None:
    """None where the point lies too far from the nominal voltage."""
    figures: dict[str, Figure] = {
        "throttle_pct": point.figures.get("throttle_pct", Absent("not_logged", "")),
        "voltage_v": Measured(wanted_at.voltage_v),
    }
    for name in EXPONENTS:
        figure = point.figures.get(name)
        if not isinstance(figure, Measured):
            continue
        changed = corrected(
            figure,
            name,
            measured_at=measured_at,
            wanted_at=wanted_at,
            motor=models[0],
            propeller=models[1],
            duty=duty,
        )
        if isinstance(changed, Absent):
            return None
        figures[name] = _own(changed, f"{key}/{name}")
    thrust, watts = figures.get("thrust_gf"), figures.get("power_w")
    if isinstance(thrust, Measured) and isinstance(watts, Measured):
        figures["efficiency_g_per_w"] = ratio(thrust, watts)
    return figures


OWN_KINDS = ("voltage_exponent", "density_exponent", "model")


def _own(figure: Measured, key: str) -> Measured:
    parts = {
        component(kind_of(name), key) if kind_of(name) in OWN_KINDS else name: part
        for name, part in figure.components.items()
    }
    return replace(figure, components=parts)


def _changes(before: Sequence[Point], after: Sequence[Point]) -> dict[str, float]:
    top = strongest_point(after)
    if top is None:
        return {}
    was = next(
        p
        for p in before
        if (p.start_s, p.end_s, p.value("throttle_pct"))
        == (top.start_s, top.end_s, top.value("throttle_pct"))
    )
    found = {}
    for name in EXPONENTS:
        new, old = top.value(name), was.value(name)
        if new is not None and old:
            found[name] = 100.0 * (new / old - 1.0)
    return found
