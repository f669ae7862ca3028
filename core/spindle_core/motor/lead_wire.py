"""Motor leads: what they weigh, what they resist, and masses brought to one length of lead.

A motor has three leads and its mass is linear in their length, m(l) = m0 + 3·λ·l. λ comes from
two weighings at two lengths, from a weighed off-cut, or from the gauge.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from spindle_core.errors import QuantityError
from spindle_core.figures.measured import Absent, Measured, Origin, propagate

LEADS = 3
DEFAULT_LEAD_LENGTH_MM = 60.0
COPPER_DENSITY_G_PER_CM3 = 8.96
COPPER_RESISTIVITY_OHM_MM2_PER_M = 0.01724
"""Resistivity of annealed copper at 20 °C (IEC 60028)."""

SILICONE_G_PER_M: Mapping[int, float] = {
    12: 9.6,
    14: 6.9,
    16: 5.1,
    18: 3.3,
    20: 2.2,
    22: 1.8,
    24: 1.5,
    26: 1.1,
    28: 0.8,
    30: 0.6,
}
"""Usual mass of silicone insulation by gauge [g/m]; a bench edits its own table."""

INSULATIONS: Mapping[str, str] = {
    "silicone": "silicone",
    "pvc": "PVC",
    "ptfe": "PTFE",
    "other": "something else",
}
"""What leads are insulated with; only of silicone is there a usual mass by gauge."""

USUAL_INSULATION = "silicone"

GAUGE_RELATIVE_HALF_WIDTH = 0.12
"""How far a lead's real mass may be from its gauge's."""


@dataclass(frozen=True, slots=True)
class Weighing:
    """A motor's mass [g] with its three leads of ``lead_length_mm``."""

    mass_g: Measured
    lead_length_mm: Measured


def awg_diameter_mm(gauge: int) -> float:
    """Diameter of a solid round wire of the gauge, 0.127·92^((36 − n)/39) mm (ASTM B258).

    :raises QuantityError: a gauge outside 4 to 40.
    """
    if not 4 <= gauge <= 40:
        raise QuantityError(f"AWG {gauge} is outside 4 to 40.", code="gauge")
    return float(0.127 * 92.0 ** ((36 - gauge) / 39.0))


def awg_area_mm2(gauge: int) -> float:
    """Copper cross-section of the gauge [mm²]."""
    return math.pi / 4.0 * awg_diameter_mm(gauge) ** 2


def lead_resistance_ohm_per_m(gauge: int) -> float:
    """Resistance of one lead per metre at 20 °C [Ω/m]; each phase carries one lead."""
    return COPPER_RESISTIVITY_OHM_MM2_PER_M / awg_area_mm2(gauge)


def mass_per_length_from_weighings(first: Weighing, second: Weighing) -> Measured:
    """λ of one lead [g/m] from two weighings of one motor at two lengths.

    :raises QuantityError: equal lengths, or a shorter lead that weighs more.
    """
    length = first.lead_length_mm.value - second.lead_length_mm.value
    mass = first.mass_g.value - second.mass_g.value
    if abs(length) < 1.0:
        raise QuantityError(
            "The two weighings need lead lengths at least 1 mm apart.", code="same_length"
        )
    if mass * length <= 0:
        raise QuantityError(
            "The longer leads weigh less: one of the weighings or lengths is wrong.",
            code="mass_falls",
        )
    return propagate(
        lambda m1, m2, l1, l2: 1000.0 * (m1 - m2) / (LEADS * (l1 - l2)),
        (first.mass_g, second.mass_g, first.lead_length_mm, second.lead_length_mm),
    )


def mass_per_length_from_offcut(mass_g: Measured, length_mm: Measured) -> Measured:
    """λ [g/m] of one lead from a weighed off-cut of one lead.

    :raises QuantityError: a mass or length that is not positive.
    """
    if mass_g.value <= 0 or length_mm.value <= 0:
        raise QuantityError("An off-cut has a mass and a length above 0.")
    return propagate(lambda m, length: 1000.0 * m / length, (mass_g, length_mm))


def mass_per_length_from_gauge(
    gauge: int, insulation_g_per_m: Mapping[int, float] = SILICONE_G_PER_M
) -> Measured:
    """λ [g/m] estimated from the gauge: copper of its area and insulation from a table.

    :raises QuantityError: a gauge the table does not hold.
    """
    if gauge not in insulation_g_per_m:
        listed = ", ".join(str(key) for key in sorted(insulation_g_per_m))
        raise QuantityError(
            f"AWG {gauge} is not in the table of insulation; it holds {listed}.", code="gauge"
        )
    value = awg_area_mm2(gauge) * COPPER_DENSITY_G_PER_CM3 + insulation_g_per_m[gauge]
    half = GAUGE_RELATIVE_HALF_WIDTH * value
    return Measured(value, {"gauge": half / math.sqrt(3.0)}, origin=Origin.ESTIMATED)


