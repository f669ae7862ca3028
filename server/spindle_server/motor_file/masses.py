"""What a motor weighs: every sample brought to the bench's declared lead length."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from spindle_core.figures.measured import Absent, Figure, Measured, component, owned_by
from spindle_core.intake.claim_evidence import mean_of_each
from spindle_core.motor.lead_wire import USUAL_INSULATION, cut_off
from spindle_core.motor.mass import DeclaredMass, LeadEvidence, OnTheScale, declared_mass, spread_of
from spindle_server.motor_file.lead_wires import Kind, lead_table
from spindle_server.motors.models import MotorModel, Sample
from spindle_server.runs.stated import figure_json
from spindle_server.teardown.known import Known, gather
from spindle_server.teardown.models import ANSWERED, Observation

LEAD_LENGTH_U_MM = 1.0
"""Standard uncertainty of a lead's length read off a ruler [mm]."""


OF_THE_LEADS = (
    "lead_gauge",
    "lead_insulation",
    "lead_length",
    "offcut_mass",
    "offcut_length",
    "nut_mass",
    "connector_mass",
)
"""What brings a mass to another length of lead."""


def masses_of(motors: Iterable[MotorModel], *, lead_length_mm: float) -> dict[int, Figure]:
    """Mass of each model at the bench's lead length: the mean of its samples. Two queries beside
    what ``motors`` come with: samples, their weighings and preparations.
    """
    listed = list(motors)
    rows = (
        Observation.objects.filter(
            sample__motor__in=listed, status__in=ANSWERED, attribute__in=OF_THE_LEADS
        )
        .select_related("sample")
        .order_by("sample__mark", "pk")
    )
    looked_at: dict[int, list[Observation]] = {}
    for row in rows:
        looked_at.setdefault(row.sample.motor_id, []).append(row)
    found: dict[int, Figure] = {}
    table = lead_table()
    for motor in listed:
        known = gather(looked_at.get(motor.pk, []))
        figures = [
            _sample_mass(sample, known, lead_length_mm, table)["declared"].mass_g
            for sample in motor.samples.all()
        ]
        mean = mean_of_each(figures, "no sample was weighed", "").figure
        found[motor.pk] = mean if isinstance(mean, Absent) else owned_by(mean, _owner(motor.pk))
    return found


def _owner(motor: int) -> str:
    return f"motor {motor}"


def masses(motor: MotorModel, known: Known, *, lead_length_mm: float) -> dict[str, Any]:
    """Every sample's weighings and its mass at the declared lead length, and their spread.

    ``motor`` comes with samples, their weighings and preparations prefetched.
    """
    table = lead_table()
    rows = [_sample_mass(sample, known, lead_length_mm, table) for sample in motor.samples.all()]
    figures = [row["declared"].mass_g for row in rows]
    spread = spread_of([figure for figure in figures if isinstance(figure, Measured)])
    return {
        "lead_length_mm": lead_length_mm,
        "samples": [_as_json(row) for row in rows],
        "spread": None if isinstance(spread, Absent) else spread,
        "figures": figures,
    }


def _sample_mass(
    sample: Sample, known: Known, lead_length_mm: float, table: Mapping[Kind, Measured]
) -> dict[str, Any]:
    weighings = [row for row in sample.weighings.all() if not row.struck_reason]
    on_scale = [
        OnTheScale(
            Measured(
                row.mass_g,
                {component("scale", f"weighing {row.pk}"): row.resolution_g / math.sqrt(12.0)},
            ),
            None
            if row.lead_length_mm is None
            else Measured(
                row.lead_length_mm, {component("ruler", f"weighing {row.pk}"): LEAD_LENGTH_U_MM}
            ),
            row.nut_on,
            row.connectors_on,
        )
        for row in weighings
    ]
    gauge = known.number("lead_gauge", sample)
    insulation = known.choice("lead_insulation", sample) or ""
    evidence = LeadEvidence(
        offcut_mass_g=known.figure("offcut_mass", sample),
        offcut_length_mm=known.figure("offcut_length", sample),
        gauge=int(gauge) if gauge else None,
        insulation=insulation,
        table_g_per_m=table.get((int(gauge), insulation or USUAL_INSULATION)) if gauge else None,
        nut_g=known.figure("nut_mass", sample),
        connectors_g=known.figure("connector_mass", sample),
    )
    declared = declared_mass(on_scale, evidence, lead_length_mm=lead_length_mm)
    if isinstance(declared.mass_g, Measured):
        # What a gauge says of a lead is off alike for all samples of a motor.
        mass = owned_by(declared.mass_g, _owner(sample.motor_id))
        declared = replace(declared, mass_g=mass)
    return {
        "sample": sample,
        "declared": declared,
        "weighings": weighings,
        "cuts": _cuts(sample, declared, evidence.gauge, known.number("lead_length", sample)),
    }


def _cuts(
    sample: Sample, declared: DeclaredMass, gauge: int | None, first_length_mm: float | None
) -> list[str]:
    """What each cutting of the leads took off: grams and milliohms per phase."""
    said, before = [], first_length_mm
    for cut in sample.preparations.all():
        if cut.struck_reason or cut.lead_length_mm is None:
            continue
        if cut.kind == "leads_cut" and before is not None and before > cut.lead_length_mm:
            gone = cut_off(
                before, cut.lead_length_mm, lead_g_per_m=declared.lead_g_per_m, gauge=gauge
            )
            parts = []
            if isinstance(gone.mass_g, Measured):
                parts.append(f"{gone.mass_g.value:.2f} g")
            if not isinstance(gone.resistance_mohm, Absent):
                parts.append(f"{gone.resistance_mohm:.1f} mΩ per phase")
            took = f", about {' and '.join(parts)} less" if parts else ""
            said.append(
                f"{cut.done_on}: leads cut from {before:g} to {cut.lead_length_mm:g} mm{took}."
            )
        before = cut.lead_length_mm
    return said


def _as_json(row: dict[str, Any]) -> dict[str, Any]:
    declared: DeclaredMass = row["declared"]
    used = None if declared.used is None else row["weighings"][declared.used].pk
    return {
        "sample": row["sample"].pk,
        "mark": row["sample"].mark,
        "weighings": list(row["sample"].weighings.all()),
        "preparations": list(row["sample"].preparations.all()),
        "mass_g": figure_json(declared.mass_g),
        "lead_g_per_m": figure_json(declared.lead_g_per_m),
        "lead_from": declared.lead_from,
        "used": used,
        "remarks": [*declared.remarks, *row["cuts"]],
    }
