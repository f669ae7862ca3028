"""Torque over speed of a motor with its propellers' loads, by what is identified."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.shortcuts import get_object_or_404

from spindle_core.errors import CoreError
from spindle_core.figures.constants import REFERENCE_AIR_DENSITY_KG_PER_M3
from spindle_core.figures.measured import Absent, Measured
from spindle_core.formats.result_json import points_from_json
from spindle_core.planning.known import Foundation, KnownPropeller
from spindle_core.planning.torque_lines import TorqueLine, torque_chart
from spindle_server.errors import ServiceError
from spindle_server.identification.knowing import propellers_known, sample_known
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.rig.models import Propeller
from spindle_server.runs.models import Run
from spindle_server.runs.stated import named

MOST_PROPELLERS = 6
MOST_VOLTAGES = 4
MOST_MEASURED = 12
SHOWN = ("speed_rpm", "torque_nm", "thrust_gf", "current_a", "power_w", "efficiency_g_per_w")


MOST_MEASURED = 16
"""Runs whose torque stands on the chart, the newest: more are one cloud."""


@dataclass(frozen=True, slots=True)
class AskedTorque:
    """Which motor; propellers and voltages [V] empty: those it was run with."""

    motor: int
    propellers: tuple[int, ...] = ()
    voltages: tuple[float, ...] = ()


def torque_of(asked: AskedTorque) -> dict[str, Any]:
    """Lines of the motor, of each propeller, where they meet, and what was measured.

    :raises ServiceError: too many propellers or voltages, or a voltage that is none.
    """
    motor = get_object_or_404(MotorModel.objects.select_related("maker"), pk=asked.motor)
    runs = list(
        Run.objects.filter(sample__motor=motor, reduction__error="")
        .exclude(review="rejected")
        .order_by("-started_at", "-pk")
        .values_list("propeller", "nominal_voltage_v")
    )
    volts = _voltages(asked.voltages, [v for _, v in runs if v])
    wanted = list(asked.propellers) or list(dict.fromkeys(p for p, _ in runs if p))
    if len(wanted) > MOST_PROPELLERS and asked.propellers:
        message = f"{MOST_PROPELLERS} propellers at most."
        raise ServiceError(message, code="too_many", fields={"propellers": [message]})
    by_pk = {row.pk: row for row in Propeller.objects.select_related("maker").filter(pk__in=wanted)}
    chosen = [by_pk[pk] for pk in wanted[:MOST_PROPELLERS] if pk in by_pk]
    found: dict[str, Any] = {
        "motor": motor.pk,
        "motor_name": motor.full_name,
        "voltages": volts,
        "propellers": [{"propeller": one.pk, "name": one.full_name} for one in chosen],
        "rests_on": "",
        "estimated": False,
        "motor_lines": [],
        "load_lines": [],
        "meetings": [],
        "measured": _measured(motor),
        "reason": "",
    }
    sample = _best_sample(motor)
    if sample is None:
        return {**found, "reason": "it has no sample"}
    known = sample_known(sample)
    if isinstance(known, Absent):
        return {**found, "reason": known.note or known.reason}
    if not volts:
        return {**found, "reason": "it was never run; choose voltages"}
    loads = propellers_known(chosen)
    propellers: dict[str, KnownPropeller] = {}
    for one in chosen:
        load = loads[one.pk]
        if not isinstance(load, Absent):
            propellers[one.full_name] = load
    density = Measured(REFERENCE_AIR_DENSITY_KG_PER_M3)
    try:
        chart = torque_chart(known, propellers, volts, density)
    except CoreError as error:
        raise ServiceError(
            error.message, code=error.code, fields={"voltages": [error.message]}
        ) from error
    numbers = {one.full_name: one.pk for one in chosen}
    return {
        **found,
        "rests_on": f"sample {sample.mark}: {known.words}",
        "estimated": known.basis is not Foundation.IDENTIFIED,
        "motor_lines": [
            {"name": f"{at:g} V", "voltage_v": at, **_line(line)}
            for at, line in chart.motor.items()
        ],
        "load_lines": [
            {
                "name": name,
                "propeller": numbers[name],
                "estimated": propellers[name].basis is not Foundation.IDENTIFIED,
                **_line(line),
            }
            for name, line in chart.propellers.items()
        ],
        "meetings": [
            {
                "propeller": numbers[one.propeller],
                "propeller_name": one.propeller,
                "voltage_v": one.voltage_v,
                "figures": named({name: one.figures[name] for name in SHOWN}),
            }
            for one in chart.meetings
        ],
    }


def _voltages(asked: Sequence[float], ran: Sequence[float]) -> list[float]:
    if len(asked) > MOST_VOLTAGES:
        message = f"{MOST_VOLTAGES} voltages at most."
        raise ServiceError(message, code="too_many", fields={"voltages": [message]})
    return sorted(asked) or sorted(set(ran))[:MOST_VOLTAGES]


def _best_sample(motor: MotorModel) -> Sample | None:
    """The sample with a fit, the one of most runs; else the first."""
    rows = list(motor.samples.select_related("motor__maker", "identified"))

    def rank(sample: Sample) -> tuple[bool, int]:
        row = getattr(sample, "identified", None)
        return (row is not None and row.fit is not None, len(row.runs) if row else 0)

    return max(rows, key=rank, default=None)


def _line(line: TorqueLine) -> dict[str, Any]:
    return {"speed_rpm": line.speed_rpm.tolist(), "torque_nm": line.torque_nm.tolist()}


def _measured(motor: MotorModel) -> list[dict[str, Any]]:
    """Torque that runs with a propeller logged, newest runs first.

    A flywheel run is made at a duty of its own: its points lie on no line of full throttle.
    """
    rows = (
        Run.objects.filter(sample__motor=motor, reduction__error="")
        .exclude(review="rejected")
        .exclude(kind="flywheel")
        .select_related("reduction", "sample", "propeller__maker")
        .order_by("-started_at", "-pk")
    )
    found = []
    for run in rows[:MOST_MEASURED]:
        points = [
            [speed, figure.value, figure.scatter]
            for point in points_from_json(run.reduction.result or {"points": []})
            if (speed := point.value("speed_rpm")) is not None
            and isinstance(figure := point.figures.get("torque_nm"), Measured)
        ]
        if points:
            found.append(
                {
                    "run": run.pk,
                    "kind": run.kind,
                    "sample": run.sample.mark,
                    "propeller_name": run.propeller_name,
                    "nominal_voltage_v": run.nominal_voltage_v,
                    "points": points,
                }
            )
    return found[:MOST_MEASURED]