def mass_per_length_from_table(g_per_m: float, u_g_per_m: float | None) -> Measured:
    """λ [g/m] as the bench's own table has it for a gauge and an insulation.

    :param u_g_per_m: its standard uncertainty [g/m]; None where nobody said: as wide as a gauge's.
    :raises QuantityError: a mass that is not above 0, or a negative u.
    """
    if not (math.isfinite(g_per_m) and g_per_m > 0) or (u_g_per_m is not None and u_g_per_m < 0):
        raise QuantityError("A lead has a mass above 0 g/m, and a u that is not negative.")
    if u_g_per_m is None:
        half = GAUGE_RELATIVE_HALF_WIDTH * g_per_m
        return Measured(g_per_m, {"gauge": half / math.sqrt(3.0)}, origin=Origin.ESTIMATED)
    return Measured(g_per_m, {"lead table": u_g_per_m})


OFFCUT_SPREAD = 0.02
"""Leads of one kind differ by so much between spools, where one off-cut cannot show it."""


@dataclass(frozen=True, slots=True)
class FromOffcuts:
    """Mass per metre that off-cuts of one kind of lead say [g/m], its standard u, and how many."""

    g_per_m: float
    u_g_per_m: float
    n: int


def calibrated_from_offcuts(offcuts: Sequence[Measured]) -> FromOffcuts | Absent:
    """What one's own off-cuts say of a kind of lead.

    u is that of the next lead of this kind, not of their mean: their scatter, or
    :data:`OFFCUT_SPREAD` where they are too few to show it, beside what each is known to.

    :param offcuts: λ of each [g/m], as :func:`mass_per_length_from_offcut` gives it.
    """
    if not offcuts:
        return Absent("no_offcut", "no off-cut of this kind was weighed")
    values = [one.value for one in offcuts]
    count = len(values)
    mean = math.fsum(values) / count
    own = math.sqrt(math.fsum(one.u**2 for one in offcuts) / count)
    spread = OFFCUT_SPREAD * mean
    if count > 1:
        squares = math.fsum((value - mean) ** 2 for value in values)
        spread = max(spread, math.sqrt(squares / (count - 1)))
    u = math.hypot(spread * math.sqrt(1.0 + 1.0 / count), own / math.sqrt(count))
    return FromOffcuts(mean, u, count)


def mass_at_length(
    weighing: Weighing,
    mass_per_length_g_per_m: Measured,
    *,
    lead_length_mm: float = DEFAULT_LEAD_LENGTH_MM,
) -> Measured:
    """The motor's mass with leads of another length [g], by arithmetic.

    :param lead_length_mm: the bench's declared lead length.
    :raises QuantityError: a negative length.
    """
    if lead_length_mm < 0:
        raise QuantityError("A lead length cannot be below 0 mm.")
    return propagate(
        lambda m, length, per_m: m + LEADS * per_m * (lead_length_mm - length) / 1000.0,
        (weighing.mass_g, weighing.lead_length_mm, mass_per_length_g_per_m),
    )


LEAST_SPARE_LEAD_MM = 10.0
"""Stripping and soldering take about this much of a lead."""


@dataclass(frozen=True, slots=True)
class LeadReach:
    """Whether leads reach: ``state`` is ``good``, ``caution`` or ``impossible``; spare [mm]."""

    state: str
    spare_mm: float
    message: str


def lead_reach(length_mm: float, *, needed_mm: float) -> LeadReach:
    """Whether leads of a length reach over the way from the motor to its ESC.

    :raises QuantityError: a length or way that is not positive.
    """
    if length_mm <= 0 or needed_mm <= 0:
        raise QuantityError("A lead and the way it goes are longer than 0 mm.")
    spare = length_mm - needed_mm
    if spare < 0:
        text = f"{-spare:.0f} mm too short: they need splicing."
        return LeadReach("impossible", spare, text)
    if spare < LEAST_SPARE_LEAD_MM:
        text = f"They reach with {spare:.0f} mm to spare; soldering takes most of that."
        return LeadReach("caution", spare, text)
    return LeadReach("good", spare, f"They reach with {spare:.0f} mm to spare.")


@dataclass(frozen=True, slots=True)
class CutOff:
    """What cutting all three leads takes off a motor: mass [g] and resistance per phase [mΩ].

    Either is absent where the wire is not known.
    """

    mass_g: Measured | Absent
    resistance_mohm: float | Absent


def cut_off(
    from_mm: float, to_mm: float, *, lead_g_per_m: Measured | Absent, gauge: int | None
) -> CutOff:
    """Mass and resistance that went with the leads from one length to a shorter one.

    7.5 g/m and 80 mm: 3 × 0.6 = 1.8 g; of 20 AWG 2.7 mΩ per phase.

    :raises QuantityError: the leads did not become shorter.
    """
    off = from_mm - to_mm
    if off <= 0 or to_mm < 0:
        raise QuantityError("A cut makes leads shorter.", code="not_shorter")
    mass = lead_g_per_m
    if isinstance(mass, Measured):
        mass = mass.scaled(LEADS * off / 1000.0)
    unknown = Absent("gauge_unknown", "the wire's gauge is not known")
    ohm: float | Absent = unknown
    if gauge is not None:
        try:
            ohm = lead_resistance_ohm_per_m(gauge) * off
        except QuantityError:
            ohm = unknown
    return CutOff(mass, ohm)
