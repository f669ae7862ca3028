"""What is known of a motor and a propeller, and how good predictions were, for the screens."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.formats.identification_json import motor_fit_from_json, propeller_fit_from_json
from spindle_core.formats.result_json import points_from_json
from spindle_core.identification.heat import heat_figures
from spindle_core.identification.motor import MotorFit
from spindle_core.identification.propeller import PropellerFit
from spindle_core.model.propeller import load_index_m5, merit_of
from spindle_core.planning.hindsight import Miss, honesty, look_back
from spindle_core.planning.known import model_figures
from spindle_core.planning.mix_up import mixed_up
from spindle_core.planning.prior import propeller_prior
from spindle_server.identification.knowing import prior_of
from spindle_server.identification.models import Identified
from spindle_server.identification.soaks import soaks_of
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.as_core import figure_of
from spindle_server.runs.models import PredictedFigure, Run, SummaryFigure
from spindle_server.runs.stated import figure_json, named

MOST_MISSES = 2_000


def motor_figures(fit: MotorFit) -> dict[str, Figure]:
    """A sample's constants by name, in the order in which they are read."""
    return {
        "kv_rpm_per_v": fit.kv_rpm_per_v,
        "resistance_ohm": fit.resistance_ohm,
        "no_load_current_a": fit.no_load.current_a,
        "no_load_slope_a_per_rpm": fit.no_load.slope_a_per_rpm,
        "kt_nm_per_a": fit.kt_nm_per_a,
    }


def identified_motor(motor: MotorModel) -> dict[str, Any]:
    """Every sample's fit, the model's, and what was expected before any run."""
    rows = {
        row.sample_id: row
        for row in Identified.objects.filter(sample__motor=motor).select_related("sample")
    }
    fits = {
        row.sample.mark: motor_fit_from_json(row.fit)
        for row in rows.values()
        if row.fit is not None and row.sample is not None
    }
    prior = prior_of(motor)
    soaks = soaks_of(motor)
    return {
        "samples": [
            {
                **_sample(sample, rows.get(sample.pk), fits.get(sample.mark)),
                "heat": named(heat_figures(list(soaks.get(sample.pk, {}).values()))),
                "soaks": list(soaks.get(sample.pk, {})),
            }
            for sample in motor.samples.all()
        ],
        "model": named(model_figures(fits)),
        "prior": {
            "words": prior.words,
            "figures": named(
                {
                    "kv_rpm_per_v": prior.kv_rpm_per_v,
                    "resistance_ohm": prior.resistance_ohm,
                    "no_load_current_a": prior.no_load_current_a,
                }
            ),
        },
        "mix_up": _mix_up(motor, fits),
        "torque_curve": _torque_curve(motor),
    }


def _sample(sample: Sample, row: Identified | None, fit: MotorFit | None) -> dict[str, Any]:
    why = row.why_not if row is not None else "No run of this sample is accepted."
    return {
        "sample": sample.pk,
        "mark": sample.mark,
        "figures": named(motor_figures(fit)) if fit is not None else [],
        "resistance_at_c": fit.resistance_at_c if fit is not None else None,
        "no_load_speed_rpm": fit.no_load.speed_rpm if fit is not None else None,
        "runs": row.runs if row is not None else [],
        "why_not": why,
        "stale": row is not None and row.stale,
        "remarks": row.remarks if row is not None else [],
    }


def _mix_up(motor: MotorModel, fits: dict[str, MotorFit]) -> list[str]:
    """Samples whose kV is nearer to another wind's label, as questions."""
    others = MotorModel.objects.filter(maker_id=motor.maker_id, name=motor.name).exclude(
        pk=motor.pk
    )
    labels = {
        other.full_name: other.kv_label_rpm_per_v
        for other in others.select_related("maker")
        if other.kv_label_rpm_per_v
    }
    asked = []
    for mark, fit in fits.items():
        kv = fit.kv_rpm_per_v
        if isinstance(kv, Absent):
            continue
        other = mixed_up(kv, motor.kv_label_rpm_per_v, labels)
        if other is not None:
            asked.append(
                f"Sample {mark} measures {kv.value:,.0f} rpm/V: nearer to the label of {other} "
                "than to its own. Were samples or labels mixed up?"
            )
    return asked


def _torque_curve(motor: MotorModel) -> dict[str, Any] | None:
    """Torque over speed of the newest accepted flywheel run; None without one."""
    run = (
        Run.objects.filter(
            sample__motor=motor, kind="flywheel", review="accepted", reduction__error=""
        )
        .select_related("reduction", "sample")
        .order_by("-started_at", "-pk")
        .first()
    )
    if run is None:
        return None
    rows = [
        (speed, figure)
        for point in points_from_json(run.reduction.result or {"points": []})
        if (speed := point.value("speed_rpm")) is not None
        and isinstance(figure := point.figures.get("torque_nm"), Measured)
    ]
    return {
        "run": run.pk,
        "mark": run.sample.mark,
        "speed_rpm": [speed for speed, _ in rows],
        "torque_nm": [figure.value for _, figure in rows],
        "u_nm": [figure.u for _, figure in rows],
    }


