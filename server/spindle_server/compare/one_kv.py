"""Identified motors at one kV: a difference split into winding and design."""

from __future__ import annotations

import statistics
from dataclasses import dataclass
from typing import Any

from django.db.models import Count

from spindle_core.compare.delta import Outcome, compare
from spindle_core.errors import CoreError
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.planning.at_one_kv import FIGURES, AtOneKv, at_one_kv, copper_figure
from spindle_core.planning.known import Foundation, KnownMotor
from spindle_core.planning.model_motor import model_motor
from spindle_core.planning.predict import KnownSupply
from spindle_server.errors import ServiceError
from spindle_server.identification.knowing import experience, propeller_known, samples_known
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import Run
from spindle_server.runs.stated import figure_json, named

MOST_MOTORS = 40


@dataclass(frozen=True, slots=True)
class AskedKv:
    """None: the middle of the motors' kV; the propeller and voltage of most runs; the first."""

    kv_rpm_per_v: float | None = None
    propeller: int | None = None
    voltage_v: float | None = None
    reference: int | None = None
    figure: str = "thrust_gf"


def at_one(asked: AskedKv) -> dict[str, Any]:
    """Every identified motor as it is and rewound, on one propeller at full throttle."""
    motors = _identified()
    propeller = _propeller(asked.propeller)
    found: dict[str, Any] = {
        "kv_rpm_per_v": asked.kv_rpm_per_v,
        "propeller": propeller.pk if propeller else None,
        "propeller_name": propeller.full_name if propeller else "",
        "voltage_v": asked.voltage_v,
        "figure": asked.figure,
        "figures": list(FIGURES),
        "reference": None,
        "rows": [],
        "reason": "",
    }
    if len(motors) < 2:
        return {**found, "reason": "fewer than two motors are identified"}
    if propeller is None:
        return {**found, "reason": "no propeller was run"}
    load = propeller_known(propeller)
    if isinstance(load, Absent):
        return {**found, "reason": load.note}
    known = {str(pk): one for pk, (_, one) in motors.items()}
    kv = asked.kv_rpm_per_v or round(
        statistics.median(one.kv_rpm_per_v.value for one in known.values()), -1
    )
    volts = asked.voltage_v or _voltage(propeller)
    reference = asked.reference if asked.reference in motors else next(iter(motors))
    try:
        split = at_one_kv(
            known,
            str(reference),
            kv,
            load,
            KnownSupply(Measured(volts), Measured(0.0)),
            Measured(REFERENCE_AIR_DENSITY_KG_PER_M3),
            figure=asked.figure,
        )
    except CoreError as error:
        raise ServiceError(error.message, code=error.code) from error
    names = {pk: model.full_name for pk, (model, _) in motors.items()}
    return {
        **found,
        "kv_rpm_per_v": kv,
        "voltage_v": volts,
        "reference": reference,
        "rows": [
            _row(pk, names[pk], motors[pk][1], split[str(pk)])
            for pk in sorted(motors, key=lambda one: names[one])
        ],
    }


def _row(pk: int, name: str, known: KnownMotor, split: AtOneKv) -> dict[str, Any]:
    return {
        "motor": pk,
        "motor_name": name,
        "rests_on": known.words,
        "kv_rpm_per_v": figure_json(known.kv_rpm_per_v),
        "resistance_ohm": figure_json(known.resistance_ohm),
        "km_nm_per_sqrt_w": figure_json(copper_figure(known)),
        "as_it_is": named(dict(split.as_it_is)),
        "rewound": named(dict(split.rewound)),
        "total_pct": figure_json(split.total_pct),
        "design_pct": figure_json(split.design_pct),
        "winding_pct": figure_json(split.winding_pct),
        "said": _said(split),
    }


def _said(split: AtOneKv) -> str:
    """What the split amounts to, no finer than it is."""
    parts = {"design": split.design_pct, "winding": split.winding_pct}
    told = {name: _outcome(figure) for name, figure in parts.items()}
    if None in told.values():
        return ""
    real = [name for name, outcome in told.items() if outcome is Outcome.DIFFERENT]
    if not real:
        return "neither design nor winding makes a difference that is told apart"
    if len(real) == 2:
        return "both design and winding"
    return f"{real[0]} alone, as far as it is told"


def _outcome(figure: Figure) -> Outcome | None:
    if isinstance(figure, Absent):
        return None
    hundred = Measured(100.0)
    shifted = Measured(100.0 + figure.value, figure.components)
    return compare(shifted, hundred).outcome


def _identified() -> dict[int, tuple[MotorModel, KnownMotor]]:
    """Each model by all of its samples that are identified."""
    fitted = Sample.objects.filter(identified__kv_rpm_per_v__isnull=False)
    waiting: dict[int, list[int]] = {}
    for motor, pk in fitted.order_by("motor", "mark").values_list("motor", "pk"):
        waiting.setdefault(motor, []).append(pk)
    found: dict[int, tuple[MotorModel, KnownMotor]] = {}
    learnt = experience()
    while waiting and len(found) < MOST_MOTORS:
        motors = list(waiting)[: MOST_MOTORS - len(found)]
        asked = [pk for motor in motors for pk in waiting.pop(motor)]
        samples = list(Sample.objects.filter(pk__in=asked).select_related("motor__maker"))
        known = samples_known(samples, learnt)
        for motor in motors:
            own = [one for one in samples if one.motor_id == motor]
            told = [
                one
                for sample in own
                if isinstance(one := known[sample.pk], KnownMotor)
                and one.basis is Foundation.IDENTIFIED
            ]
            if told:
                found[motor] = (own[0].motor, model_motor(f"motor {motor}", told))
    return dict(sorted(found.items()))


def _propeller(asked: int | None) -> Propeller | None:
    rows = Propeller.objects.select_related("maker").annotate(made=Count("runs"))
    if asked is not None:
        return rows.filter(pk=asked).first()
    return rows.filter(made__gt=0).order_by("-made", "pk").first()


def _voltage(propeller: Propeller) -> float:
    """The nominal voltage of most runs on it, 16 V where none says one [V]."""
    rows = (
        Run.objects.filter(propeller=propeller, nominal_voltage_v__isnull=False)
        .order_by()
        .values_list("nominal_voltage_v")
        .annotate(made=Count("pk"))
        .order_by("-made", "nominal_voltage_v")
    )
    first = rows.first()
    return float(first[0]) if first and first[0] else 16.0
