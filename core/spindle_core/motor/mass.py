"""The mass of a motor at the bench's declared lead length, without nut and connectors.

Any number of weighings come in; nut and connectors are taken off where their own mass is known,
and the leads are brought to one length with the best mass per metre there is: two weighings at
two lengths, a weighed off-cut, the bench's own table of leads, or the gauge.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, difference, sample_standard_deviation
from spindle_core.figures.repeats import chi_squared_at
from spindle_core.motor.lead_wire import (
    DEFAULT_LEAD_LENGTH_MM,
    INSULATIONS,
    USUAL_INSULATION,
    Weighing,
    mass_at_length,
    mass_per_length_from_gauge,
    mass_per_length_from_offcut,
    mass_per_length_from_weighings,
)

LEAST_LENGTH_STEP_MM = 20.0
"""Two weighings closer than this in lead length say little of the lead."""


@dataclass(frozen=True, slots=True)
class OnTheScale:
    """One weighing as it was made: mass [g], lead length [mm] or None, what was on the motor."""

    mass_g: Measured
    lead_length_mm: Measured | None
    nut_on: bool = False
    connectors_on: bool = False


@dataclass(frozen=True, slots=True)
class LeadEvidence:
    """What else is known of leads, nut and connectors of the sample.

    ``table_g_per_m``: of the bench's own table for leads of this kind; ``insulation``: as it was
    seen, '' where nobody looked, which is taken for the usual one.
    """

    offcut_mass_g: Measured | None = None
    offcut_length_mm: Measured | None = None
    gauge: int | None = None
    insulation: str = ""
    table_g_per_m: Measured | None = None
    nut_g: Measured | None = None
    connectors_g: Measured | None = None


@dataclass(frozen=True, slots=True)
class DeclaredMass:
    """Mass at the declared lead length [g], the lead's mass per metre and what that rests on.

    ``lead_from`` is ``two weighings``, ``off-cut``, ``the bench's table``, ``gauge`` or empty;
    ``used``: index of the weighing that was brought to the length. ``remarks`` say what could not
    be used and why.
    """

    mass_g: Measured | Absent
    lead_g_per_m: Measured | Absent
    lead_from: str
    used: int | None
    remarks: tuple[str, ...] = ()


def declared_mass(
    weighings: Sequence[OnTheScale],
    evidence: LeadEvidence | None = None,
    *,
    lead_length_mm: float = DEFAULT_LEAD_LENGTH_MM,
) -> DeclaredMass:
    """Mass of one sample at one lead length, from everything that was weighed.

    :raises QuantityError: a gauge outside the table, a negative length.
    """
    known = evidence or LeadEvidence()
    remarks: list[str] = []
    bare = [_bare(item, known, index, remarks) for index, item in enumerate(weighings)]
    at = {
        index: Weighing(mass, item.lead_length_mm)
        for index, (mass, item) in enumerate(zip(bare, weighings, strict=True))
        if mass is not None and item.lead_length_mm is not None
    }
    for index, item in enumerate(weighings):
        if item.lead_length_mm is None:
            remarks.append(f"Weighing {index + 1} does not say how long the leads were.")
    per_m, source = _lead(list(at.values()), known, remarks)
    if not at:
        reason = "no weighing with a known lead length" if weighings else "not weighed"
        return DeclaredMass(Absent("not_weighed", reason), per_m, source, None, tuple(remarks))
    used = min(at, key=lambda index: abs(at[index].lead_length_mm.value - lead_length_mm))
    if isinstance(per_m, Absent):
        if abs(at[used].lead_length_mm.value - lead_length_mm) > 0.5:
            note = "the leads have another length and their mass per metre is not known"
            return DeclaredMass(Absent("no_lead_mass", note), per_m, "", used, tuple(remarks))
        return DeclaredMass(at[used].mass_g, per_m, "", used, tuple(remarks))
    mass = mass_at_length(at[used], per_m, lead_length_mm=lead_length_mm)
    return DeclaredMass(mass, per_m, source, used, tuple(remarks))


def _bare(item: OnTheScale, known: LeadEvidence, index: int, remarks: list[str]) -> Measured | None:
    """The weighing without nut and connectors; None where their mass is not known."""
    mass = item.mass_g
    for is_on, part, name in (
        (item.nut_on, known.nut_g, "nut"),
        (item.connectors_on, known.connectors_g, "connectors"),
    ):
        if not is_on:
            continue
        if part is None:
            remarks.append(
                f"Weighing {index + 1} has the {name} on; weigh the {name} alone to use it."
            )
            return None
        mass = difference(mass, part)
    return mass


def _lead(
    at: Sequence[Weighing], known: LeadEvidence, remarks: list[str]
) -> tuple[Measured | Absent, str]:
    """Mass per metre of one lead from the best evidence there is [g/m]."""
    if len(at) > 1:
        shortest = min(at, key=lambda item: item.lead_length_mm.value)
        longest = max(at, key=lambda item: item.lead_length_mm.value)
        step = longest.lead_length_mm.value - shortest.lead_length_mm.value
        if step >= LEAST_LENGTH_STEP_MM:
            try:
                return mass_per_length_from_weighings(longest, shortest), "two weighings"
            except QuantityError as error:
                remarks.append(error.message)
    if known.offcut_mass_g is not None and known.offcut_length_mm is not None:
        return mass_per_length_from_offcut(known.offcut_mass_g, known.offcut_length_mm), "off-cut"
    if known.table_g_per_m is not None:
        return known.table_g_per_m, "the bench's table"
    if known.gauge is not None and known.insulation not in ("", USUAL_INSULATION):
        kind = INSULATIONS.get(known.insulation, known.insulation)
        remarks.append(
            f"What AWG {known.gauge} in {kind} weighs is not known: note it in the bench's table "
            "of leads, or weigh an off-cut."
        )
    elif known.gauge is not None:
        try:
            return mass_per_length_from_gauge(known.gauge), "gauge"
        except QuantityError as error:
            remarks.append(error.message)
    note = "needs two weighings at lead lengths 20 mm apart, a weighed off-cut, or the gauge"
    return Absent("no_lead_mass", note), ""


@dataclass(frozen=True, slots=True)
class MassSpread:
    """Samples side by side: mean, standard deviation s, and the widest gap, in one unit.

    ``resolved``: whether s is more than their own uncertainty makes of equal samples, by a χ²
    test at 5 %.
    """

    mean: float
    s: float
    widest: float
    n: int
    resolved: bool


def spread_of(samples: Sequence[Measured]) -> MassSpread | Absent:
    """MassSpread over samples of one model; absent for fewer than two."""
    if len(samples) < 2:
        return Absent("one_sample", "a spread needs two samples")
    values = [item.value for item in samples]
    s, count = sample_standard_deviation(values), len(values)
    mean_square_u = math.fsum(item.u**2 for item in samples) / count
    limit = chi_squared_at(0.95, count - 1) * mean_square_u
    resolved = (count - 1) * s**2 > limit
    return MassSpread(math.fsum(values) / count, s, max(values) - min(values), count, resolved)