def identified_propeller(propeller: Propeller) -> dict[str, Any]:
    """A propeller's coefficients, beside what geometry alone suggests."""
    row = Identified.objects.filter(propeller=propeller).first()
    fit: PropellerFit | None = (
        propeller_fit_from_json(row.fit) if row is not None and row.fit else None
    )
    ct, cp = propeller_prior(propeller.diameter_in, propeller.pitch_in, propeller.blades)
    figures: dict[str, Figure] = {}
    if fit is not None:
        figures = {
            "ct": fit.ct,
            "cp": fit.cp,
            "ct_exponent": fit.ct_exponent,
            "cp_exponent": fit.cp_exponent,
        }
    return {
        "figures": named(figures),
        "prior": named({"ct": ct, "cp": cp}),
        "rpm_reference": fit.rpm_reference if fit is not None else None,
        "runs": row.runs if row is not None else [],
        "why_not": row.why_not if row is not None else "No run of this propeller is accepted.",
        "stale": row is not None and row.stale,
        "remarks": row.remarks if row is not None else [],
    }


def every_propeller() -> list[dict[str, Any]]:
    """CT and CP of every propeller that its runs tell, for the list of propellers."""
    found = []
    rows = Identified.objects.filter(propeller__isnull=False, fit__isnull=False)
    for row in rows.select_related("propeller"):
        assert row.propeller is not None
        fit = propeller_fit_from_json(row.fit or {})
        found.append(
            {
                "propeller": row.propeller_id,
                "ct": figure_json(fit.ct),
                "cp": figure_json(fit.cp),
                "merit": figure_json(_merit(fit)),
                "load_1e6_m5": figure_json(_load(fit, row.propeller.diameter_in)),
                "runs": len(row.runs),
            }
        )
    return found


def _merit(fit: PropellerFit) -> Figure:
    for one in (fit.ct, fit.cp):
        if isinstance(one, Absent):
            return one
    assert isinstance(fit.ct, Measured)
    assert isinstance(fit.cp, Measured)
    return merit_of(fit.ct, fit.cp)


def _load(fit: PropellerFit, diameter_in: float) -> Figure:
    """CP·D⁵ in millionths of m⁵."""
    if isinstance(fit.cp, Absent):
        return fit.cp
    return load_index_m5(fit.cp, diameter_in).scaled(1e6)


def _before(row: PredictedFigure) -> Measured:
    return Measured(row.value, row.components)


def run_misses(run: Run) -> dict[str, Any]:
    """What was expected of a run against what it gave."""
    rows = list(run.predicted.all())
    measured = {row.name: figure_of(row) for row in run.figures.all()}
    misses = {m.name: m for m in look_back({row.name: _before(row) for row in rows}, measured)}
    return {
        "rests_on": rows[0].rests_on if rows else "",
        "figures": [
            {
                "name": row.name,
                "predicted": figure_json(_before(row)),
                "measured": figure_json(
                    measured.get(row.name, Absent("not_measured", "the run does not tell"))
                ),
                "off_pct": misses[row.name].off_pct if row.name in misses else None,
                "z": misses[row.name].z if row.name in misses else None,
            }
            for row in rows
        ],
    }


def hindsight() -> dict[str, Any]:
    """Over all runs that had a prediction and were accepted: was the stated u right?"""
    rows = list(
        PredictedFigure.objects.filter(run__review="accepted", run__end__outcome="completed")
        .select_related("run__sample__motor__maker", "run__propeller__maker")
        .order_by("-run__started_at", "-pk")[:MOST_MISSES]
    )
    measured: dict[tuple[int, str], Figure] = {
        (row.run_id, row.name): figure_of(row)
        for row in SummaryFigure.objects.filter(
            run__in={row.run_id for row in rows}, name__in={row.name for row in rows}
        )
    }
    by_name: dict[str, list[tuple[PredictedFigure, Miss]]] = {}
    for row in rows:
        after = measured.get((row.run_id, row.name))
        if after is None:
            continue
        for miss in look_back({row.name: _before(row)}, {row.name: after}):
            by_name.setdefault(row.name, []).append((row, miss))
    return {"figures": [_honesty(name, found) for name, found in by_name.items()]}


def _honesty(name: str, found: Sequence[tuple[PredictedFigure, Miss]]) -> dict[str, Any]:
    judged = honesty([miss for _, miss in found])
    return {
        "name": name,
        "count": judged.count,
        "scale": judged.scale,
        "low": judged.low,
        "high": judged.high,
        "within_1u": judged.within_1u,
        "within_2u": judged.within_2u,
        "bias_pct": judged.bias_pct,
        "verdict": str(judged.verdict),
        "misses": [
            {
                "run": row.run_id,
                "motor": f"{row.run.sample.motor.full_name} {row.run.sample.mark}",
                "propeller": row.run.propeller_name,
                "predicted": row.value,
                "u": row.u,
                "measured": miss.measured.value,
                "off_pct": miss.off_pct,
                "z": miss.z,
            }
            for row, miss in found
        ],
    }
