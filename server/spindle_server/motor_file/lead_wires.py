"""Kinds of lead: what the bench's table has, what is usual, and what own off-cuts say."""

from __future__ import annotations

from typing import Any

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured
from spindle_core.motor.lead_wire import (
    SILICONE_G_PER_M,
    USUAL_INSULATION,
    calibrated_from_offcuts,
    mass_per_length_from_gauge,
    mass_per_length_from_offcut,
    mass_per_length_from_table,
)
from spindle_server.motors.models import LeadWire
from spindle_server.runs.stated import figure_json
from spindle_server.teardown.known import gather
from spindle_server.teardown.models import ANSWERED, Observation

Kind = tuple[int, str]

OF_OFFCUTS = ("lead_gauge", "lead_insulation", "offcut_mass", "offcut_length")


def lead_table() -> dict[Kind, Measured]:
    """What the bench's own table says of each kind of lead [g/m]."""
    return {
        (row.gauge, row.insulation): mass_per_length_from_table(row.g_per_m, row.u_g_per_m)
        for row in LeadWire.objects.all()
    }


def lead_kinds() -> list[dict[str, Any]]:
    """Every kind of lead there is something to say of, by gauge: the table's row or none, what is
    usual, and what own off-cuts say."""
    rows = {(row.gauge, row.insulation): row for row in LeadWire.objects.all()}
    offcuts = _offcuts()
    usual = {(gauge, USUAL_INSULATION) for gauge in SILICONE_G_PER_M}
    found = []
    for gauge, insulation in sorted({*rows, *offcuts, *usual}):
        said = calibrated_from_offcuts(offcuts.get((gauge, insulation), []))
        is_usual = insulation == USUAL_INSULATION and gauge in SILICONE_G_PER_M
        found.append(
            {
                "gauge": gauge,
                "insulation": insulation,
                "row": rows.get((gauge, insulation)),
                "usual": figure_json(
                    mass_per_length_from_gauge(gauge)
                    if is_usual
                    else Absent("unusual", "no usual mass is known of this kind")
                ),
                "offcuts": None if isinstance(said, Absent) else said,
            }
        )
    return found


def _offcuts() -> dict[Kind, list[Measured]]:
    """Mass per metre of each sample's own off-cut, by kind of lead. An off-cut without a gauge says
    nothing of a kind; one without an insulation is of the usual one."""
    rows = Observation.objects.filter(status__in=ANSWERED, attribute__in=OF_OFFCUTS)
    by_motor: dict[int, list[Observation]] = {}
    for row in rows.select_related("sample").order_by("sample__mark", "pk"):
        by_motor.setdefault(row.sample.motor_id, []).append(row)
    found: dict[Kind, list[Measured]] = {}
    for own in by_motor.values():
        known = gather(own)
        for sample in {row.sample for row in own if row.attribute == "offcut_mass"}:
            mass, length = (
                known.rows.get(name, {}).get(sample.pk) for name in ("offcut_mass", "offcut_length")
            )
            gauge = known.number("lead_gauge", sample)
            if mass is None or length is None or not gauge:
                continue
            figures = [
                Measured(row.value or 0.0, {f"{row.attribute}/{sample.pk}": row.u} if row.u else {})
                for row in (mass, length)
            ]
            try:
                per_m = mass_per_length_from_offcut(*figures)
            except QuantityError:
                continue
            kind = (int(gauge), known.choice("lead_insulation", sample) or USUAL_INSULATION)
            found.setdefault(kind, []).append(per_m)
    return found
